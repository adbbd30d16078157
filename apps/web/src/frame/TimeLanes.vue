<script setup lang="ts">
import { factsOf } from '@longheron/contract/api';
import { computed, ref } from 'vue';
import { useElementSize } from '@vueuse/core';
import { formatGps } from '@longheron/core/time';
import { useProject } from '../stores/project';
import { useView } from '../stores/view';
import Icon from '../ui/Icon.vue';
import PlainButton from '../ui/PlainButton.vue';
import ToolButton from '../ui/ToolButton.vue';

const store = useProject();
const view = useView();
const box = ref<HTMLElement | null>(null);
const { width } = useElementSize(box);
const LABEL = 190;
const LANE = 17;

interface Lane {
  id: number;
  name: string;
  start: number;
  end: number;
  bars: Array<[number, number]>;
}

/** A lane for each instrument; gaps split its bar. */
const lanes = computed<Lane[]>(() =>
  store.datasets
    .filter((d) => d.stage === 'gather')
    .flatMap((d) => {
      const facts = factsOf(d);
      if (!facts || facts.startGps === null || facts.endGps === null) return [];
      const bars: Array<[number, number]> = [];
      let from = facts.startGps;
      for (const g of facts.gaps) {
        bars.push([from, g.startGps]);
        from = g.endGps;
      }
      bars.push([from, facts.endGps]);
      return [{ id: d.id, name: d.name, start: facts.startGps, end: facts.endGps, bars }];
    }),
);
const span = computed<[number, number]>(() => {
  if (lanes.value.length === 0) return [0, 1];
  const start = Math.min(...lanes.value.map((l) => l.start)),
    end = Math.max(...lanes.value.map((l) => l.end));
  const margin = (end - start) * 0.01;
  return [start - margin, end + margin];
});
const plot = computed(() => Math.max(100, width.value - LABEL - 12));
const xOf = (t: number) => LABEL + ((t - span.value[0]) / (span.value[1] - span.value[0])) * plot.value;
const tOf = (x: number) => span.value[0] + ((x - LABEL) / plot.value) * (span.value[1] - span.value[0]);
const display = computed(() => store.project?.reference?.time ?? 'gps');
const ticks = computed(() => {
  const length = span.value[1] - span.value[0];
  const step =
    [1, 2, 5, 10, 20, 30, 60, 120, 300, 600, 1200, 3600, 7200, 21600, 86400].find((s) => length / s <= 9) ?? 86400;
  const out: Array<{ x: number; text: string }> = [];
  for (let t = Math.ceil(span.value[0] / step) * step; t < span.value[1]; t += step)
    out.push({ x: xOf(t), text: formatGps(t, display.value, 0).slice(11) });
  return out;
});
const height = computed(() => Math.max(2, lanes.value.length) * LANE + 24);

let anchor: number | null = null;
function timeAt(event: PointerEvent): number {
  const rect = (event.currentTarget as SVGElement).getBoundingClientRect();
  return Math.min(span.value[1], Math.max(span.value[0], tOf(event.clientX - rect.left)));
}
function down(event: PointerEvent): void {
  if (event.offsetX < LABEL) return;
  (event.currentTarget as SVGElement).setPointerCapture(event.pointerId);
  anchor = timeAt(event);
}
function move(event: PointerEvent): void {
  if (anchor === null) return;
  const t = timeAt(event);
  if (Math.abs(t - anchor) > (span.value[1] - span.value[0]) / 500)
    view.brush = [Math.min(anchor, t), Math.max(anchor, t)];
}
function up(event: PointerEvent): void {
  if (anchor !== null && Math.abs(timeAt(event) - anchor) <= (span.value[1] - span.value[0]) / 500) view.brush = null;
  anchor = null;
}
const brushText = computed(() =>
  view.brush
    ? `${formatGps(view.brush[0], display.value, 1).slice(11)} to ${formatGps(view.brush[1], display.value, 1).slice(11)}, ${(view.brush[1] - view.brush[0]).toFixed(1)} s`
    : '',
);
</script>

<template>
  <section class="lanes" aria-label="Time lanes">
    <header>
      <PlainButton class="fold" :aria-expanded="view.lanesOpen" @click="view.lanesOpen = !view.lanesOpen">
        <Icon name="chevron" :style="{ transform: view.lanesOpen ? '' : 'rotate(-90deg)' }" /> Time lanes
        <span class="soft">{{
          lanes.length
            ? `${formatGps(span[0], display, 0).slice(0, 10)}, ${display === 'gps' ? 'GPS time' : display === 'utc' ? 'UTC' : 'local time'}`
            : ''
        }}</span>
      </PlainButton>
      <span v-if="view.brush" class="mono"
        >{{ brushText }} <ToolButton icon="close" label="Clear the brushed span" @click="view.brush = null"
      /></span>
      <span v-else class="soft">Drag to brush a time span</span>
    </header>
    <div v-show="view.lanesOpen" ref="box" class="scroll" tabindex="0" role="group" aria-label="Lanes">
      <p v-if="lanes.length === 0" class="soft empty">No recording has been imported yet.</p>
      <svg
        v-else
        :width="width"
        :height="height"
        role="img"
        :aria-label="lanes.map((l) => l.name).join(', ')"
        @pointerdown="down"
        @pointermove="move"
        @pointerup="up"
      >
        <g v-for="(lane, i) in lanes" :key="lane.id">
          <text x="12" :y="i * LANE + 13" class="name">
            <title>{{ lane.name }}</title>
            {{ lane.name.length > 29 ? lane.name.slice(0, 28) + '…' : lane.name }}
          </text>
          <line :x1="LABEL" :x2="LABEL + plot" :y1="i * LANE + 9" :y2="i * LANE + 9" stroke="var(--line)" />
          <rect
            v-for="(bar, k) in lane.bars"
            :key="k"
            :x="xOf(bar[0])"
            :width="Math.max(1.5, xOf(bar[1]) - xOf(bar[0]))"
            :y="i * LANE + 4"
            :height="LANE - 7"
            rx="1.5"
            fill="var(--reed)"
          />
        </g>
        <g v-for="tick in ticks" :key="tick.x">
          <line :x1="tick.x" :x2="tick.x" y1="0" :y2="height - 18" stroke="var(--line)" stroke-dasharray="2 3" />
          <text :x="tick.x" :y="height - 6" class="tick" text-anchor="middle">{{ tick.text }}</text>
        </g>
        <rect
          v-if="view.brush"
          :x="xOf(view.brush[0])"
          :width="Math.max(2, xOf(view.brush[1]) - xOf(view.brush[0]))"
          y="0"
          :height="height - 18"
          fill="var(--bill)"
          fill-opacity="0.18"
          stroke="var(--bill)"
        />
      </svg>
    </div>
  </section>
</template>

<style scoped>
.lanes {
  background: var(--paper);
  border-top: 1px solid var(--line);
}
header {
  display: flex;
  justify-content: space-between;
  align-items: center;
  padding: 0 12px;
  height: 24px;
  font-size: 12px;
}
.fold {
  display: inline-flex;
  align-items: center;
  gap: 4px;
  font-weight: 600;
}
.clear {
  vertical-align: -3px;
}
.scroll {
  max-height: 92px;
  overflow: hidden auto;
}
.empty {
  padding: 12px;
}
.name {
  font-size: 12px;
  fill: var(--ink);
}
.tick {
  font: 12px var(--mono);
  fill: var(--ink-soft);
}
svg {
  display: block;
  touch-action: none;
  cursor: crosshair;
}
</style>
