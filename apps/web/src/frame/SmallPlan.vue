<script setup lang="ts">
import { computed } from 'vue';

/** Lines of a place, north up, fitted into a small square. @prop lines eastings and northings, metres. */
const props = defineProps<{ lines: Array<Array<[number, number]>> }>();
const SIZE = 64;
const EDGE = 4;
const drawn = computed(() => {
  const all = props.lines.flat();
  if (all.length < 2) return [];
  const least = [0, 1].map((k) => all.reduce((m, p) => Math.min(m, p[k]), Infinity));
  const most = [0, 1].map((k) => all.reduce((m, p) => Math.max(m, p[k]), -Infinity));
  const scale = (SIZE - 2 * EDGE) / Math.max(most[0] - least[0], most[1] - least[1], 1e-3);
  const at = ([e, n]: [number, number]) =>
    `${(SIZE / 2 + scale * (e - (least[0] + most[0]) / 2)).toFixed(1)},${(SIZE / 2 - scale * (n - (least[1] + most[1]) / 2)).toFixed(1)}`;
  return props.lines.map((line) => line.map(at).join(' '));
});
</script>

<template>
  <svg :viewBox="`0 0 ${SIZE} ${SIZE}`" class="plan" aria-hidden="true">
    <polyline v-for="(points, i) in drawn" :key="i" :points="points" />
  </svg>
</template>

<style scoped>
.plan {
  width: 64px;
  height: 64px;
  background: #f3f6f6;
  border: 1px solid var(--line);
}
polyline {
  fill: none;
  stroke: var(--reed);
  stroke-width: 1.4;
  stroke-linejoin: round;
}
</style>
