<script setup lang="ts">
import { gradient } from './colour';

/** Key of a scale of colours on a map: what it is, and what its ends (and its middle) stand for. */
defineProps<{ title: string; colours: string[]; labels: string[] }>();
</script>

<template>
  <div class="key">
    <span>{{ title }}</span>
    <div class="scale">
      <div class="ramp" :style="{ background: gradient(colours) }" />
      <div class="ends mono">
        <span v-for="l in labels" :key="l">{{ l }}</span>
      </div>
    </div>
    <slot />
  </div>
</template>

<style scoped>
.key {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 10px;
}
.scale {
  width: 190px;
}
.ramp {
  height: 8px;
}
.ends {
  display: flex;
  justify-content: space-between;
  line-height: 1.2;
}
</style>
