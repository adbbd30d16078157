<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue';
import { useElementSize } from '@vueuse/core';
import { formatGps, type TimeDisplay } from '@longheron/core/time';
import { PLOT_LEFT, PLOT_RIGHT } from '../../charts/layout';
import { css, CIVIDIS } from '../../ui/colour';
import { slipWords, SOLUTIONS, STRONG_MM, type Sky } from './sky';

/** Against the plots' time: which kind of solution held when, or each satellite's residuals and slips. */
const props = defineProps<{
  sky: Sky;
  span: [number, number];
  rows: 'solution' | 'satellites';
  display: TimeDisplay;
  chosen?: string | null;
}>();
/** Height of a satellite's name. */
const NAME_PX = 12;
const canvas = ref<HTMLCanvasElement | null>(null);
const box = ref<HTMLElement | null>(null);
const { width, height } = useElementSize(box);
const told = ref('');
const seen = computed(() =>
  props.sky.satellites.filter((_, s) =>
    props.sky.elevation[s].some(
      (e, k) => e !== null && props.sky.time[k] >= props.span[0] && props.sky.time[k] <= props.span[1],
    ),
  ),
);
const plotWidth = computed(() => Math.max(10, width.value - PLOT_LEFT - PLOT_RIGHT));
const xOf = (t: number) => PLOT_LEFT + ((t - props.span[0]) / (props.span[1] - props.span[0])) * plotWidth.value;
const tOf = (x: number) => props.span[0] + ((x - PLOT_LEFT) / plotWidth.value) * (props.span[1] - props.span[0]);

function draw(): void {
  const c = canvas.value;
  if (!c || width.value < 20) return;
  const ratio = window.devicePixelRatio || 1;
  c.width = Math.round(width.value * ratio);
  c.height = Math.round(height.value * ratio);
  const g = c.getContext('2d')!;
  g.scale(ratio, ratio);
  g.clearRect(0, 0, width.value, height.value);
  g.save();
  g.beginPath();
  g.rect(PLOT_LEFT, 0, plotWidth.value, height.value);
  g.clip();
  if (props.rows === 'solution') {
    for (const s of props.sky.solution) {
      g.fillStyle = (SOLUTIONS[s.kind] ?? SOLUTIONS[0]).colour;
      g.fillRect(xOf(s.from), 1, Math.max(1, xOf(s.to) - xOf(s.from)), height.value - 2);
    }
    g.restore();
    return;
  }
  const row = height.value / Math.max(1, seen.value.length);
  const { time } = props.sky;
  const step = time.length > 1 ? Math.min(...time.slice(1).map((t, k) => t - time[k])) : 1;
  seen.value.forEach((name, r) => {
    const s = props.sky.satellites.indexOf(name);
    for (let k = 0; k < time.length; k++) {
      if (props.sky.elevation[s][k] === null) continue;
      // a sample stands for the time to the next, but not across an outage
      const next = Math.min(time[k + 1] ?? Infinity, time[k] + 1.5 * step);
      const v = props.sky.residualMm[s][k];
      g.fillStyle = v === null ? '#dfe6e6' : css(CIVIDIS, Math.abs(v) / STRONG_MM);
      g.fillRect(xOf(time[k]), r * row, Math.max(1, xOf(next) - xOf(time[k]) + 0.5), Math.max(1, row - 1));
    }
    g.fillStyle = '#c2185b';
    for (const p of props.sky.slips)
      if (p.satellite === name) g.fillRect(xOf(p.time) - 1, r * row, 2, Math.max(2, row - 1));
  });
  g.restore();
  g.font = `${NAME_PX}px "IBM Plex Mono"`;
  g.textBaseline = 'middle';
  g.textAlign = 'right';
  const every = Math.max(1, Math.ceil(NAME_PX / row));
  seen.value.forEach((name, r) => {
    const near = props.chosen !== name && Math.abs(seen.value.indexOf(props.chosen ?? '') - r) < every;
    if ((r % every && name !== props.chosen) || (props.chosen && seen.value.includes(props.chosen) && near)) return;
    g.fillStyle = name === props.chosen ? '#0e5e66' : '#53666d';
    g.fillText(name, PLOT_LEFT - 6, (r + 0.5) * row);
  });
}

function point(event: PointerEvent): void {
  const t = tOf(event.offsetX);
  const when = formatGps(t, props.display, 1);
  if (props.rows === 'solution') {
    const at = props.sky.solution.find((s) => t >= s.from && t <= s.to);
    told.value = `${when.slice(11)}: ${at ? (SOLUTIONS[at.kind] ?? SOLUTIONS[0]).word : 'no position'}`;
    return;
  }
  const name = seen.value[Math.floor(event.offsetY / (height.value / Math.max(1, seen.value.length)))];
  if (!name) return;
  const s = props.sky.satellites.indexOf(name);
  const { time } = props.sky;
  let k = 0;
  while (k + 1 < time.length && time[k + 1] <= t) k++;
  const [e, v] = [props.sky.elevation[s][k], props.sky.residualMm[s][k]];
  const near = (props.span[1] - props.span[0]) / 150;
  const slip = props.sky.slips.find((p) => p.satellite === name && Math.abs(p.time - t) < near);
  told.value =
    `${name} ${when.slice(11)}: ${e === null ? 'not seen' : `${e.toFixed(0)}° up, ${v === null ? 'not fixed' : `${v.toFixed(1)} mm`}`}` +
    (slip ? `; ${slipWords(slip)}, ${formatGps(slip.time, props.display, 1).slice(11)}` : '');
}
onMounted(draw);
watch([width, height, () => props.sky, () => props.span.join(), () => props.chosen, () => props.rows], draw, {
  flush: 'post',
});
</script>

<template>
  <div ref="box" class="strip" @pointermove="point" @pointerleave="told = ''">
    <canvas
      ref="canvas"
      role="img"
      :aria-label="
        rows === 'solution' ? 'Kind of solution against time' : 'Phase residuals and slips by satellite against time'
      "
    />
    <span v-if="told" class="told">{{ told }}</span>
  </div>
</template>

<style scoped>
.strip {
  position: relative;
  height: 100%;
  min-height: 0;
}
canvas {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
.told {
  position: absolute;
  right: 12px;
  top: 0;
  background: #ffffffe8;
  font: 12px var(--mono);
  padding: 0 4px;
  pointer-events: none;
}
</style>
