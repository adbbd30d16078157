<script setup lang="ts">
import { computed, onBeforeUnmount, ref, shallowRef, watch } from 'vue';
import { useElementSize, useEventListener } from '@vueuse/core';
import { METRES_PER, UNIT_SYMBOL } from '@longheron/core/frames';
import { gridHeightAt } from '@longheron/core/surface';
import { type CloudIndex, type DatasetDto } from '@longheron/contract/api';
import { objectJson } from '../api/client';
import { type MapMark } from '../map/marks';
import { useCloudLook } from '../stores/cloudLook';
import { useProject } from '../stores/project';
import { useSelection, type SelectionMode } from '../stores/selection';
import { useView } from '../stores/view';
import Icon from '../ui/Icon.vue';
import { className, scaleOf } from '../views3d/colouring';
import { type GridLayout } from '../views3d/extras';
import { lengthOf, stepped, type Slice } from './cut';
import {
  alongAt,
  axisStep,
  drawPoints,
  exaggerationOf,
  frameFor,
  heightAt,
  pointColours,
  xOf,
  yOf,
  type Frame,
} from './draw';
import { markSlice, shapeInSection } from './selecting';
import SelectOverlay from '../views3d/SelectOverlay.vue';
import { type CutAnswer } from './section.worker';
import SectionWorker from './section.worker?worker';
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
const box = ref<HTMLElement | null>(null);
const canvas = ref<HTMLCanvasElement | null>(null);
const { width, height } = useElementSize(box);
const slice = shallowRef<Slice | null>(null);
const complete = ref(true);
const failure = ref('');
const busy = ref(false);
const index = shallowRef<CloudIndex | null>(null);
const frame = shallowRef<Frame | null>(null);
const cursor = ref<{ along: number; height: number } | null>(null);
const factor = computed(() => 1 / METRES_PER[store.project?.reference?.unit ?? 'metre']);
const symbol = computed(() => UNIT_SYMBOL[store.project?.reference?.unit ?? 'metre']);
const line = computed(() => view.section);

const selection = useSelection();
const selectable = computed(() => selection.dataset === props.dataset.id);
const chosen = computed(() => (selectable.value ? selection.current : null));
watch(chosen, () => void mark());
/** Marks the slice and draws it; a selection that cannot be read is said in the cloud view. */
async function mark(): Promise<void> {
  if (!slice.value) return;
  await markSlice(slice.value, line.value, chosen.value, index.value?.origin).catch(() => undefined);
  draw();
}
function selectPath(path: number[], how: SelectionMode | undefined): void {
  const f = frame.value;
  if (!f || !line.value) return;
  const shape = shapeInSection(path, f, { ...line.value }, selection.tool === 'brush' ? selection.brushPx : 0);
  // a brush that is lifted goes on where it was
  selection.add(shape, how ?? (shape.kind === 'brush' && selection.mode === 'replace' ? 'add' : undefined));
}
const worker = new SectionWorker();
let request = 0;
worker.onmessage = (event: MessageEvent<CutAnswer>) => {
  if (event.data.id !== request) return;
  busy.value = false;
  failure.value = event.data.error ?? '';
  if (event.data.slice) {
    slice.value = event.data.slice;
    if (chosen.value) void mark();
    complete.value = event.data.complete ?? true;
  }
};
onBeforeUnmount(() => worker.terminate());

/** As text, so that only a real change cuts anew. */
const editsOf = () => JSON.stringify(props.dataset.revision.content.edits ?? []);
watch(
  () => [props.dataset.revision.content.index, line.value, editsOf()] as const,
  async ([sha, s, edits]) => {
    if (!s) return;
    const id = ++request;
    busy.value = true;
    try {
      index.value = await objectJson<CloudIndex>(String(sha));
      if (id === request)
        worker.postMessage({
          ...{ id, index: index.value, edits: JSON.parse(edits) },
          section: { ...s, from: [...s.from], to: [...s.to] },
        });
    } catch (e) {
      busy.value = false;
      failure.value = (e as Error).message;
    }
  },
  { immediate: true, deep: true },
);

