<script setup lang="ts">
import { computed, ref } from 'vue';
import { useElementSize } from '@vueuse/core';
import { type SoundingCast } from '@longheron/contract/kinds/parts/soundings';
import { useUnits } from '../../../ui/units';

/** Speed of sound against depth, cast by cast. */
const props = defineProps<{ casts: readonly SoundingCast[] }>();
const { length } = useUnits();
const COLOURS = ['#0e5e66', '#c96a1b', '#7a4b8c', '#3d6fa5', '#6b7d2a', '#a8402e'];
const box = ref<HTMLElement | null>(null);
const { width, height } = useElementSize(box);
const [LEFT, RIGHT, TOP, BOTTOM] = [52, 12, 10, 34];
const limits = computed(() => {
  const speeds = props.casts.flatMap((c) => c.speed_mps);
  const deepest = Math.max(1, ...props.casts.flatMap((c) => c.depth_m));
  const [low, high] = [Math.min(...speeds), Math.max(...speeds)];
  const margin = Math.max(0.5, 0.06 * (high - low));
  return { low: low - margin, high: high + margin, deepest: 1.04 * deepest };
});
const x = (v: number) => {
  const { low, high } = limits.value;
  return LEFT + ((v - low) / (high - low)) * (width.value - LEFT - RIGHT);
};
const y = (d: number) => TOP + (d / limits.value.deepest) * (height.value - TOP - BOTTOM);
const path = (c: SoundingCast) =>
  c.depth_m.map((d, k) => `${k ? 'L' : 'M'}${x(c.speed_mps[k]).toFixed(1)},${y(d).toFixed(1)}`).join('');
const STEPS = [0.5, 1, 2, 5, 10, 20, 50];
const steps = (low: number, high: number, most: number) => {
  const unit = STEPS.find((s) => (high - low) / s <= most) ?? 100;
  const out: number[] = [];
  for (let v = Math.ceil(low / unit) * unit; v <= high; v += unit) out.push(v);
  return out;
};
</script>

<template>
  <div ref="box" class="box">
    <svg v-if="width > 80" :width="width" :height="height" role="img" aria-label="Speed of sound against depth">
      <g class="grid">
        <template v-for="v in steps(limits.low, limits.high, 8)" :key="`v${v}`">
          <line :x1="x(v)" :x2="x(v)" :y1="TOP" :y2="height - BOTTOM" />
          <text :x="x(v)" :y="height - BOTTOM + 14" text-anchor="middle">{{ v }}</text>
        </template>
        <template v-for="d in steps(0, limits.deepest, 7)" :key="`d${d}`">
          <line :x1="LEFT" :x2="width - RIGHT" :y1="y(d)" :y2="y(d)" />
          <text :x="LEFT - 6" :y="y(d) + 4" text-anchor="end">{{ length.of(d).toFixed(0) }}</text>
        </template>
      </g>
      <text class="axis" :x="(LEFT + width - RIGHT) / 2" :y="height - 4" text-anchor="middle">
        speed of sound, m/s; depth under the waterline, {{ length.symbol }}
      </text>
      <g v-for="(c, k) in casts" :key="c.name">
        <path class="cast" :class="{ unused: !c.pings }" :stroke="COLOURS[k % COLOURS.length]" :d="path(c)" />
        <text
          class="name"
          :fill="COLOURS[k % COLOURS.length]"
          :x="x(c.speed_mps[0]) + 5"
          :y="y(c.depth_m[0]) + 11 + 13 * k"
        >
          {{ c.name }}
        </text>
      </g>
    </svg>
  </div>
</template>

<style scoped>
.box {
  height: 100%;
  min-height: 0;
  overflow: hidden;
}
svg {
  display: block;
}
.grid line {
  stroke: #e3e9e9;
}
.grid text,
.axis {
  font-size: 11px;
  font-family: var(--mono);
  fill: var(--ink-soft);
}
.axis {
  font-family: inherit;
}
.cast {
  fill: none;
  stroke-width: 1.8;
}
.cast.unused {
  stroke-dasharray: 4 3;
}
.name {
  font-size: 12px;
  font-weight: 600;
}
</style>
