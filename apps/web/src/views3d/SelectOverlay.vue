<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { useEventListener } from '@vueuse/core';
import { type SelectionMode, type SelectionTool } from '../stores/selection';

/** Draws a rectangle, a lasso, a polygon or a brush over a view; what comes out are pixels of it. */
const props = defineProps<{ tool: SelectionTool; brushPx: number; over: 'cloud' | 'plan' | 'section' }>();
const emit = defineEmits<{ done: [path: number[], how: SelectionMode | undefined]; wheel: [event: WheelEvent] }>();
const path = ref<number[]>([]);
const pointer = ref<[number, number] | null>(null);
const dragging = ref(false);
/** Steps of a path on the screen; finer ones say nothing more. */
const STEP_PX = 2.5;

watch(
  () => props.tool,
  () => reset(),
);
function reset(): void {
  path.value = [];
  dragging.value = false;
}
const at = (event: PointerEvent | MouseEvent): [number, number] => {
  const r = (event.currentTarget as Element).getBoundingClientRect();
  return [event.clientX - r.left, event.clientY - r.top];
};
/** Shift adds and Alt takes away, whatever the mode. */
const howOf = (event: MouseEvent | KeyboardEvent): SelectionMode | undefined =>
  event.altKey ? 'subtract' : event.shiftKey ? 'add' : undefined;

function down(event: PointerEvent): void {
  if (event.button !== 0) return;
  const p = at(event);
  if (props.tool === 'polygon') {
    path.value = [...path.value, ...p];
    return;
  }
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  dragging.value = true;
  path.value = [...p];
}
function move(event: PointerEvent): void {
  const p = at(event);
  pointer.value = p;
  if (!dragging.value) return;
  if (props.tool === 'rectangle') {
    const [x, y] = path.value;
    path.value = [x, y, p[0], y, p[0], p[1], x, p[1]];
    return;
  }
  const n = path.value.length;
  if (Math.hypot(p[0] - path.value[n - 2], p[1] - path.value[n - 1]) >= STEP_PX) path.value = [...path.value, ...p];
}
function up(event: PointerEvent): void {
  if (!dragging.value) return;
  dragging.value = false;
  finish(howOf(event));
}
function finish(how: SelectionMode | undefined): void {
  const p = path.value;
  reset();
  if (props.tool === 'brush' ? p.length >= 2 : p.length >= 6) emit('done', p, how);
}
function closePolygon(event: MouseEvent | KeyboardEvent): void {
  if (props.tool === 'polygon') finish(howOf(event));
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (props.tool === 'none' || path.value.length === 0) return;
  if (event.key === 'Escape') reset();
  else if (event.key === 'Enter') closePolygon(event);
  else if (event.key === 'Backspace' && props.tool === 'polygon') path.value = path.value.slice(0, -2);
  else return;
  event.preventDefault();
  event.stopImmediatePropagation();
});
const points = computed(() => {
  const all =
    props.tool === 'polygon' && path.value.length && pointer.value ? [...path.value, ...pointer.value] : path.value;
  return all.reduce((s, v, i) => s + (i % 2 ? `${v} ` : `${v},`), '');
});
</script>

<template>
  <svg
    v-if="tool !== 'none'"
    class="overlay"
    role="application"
    :aria-label="`Select with the ${tool}: draw over the ${over}`"
    @pointerdown="down"
    @pointermove="move"
    @pointerup="up"
    @pointerleave="pointer = null"
    @dblclick="closePolygon"
    @wheel.prevent="emit('wheel', $event)"
    @contextmenu.prevent
  >
    <polyline v-if="tool === 'brush'" :points="points" class="brush" :stroke-width="2 * brushPx" />
    <polygon v-else-if="points" :points="points" class="shape" />
    <circle v-if="tool === 'brush' && pointer" :cx="pointer[0]" :cy="pointer[1]" :r="brushPx" class="tip" />
  </svg>
</template>

<style scoped>
.overlay {
  z-index: 2;
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  cursor: crosshair;
  touch-action: none;
}
.shape {
  fill: #ff6fb02e;
  stroke: #ff6fb0;
  stroke-width: 1.5;
}
.brush {
  fill: none;
  stroke: #ff6fb055;
  stroke-linecap: round;
  stroke-linejoin: round;
}
.tip {
  fill: none;
  stroke: #ff6fb0;
}
</style>