// the terrain model along the axis, when there is one
const grid = shallowRef<{ layout: GridLayout; heightM: Float32Array } | null>(null);
watch(
  () => props.surface?.revision.content.grid as string | undefined,
  async (sha) => {
    grid.value = null;
    if (!sha) return;
    const layout = props.surface!.revision.content.layout as GridLayout;
    const raw = await fetch(`/api/objects/${sha}`)
      .then((r) => (r.ok ? r.arrayBuffer() : null))
      .catch(() => null);
    if (raw) grid.value = { layout, heightM: new Float32Array(raw) };
  },
  { immediate: true },
);
function terrainAt(along: number): number {
  const s = line.value;
  const g = grid.value;
  if (!s || !g) return Number.NaN;
  const u = along / (lengthOf(s) || 1e-9);
  return gridHeightAt(
    { ...g.layout, heightM: g.heightM },
    s.from[0] + u * (s.to[0] - s.from[0]),
    s.from[1] + u * (s.to[1] - s.from[1]),
  );
}

const LEFT = 52;
const BOTTOM = 22;
const limits = computed<[number, number]>(() => {
  if (!index.value) return [0, 1];
  const s = scaleOf(index.value, look.colouring, 1);
  return look.limits[`${props.dataset.id} ${look.colouring}`] ?? [s.low, s.high];
});

function draw(): void {
  const c = canvas.value;
  const s = line.value;
  if (!c || !s || width.value < 80 || height.value < 60) return;
  const ratio = Math.min(2, window.devicePixelRatio);
  c.width = Math.round(width.value * ratio);
  c.height = Math.round(height.value * ratio);
  const g = c.getContext('2d', { willReadFrequently: true })!;
  g.fillStyle = '#0c1a20';
  g.fillRect(0, 0, c.width, c.height);
  const cut = slice.value;
  if (!cut || cut.count === 0) {
    frame.value = null;
    return;
  }
  const f = frameFor(
    cut,
    lengthOf(s),
    { left: LEFT, top: 8, width: width.value - LEFT - 12, height: height.value - BOTTOM - 8 },
    look.exaggeration,
  );
  frame.value = f;
  const image = g.getImageData(0, 0, c.width, c.height);
  drawPoints(image, f, ratio, cut, pointColours(cut, look.colouring, limits.value), look.hidden, look.rejected);
  g.putImageData(image, 0, 0);
  g.scale(ratio, ratio);
  drawAxes(g, f);
  drawTerrain(g, f);
  drawMarks(g, f);
  g.setTransform(1, 0, 0, 1, 0, 0);
}

