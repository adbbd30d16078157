<script setup lang="ts">
import { computed, onBeforeUnmount, ref, shallowRef, watch } from 'vue';
import { useEventListener, useLocalStorage, useResizeObserver } from '@vueuse/core';
import { isTyping } from '../../../ui/keys';
import { usePress } from '../../../ui/press';
import { photographAt } from './photographs';

/**
 * A photograph to point at things: zoom and contrast stay from picture to picture and over a reload. A place that is
 * expected is drawn as its ellipse alone, without a centre, so that the eye looks for the target itself.
 */
const props = defineProps<{
  path: string | null;
  /** Where to look when the picture changes, pixels; its middle without it. */
  about: [number, number] | null;
  /** The pick of the current point. */
  pick: [number, number] | null;
  /** Whether that pick does not fit. */
  bad: boolean;
  /** Ellipse of one deviation about where the point is expected. */
  expected: { xPx: number; yPx: number; majorPx: number; minorPx: number; angleDeg: number } | null;
  /** A way along which it must lie, x and y by turns. */
  along: readonly number[];
  others: ReadonlyArray<{ name: string; xPx: number; yPx: number }>;
  /** Lines and areas that are drawn, in this picture. */
  drawn: ReadonlyArray<{ points: ReadonlyArray<[number, number]>; closed: boolean; current: boolean }>;
}>();
const emit = defineEmits<{
  pick: [xPx: number, yPx: number];
  pointer: [at: [number, number] | null];
  loaded: [ImageBitmap | null];
}>();
const MOST_NAMES = 16;
const look = useLocalStorage('longheron.photographView', { zoom: 0, black: 0, white: 100 });
const box = ref<HTMLElement | null>(null);
const canvas = ref<HTMLCanvasElement | null>(null);
const size = ref<[number, number]>([300, 300]);
useResizeObserver(box, ([e]) => (size.value = [e.contentRect.width, e.contentRect.height]));
const picture = shallowRef<ImageBitmap | null>(null);
const failed = ref('');
const centre = ref<[number, number]>([0, 0]);
/** The whole picture in the view. */
const whole = computed(() =>
  picture.value ? Math.min(size.value[0] / picture.value.width, size.value[1] / picture.value.height) : 1,
);
/** Screen pixels to one of the photograph; zoom 0 is the whole picture. */
const scale = computed(() => whole.value * 2 ** look.value.zoom);
const x = (u: number) => size.value[0] / 2 + (u + 0.5 - centre.value[0]) * scale.value;
const y = (v: number) => size.value[1] / 2 + (v + 0.5 - centre.value[1]) * scale.value;
function placeAt(event: MouseEvent): [number, number] {
  const at = box.value!.getBoundingClientRect();
  return [
    (event.clientX - at.left - size.value[0] / 2) / scale.value + centre.value[0] - 0.5,
    (event.clientY - at.top - size.value[1] / 2) / scale.value + centre.value[1] - 0.5,
  ];
}
watch(
  () => props.path,
  async (path) => {
    failed.value = '';
    // while the next one comes nothing can be picked in the one before
    picture.value = null;
    emit('loaded', null);
    if (!path) return;
    try {
      const loaded = await photographAt(path);
      if (props.path !== path) return;
      picture.value = loaded;
      toAbout();
      emit('loaded', loaded);
    } catch (e) {
      if (props.path === path) failed.value = (e as Error).message;
    }
  },
  { immediate: true },
);
function toAbout(): void {
  const p = picture.value;
  if (p) centre.value = props.about && look.value.zoom > 0.5 ? [...props.about] : [p.width / 2, p.height / 2];
}
watch(() => props.about?.join(), toAbout);
function zoomBy(steps: number, event?: MouseEvent): void {
  const before = event ? placeAt(event) : centre.value;
  const most = Math.log2(40 / whole.value);
  look.value.zoom = Math.min(most, Math.max(0, look.value.zoom + steps));
  if (!event) return;
  const after = placeAt(event);
  centre.value = [centre.value[0] + before[0] - after[0], centre.value[1] + before[1] - after[1]];
}
const press = usePress(
  () => centre.value,
  (from, dx, dy) => (centre.value = [from[0] - dx / scale.value, from[1] - dy / scale.value]),
  (event) => {
    const p = picture.value;
    const [u, v] = placeAt(event);
    if (p && u > -0.5 && v > -0.5 && u < p.width - 0.5 && v < p.height - 0.5) emit('pick', u, v);
  },
);
function move(event: PointerEvent): void {
  emit('pointer', picture.value ? placeAt(event) : null);
  press.move(event);
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (isTyping(event.target)) return;
  if (event.key === '+' || event.key === '=') zoomBy(0.5);
  if (event.key === '-') zoomBy(-0.5);
  if (event.key === '0') {
    look.value.zoom = 0;
    toAbout();
  }
});
const filter = computed(() => {
  const { black, white } = look.value;
  // (in − black) / (white − black), as a factor and a contrast about the middle grey
  const both = Math.max(5, black + white);
  return `brightness(${100 / both}) contrast(${both / Math.max(5, white - black)})`;
});
let frame = 0;
function draw(): void {
  frame = 0;
  const c = canvas.value;
  if (!c) return;
  const ratio = window.devicePixelRatio || 1;
  c.width = Math.max(1, Math.round(size.value[0] * ratio));
  c.height = Math.max(1, Math.round(size.value[1] * ratio));
  const p = picture.value;
  const context = c.getContext('2d')!;
  if (!p) return;
  context.imageSmoothingEnabled = scale.value < 3;
  const s = scale.value * ratio;
  context.setTransform(s, 0, 0, s, x(-0.5) * ratio, y(-0.5) * ratio);
  context.drawImage(p, 0, 0);
}
watch([picture, size, scale, centre], () => (frame ||= requestAnimationFrame(draw)), { deep: true });
onBeforeUnmount(() => cancelAnimationFrame(frame));
/** Many names at once hide what they name: they come with zooming in. */
const named = computed(() => props.others.length <= MOST_NAMES || scale.value > 1.2);
/** What leaves a panorama at one edge and comes in at the other is not drawn across it. */
const strokeOf = (points: ReadonlyArray<readonly [number, number]>) =>
  points
    .map(([u, v], k) => {
      const goesOn = k > 0 && Math.abs(u - points[k - 1][0]) < picture.value!.width / 2;
      return `${goesOn ? 'L' : 'M'}${x(u).toFixed(1)} ${y(v).toFixed(1)}`;
    })
    .join('');
