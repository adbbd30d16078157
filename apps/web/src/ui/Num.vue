<script setup lang="ts">
import { computed } from 'vue';
import { splitNumber } from './format';

const props = withDefaults(
  defineProps<{ value: number | null | undefined; digits?: number; unit?: string; plus?: boolean }>(),
  { digits: 0, unit: '', plus: false },
);
const parts = computed(() =>
  props.value === null || props.value === undefined || !Number.isFinite(props.value)
    ? null
    : splitNumber(props.value, props.digits),
);
</script>

<template>
  <span class="num"
    ><template v-if="parts"
      >{{ parts.sign || (plus && (value ?? 0) > 0 ? '+' : '')
      }}<span v-for="(g, i) in parts.groups" :key="i" :class="{ g: i > 0 }">{{ g }}</span
      ><template v-if="parts.fraction">.{{ parts.fraction }}</template
      ><span v-if="unit" class="u">{{ unit }}</span></template
    ><template v-else>–</template></span
  >
</template>