function drawAxes(g: CanvasRenderingContext2D, f: Frame): void {
  g.font = '10px "IBM Plex Mono"';
  g.strokeStyle = '#ffffff1c';
  g.fillStyle = '#b7c7cc';
  g.lineWidth = 1;
  const stepH = axisStep((f.highM - f.lowM) * factor.value, Math.max(2, f.height / 34)) / factor.value;
  g.textAlign = 'right';
  g.textBaseline = 'middle';
  const digits = Math.max(0, -Math.floor(Math.log10(stepH * factor.value) + 1e-9));
  for (let h = Math.ceil(f.lowM / stepH) * stepH; h <= f.highM; h += stepH) {
    const y = yOf(f, h);
    line2(g, f.left, y, f.left + f.width, y);
    g.fillText((h * factor.value).toFixed(digits), f.left - 5, y);
  }
  const stepL = axisStep(f.lengthM * factor.value, Math.max(3, f.width / 80)) / factor.value;
  g.textAlign = 'center';
  g.textBaseline = 'top';
  for (let l = 0; l <= f.lengthM + 1e-9; l += stepL) {
    const x = xOf(f, l);
    line2(g, x, f.top, x, f.top + f.height);
    g.fillText(`${Number((l * factor.value).toFixed(2))}`, x, f.top + f.height + 5);
  }
}
function line2(g: CanvasRenderingContext2D, x0: number, y0: number, x1: number, y1: number): void {
  g.beginPath();
  g.moveTo(x0, y0);
  g.lineTo(x1, y1);
  g.stroke();
}
function drawTerrain(g: CanvasRenderingContext2D, f: Frame): void {
  if (!grid.value) return;
  g.strokeStyle = '#ffd27d';
  g.lineWidth = 1.4;
  g.beginPath();
  let pen = false;
  for (let x = f.left; x <= f.left + f.width; x += 1) {
    const h = terrainAt(alongAt(f, x));
    if (Number.isNaN(h) || h < f.lowM || h > f.highM) pen = false;
    else if (pen) g.lineTo(x, yOf(f, h));
    else {
      g.moveTo(x, yOf(f, h));
      pen = true;
    }
  }
  g.stroke();
}
function drawMarks(g: CanvasRenderingContext2D, f: Frame): void {
  const s = line.value!;
  const length = lengthOf(s) || 1e-9;
  const [ux, uy] = [(s.to[0] - s.from[0]) / length, (s.to[1] - s.from[1]) / length];
  const put = (e: number, n: number, h: number, name: string, strong: boolean) => {
    const along = (e - s.from[0]) * ux + (n - s.from[1]) * uy;
    const across = -(e - s.from[0]) * uy + (n - s.from[1]) * ux;
    if (along < 0 || along > length || Math.abs(across) > Math.max(s.widthM / 2, 1)) return;
    const [x, y] = [xOf(f, along), yOf(f, h)];
    g.strokeStyle = g.fillStyle = strong ? '#ffd27d' : '#ffffff';
    g.lineWidth = 1.5;
    g.strokeRect(x - 4, y - 4, 8, 8);
    g.textAlign = 'left';
    g.textBaseline = 'bottom';
    g.font = '11px "IBM Plex Sans"';
    g.fillText(name, x + 7, y - 2);
  };
  for (const m of props.marks ?? []) {
    const h = props.markHeights?.[m.name];
    if (h !== undefined) put(m.eastingM, m.northingM, h, m.name, view.hoveredMark === m.name);
  }
  if (look.picked) put(look.picked.eastingM, look.picked.northingM, look.picked.heightM, '', true);
}
watch(
  [
    slice,
    width,
    height,
    limits,
    grid,
    () => [
      look.colouring,
      look.hiddenClasses,
      look.rejected,
      look.exaggeration,
      look.picked,
      view.hoveredMark,
      props.marks,
    ],
  ],
  draw,
  { deep: false, flush: 'post' },
);

function step(by: number): void {
  if (view.section) view.section = stepped(view.section, by);
}
/** What is being typed; a redraw must not take it away. */
const widthText = ref('');
watch(
  () => [line.value?.widthM, factor.value] as const,
  ([m, f]) => (widthText.value = m === undefined ? '' : String(Number((m * f).toFixed(2)))),
  { immediate: true },
);
function setWidth(value: number): void {
  if (view.section && value > 0) view.section = { ...view.section, widthM: Math.min(100, value) };
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (!view.section || isTyping(event.target) || event.ctrlKey || event.metaKey) return;
  if (event.key === ']') step(view.section.widthM);
  else if (event.key === '[') step(-view.section.widthM);
  else return;
  event.preventDefault();
});
function move(event: PointerEvent): void {
  const f = frame.value;
  if (!f) return;
  const r = canvas.value!.getBoundingClientRect();
  const along = alongAt(f, event.clientX - r.left);
  cursor.value = along >= 0 && along <= f.lengthM ? { along, height: heightAt(f, event.clientY - r.top) } : null;
}
const text = (m: number) => (Number.isFinite(m) ? (m * factor.value).toFixed(2) : 'none');
const terrainUnderCursor = computed(() => (cursor.value && grid.value ? terrainAt(cursor.value.along) : Number.NaN));
const shownHidden = computed(() => {
  const { countsByClass, rejected } = props.dataset.revision.content as {
    countsByClass?: Record<string, number>;
    rejected?: number;
  };
  const classes = look.hiddenClasses.filter((c) => countsByClass?.[c]).map(className);
  return rejected && look.rejected === 'hidden' ? [...classes, 'rejected points'] : classes;
});
</script>

