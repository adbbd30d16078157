<script setup lang="ts">
import { computed, ref } from 'vue';
import { useElementSize } from '@vueuse/core';
import { useUnits } from './units';

/** Points of two sides in an upright slice, in two colours: distances along it and heights in the same unit. */
const props = defineProps<{
  /** Distance and height of each point, one after the other, metres. */
  first: readonly number[];
  second: readonly number[];
  /** Heights shown, and half the length, metres. */
  lowM: number;
  highM: number;
  halfM: number;
  /** What runs along the slice. */
  axis: string;
  label: string;
}>();
const { length } = useUnits();
const box = ref<HTMLElement | null>(null);
const { width, height } = useElementSize(box);
const LEFT = 56;
const RIGHT = 10;
const TOP = 8;
const BOTTOM = 34;
const x = (s: number) => LEFT + ((s + props.halfM) / (2 * props.halfM)) * (width.value - LEFT - RIGHT);
const y = (h: number) => TOP + ((props.highM - h) / (props.highM - props.lowM)) * (height.value - TOP - BOTTOM);
const dots = (points: readonly number[]) => {
  let path = '';
  for (let i = 0; i < points.length; i += 2) {
    const [px, py] = [x(points[i]), y(points[i + 1])];
    if (py > TOP && py < height.value - BOTTOM && px >= LEFT && px <= width.value - RIGHT)
      path += `M${px.toFixed(1)},${py.toFixed(1)}h0.01`;
  }
  return path;
};
const STEPS = [0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20];
function ticks(low: number, high: number, most: number, factor: number): { at: number[]; digits: number } {
  const [a, b] = [low * factor, high * factor];
  const unit = STEPS.find((s) => (b - a) / s <= most) ?? 50;
  const at: number[] = [];
  for (let v = Math.ceil(a / unit); v * unit <= b; v++) at.push((v * unit) / factor);
  return { at, digits: unit < 0.1 ? (unit < 0.01 ? 3 : 2) : unit < 1 ? 1 : 0 };
}
const heights = computed(() => ticks(props.lowM, props.highM, 6, length.value.factor));
const ways = computed(() => ticks(-props.halfM, props.halfM, 10, length.value.factor));
</script>

<template>
  <div ref="box" class="box">
    <svg v-if="width > 80" :width="width" :height="height" role="img" :aria-label="label">
      <g class="grid">
        <template v-for="h in heights.at" :key="h">
          <line :x1="LEFT" :x2="width - RIGHT" :y1="y(h)" :y2="y(h)" />
          <text :x="LEFT - 6" :y="y(h) + 4" text-anchor="end">
            {{ (h * length.factor).toFixed(Math.max(1, heights.digits)) }}
          </text>
        </template>
        <template v-for="s in ways.at" :key="s">
          <line :x1="x(s)" :x2="x(s)" :y1="TOP" :y2="height - BOTTOM" />
          <text :x="x(s)" :y="height - BOTTOM + 14" text-anchor="middle">
            {{ (s * length.factor).toFixed(ways.digits) }}
          </text>
        </template>
      </g>
      <text class="axis" :x="(LEFT + width - RIGHT) / 2" :y="height - 4" text-anchor="middle">
        {{ axis }}, {{ length.symbol }}; heights in {{ length.symbol }}
      </text>
      <path class="points first" :d="dots(first)" />
      <path class="points second" :d="dots(second)" />
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
.points {
  fill: none;
  stroke-width: 3;
  stroke-linecap: round;
}
.points.first {
  stroke: #0e5e66;
}
.points.second {
  stroke: #c96a1b;
}
</style>
