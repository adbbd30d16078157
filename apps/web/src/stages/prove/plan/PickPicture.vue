<script setup lang="ts">
import { computed, ref } from 'vue';
import { useEventListener, useLocalStorage, useResizeObserver } from '@vueuse/core';
import { isTyping } from '../../../ui/keys';
import { usePress } from '../../../ui/press';

/**
 * The brightness about a mark, to point at its target. Zoom and contrast stay from mark to mark and over a reload;
 * zooming changes nothing but the size of the cells.
 */
const props = defineProps<{
  picture: string | null;
  /** Edge of the square, metres. */
  edgeM: number;
  /** Metres east and north of the given place. */
  fit: [number, number] | null;
  pick: [number, number] | null;
  showGiven: boolean;
}>();
const emit = defineEmits<{ pick: [dE: number, dN: number] }>();
const look = useLocalStorage('longheron.pickLook', { zoom: 1.6, black: 0, white: 100 });
const centre = ref<[number, number]>([0, 0]);
const box = ref<HTMLElement | null>(null);
const size = ref<[number, number]>([300, 300]);
useResizeObserver(box, ([e]) => (size.value = [e.contentRect.width, e.contentRect.height]));
/** Pixels to a metre. */
const scale = computed(() => (look.value.zoom * Math.min(...size.value)) / props.edgeM);
const x = (e: number) => size.value[0] / 2 + (e - centre.value[0]) * scale.value;
const y = (n: number) => size.value[1] / 2 - (n - centre.value[1]) * scale.value;
const place = (event: MouseEvent): [number, number] => {
  const at = box.value!.getBoundingClientRect();
  return [
    centre.value[0] + (event.clientX - at.left - size.value[0] / 2) / scale.value,
    centre.value[1] - (event.clientY - at.top - size.value[1] / 2) / scale.value,
  ];
};
const pointer = ref<[number, number] | null>(null);
function zoomBy(factor: number, event?: MouseEvent): void {
  const before = event ? place(event) : centre.value;
  look.value.zoom = Math.min(20, Math.max(0.8, look.value.zoom * factor));
  if (!event) return;
  const after = place(event);
  centre.value = [centre.value[0] + before[0] - after[0], centre.value[1] + before[1] - after[1]];
}
const press = usePress(
  () => centre.value,
  (from, dx, dy) => (centre.value = [from[0] - dx / scale.value, from[1] + dy / scale.value]),
  (event) => {
    const [e, n] = place(event);
    if (props.picture) emit('pick', e, n);
  },
);
function move(event: PointerEvent): void {
  pointer.value = place(event);
  press.move(event);
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (isTyping(event.target)) return;
  if (event.key === '+' || event.key === '=') zoomBy(1.25);
  if (event.key === '-') zoomBy(0.8);
});
const filter = computed(() => {
  const { black, white } = look.value;
  const slope = 100 / Math.max(5, white - black);
  return { slope, intercept: (-black / 100) * slope };
});
</script>

<template>
  <div class="pick">
    <div
      ref="box"
      class="box"
      tabindex="0"
      role="group"
      aria-label="Brightness about the mark; click where the centre of the target is"
      @wheel.prevent="zoomBy($event.deltaY < 0 ? 1.15 : 1 / 1.15, $event)"
      @pointerdown="press.down"
      @pointermove="move"
      @pointerup="press.up"
      @pointerleave="pointer = null"
    >
      <svg :width="size[0]" :height="size[1]">
        <filter id="contrast" color-interpolation-filters="sRGB">
          <feComponentTransfer>
            <feFuncR v-bind="filter" type="linear" />
            <feFuncG v-bind="filter" type="linear" />
            <feFuncB v-bind="filter" type="linear" />
          </feComponentTransfer>
        </filter>
        <image
          v-if="picture"
          :href="`/api/objects/${picture}?type=image/png`"
          :x="x(-edgeM / 2)"
          :y="y(edgeM / 2)"
          :width="edgeM * scale"
          :height="edgeM * scale"
          preserveAspectRatio="none"
          filter="url(#contrast)"
          class="cells"
        />
        <g v-if="showGiven" class="given">
          <circle :cx="x(0)" :cy="y(0)" r="9" />
        </g>
        <g v-if="fit" class="fit">
          <path :d="`M${x(fit[0]) - 11} ${y(fit[1])}h22M${x(fit[0])} ${y(fit[1]) - 11}v22`" />
        </g>
        <g v-if="pick" class="picked">
          <path :d="`M${x(pick[0]) - 9} ${y(pick[1]) - 9}l18 18m0 -18l-18 18`" />
        </g>
        <path class="bar" :d="`M12 ${size[1] - 12}v-5m0 5h${0.2 * scale}m0 0v-5`" />
        <text class="bar" x="14" :y="size[1] - 20">20 cm</text>
      </svg>
      <span v-if="pointer" class="where mono"
        >{{ (100 * pointer[0]).toFixed(1) }} cm E, {{ (100 * pointer[1]).toFixed(1) }} cm N of the given place</span
      >
      <p v-if="!picture" class="none soft">Too few points about this mark for a picture.</p>
    </div>
    <div class="look">
      <span>Black</span
      ><el-slider v-model="look.black" :min="0" :max="90" size="small" aria-label="Black, percent" /><span>White</span
      ><el-slider v-model="look.white" :min="10" :max="100" size="small" aria-label="White, percent" />
    </div>
  </div>
</template>

<style scoped>
.pick {
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto;
  min-height: 0;
}
.box {
  position: relative;
  overflow: hidden;
  cursor: crosshair;
  background: var(--paper, #f4f1ea);
  outline-offset: -2px;
}
svg {
  position: absolute;
  inset: 0;
}
.cells {
  image-rendering: pixelated;
}
.given circle {
  fill: none;
  stroke: #1d4f91;
  stroke-width: 1.5;
  stroke-dasharray: 3 2;
}
.fit path {
  stroke: #c99336;
  stroke-width: 2;
}
.picked path {
  stroke: #b3261e;
  stroke-width: 2;
}
path.bar {
  fill: none;
  stroke: #15262c;
  stroke-width: 1.5;
}
text.bar {
  font-size: 12px;
  fill: #15262c;
  paint-order: stroke;
  stroke: #fff;
  stroke-width: 3px;
}
.where {
  position: absolute;
  right: 6px;
  bottom: 4px;
  background: #ffffffd8;
  font-size: 12px;
  padding: 0 4px;
}
.none {
  position: absolute;
  inset: 40% 10% auto;
  text-align: center;
}
.look {
  display: grid;
  grid-template-columns: auto 1fr auto 1fr;
  gap: 4px 12px;
  align-items: center;
  padding: 0 14px 0 10px;
  font-size: 12px;
  border-top: 1px solid var(--line);
}
</style>
