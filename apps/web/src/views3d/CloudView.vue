<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue';
import { useElementSize, useEventListener } from '@vueuse/core';
import * as THREE from 'three';
import { type CloudIndex, type DatasetOf } from '@longheron/contract/api';
import { objectJson } from '../api/client';
import { type MapMark } from '../map/marks';
import { useCloudLook } from '../stores/cloudLook';
import { useSelection } from '../stores/selection';
import { useView } from '../stores/view';
import { isTyping } from '../ui/keys';
import { useCloudActs } from './acts';
import { cornersOf } from './clipBox';
import ClipHandles from './ClipHandles.vue';
import { useClipBox } from './useClipBox';
import CloudFoot from './CloudFoot.vue';
import { CloudScene } from './CloudScene';
import CloudToolbar from './CloudToolbar.vue';
import { colouringFor, scaleOf } from './colouring';
import { disposeTree, lights, polyline } from './extras';
import FilterPanel from './FilterPanel.vue';
import { useLabels } from './labels';
import { useSceneLook } from './look';
import { useLooking3d } from './looking';
import MeasurePanel from './MeasurePanel.vue';
import { useMeasuring } from './measuring';
import { pick, type Picked } from './picking';
import PickedPanel from './PickedPanel.vue';
import NorthArrow from './NorthArrow.vue';
import SavedViews from './SavedViews.vue';
import SceneLabels from './SceneLabels.vue';
import SelectOverlay from './SelectOverlay.vue';
import { useSurfaceExtras } from './surfaceExtras';

const props = defineProps<{
  dataset: DatasetOf<'point-cloud'>;
  surface?: DatasetOf<'surface'>;
  marks?: MapMark[];
  markHeights?: Record<string, number>;
}>();
const emit = defineEmits<{ opened: [scene: CloudScene | null] }>();
const look = useCloudLook();
const selection = useSelection();
const view = useView();
const box = ref<HTMLElement | null>(null);
const canvas = ref<HTMLCanvasElement | null>(null);
const { width, height } = useElementSize(box);
const size = () => ({ width: width.value, height: height.value });
const scene = shallowRef<CloudScene | null>(null);
const failure = ref('');
const status = ref({ points: 0, finished: false, loading: true });
const indexSha = computed(() => String(props.dataset.revision.content.index));
const timeSpan = computed(() => scene.value?.index.ranges.time?.[3] ?? 1);
const colouring = computed(() => colouringFor(scene.value?.index, look.colouring));
const scale = computed(() => (scene.value ? scaleOf(scene.value.index, colouring.value, timeSpan.value) : null));
const limitKey = computed(() => `${props.dataset.id} ${colouring.value}`);
const limits = computed<[number, number]>({
  get: () => look.limits[limitKey.value] ?? [scale.value?.low ?? 0, scale.value?.high ?? 1],
  set: (v) => (look.limits = { ...look.limits, [limitKey.value]: v }),
});
const surface = useSurfaceExtras(() => props.surface, scene);
const seen = useSceneLook(
  () => props.dataset,
  scene,
  () => colouring.value,
  () => limits.value,
  () => !!props.surface && !look.showPoints,
  (message) => (failure.value = message),
);

useLooking3d(
  () => props.dataset.id,
  () => scene.value,
);

