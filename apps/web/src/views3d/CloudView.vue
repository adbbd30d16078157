<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue';
import { useElementSize, useEventListener } from '@vueuse/core';
import * as THREE from 'three';
import { METRES_PER, UNIT_SYMBOL } from '@longheron/core/frames';
import { type CloudIndex, type DatasetDto } from '@longheron/contract/api';
import { objectJson } from '../api/client';
import { type MapMark } from '../map/marks';
import { useCloudLook } from '../stores/cloudLook';
import { useSelection } from '../stores/selection';
import { useProject } from '../stores/project';
import { useView } from '../stores/view';
import { CLASS_COLOURS, STRIP_COLOURS } from '../ui/colour';
import { useCloudActs } from './acts';
import { CloudScene } from './CloudScene';
import CloudToolbar from './CloudToolbar.vue';
import { className, COLOURING_NAMES, SCALED, scaleOf } from './colouring';
import { lights, polyline } from './extras';
import { pick, type Picked } from './picking';
import PickedPanel from './PickedPanel.vue';
import SavedViews from './SavedViews.vue';
import SelectOverlay from './SelectOverlay.vue';
import { scaleColours } from './pointMaterial';
import Num from '../ui/Num.vue';
import ScaleLegend from './ScaleLegend.vue';
import { useSurfaceExtras } from './surfaceExtras';
import { isTyping } from '../ui/keys';

const props = defineProps<{
  dataset: DatasetDto;
  surface?: DatasetDto;
  marks?: MapMark[];
  markHeights?: Record<string, number>;
}>();
const store = useProject();
const view = useView();
const look = useCloudLook();
const selection = useSelection();
const box = ref<HTMLElement | null>(null);
const canvas = ref<HTMLCanvasElement | null>(null);
const { width, height } = useElementSize(box);
const scene = shallowRef<CloudScene | null>(null);
const failure = ref('');
const status = ref({ points: 0, finished: false, loading: true });
const firstPictureMs = ref(0);
const measuring = ref(false);
const ends = shallowRef<Picked[]>([]);
const indexSha = computed(() => String(props.dataset.revision.content.index));
const timeSpan = computed(() => scene.value?.index.ranges.time?.[3] ?? 1);
const scaled = computed(() => SCALED.includes(look.colouring));
const scale = computed(() => (scene.value ? scaleOf(scene.value.index, look.colouring, timeSpan.value) : null));
const unitFactor = computed(() => 1 / METRES_PER[store.project?.reference?.unit ?? 'metre']);
const unitSymbol = computed(() => UNIT_SYMBOL[store.project?.reference?.unit ?? 'metre']);
const isHeight = computed(() => look.colouring === 'height');
const limitKey = computed(() => `${props.dataset.id} ${look.colouring}`);
const limits = computed<[number, number]>({
  get: () => look.limits[limitKey.value] ?? [scale.value?.low ?? 0, scale.value?.high ?? 1],
  set: (v) => (look.limits = { ...look.limits, [limitKey.value]: v }),
});
const counts = computed(() => (props.dataset.revision.content.countsByClass ?? {}) as Record<string, number>);
const strips = computed(() =>
  ((props.dataset.revision.content.figures as { strips?: Array<{ id: number }> } | undefined)?.strips ?? []).map(
    (s) => s.id,
  ),
);
const filters = computed(() => {
  const out: string[] = [];
  const hidden = look.hiddenClasses.filter((c) => counts.value[c]);
  if (hidden.length) out.push(`hidden: ${hidden.map(className).join(', ')}`);
  if (props.dataset.revision.content.rejected && look.rejected !== 'shown')
    out.push(look.rejected === 'hidden' ? 'rejected points hidden' : 'only rejected points');
  if (look.clip && view.section) out.push('only the section');
  if (view.brush) out.push('only the brushed time');
  if (props.surface && !look.showPoints) out.push('points are off');
  return out;
});
const surface = useSurfaceExtras(() => props.surface, scene);

