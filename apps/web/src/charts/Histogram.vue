<script setup lang="ts">
import { computed } from 'vue';

/** Residuals in bins of equal width, centred on zero; SVG, so that it prints and reads well. */
const props = defineProps<{
  values: number[];
  unit: string;
  factor: number;
  limit: number;
  digits?: number;
  marked?: number | null;
}>();
const bins = computed(() => {
  const reach = Math.max(props.limit, ...props.values.map((v) => Math.abs(v))) * 1.02;
  const width = reach > 0.08 ? 0.01 : 0.005;
  const half = Math.ceil(reach / width - 0.5);
  const out = Array.from({ length: 2 * half + 1 }, (_, i) => ({
    from: (i - half - 0.5) * width,
    to: (i - half + 0.5) * width,
    count: 0,
  }));
  for (const v of props.values) {
    const b = out.find((x) => v >= x.from && v < x.to);
    if (b) b.count++;
  }
  return out;
});
const most = computed(() => Math.max(1, ...bins.value.map((b) => b.count)));
const text = (v: number) => (v * props.factor).toFixed(props.digits ?? 1);
const x = (v: number) => 24 + ((v - bins.value[0].from) / (bins.value.at(-1)!.to - bins.value[0].from)) * 260;
</script>

<template>
  <svg viewBox="0 0 300 118" class="histogram" role="img" :aria-label="`Histogram of ${values.length} residuals`">
    <rect :x="x(-limit)" y="6" :width="x(limit) - x(-limit)" height="86" fill="#eef2f2" />
    <line x1="24" x2="284" y1="92" y2="92" stroke="#53666d" />
    <rect
      v-for="b in bins"
      :key="b.from"
      :x="x(b.from) + 0.6"
      :width="Math.max(1, x(b.to) - x(b.from) - 1.2)"
      :y="92 - (80 * b.count) / most"
      :height="(80 * b.count) / most"
      fill="#0e5e66"
    />
    <line :x1="x(0)" :x2="x(0)" y1="6" y2="96" stroke="#15262c" stroke-dasharray="2 2" />
    <text :x="x(0)" y="106" text-anchor="middle">0</text>
    <text :x="x(-limit)" y="106" text-anchor="middle">{{ text(-limit) }}</text>
    <text :x="x(limit)" y="106" text-anchor="middle">{{ text(limit) }}</text>
    <text x="284" y="116" text-anchor="end">{{ unit }}, tolerance shaded</text>
    <text x="20" y="16" text-anchor="end">{{ most }}</text>
  </svg>
</template>

<style scoped>
.histogram {
  width: 100%;
  display: block;
}
text {
  font: 9px var(--mono);
  fill: var(--ink-soft);
}
</style>
