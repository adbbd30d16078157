<script setup lang="ts">
import { computed, onBeforeUnmount, ref, shallowRef, watch } from 'vue';
import { useElementSize, useEventListener } from '@vueuse/core';
import { PointFilter } from '@longheron/core/cloud';
import { gridHeightAt } from '@longheron/core/surface';
import { type CloudIndex, type DatasetOf } from '@longheron/contract/api';
import { objectJson } from '../api/client';
import { type MapPath } from '../map/paths';
import { type MapMark } from '../map/marks';
import { useActs } from '../stores/acts';
import { useCloudLook } from '../stores/cloudLook';
import { useSelection, type SelectionMode } from '../stores/selection';
import { useView } from '../stores/view';
import { isTyping } from '../ui/keys';
import { useUnits } from '../ui/units';
import { className, colouringFor, scaleOf } from '../views3d/colouring';
import { type GridLayout } from '../views3d/extras';
import { useLookingSection } from '../views3d/looking';
import SelectOverlay from '../views3d/SelectOverlay.vue';
import { lengthOf, stepped, type Slice } from './cut';
import { alongAt, drawPoints, exaggerationOf, frameFor, heightAt, pointColours, type Frame } from './draw';
import { drawAxes, drawPath, drawPlaces, drawSurface, placesOf } from './overlay';
import { pickedOf, pickInSlice, type Drawn } from './picking';
import { pathWithin } from './rail';
import { type CutAnswer } from './section.worker';
import SectionWorker from './section.worker?worker';
import SectionHeader from './SectionHeader.vue';
import { hiddenOf, markSlice, shapeInSection, valuesOf } from './selecting';
import { type useRail } from './useRail';

const props = defineProps<{
  dataset: DatasetOf<'point-cloud'>;
  surface?: DatasetOf<'surface'>;
  path?: MapPath | null;
  marks?: MapMark[];
  markHeights?: Record<string, number>;
  rail: ReturnType<typeof useRail>;
}>();
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
const { length } = useUnits();
const factor = computed(() => length.value.factor);
const symbol = computed(() => length.value.symbol);
const line = computed(() => view.section);

