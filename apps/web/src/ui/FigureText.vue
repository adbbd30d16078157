<script setup lang="ts">
import { computed } from 'vue';

/** Text whose long whole numbers are set in groups of three by margin, so that what is copied is the plain number. */
const props = defineProps<{ text: string }>();
const parts = computed(() =>
  props.text.split(/(?<![\d.\w:-])(\d{5,})(?![\d\w:-])/).map((t, i) => {
    if (i % 2 === 0) return { groups: [t], number: false };
    const groups: string[] = [];
    for (let end = t.length; end > 0; end -= 3) groups.unshift(t.slice(Math.max(0, end - 3), end));
    return { groups, number: true };
  }),
);
</script>

<template>
  <span
    ><template v-for="(p, i) in parts" :key="i"
      ><span v-for="(g, k) in p.groups" :key="k" :class="{ g: p.number && k > 0 }">{{ g }}</span></template
    ></span
  >
</template>

<style scoped>
.g {
  margin-left: 0.2em;
}
</style>