let resized = false;
async function open(): Promise<void> {
  close();
  failure.value = '';
  const started = performance.now();
  try {
    const index = await objectJson<CloudIndex>(indexSha.value);
    if (!canvas.value) return;
    const made = new CloudScene(canvas.value, index);
    const kept = look.cameras[String(props.dataset.id)];
    made.extras.add(lights());
    made.onFrame = () => {
      status.value = {
        points: made.report.points,
        finished: made.report.finished,
        loading: made.store.loading,
      };
      if (!firstPictureMs.value && made.report.points > 0) firstPictureMs.value = performance.now() - started;
      if (made.store.failure) failure.value = made.store.failure;
      placeLabels();
    };
    scene.value = made;
    await acts.begin(made);
    if (look.parallel) made.setParallel(true);
    if (kept) {
      made.controls.target.fromArray(kept.target);
      made.camera.position.fromArray(kept.position);
      made.camera.zoom = kept.zoom;
      made.camera.updateProjectionMatrix();
      made.controls.update();
    }
    made.controls.addEventListener('end', keepCamera);
    resized = false;
    applyLook();
    fitSize();
    Object.assign(window, { longheronCloud: made.report });
  } catch (e) {
    failure.value = (e as Error).message;
  }
}
function close(): void {
  scene.value?.dispose();
  scene.value = null;
  firstPictureMs.value = 0;
}
function keepCamera(): void {
  const s = scene.value;
  if (!s) return;
  look.cameras = {
    ...look.cameras,
    [String(props.dataset.id)]: {
      position: s.camera.position.toArray(),
      target: s.controls.target.toArray(),
      zoom: s.camera.zoom,
    },
  };
}
function fitSize(): void {
  if (!scene.value || width.value < 10 || height.value < 10) return;
  scene.value.resize(width.value, height.value);
  if (!resized && !look.cameras[String(props.dataset.id)]) scene.value.frameAll();
  resized = true;
}
function applyLook(): void {
  const s = scene.value;
  if (!s) return;
  s.material.colourBy(look.colouring, limits.value[0], limits.value[1]);
  s.material.showClasses(
    props.surface && !look.showPoints ? new Set(Array.from({ length: 256 }, (_, i) => i)) : look.hidden,
  );
  s.material.showRejected(look.rejected);
  s.material.clipTo(look.clip ? view.section : null, s.index.origin);
  s.material.uniforms.pointPx.value = look.pointPx * Math.min(2, window.devicePixelRatio);
  const t0 = s.index.timeOrigin;
  s.material.uniforms.timeShown.value.set(
    view.brush ? view.brush[0] - t0 : -1e30,
    view.brush ? view.brush[1] - t0 : 1e30,
  );
  s.shading = look.shading;
  s.restart();
}
onMounted(open);
onBeforeUnmount(close);
watch(indexSha, open);
watch([width, height], fitSize);
watch(
  () => [
    look.colouring,
    limits.value,
    look.hiddenClasses,
    look.pointPx,
    look.shading,
    look.showPoints,
    look.rejected,
    look.clip,
    view.section,
    view.brush,
  ],
  applyLook,
  { deep: true },
);
watch(
  () => look.parallel,
  (p) => scene.value?.setParallel(p),
);

const acts = useCloudActs(
  () => props.dataset,
  scene,
  () => ({ width: width.value, height: height.value }),
  (message) => (failure.value = message),
);
const { tool, selectPath } = acts;
/** The wheel zooms while a tool lies over the picture. */
const passWheel = (event: WheelEvent) => canvas.value?.dispatchEvent(new WheelEvent('wheel', event));

