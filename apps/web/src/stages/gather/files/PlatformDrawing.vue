<script setup lang="ts">
import { computed, ref } from 'vue';
import { type Mounting } from '@longheron/core/frames';
import { flatten, frameOf, platformDistances, platformPoints, type PlatformPoint, type View } from './platform';
import FigureTable from '../../../ui/FigureTable.vue';

/** The platform to scale, from the side and from above, with its sensors, their axes, and distances between them. */
const props = defineProps<{ mounting: Mounting }>();
const points = computed(() => platformPoints(props.mounting));
const distances = computed(() => platformDistances(points.value));
const hovered = ref<string | null>(null);
const SIZE = 128;
const MARGIN = 22;
const AXIS_PX = 20;
interface Drawn extends PlatformPoint {
  x: number;
  y: number;
  tip: [number, number] | null;
}
const VIEWS: Array<{ view: View; title: string; across: string }> = [
  { view: 'side', title: 'from the right side', across: 'down' },
  { view: 'above', title: 'from above', across: 'right' },
];
function drawn(view: View): { points: Drawn[]; metrePx: number } {
  const { middle, halfM } = frameOf(points.value, view);
  const metrePx = (SIZE / 2 - MARGIN) / halfM;
  const at = (v: [number, number, number]) => {
    const f = flatten(v, view);
    return [SIZE / 2 + (f[0] - middle[0]) * metrePx, SIZE / 2 + (f[1] - middle[1]) * metrePx];
  };
  return {
    metrePx,
    points: points.value.map((p) => {
      const [x, y] = at(p.at);
      const a = p.axis && flatten(p.axis, view);
      return { ...p, x, y, tip: a ? [x + a[0] * AXIS_PX, y + a[1] * AXIS_PX] : null };
    }),
  };
}
const drawings = computed(() => VIEWS.map((v) => ({ ...v, ...drawn(v.view) })));
/** A round length that the scale bar shows. */
const barM = (metrePx: number) => [0.1, 0.2, 0.5, 1, 2, 5, 10, 20].find((m) => m * metrePx > 24) ?? 50;
</script>

<template>
  <div class="views">
    <figure v-for="v in drawings" :key="v.view">
      <svg :viewBox="`0 0 ${SIZE} ${SIZE}`" role="img" :aria-label="`Platform ${v.title}: x forward, ${v.across}`">
        <line
          v-for="p in v.points.filter((q) => q.kind !== 'reference')"
          :key="`l${p.name}`"
          :x1="v.points[0].x"
          :y1="v.points[0].y"
          :x2="p.x"
          :y2="p.y"
          class="lever"
        />
        <g v-for="p in v.points" :key="p.name" :class="[p.kind, { strong: hovered === p.name }]">
          <line v-if="p.tip" :x1="p.x" :y1="p.y" :x2="p.tip[0]" :y2="p.tip[1]" class="axis" />
          <circle v-if="p.kind === 'reference'" :cx="p.x" :cy="p.y" r="4" />
          <path v-else-if="p.kind === 'antenna'" :d="`M${p.x} ${p.y - 5}l5 9h-10z`" />
          <rect v-else :x="p.x - 3.5" :y="p.y - 3.5" width="7" height="7" />
          <title>{{ p.name }}: {{ p.at.map((c) => c.toFixed(3)).join(', ') }} m</title>
        </g>
        <path :d="`M6 ${SIZE - 6}h${barM(v.metrePx) * v.metrePx}`" class="bar" />
        <text x="6" :y="SIZE - 9">{{ barM(v.metrePx) }} m</text>
        <path :d="`M${SIZE - 30} 8h22m-4 -3l4 3-4 3M${SIZE - 30} 8v20m-3 -4l3 4 3-4`" class="frame" />
        <text :x="SIZE - 8" y="20" text-anchor="end">x</text>
        <text :x="SIZE - 26" y="32">{{ v.view === 'side' ? 'z' : 'y' }}</text>
      </svg>
      <figcaption>{{ v.title }}</figcaption>
    </figure>
  </div>
  <p class="soft key">
    <span><b class="ring" /> reference point</span><span><b class="tri" /> antenna</span
    ><span><b class="box" /> sensor and its x axis</span>
  </p>
  <details>
    <summary>Distances between them, m</summary>
    <FigureTable
      :columns="[
        { key: 'c0', label: '' },
        { key: 'c1', label: '', right: true, mono: true },
      ]"
      :rows="distances"
      :row-key="(d) => `${d.from} ${d.to}`"
      @enter="(d) => (hovered = d.to)"
      @leave="() => (hovered = null)"
      ><template #c0="{ row: d }">{{ d.from }} – {{ d.to }}</template
      ><template #c1="{ row: d }">{{ d.distanceM.toFixed(3) }}</template></FigureTable
    >
  </details>
</template>

<style scoped>
.views {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px;
}
figure {
  margin: 0;
}
svg {
  width: 100%;
  background: #f6f9f9;
  border: 1px solid var(--line);
  border-radius: 4px;
}
figcaption {
  font-size: 12px;
  color: var(--soft, #53666d);
  text-align: center;
}
text {
  font: 9px var(--sans);
  fill: var(--ink);
}
.lever {
  stroke: #b7c4c6;
  stroke-dasharray: 3 2;
}
.axis {
  stroke: #c97a00;
  stroke-width: 2;
}
.reference circle,
.antenna path,
.sensor rect {
  fill: #ffffff;
  stroke: #15262c;
  stroke-width: 1.4;
}
.strong circle,
.strong path,
.strong rect {
  fill: #0e5e66;
}
.frame {
  fill: none;
  stroke: #0e5e66;
  stroke-width: 1.4;
}
.bar {
  stroke: #15262c;
  stroke-width: 2;
}
.key {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  font-size: 12px;
}
.key b {
  display: inline-block;
  width: 8px;
  height: 8px;
  border: 1.4px solid #15262c;
}
.key .ring {
  border-radius: 50%;
}
.key .tri {
  border: 0;
  width: 0;
  height: 0;
  border-left: 5px solid transparent;
  border-right: 5px solid transparent;
  border-bottom: 8px solid #15262c;
}
.key .box {
  box-shadow: 5px 0 0 -2.5px #c97a00;
}
.figures td {
  font-size: 12px;
  padding: 1px 3px;
}
.mono {
  font-family: var(--mono);
}
details {
  margin: 4px 0 10px;
  font-size: 12px;
}
</style>
