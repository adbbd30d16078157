<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { useThrottleFn } from '@vueuse/core';
import { OPEN_M, useCloudLook } from '../stores/cloudLook';
import { useView } from '../stores/view';
import { cornersOf, EDGES, faceOf, FACES, moveFace, type ClipBox, type Face } from './clipBox';
import { type CloudScene } from './CloudScene';
import { useClipBox } from './useClipBox';

/** The box that is shown alone, with a handle on each face; by mouse, or by arrow keys in steps of 0.1 m. */
const props = defineProps<{ scene: CloudScene; turn: number; width: number; height: number }>();
const look = useCloudLook();
const view = useView();
const STEP_M = 0.1;
const NAMES: Record<Face, string> = {
  start: 'Start of the box',
  end: 'End of the box',
  left: 'Left side of the box',
  right: 'Right side of the box',
  bottom: 'Bottom of the box',
  top: 'Top of the box',
};

/** While a face is dragged, the box that it will be. */
const draft = ref<ClipBox | null>(null);
const shown = useClipBox(() => props.scene);
const box = computed(() => draft.value ?? shown.value);

const drawn = computed(() => {
  void props.turn;
  if (!box.value) return null;
  const project = (p: readonly [number, number, number]) => {
    const o = props.scene.index.origin;
    const v = props.scene.drawn3(p[0] - o[0], p[1] - o[1], p[2] - o[2]).project(props.scene.camera);
    return v.z > 1 || v.z < -1 ? null : { x: ((v.x + 1) / 2) * props.width, y: ((1 - v.y) / 2) * props.height };
  };
  const corners = cornersOf(box.value).map(project);
  const edges = EDGES.flatMap(([a, b]) => (corners[a] && corners[b] ? [[corners[a], corners[b]] as const] : []));
  const handles = FACES.flatMap((face) => {
    const { at, out } = faceOf(box.value!, face);
    const [p, q] = [project(at), project([at[0] + out[0], at[1] + out[1], at[2] + out[2]])];
    return p && q ? [{ face, ...p, px: q.x - p.x, py: q.y - p.y }] : [];
  });
  return { edges, handles };
});

function take(next: ClipBox, face: Face): void {
  view.rail = null;
  view.section = { from: next.from, to: next.to, widthM: next.widthM };
  if (face === 'top' || face === 'bottom') {
    const [low, high] = look.filter.heightM ?? [-OPEN_M, OPEN_M];
    const cm = (v: number) => Math.round(100 * v) / 100;
    look.filter = {
      ...look.filter,
      heightM: face === 'top' ? [low, cm(next.heightM[1])] : [cm(next.heightM[0]), high],
    };
  }
}
const show = useThrottleFn((next: ClipBox, face: Face) => take(next, face), 150, true);

let held: { face: Face; box: ClipBox; x: number; y: number; px: number; py: number } | null = null;
function down(event: PointerEvent, h: { face: Face; px: number; py: number }): void {
  if (event.button !== 0 || !box.value) return;
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  held = { ...h, box: box.value, x: event.clientX, y: event.clientY };
}
function move(event: PointerEvent): void {
  if (!held) return;
  const long = held.px ** 2 + held.py ** 2;
  // a face that is seen head on cannot be drawn along its way out
  if (long < 1e-3) return;
  const byM = ((event.clientX - held.x) * held.px + (event.clientY - held.y) * held.py) / long;
  draft.value = moveFace(held.box, held.face, byM);
  void show(draft.value, held.face);
}
function up(): void {
  if (held && draft.value) take(draft.value, held.face);
  held = null;
  draft.value = null;
}
function key(event: KeyboardEvent, face: Face): void {
  const sign = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key];
  if (!sign || !box.value) return;
  event.preventDefault();
  event.stopPropagation();
  take(moveFace(box.value, face, sign * (event.shiftKey ? 10 : 1) * STEP_M), face);
}
watch(
  () => view.section,
  () => !held && (draft.value = null),
);
const words = computed(() => {
  const b = box.value;
  if (!b) return '';
  const l = Math.hypot(b.to[0] - b.from[0], b.to[1] - b.from[1]);
  return `${l.toFixed(1)} × ${b.widthM.toFixed(1)} × ${(b.heightM[1] - b.heightM[0]).toFixed(1)} m`;
});
</script>

<template>
  <svg v-if="drawn" class="box">
    <line v-for="([a, b], i) in drawn.edges" :key="i" :x1="a.x" :y1="a.y" :x2="b.x" :y2="b.y" />
    <g v-for="h in drawn.handles" :key="h.face">
      <circle
        :cx="h.x"
        :cy="h.y"
        r="6"
        tabindex="0"
        role="slider"
        :aria-label="NAMES[h.face]"
        :aria-valuetext="words"
        @pointerdown.stop="down($event, h)"
        @pointermove="move"
        @pointerup="up"
        @pointercancel="up"
        @keydown="key($event, h.face)"
      >
        <title>{{ NAMES[h.face] }}: drag, or arrow keys (Shift: 1 m). The box is {{ words }}.</title>
      </circle>
    </g>
  </svg>
</template>

<style scoped>
.box {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
}
line {
  stroke: #9fd6da;
  stroke-opacity: 0.7;
}
circle {
  fill: #0e5e66;
  stroke: #fff;
  stroke-width: 1.5;
  pointer-events: auto;
  cursor: grab;
}
circle:focus-visible {
  outline: none;
  stroke: #ffd27d;
  stroke-width: 3;
}
</style>