// labels of marks, of the picked point and of the measured line are drawn over the picture
interface Label {
  key: string;
  text: string;
  x: number;
  y: number;
  cls: string;
}
const labels = shallowRef<Label[]>([]);
function project(e: number, n: number, h: number): { x: number; y: number } | null {
  const s = scene.value;
  if (!s) return null;
  const o = s.index.origin;
  const v = new THREE.Vector3(e - o[0], n - o[1], h - o[2]).project(s.camera);
  if (v.z > 1 || v.z < -1 || Math.abs(v.x) > 1.05 || Math.abs(v.y) > 1.05) return null;
  return { x: ((v.x + 1) / 2) * width.value, y: ((1 - v.y) / 2) * height.value };
}
/** Where north is on the screen, degrees clockwise from up. */
const northDeg = ref(0);
function placeLabels(): void {
  northDeg.value = scene.value?.northDeg(width.value, height.value) ?? northDeg.value;
  const out: Label[] = [];
  const add = (key: string, text: string, cls: string, e: number, n: number, h: number) => {
    const at = project(e, n, h);
    if (at) out.push({ key, text, cls, ...at });
  };
  for (const m of props.marks ?? []) {
    const h = props.markHeights?.[m.name];
    if (h !== undefined)
      add(
        m.name,
        m.name,
        `${m.role}${view.hoveredMark === m.name || view.selectedMark === m.name ? ' strong' : ''}`,
        m.eastingM,
        m.northingM,
        h,
      );
  }
  if (look.picked) add('picked', '', 'picked', look.picked.eastingM, look.picked.northingM, look.picked.heightM);
  ends.value.forEach((p, i) => add(`end${i}`, i ? 'to' : 'from', 'end', p.eastingM, p.northingM, p.heightM));
  // names that would lie over each other are left out; their symbols stay
  const named: Label[] = [];
  for (const l of out) {
    if (!l.text || / strong/.test(l.cls)) continue;
    if (named.some((k) => Math.abs(k.y - l.y) < 12 && l.x - k.x < 28 && k.x - l.x < 28)) l.text = '';
    else named.push(l);
  }
  labels.value = out;
}
watch(() => [look.picked, view.hoveredMark, view.selectedMark, props.marks, ends.value], placeLabels);

let line: THREE.Line | undefined;
watch(ends, (list) => {
  const s = scene.value;
  if (!s) return;
  if (line) s.extras.remove(line);
  line = undefined;
  if (list.length === 2) {
    line = polyline(
      list.map((p) => [p.eastingM, p.northingM, p.heightM]),
      s.index.origin,
      0xffd27d,
    );
    s.extras.add(line);
  }
  s.restart();
});
const distance = computed(() => {
  if (ends.value.length !== 2) return null;
  const [a, b] = ends.value;
  const plan = Math.hypot(b.eastingM - a.eastingM, b.northingM - a.northingM);
  const dh = b.heightM - a.heightM;
  return { plan, dh, slope: Math.hypot(plan, dh), sdH: Math.hypot(a.sdHM, b.sdHM) };
});

let downAt: [number, number] | null = null;
function pointAt(event: MouseEvent): Picked | undefined {
  const r = canvas.value!.getBoundingClientRect();
  return scene.value ? pick(scene.value, event.clientX - r.left, event.clientY - r.top, r.width, r.height) : undefined;
}
function down(event: PointerEvent): void {
  downAt = [event.clientX, event.clientY];
}
function up(event: PointerEvent): void {
  if (!downAt || event.button !== 0 || Math.hypot(event.clientX - downAt[0], event.clientY - downAt[1]) > 4) return;
  const found = pointAt(event);
  if (measuring.value) {
    if (found) ends.value = ends.value.length === 1 ? [...ends.value, found] : [found];
  } else look.picked = found ?? null;
}
function turnAbout(event: MouseEvent): void {
  const p = pointAt(event);
  const s = scene.value;
  if (!p || !s) return;
  const o = s.index.origin;
  const to = new THREE.Vector3(p.eastingM - o[0], p.northingM - o[1], p.heightM - o[2]);
  s.camera.position.add(to.clone().sub(s.controls.target));
  s.controls.target.copy(to);
  s.controls.update();
  keepCamera();
}
/** Where one looks from, about the cloud's zero. */
function cameraNow() {
  const s = scene.value;
  return s
    ? {
        camera: {
          position: s.camera.position.toArray(),
          target: s.controls.target.toArray(),
          zoom: s.camera.zoom,
        },
        origin: [...s.index.origin],
      }
    : null;
}
function setCamera(c: { position: number[]; target: number[]; zoom: number }, origin: number[]): void {
  const s = scene.value;
  if (!s) return;
  s.setParallel(look.parallel);
  // another cloud of the project may have another zero
  const by = new THREE.Vector3(...origin.map((v, k) => v - s.index.origin[k]));
  s.controls.target.fromArray(c.target).add(by);
  s.camera.position.fromArray(c.position).add(by);
  s.camera.zoom = c.zoom;
  s.camera.updateProjectionMatrix();
  s.controls.update();
  s.restart();
  keepCamera();
}
function frameAll(): void {
  scene.value?.frameAll();
  keepCamera();
}
function lookFrom(direction: [number, number, number]): void {
  scene.value?.frameAll(direction);
  keepCamera();
}
function toggleMeasure(): void {
  measuring.value = !measuring.value;
  ends.value = [];
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.key === 'f') frameAll();
  else if (event.key === 'd') toggleMeasure();
  else if (event.key === 'Escape') {
    if (measuring.value) toggleMeasure();
    else look.picked = null;
  }
});
defineExpose({ picture: () => scene.value?.picture() });
</script>