const alongPath = computed(() =>
  strokeOf(
    Array.from({ length: props.along.length >> 1 }, (_, k) => [props.along[2 * k], props.along[2 * k + 1]] as const),
  ),
);
/** Small deviations would be hidden under the pick: three of them, and no less than can be seen. */
const ring = computed(() => {
  const e = props.expected;
  const size = (px: number) => Math.max(9, 3 * px * scale.value);
  return e && { ...e, rx: size(e.majorPx), ry: size(e.minorPx) };
});
</script>

<template>
  <div class="view">
    <div
      ref="box"
      class="box"
      tabindex="0"
      role="group"
      aria-label="Photograph; click where the point is"
      :aria-busy="!!path && !picture && !failed"
      @wheel.prevent="zoomBy($event.deltaY < 0 ? 0.25 : -0.25, $event)"
      @pointerdown="press.down"
      @pointermove="move"
      @pointerup="press.up"
      @pointerleave="emit('pointer', null)"
    >
      <canvas ref="canvas" :style="{ filter }" />
      <svg v-if="picture" :width="size[0]" :height="size[1]">
        <path v-if="along.length" class="along" :d="alongPath" />
        <path
          v-for="(d, k) in drawn"
          :key="k"
          class="drawn"
          :class="{ current: d.current }"
          :d="strokeOf(d.points) + (d.closed ? 'Z' : '')"
        />
        <g v-for="o in others" :key="o.name" class="other">
          <circle :cx="x(o.xPx)" :cy="y(o.yPx)" r="3" />
          <text v-if="named" :x="x(o.xPx) + 6" :y="y(o.yPx) + 4">{{ o.name }}</text>
        </g>
        <ellipse
          v-if="ring"
          class="expected"
          :cx="x(ring.xPx)"
          :cy="y(ring.yPx)"
          :rx="ring.rx"
          :ry="ring.ry"
          :transform="`rotate(${ring.angleDeg} ${x(ring.xPx)} ${y(ring.yPx)})`"
        />
        <g v-if="pick" class="picked" :class="{ bad }">
          <path :d="`M${x(pick[0]) - 13} ${y(pick[1])}h10m6 0h10M${x(pick[0])} ${y(pick[1]) - 13}v10m0 6v10`" />
        </g>
      </svg>
      <p v-if="failed" class="none">{{ failed }}</p>
      <p v-else-if="!path" class="none">No photograph is open.</p>
    </div>
    <div class="look">
      <span>Black</span
      ><el-slider v-model="look.black" :min="0" :max="90" size="small" aria-label="Black, percent" /><span>White</span
      ><el-slider v-model="look.white" :min="10" :max="100" size="small" aria-label="White, percent" />
      <span class="mono">{{ (100 * scale).toFixed(0) }} %</span>
    </div>
  </div>
</template>

<style scoped>
.view {
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto;
  min-height: 0;
  min-width: 0;
}
.box {
  position: relative;
  overflow: hidden;
  cursor: crosshair;
  background: var(--deep);
  outline-offset: -2px;
}
canvas,
svg {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
.expected {
  fill: none;
  stroke: #7fd3da;
  stroke-width: 1.5;
  stroke-dasharray: 4 3;
}
.along {
  fill: none;
  stroke: #7fd3da;
  stroke-width: 1.2;
}
.drawn {
  fill: none;
  stroke: #ffd27a;
  stroke-width: 1.5;
}
.drawn.current {
  stroke: #ffffff;
}
.picked path {
  stroke: #ffb13d;
  stroke-width: 2;
}
.picked.bad path {
  stroke: #ff6b5a;
}
.other circle {
  fill: #ffffffb0;
}
.other text {
  font-size: 12px;
  fill: #fff;
  paint-order: stroke;
  stroke: #0c1a20;
  stroke-width: 3px;
}
.none {
  position: absolute;
  inset: 40% 10% auto;
  text-align: center;
  color: #cfdcdf;
}
.look {
  display: grid;
  grid-template-columns: auto 1fr auto 1fr 52px;
  gap: 4px 12px;
  align-items: center;
  padding: 0 10px;
  font-size: 12px;
  border-top: 1px solid var(--line);
}
.look .mono {
  text-align: right;
}
</style>