/** Counts the pictures drawn: what lies over them follows. */
const turn = ref(0);
let resized = false;
async function open(): Promise<void> {
  close();
  failure.value = '';
  try {
    const index = await objectJson<CloudIndex>(indexSha.value);
    if (!canvas.value) return;
    const made = new CloudScene(canvas.value, index);
    const kept = look.cameras[String(props.dataset.id)];
    made.extras.add(lights());
    made.onFrame = () => {
      status.value = { points: made.report.points, finished: made.report.finished, loading: made.store.loading };
      if (made.store.failure) failure.value = made.store.failure;
      named.place();
      turn.value++;
    };
    scene.value = made;
    await acts.begin(made);
    if (look.parallel) made.setParallel(true);
    made.exaggerate(look.exaggeration3d);
    if (kept) made.setCamera(kept);
    made.controls.addEventListener('end', keepCamera);
    resized = false;
    seen.apply();
    fitSize();
    drawLines();
    emit('opened', made);
    Object.assign(window, { longheronCloud: made.report });
  } catch (e) {
    failure.value = (e as Error).message;
  }
}
function close(): void {
  emit('opened', null);
  scene.value?.dispose();
  scene.value = null;
}
function keepCamera(): void {
  const s = scene.value;
  if (s) look.cameras = { ...look.cameras, [String(props.dataset.id)]: s.getCamera() };
}
function fitSize(): void {
  if (!scene.value || width.value < 10 || height.value < 10) return;
  scene.value.resize(width.value, height.value);
  if (!resized && !look.cameras[String(props.dataset.id)]) scene.value.frameAll();
  resized = true;
}
onMounted(open);
onBeforeUnmount(close);
watch(indexSha, open);
watch([width, height], fitSize);

const acts = useCloudActs(
  () => props.dataset,
  scene,
  size,
  (message) => (failure.value = message),
);
const { tool, selectPath } = acts;
/** The wheel zooms while a tool lies over the picture. */
const passWheel = (event: WheelEvent) => canvas.value?.dispatchEvent(new WheelEvent('wheel', event));

const measuring = useMeasuring(() => props.dataset);
const named = useLabels(
  scene,
  size,
  () => props.marks,
  () => props.markHeights,
  () => measuring.labels.value,
);
const { labels, northDeg } = named;
let lines: THREE.Line[] = [];
/** Lines of what is measured, and of what was kept. */
function drawLines(): void {
  const s = scene.value;
  for (const l of lines) {
    l.parent?.remove(l);
    disposeTree(l);
  }
  lines = [];
  if (!s) return;
  lines = measuring.lines.value.map((l) => polyline(l, s.index.origin, 0xffd27d));
  if (lines.length) s.extras.add(...lines);
  s.restart();
}
watch(measuring.lines, drawLines);
// while something is measured, a point picked in the section counts as one picked here
watch(
  () => look.picked,
  (p) => p && measuring.kind.value && measuring.add(p),
);

let downAt: [number, number] | null = null;
function pointAt(event: MouseEvent): Picked | undefined {
  const r = canvas.value!.getBoundingClientRect();
  const s = scene.value;
  return s ? pick(s, event.clientX - r.left, event.clientY - r.top, r.width, r.height, seen.filter.value) : undefined;
}
function down(event: PointerEvent): void {
  downAt = [event.clientX, event.clientY];
}
function up(event: PointerEvent): void {
  if (!downAt || event.button !== 0 || Math.hypot(event.clientX - downAt[0], event.clientY - downAt[1]) > 4) return;
  const found = pointAt(event);
  if (measuring.kind.value) measuring.add(found);
  else look.picked = found ?? null;
}
function turnAbout(event: MouseEvent): void {
  const p = pointAt(event);
  const s = scene.value;
  if (!p || !s) return;
  const o = s.index.origin;
  const to = s.drawn3(p.eastingM - o[0], p.northingM - o[1], p.heightM - o[2]);
  s.camera.position.add(to.clone().sub(s.controls.target));
  s.controls.target.copy(to);
  s.controls.update();
  keepCamera();
}
/** Where one looks from, about the cloud's zero. */
const cameraNow = () =>
  scene.value ? { camera: scene.value.getCamera(), origin: [...scene.value.index.origin] } : null;