<template>
  <div ref="box" class="cloud">
    <canvas
      ref="canvas"
      tabindex="0"
      :aria-label="`3D view of ${dataset.name}, ${status.points} points drawn`"
      :class="{ measuring }"
      @pointerdown="down"
      @pointerup="up"
      @dblclick="turnAbout"
    />
    <div class="labels" aria-hidden="true">
      <span
        v-for="l in labels"
        :key="l.key"
        class="label"
        :class="l.cls"
        :style="{ transform: `translate(${l.x}px, ${l.y}px)` }"
        ><i /><b v-if="l.text">{{ l.text }}</b></span
      >
    </div>
    <SelectOverlay :tool="tool" :brush-px="selection.brushPx" @done="selectPath" @wheel="passWheel" />
    <CloudToolbar
      :measuring="measuring"
      :surface="!!surface.layout.value"
      :tin="surface.hasTin.value"
      @frame="frameAll"
      @look="lookFrom"
      @measure="toggleMeasure"
    >
      <SavedViews :camera="cameraNow" @camera="setCamera" />
    </CloudToolbar>
    <svg class="north" viewBox="-14 -14 28 28" role="img" :aria-label="`North is ${Math.round(northDeg)}° from up`">
      <g :transform="`rotate(${northDeg})`">
        <path d="M0 -12L4 3 0 1 -4 3z" />
        <text y="12">N</text>
      </g>
    </svg>
    <PickedPanel :dataset="dataset" />
    <div v-if="measuring" class="measure">
      <template v-if="distance"
        >slope <b>{{ (distance.slope * unitFactor).toFixed(3) }}</b> {{ unitSymbol }} · plan
        <b>{{ (distance.plan * unitFactor).toFixed(3) }}</b> {{ unitSymbol }} · height
        <b>{{ (distance.dh * unitFactor).toFixed(3) }}</b> {{ unitSymbol }} ±
        {{ (distance.sdH * unitFactor).toFixed(3) }} (1 SD)</template
      >
      <template v-else>{{ ends.length ? 'Choose the second point' : 'Choose the first point' }} · Esc lets go</template>
    </div>
    <div class="foot">
      <div class="key">
        <ScaleLegend
          v-if="scaled && scale"
          v-model="limits"
          :title="COLOURING_NAMES[look.colouring]"
          :scale="scale"
          :colours="scaleColours(look.colouring)"
          :factor="isHeight ? unitFactor : scale.factor"
          :unit="isHeight ? unitSymbol : scale.unit"
        />
        <template v-else-if="look.colouring === 'strip'">
          <span v-for="s in [0, ...strips]" :key="s" class="swatch"
            ><i :style="{ background: STRIP_COLOURS[s % 9] }" />{{ s ? `strip ${s}` : 'in no strip' }}</span
          >
        </template>
        <template v-else-if="look.colouring === 'echo'">
          <span class="swatch"><i style="background: #9eadb3" />single</span>
          <span class="swatch"><i style="background: #5ca6db" />first</span>
          <span class="swatch"><i style="background: #e0a13d" />between</span>
          <span class="swatch"><i style="background: #b880d4" />last</span>
        </template>
        <div class="classes">
          <button
            v-for="(n, c) in counts"
            :key="c"
            class="swatch"
            :aria-pressed="!look.hidden.has(Number(c))"
            :title="`${n} points; click to ${look.hidden.has(Number(c)) ? 'show' : 'hide'}`"
            @click="look.toggleClass(Number(c))"
          >
            <i v-if="look.colouring === 'class'" :style="{ background: CLASS_COLOURS[Number(c)] ?? '#9fb3b8' }" />{{
              className(Number(c))
            }}
          </button>
        </div>
      </div>
      <div class="status">
        <span v-if="failure || surface.failure.value" class="bad">{{ failure || surface.failure.value }}</span>
        <span v-if="filters.length" class="filter">Filter: {{ filters.join('; ') }}</span>
        <span
          ><Num :value="status.points" /> of <Num :value="scene?.index.count ?? 0" /> points,
          {{ status.finished ? 'full detail for this view' : status.loading ? 'loading' : 'drawing' }}</span
        >
      </div>
    </div>
  </div>
