<script setup lang="ts">
import { computed, ref } from 'vue';
import { useElementSize } from '@vueuse/core';
import { CIVIDIS, css, gradient } from '../../ui/colour';
import { figuresOf, STRONG_MM, type Sky } from './sky';

/** Tracks of satellites over the receiver, zenith in the middle, coloured by their phase residuals in the span. */
const props = defineProps<{ sky: Sky; span: [number, number]; maskDeg?: number }>();
const chosen = defineModel<string | null>('chosen', { default: null });
const R = 100;
const [VIEW_WIDTH, VIEW_HEIGHT, TEXT_PX] = [236, 224, 12];
const svg = ref<SVGSVGElement | null>(null);
const { width, height } = useElementSize(svg);
/** Height of text in the drawing's own units, so that it is read at any size of the plot. */
const textSize = computed(() => {
  const scale = Math.min(width.value / VIEW_WIDTH, height.value / VIEW_HEIGHT);
  return scale > 0 ? Math.min(16, TEXT_PX / scale) : TEXT_PX;
});
const figures = computed(() => figuresOf(props.sky, props.span));
const point = (azimuth: number, elevation: number): [number, number] => {
  const r = (R * (90 - elevation)) / 90;
  return [r * Math.sin((azimuth * Math.PI) / 180), -r * Math.cos((azimuth * Math.PI) / 180)];
};
const tracks = computed(() =>
  figures.value.map((f) => {
    const s = props.sky.satellites.indexOf(f.satellite);
    let d = '';
    let pen = false;
    let end: [number, number] = [0, 0];
    props.sky.time.forEach((t, k) => {
      const [e, a] = [props.sky.elevation[s][k], props.sky.azimuth[s][k]];
      if (e === null || a === null || t < props.span[0] || t > props.span[1]) {
        pen = false;
        return;
      }
      end = point(a, e);
      d += `${pen ? 'L' : 'M'}${end[0].toFixed(1)} ${end[1].toFixed(1)}`;
      pen = true;
    });
    const colour = f.rmsMm === null ? '#9fb3b8' : css(CIVIDIS, f.rmsMm / STRONG_MM);
    return { ...f, d, end, colour };
  }),
);
/** Where a name may stand about its satellite: to the right, left, above, below. */
const sides = computed(() => {
  const up = 0.4 * textSize.value;
  return [
    [4, up, 'start'],
    [-4, up, 'end'],
    [0, -5, 'middle'],
    [0, 4 + 2 * up, 'middle'],
  ] as const;
});
/** Names where they cover neither each other nor another satellite; without room a name shows when pointed at. */
const labels = computed(() => {
  const taken: Array<[number, number, number, number]> = tracks.value.map((t) => [
    t.end[0] - 3,
    t.end[1] - 3,
    t.end[0] + 3,
    t.end[1] + 3,
  ]);
  return tracks.value.flatMap((t) => {
    for (const [dx, dy, anchor] of sides.value) {
      const [x, y] = [t.end[0] + dx, t.end[1] + dy];
      const long = 0.61 * textSize.value * t.satellite.length;
      const left = anchor === 'start' ? x : anchor === 'end' ? x - long : x - long / 2;
      const box: [number, number, number, number] = [left, y - 0.8 * textSize.value, left + long, y];
      if (taken.some((b) => b[0] < box[2] && b[2] > box[0] && b[1] < box[3] && b[3] > box[1])) continue;
      taken.push(box);
      return [{ name: t.satellite, x, y, anchor }];
    }
    return [];
  });
});
const hovered = ref<string | null>(null);
const told = computed(() => figures.value.find((f) => f.satellite === (hovered.value ?? chosen.value)));
</script>

<template>
  <div class="sky">
    <svg
      ref="svg"
      :viewBox="`-118 -112 ${VIEW_WIDTH} ${VIEW_HEIGHT}`"
      :font-size="textSize"
      role="img"
      aria-label="Satellites above the receiver"
    >
      <circle v-for="e in [0, 30, 60]" :key="e" :r="(R * (90 - e)) / 90" class="ring" />
      <circle v-if="maskDeg" :r="(R * (90 - maskDeg)) / 90" class="mask" />
      <path :d="`M0 ${-R}V${R}M${-R} 0H${R}`" class="ring" />
      <text
        v-for="[t, x, y] in [
          ['N', 0, -103],
          ['E', 107, 3],
          ['S', 0, 110],
          ['W', -107, 3],
        ] as const"
        :key="t"
        :x="x"
        :y="y"
        class="pole"
      >
        {{ t }}
      </text>
      <text v-for="e in [30, 60]" :key="`t${e}`" x="2" :y="(-R * (90 - e)) / 90 + textSize" class="degree">
        {{ e }}°
      </text>
      <g
        v-for="t in tracks"
        :key="t.satellite"
        :class="{ dim: chosen && chosen !== t.satellite }"
        @pointerenter="hovered = t.satellite"
        @pointerleave="hovered = null"
        @click="chosen = chosen === t.satellite ? null : t.satellite"
      >
        <path :d="t.d" class="track" :stroke="t.colour" />
        <circle :cx="t.end[0]" :cy="t.end[1]" r="2.6" :fill="t.colour" />
      </g>
      <text v-for="l in labels" :key="`n${l.name}`" :x="l.x" :y="l.y" :text-anchor="l.anchor" class="name">
        {{ l.name }}
      </text>
    </svg>
    <div class="key">
      <span class="ramp" :style="{ background: gradient(CIVIDIS) }" /><span
        >phase residual 0 to {{ STRONG_MM }} mm RMS</span
      >
    </div>
    <p class="told">
      <template v-if="told"
        ><b>{{ told.satellite }}</b> {{ told.elevation[0].toFixed(0) }}° to {{ told.elevation[1].toFixed(0) }}°,
        <template v-if="told.rmsMm !== null"
          >{{ told.rmsMm.toFixed(1) }} mm RMS, {{ told.maxMm!.toFixed(0) }} mm at most,</template
        ><template v-else>no fixed epoch,</template> {{ told.slips }}
        {{ told.slips === 1 ? 'slip' : 'slips' }}</template
      >
      <template v-else>Point at a satellite.</template>
    </p>
  </div>
</template>

<style scoped>
.sky {
  position: absolute;
  inset: 0;
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto auto;
  background: #fff;
  padding: 4px 6px;
}
svg {
  width: 100%;
  height: 100%;
  min-height: 0;
}
.ring {
  fill: none;
  stroke: #d5dfdf;
  stroke-width: 0.6;
}
.mask {
  fill: none;
  stroke: #a8402e;
  stroke-width: 0.6;
  stroke-dasharray: 3 3;
}
.pole {
  text-anchor: middle;
  fill: var(--ink-soft, #53666d);
}
.degree {
  fill: #7f9097;
}
.track {
  fill: none;
  stroke-width: 1.8;
  stroke-linecap: round;
}
.name {
  font-family: var(--mono);
}
g {
  cursor: pointer;
}
g.dim {
  opacity: 0.25;
}
.key {
  display: flex;
  align-items: center;
  gap: 6px;
  font-size: 12px;
}
.ramp {
  width: 60px;
  height: 8px;
}
.told {
  margin: 2px 0 0;
  font-size: 12px;
  min-height: 28px;
}
</style>