const selection = useSelection();
const selectable = computed(() => selection.dataset === props.dataset.id);
const chosen = computed(() => (selectable.value ? selection.current : null));
watch(chosen, () => void mark());
/** Marks the slice and draws it; a selection that cannot be read is said in the cloud view. */
async function mark(): Promise<void> {
  if (!slice.value) return;
  await markSlice(slice.value, line.value, chosen.value, index.value ?? undefined).catch(() => undefined);
  draw();
}
function selectPath(path: number[], how: SelectionMode | undefined): void {
  const f = frame.value;
  if (!f || !line.value) return;
  const shape = shapeInSection(path, f, { ...line.value }, selection.tool === 'brush' ? selection.brushPx : 0);
  if (shape.kind === 'brush' && selection.paint && !how) {
    paint(shape);
    return;
  }
  // a brush that is lifted goes on where it was
  selection.add(shape, how ?? (shape.kind === 'brush' && selection.mode === 'replace' ? 'add' : undefined));
}
const acts = useActs();
/** A stroke that acts at once: on what is shown, within it. */
function paint(shape: ReturnType<typeof shapeInSection>): void {
  const filter = { hiddenClasses: [...look.hiddenClasses], rejected: look.rejected, ...selection.shownFilter };
  const stroke = { regions: [{ mode: 'add' as const, shape }], inverted: false, filter };
  const [kind, cls] = selection.paint.split(' ');
  const act = kind === 'reject' ? ({ kind: 'reject' } as const) : ({ kind: 'class', to: Number(cls) } as const);
  void acts.act(props.dataset.id, stroke, act, 'Painting');
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

useLookingSection(
  () => props.dataset.id,
  () => {
    const [s, f] = [line.value, frame.value];
    return s && f && slice.value?.count ? { line: s, pxPerM: f.width / f.lengthM } : null;
  },
);

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
          id,
          index: index.value,
          edits: JSON.parse(edits),
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

/** What the picture shows: only that can be picked. */
let drawn: Drawn | undefined;
let downAt: [number, number] | null = null;
function down(event: PointerEvent): void {
  downAt = event.button === 0 ? [event.clientX, event.clientY] : null;
}
/** A click picks the nearest point, for all views and for what is being measured. */
function up(event: PointerEvent): void {
  const [f, s, cut] = [frame.value, line.value, slice.value];
  if (!downAt || Math.hypot(event.clientX - downAt[0], event.clientY - downAt[1]) > 4) return;
  downAt = null;
  // while a new line is cut, the picture is still that of the old one
  if (!f || !s || !cut || !drawn || !index.value || busy.value) return;
  const r = canvas.value!.getBoundingClientRect();
  const i = pickInSlice(cut, f, event.clientX - r.left, event.clientY - r.top, drawn);
  look.picked = i < 0 ? null : pickedOf(cut, i, s, index.value);
}

const LEFT = 52;
const BOTTOM = 22;
/** Room for the unit above the heights. */
const TOP = 18;
const colouring = computed(() => colouringFor(index.value ?? undefined, look.colouring));
const limits = computed<[number, number]>(() => {
  if (!index.value) return [0, 1];
  const s = scaleOf(index.value, colouring.value, 1);
  return look.limits[`${props.dataset.id} ${colouring.value}`] ?? [s.low, s.high];
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
  const runs = props.path ? pathWithin(s, props.path) : [];
  const f = frameFor(
    cut,
    lengthOf(s),
    { left: LEFT, top: TOP, width: width.value - LEFT - 12, height: height.value - BOTTOM - TOP },
    look.exaggeration,
    runs.flat().map(([, h]) => h),
  );
  frame.value = f;
  const image = g.getImageData(0, 0, c.width, c.height);
  const ground = look.groundOf(props.dataset.id);
  const values = index.value ? valuesOf(cut, s, colouring.value, index.value, ground) : undefined;
  const colours = pointColours(cut, colouring.value, limits.value, values);
  const filtered = index.value ? hiddenOf(cut, s, filter.value, index.value) : undefined;
  drawn = { hidden: look.hidden, rejected: look.rejected, filtered };
  drawPoints(image, f, ratio, cut, colours, look.hidden, look.rejected, filtered);
  g.putImageData(image, 0, 0);
  g.scale(ratio, ratio);
  drawAxes(g, f, factor.value, symbol.value);
  if (grid.value) drawSurface(g, f, terrainAt);
  drawPath(g, f, runs);
  const p = look.picked;
  drawPlaces(g, f, s, [
    ...placesOf(props.marks, props.markHeights, view.hoveredMark),
    ...(p ? [{ ...p, name: '', strong: true }] : []),
  ]);
  g.setTransform(1, 0, 0, 1, 0, 0);
}

/** What the filter of attributes hides, and the brush of time. */
const filter = computed(() => {
  const { above, clip: _clip, ...attributes } = selection.shownFilter;
  const ground = look.groundOf(props.dataset.id);
  const heights = look.filter.aboveM && ground ? { above: above ?? { ...ground, rangeM: look.filter.aboveM } } : {};
  return new PointFilter(
    { hiddenClasses: [], rejected: 'shown', ...attributes, ...heights },
    ground,
    index.value?.origin[2],
  );
});
watch(
  [
    slice,
    width,
    height,
    limits,
    grid,
    filter,
    () => [
      colouring.value,
      look.hiddenClasses,
      look.rejected,
      look.exaggeration,
      look.picked,
      look.grounds,
      view.hoveredMark,
      props.marks,
      props.path,
    ],
  ],
  draw,
  { deep: false, flush: 'post' },
);

/** Steps by one width: along what leads the section, or to its side. */
function step(sign: 1 | -1): void {
  const s = view.section;
  if (!s) return;
  if (view.rail && props.rail.rail.value) props.rail.go(view.rail.stationM + sign * s.widthM);
  else view.section = stepped(s, sign * s.widthM);
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (!view.section || isTyping(event.target) || event.ctrlKey || event.metaKey) return;
  if (event.key === ']') step(1);
  else if (event.key === '[') step(-1);
  else if (event.key === '}') props.rail.turn(5);
  else if (event.key === '{') props.rail.turn(-5);
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
    <SectionHeader :rail="rail" :heights="frame ? exaggerationOf(frame) : null" @step="step">
      <template v-if="cursor"
        >{{ text(cursor.along) }} along · H {{ text(cursor.height) }} {{ symbol
        }}<template v-if="grid"> · terrain {{ text(terrainUnderCursor) }}</template></template
      ><template v-else-if="acts.waiting">painting …</template><template v-else-if="busy">cutting …</template
      ><template v-else-if="slice"
        >{{ slice.count }} points{{ complete ? '' : ', thinned'
        }}<span v-if="shownHidden.length" class="warn">; hidden: {{ shownHidden.join(', ') }}</span></template
      >
    </SectionHeader>
    <div ref="box" class="box">
      <canvas
        v-show="slice && slice.count"
        ref="canvas"
        role="img"
        :aria-label="`Section with ${slice?.count ?? 0} points`"
        @pointermove="move"
        @pointerdown="down"
        @pointerup="up"
        @pointerleave="cursor = null"
      />
      <SelectOverlay
        over="section"
        :tool="selectable ? selection.tool : 'none'"
        :brush-px="selection.brushPx"
        @done="selectPath"
      />
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
  grid-template-rows: auto minmax(0, 1fr);
  min-height: 0;
  background: var(--deep);
  color: #e6eef0;
  border-top: 1px solid #3a5058;
}
.warn {
  color: #ffd27d;
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