</template>

<style scoped>
.cloud {
  position: absolute;
  inset: 0;
  background: var(--deep);
  overflow: hidden;
}
canvas {
  width: 100%;
  height: 100%;
  display: block;
  touch-action: none;
}
.north {
  position: absolute;
  right: 10px;
  top: 84px;
  width: 34px;
  pointer-events: none;
}
.north path {
  fill: #ffd27d;
}
.north text {
  font: 600 8px var(--sans);
  fill: #ffd27d;
  text-anchor: middle;
}
canvas.measuring {
  cursor: crosshair;
}
.labels {
  position: absolute;
  inset: 0;
  pointer-events: none;
  overflow: hidden;
}
.label {
  position: absolute;
  left: 0;
  top: 0;
  color: #fff;
  font-size: 11px;
}
.label i {
  position: absolute;
  left: -5px;
  top: -5px;
  width: 10px;
  height: 10px;
  border: 1.5px solid #fff;
}
.label.control i {
  border-radius: 50%;
}
.label.unused i {
  border-color: #9fb3b8;
  transform: rotate(45deg) scale(0.7);
}
.label.strong i {
  background: #ffd27d;
}
.label b {
  position: absolute;
  left: 9px;
  top: -8px;
  font-weight: 400;
  text-shadow:
    0 0 3px #000,
    0 0 2px #000;
  white-space: nowrap;
}
.label.strong b {
  font-weight: 600;
}
.label.picked i {
  border-color: #ffd27d;
  border-radius: 50%;
  width: 14px;
  height: 14px;
  left: -7px;
  top: -7px;
}
.label.end i {
  border-color: #ffd27d;
  background: #ffd27d;
  width: 6px;
  height: 6px;
  left: -3px;
  top: -3px;
}
.measure {
  position: absolute;
  left: 50%;
  transform: translateX(-50%);
  top: 68px;
  background: #16262df2;
  color: #e6eef0;
  border: 1px solid #ffd27d;
  border-radius: 4px;
  padding: 4px 10px;
  font-size: 12px;
  white-space: nowrap;
}
.measure b {
  font-family: var(--mono);
}
.foot {
  position: absolute;
  left: 8px;
  right: 8px;
  bottom: 8px;
  display: flex;
  justify-content: space-between;
  align-items: flex-end;
  gap: 12px;
  color: #e6eef0;
  font-size: 11px;
  pointer-events: none;
}
.key,
.status {
  background: #16262de6;
  border-radius: 4px;
  padding: 5px 8px;
  pointer-events: auto;
}
.status {
  display: grid;
  justify-items: end;
  font-variant-numeric: tabular-nums;
}
.status .bad {
  color: #f0a08f;
}
.status .filter {
  color: #ffd27d;
}
.swatch {
  display: inline-flex;
  align-items: center;
  gap: 4px;
  margin-right: 8px;
  background: none;
  border: 0;
  padding: 0;
  color: inherit;
  font-size: 11px;
}
button.swatch {
  cursor: pointer;
}
.swatch[aria-pressed='false'] {
  text-decoration: line-through;
  opacity: 0.6;
}
.swatch i {
  width: 9px;
  height: 9px;
}
.classes {
  margin-top: 3px;
}
:focus-visible {
  outline-color: #9fd6da;
}
</style>
