<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { useElementSize } from '@vueuse/core';
import Num from '../../../ui/Num.vue';
import { useUnits } from '../../../ui/units';
import { type Profile, type ProfileFile } from '@longheron/contract/kinds/adjustment';
import { headsOf } from './between';

/** Two strips in a narrow slice across an overlap, in two colours; one steps from overlap to overlap, worst first. */
const props = defineProps<{ file: ProfileFile; stage: 'before' | 'after' }>();
const at = defineModel<number>({ required: true });
const { length, small } = useUnits();
const box = ref<HTMLElement | null>(null);
const { width, height } = useElementSize(box);
const current = computed<Profile | undefined>(() => props.file.profiles[at.value]);
watch(
  () => props.file,
  (f) => (at.value = Math.min(at.value, Math.max(0, f.profiles.length - 1))),
);
const step = (by: number) => (at.value = Math.max(0, Math.min(props.file.profiles.length - 1, at.value + by)));
const several = computed(() => headsOf(props.file.pieces).length > 1);
const nameOf = (piece: number) => {
  const p = props.file.pieces[piece];
  return p ? `strip ${p.strip}${several.value ? `, ${p.head}` : ''}` : '';
};
const LEFT = 56;
const RIGHT = 10;
const TOP = 8;
const BOTTOM = 34;
const middleOf = (v: number[], share: number) => {
  const sorted = v.filter((_, i) => i % 2).sort((a, b) => a - b);
  return sorted[Math.floor(share * (sorted.length - 1))] ?? 0;
};
/** Heights shown: most of both, before and after alike, so that nothing jumps when one looks from one to the other. */
const range = computed(() => {
  const p = current.value;
  if (!p) return { low: 0, high: 1, half: 1 };
  const all = [...p.before.first, ...p.before.second, ...p.after.first, ...p.after.second];
  const [low, high] = [middleOf(all, 0.02), middleOf(all, 0.98)];
  const margin = Math.max(0.05, 0.15 * (high - low));
  const half = Math.max(...p.before.first.filter((_, i) => i % 2 === 0).map(Math.abs), 1);
  return { low: low - margin, high: high + margin, half };
});
const x = (s: number) => LEFT + ((s + range.value.half) / (2 * range.value.half)) * (width.value - LEFT - RIGHT);
const y = (h: number) =>
  TOP + ((range.value.high - h) / (range.value.high - range.value.low)) * (height.value - TOP - BOTTOM);
const dots = (points: number[]) => {
  let path = '';
  for (let i = 0; i < points.length; i += 2) {
    const [px, py] = [x(points[i]), y(points[i + 1])];
    if (py > TOP && py < height.value - BOTTOM) path += `M${px.toFixed(1)},${py.toFixed(1)}h0.01`;
  }
  return path;
};
const STEPS = [0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20];
function ticks(low: number, high: number, most: number, factor: number): number[] {
  const [a, b] = [low * factor, high * factor];
  const unit = STEPS.find((s) => (b - a) / s <= most) ?? 50;
  const out: number[] = [];
  for (let v = Math.ceil(a / unit); v * unit <= b; v++) out.push((v * unit) / factor);
  return out;
}
const heights = computed(() => ticks(range.value.low, range.value.high, 6, length.value.factor));
const ways = computed(() => ticks(-range.value.half, range.value.half, 10, length.value.factor));
const digits = computed(() => (range.value.high - range.value.low < 1 ? 2 : 1));
</script>

<template>
  <div
    class="profile"
    tabindex="0"
    aria-label="Cross-profile"
    @keydown.left.prevent="step(-1)"
    @keydown.right.prevent="step(1)"
  >
    <div class="head">
      <el-button size="small" :disabled="at === 0" aria-label="Overlap before" @click="step(-1)">←</el-button>
      <span class="mono">{{ at + 1 }} of {{ file.profiles.length }}</span>
      <el-button size="small" :disabled="at >= file.profiles.length - 1" aria-label="Next overlap" @click="step(1)"
        >→</el-button
      >
      <template v-if="current">
        <span><i class="dot first" />{{ nameOf(current.first) }}</span>
        <span><i class="dot second" />{{ nameOf(current.second) }}</span>
        <span class="soft">
          RMS here <Num :value="small.of(current.beforeRmsM)" :digits="small.digits + 1" /> before,
          <Num :value="small.of(current.afterRmsM)" :digits="small.digits + 1" :unit="small.symbol" /> after
        </span>
      </template>
    </div>
    <div ref="box" class="box">
      <svg v-if="current && width > 80" :width="width" :height="height" role="img" aria-label="Heights of both strips">
        <g class="grid">
          <template v-for="h in heights" :key="h">
            <line :x1="LEFT" :x2="width - RIGHT" :y1="y(h)" :y2="y(h)" />
            <text :x="LEFT - 6" :y="y(h) + 4" text-anchor="end">{{ (h * length.factor).toFixed(digits) }}</text>
          </template>
          <template v-for="s in ways" :key="s">
            <line :x1="x(s)" :x2="x(s)" :y1="TOP" :y2="height - BOTTOM" />
            <text :x="x(s)" :y="height - BOTTOM + 14" text-anchor="middle">{{ (s * length.factor).toFixed(0) }}</text>
          </template>
        </g>
        <text class="axis" :x="(LEFT + width - RIGHT) / 2" :y="height - 4" text-anchor="middle">
          across strip {{ file.pieces[current.first].strip }}, {{ length.symbol }}; heights in {{ length.symbol }}
        </text>
        <path class="points first" :d="dots(current[stage].first)" />
        <path class="points second" :d="dots(current[stage].second)" />
      </svg>
    </div>
  </div>
</template>

<style scoped>
.profile {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  height: 100%;
  min-height: 0;
  outline-offset: -2px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: center;
  padding: 4px 8px;
  font-size: 12px;
}
.dot {
  display: inline-block;
  width: 9px;
  height: 9px;
  border-radius: 50%;
  margin-right: 4px;
}
.dot.first {
  background: #0e5e66;
}
.dot.second {
  background: #c96a1b;
}
.box {
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