<template>
  <section class="section" aria-label="Section">
    <header>
      <strong>Section</strong>
      <span v-if="line" class="mono">{{ text(lengthOf(line)) }} {{ symbol }} long</span>
      <label v-if="line"
        >width
        <input
          v-model="widthText"
          type="number"
          min="0.1"
          max="100"
          step="0.5"
          @change="setWidth(Number(widthText) / factor)"
        />
        {{ symbol }}</label
      >
      <button :disabled="!line" title="Step back by one width ([)" @click="step(-line!.widthM)">[ back</button>
      <button :disabled="!line" title="Step on by one width (])" @click="step(line!.widthM)">on ]</button>
      <label
        >height scale
        <select v-model.number="look.exaggeration">
          <option :value="0">fill</option>
          <option v-for="n in [1, 2, 5, 10, 20]" :key="n" :value="n">× {{ n }}</option>
        </select></label
      >
      <span v-if="frame" class="soft">heights × {{ exaggerationOf(frame).toFixed(1) }}</span>
      <span class="end mono">
        <template v-if="cursor"
          >{{ text(cursor.along) }} along · H {{ text(cursor.height) }} {{ symbol
          }}<template v-if="grid"> · terrain {{ text(terrainUnderCursor) }}</template></template
        ><template v-else-if="busy">cutting …</template
        ><template v-else-if="slice">{{ slice.count }} points{{ complete ? '' : ', thinned' }}</template>
      </span>
      <button class="plain" title="Close the section" @click="view.section = null"><Icon name="close" /></button>
    </header>
    <div ref="box" class="box">
      <span v-if="shownHidden.length" class="warn">hidden: {{ shownHidden.join(', ') }}</span>
      <canvas
        v-show="slice && slice.count"
        ref="canvas"
        role="img"
        :aria-label="`Section with ${slice?.count ?? 0} points`"
        @pointermove="move"
        @pointerleave="cursor = null"
      />
      <SelectOverlay :tool="selectable ? selection.tool : 'none'" :brush-px="selection.brushPx" @done="selectPath" />
      <p v-if="failure" class="empty bad">{{ failure }}</p>
      <p v-else-if="slice && slice.count === 0 && !busy" class="empty">
        No points lie in this section. Step it with [ and ], or draw another line in plan.
      </p>
    </div>
  </section>
</template>

<style scoped>
.section {
  display: grid;
  grid-template-rows: 30px minmax(0, 1fr);
  min-height: 0;
  background: var(--deep);
  color: #e6eef0;
  border-top: 1px solid #3a5058;
}
header {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 0 10px;
  font-size: 12px;
  white-space: nowrap;
  overflow: hidden;
}
header button,
select,
input {
  background: #16262d;
  color: inherit;
  border: 1px solid #3a5058;
  border-radius: 4px;
  height: 22px;
  font: inherit;
}
input {
  width: 58px;
  font-family: var(--mono);
}
.plain {
  border: 0;
  background: none;
}
.soft {
  color: #a9bcc2;
}

.warn {
  position: absolute;
  right: 14px;
  top: 10px;
  z-index: 1;
  font-size: 11px;
  color: #ffd27d;
}
.end {
  margin-left: auto;
  font-size: 11px;
}
.box {
  position: relative;
  min-height: 0;
}
canvas {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
.empty {
  padding: 16px;
}
.bad {
  color: #f0a08f;
}
</style>