function setCamera(c: { position: number[]; target: number[]; zoom: number }, origin: number[]): void {
  const s = scene.value;
  if (!s) return;
  s.setParallel(look.parallel);
  s.exaggerate(look.exaggeration3d);
  // another cloud of the project may have another zero
  s.setCamera(
    c,
    origin.map((v, k) => v - s.index.origin[k]),
  );
  keepCamera();
}
const clipBox = useClipBox(() => scene.value);
/** Frames what is shown: the box alone, or everything. */
function frameAll(direction?: [number, number, number]): void {
  const s = scene.value;
  if (!s) return;
  if (clipBox.value) {
    const o = s.index.origin;
    const corners = cornersOf(clipBox.value).map((c) => s.drawn3(c[0] - o[0], c[1] - o[1], c[2] - o[2]));
    s.frameBox(new THREE.Box3().setFromPoints(corners), direction ?? s.direction());
  } else s.frameAll(direction);
  keepCamera();
}
/** Shows a box alone: that of the section, or one about what is looked at. */
function toggleClip(): void {
  const s = scene.value;
  if (!view.section && s) {
    const { position, target } = s.getCamera();
    const half = Math.max(2, Math.hypot(...target.map((v, k) => position[k] - v)) / 6);
    const [e, n] = [target[0] + s.index.origin[0], target[1] + s.index.origin[1]];
    view.section = { from: [e - half, n], to: [e + half, n], widthM: 2 * half };
    look.clip = true;
  } else look.clip = !look.clip;
  if (look.clip) frameAll();
}
const filtering = ref(false);
function toggleMeasure(): void {
  filtering.value = false;
  measuring.begin(measuring.kind.value ? null : 'distance');
}
function toggleFilter(): void {
  measuring.begin(null);
  filtering.value = !filtering.value;
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.key === 'f') frameAll();
  else if (event.key === 'd') toggleMeasure();
  else if (event.key === 'Backspace' && measuring.kind.value && measuring.picks.value.length) measuring.back();
  else if (event.key === 'Escape') {
    if (measuring.kind.value) toggleMeasure();
    else if (filtering.value) filtering.value = false;
    else look.picked = null;
  } else return;
});
defineExpose({ picture: () => scene.value?.picture() });
</script>

<template>
  <div class="cloud">
    <CloudToolbar
      :index="scene?.index"
      :measuring="!!measuring.kind.value"
      :filtering="filtering"
      :surface="!!surface.layout.value"
      :tin="surface.hasTin.value"
      @frame="frameAll()"
      @clip="toggleClip"
      @look="frameAll"
      @measure="toggleMeasure"
      @filter="toggleFilter"
    >
      <SavedViews :camera="cameraNow" @camera="setCamera" />
    </CloudToolbar>
    <div ref="box" class="scene">
      <canvas
        ref="canvas"
        tabindex="0"
        :aria-label="`3D view of ${dataset.name}, ${status.points} points drawn`"
        :class="{ measuring: measuring.kind.value }"
        @pointerdown="down"
        @pointerup="up"
        @dblclick="turnAbout"
      />
      <SceneLabels :labels="labels" />
      <ClipHandles v-if="scene && look.clip" :scene="scene" :turn="turn" :width="width" :height="height" />
      <SelectOverlay over="cloud" :tool="tool" :brush-px="selection.brushPx" @done="selectPath" @wheel="passWheel" />
      <div class="panels">
        <MeasurePanel v-if="measuring.kind.value" :measuring="measuring" @close="toggleMeasure" />
        <FilterPanel v-else-if="filtering" :dataset="dataset" :index="scene?.index" @close="filtering = false" />
        <NorthArrow :north-deg="northDeg" />
        <PickedPanel :dataset="dataset" />
      </div>
    </div>
    <CloudFoot
      v-model="limits"
      :dataset="dataset"
      :index="scene?.index"
      :colouring="colouring"
      :scale="scale"
      :status="status"
      :hidden="seen.hiddenWords.value"
      :failure="failure || surface.failure.value"
    />
  </div>
</template>

<style scoped>
.cloud {
  position: absolute;
  inset: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  grid-template-rows: auto minmax(0, 1fr) auto;
  background: var(--deep);
  overflow: hidden;
}
.scene {
  position: relative;
  min-height: 0;
  overflow: hidden;
}
canvas {
  position: absolute;
  width: 100%;
  height: 100%;
  display: block;
  touch-action: none;
}
.panels {
  position: absolute;
  inset: 8px;
  display: flex;
  gap: 8px;
  align-items: flex-start;
  pointer-events: none;
}
.panels > * {
  pointer-events: auto;
  flex: none;
  max-height: 100%;
}
canvas.measuring {
  cursor: crosshair;
}
:focus-visible {
  outline-color: #9fd6da;
}
</style>
