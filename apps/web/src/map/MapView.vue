<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue';
import { useResizeObserver } from '@vueuse/core';
import 'ol/ol.css';
import OlMap from 'ol/Map';
import View from 'ol/View';
import { defaults as usualControls, ScaleLine } from 'ol/control';
import DoubleClickZoom from 'ol/interaction/DoubleClickZoom';
import { boundingExtent, extend, isEmpty, type Extent } from 'ol/extent';
import Feature from 'ol/Feature';
import { Point } from 'ol/geom';
import ImageLayer from 'ol/layer/Image';
import TileLayer from 'ol/layer/Tile';
import ImageStatic from 'ol/source/ImageStatic';
import { planTextOf } from '@longheron/contract/api';
import { type SectionLine } from '../section/cut';
import { useCloudLook } from '../stores/cloudLook';
import { useContourStyles } from '../stores/contourStyles';
import { useProject } from '../stores/project';
import { useView } from '../stores/view';
import { useUnits } from '../ui/units';
import { contourFeatures, contourStyler } from './contours';
import { gridFeatures } from './grid';
import { LAYERS, mapLayers } from './layers';
import MapTools from './MapTools.vue';
import { markStyle, type MapMark } from './marks';
import { dotFeature, extentFeature, pathFeatures, type MapDot, type MapPath } from './paths';
import { type MapPicture } from './picture';
import { projectionOf } from './projection';
import { pickedFeature, sectionFeatures } from './section';
import { shapeFeature, type MapShape } from './shapes';
import { extentOf, rasterOf, underlaySource } from './underlay';

const props = defineProps<{
  path?: MapPath | null;
  pathLimits?: [number, number];
  /** Times of the path that count; the rest is drawn grey. */
  spans?: Array<[number, number]>;
  marks?: MapMark[];
  /** Places of events; the grey ones do not count. */
  dots?: MapDot[];
  /** Lines and areas of the stage; the map shows them all. */
  shapes?: MapShape[];
  extents?: Array<{ name: string; extent: [number, number, number, number] }>;
  /** What the map shows until it is moved, where that is not all there is: west, south, east, north. */
  around?: [number, number, number, number];
  picture?: MapPicture | null;
  /** The picture that lies under this map, whatever lies under others. */
  under?: number;
  contoursUrl?: string | null;
  /** Lets the person draw a section line. */
  drawSection?: boolean;
  /** A section line being drawn; shown in place of the one that is set. */
  draft?: SectionLine | null;
  /** Shows the section line and the picked point. */
  withSection?: boolean;
}>();
const emit = defineEmits<{ section: [from: [number, number], to: [number, number], done: boolean] }>();
const store = useProject();
const view = useView();
const look = useCloudLook();
const contourStyles = useContourStyles();
const { length } = useUnits();
const element = ref<HTMLElement | null>(null);
const map = shallowRef<OlMap | null>(null);
const { sources, layers } = mapLayers();
const pictureLayer = new ImageLayer<ImageStatic>({ zIndex: 1 });
const underLayer = new TileLayer({ zIndex: 0 });
/** Georeferenced images and orthophotos that may lie under the map. */
const rasters = computed(() =>
  [...store.ofKind('raster'), ...store.ofKind('orthophoto')].flatMap((d) => {
    const line = store.project?.reference;
    const raster = rasterOf(d, line ? planTextOf(line) : undefined);
    return raster ? [{ id: d.id, name: d.name, raster, revision: d.revision.id }] : [];
  }),
);
const underlay = computed(() => rasters.value.find((r) => r.id === (props.under ?? view.underlay)));
/** Until a person has moved the map it shows all there is. */
let touched = false;

const projectionCode = () => projectionOf(store.project);

function showLayers(): void {
  for (const [name, belonging] of LAYERS) {
    const visible = !view.hiddenLayers.includes(name);
    for (const l of belonging)
      if (l === 'picture') for (const p of [pictureLayer, underLayer]) p.setVisible(visible);
      else layers[l].setVisible(visible);
  }
}
watch(() => [...view.hiddenLayers], showLayers);

function drawGrid(): void {
  const m = map.value;
  const size = m?.getSize();
  if (!m || !size) return;
  sources.grid.clear();
  // without a system there are no coordinates to name
  if (!store.project?.reference) return;
  sources.grid.addFeatures(gridFeatures(m.getView().calculateExtent(size), size));
}

function drawPath(): void {
  sources.path.clear();
  if (props.path) sources.path.addFeatures(pathFeatures(props.path, props.pathLimits, props.spans, view.brush));
}

function drawMarks(): void {
  sources.marks.clear();
  for (const m of props.marks ?? []) {
    const f = new Feature(new Point([m.eastingM, m.northingM]));
    f.set('mark', m.name);
    f.setStyle(markStyle(m, view.hoveredMark === m.name || view.selectedMark === m.name));
    sources.marks.addFeature(f);
  }
}

function drawDots(): void {
  sources.dots.clear();
  sources.dots.addFeatures((props.dots ?? []).map((d) => dotFeature(d, view.brush)));
}

function drawShapes(): void {
  sources.shapes.clear();
  sources.shapes.addFeatures((props.shapes ?? []).map(shapeFeature));
}

function drawExtents(): void {
  sources.extents.clear();
  sources.extents.addFeatures((props.extents ?? []).map(extentFeature));
}

function drawSectionLine(): void {
  sources.section.clear();
  if (!props.withSection) return;
  const p = look.picked;
  if (p) sources.section.addFeature(pickedFeature(p.eastingM, p.northingM));
  const s = props.draft ?? view.section;
  if (s) sources.section.addFeatures(sectionFeatures(s));
}

async function drawContours(): Promise<void> {
  const url = props.contoursUrl;
  const features = url ? await contourFeatures(url) : [];
  if (url !== props.contoursUrl) return;
  sources.contours.clear();
  sources.contours.addFeatures(features);
}

const styleContours = () => layers.contours.setStyle(contourStyler(contourStyles.current, length.value.factor));

function fit(): void {
  const m = map.value;
  if (!m) return;
  if (props.around) {
    m.getView().fit(props.around, { padding: [40, 40, 40, 40], maxZoom: 24 });
    return;
  }
  const e: Extent = boundingExtent([]);
  for (const s of [sources.path, sources.extents, sources.marks, sources.shapes])
    if (!s.isEmpty()) extend(e, s.getExtent()!);
  if (props.picture) extend(e, props.picture.extent);
  if (isEmpty(e) && underlay.value) extend(e, extentOf(underlay.value.raster));
  if (!isEmpty(e)) {
    m.getView().fit(e, { padding: [28, 28, 28, 28], maxZoom: 24 });
  }
}

/** What lies under the map now: squares that are there are not asked for again. */
let squares = '';
function drawUnderlay(): void {
  const u = underlay.value;
  const code = projectionCode();
  const now = u ? `${u.id} ${u.revision} ${code}` : '';
  if (now === squares) return;
  squares = now;
  const url = `/api/projects/${store.project!.id}/datasets/${u?.id}/tiles`;
  underLayer.setSource(u ? underlaySource(url, u.revision, u.raster, code) : null);
}

function drawPicture(code: string): void {
  pictureLayer.setSource(
    props.picture
      ? new ImageStatic({
          url: props.picture.url,
          imageExtent: props.picture.extent,
          projection: code,
          interpolate: false,
        })
      : null,
  );
}

onMounted(() => {
  const code = projectionCode();
  map.value = new OlMap({
    target: element.value!,
    controls: usualControls({ zoom: false, rotate: false }),
    layers: [underLayer, pictureLayer, ...Object.values(layers)],
    view: new View({
      projection: code,
      center: [500000, 6000000],
      zoom: 8,
      constrainResolution: false,
      enableRotation: false,
    }),
  });
  const made = map.value;
  showLayers();
  made.addControl(new ScaleLine({ units: 'metric' }));
  made.on('moveend', drawGrid);
  made.on('pointerdrag', () => {
    touched = true;
  });
  made.getViewport()?.addEventListener('wheel', () => (touched = true), { passive: true });
  made.on('pointermove', (event) => {
    view.cursor = [event.coordinate[0], event.coordinate[1]];
    const hit = map.value!.forEachFeatureAtPixel(event.pixel, (f) => f.get('mark') as string | undefined, {
      hitTolerance: 6,
    });
    if ((hit ?? null) !== view.hoveredMark) view.hoveredMark = hit ?? null;
    if (start && props.drawSection) emit('section', start, [event.coordinate[0], event.coordinate[1]], false);
  });
  made.on('singleclick', (event) => {
    const hit = map.value!.forEachFeatureAtPixel(event.pixel, (f) => f.get('mark') as string | undefined, {
      hitTolerance: 6,
    });
    if (hit) view.selectedMark = hit;
  });
  let start: [number, number] | null = null;
  made.on('click', (event) => {
    if (!props.drawSection) return;
    const p: [number, number] = [event.coordinate[0], event.coordinate[1]];
    if (!start) start = p;
    else {
      emit('section', start, p, true);
      start = null;
    }
  });
  styleContours();
  drawAll();
});

function drawAll(): void {
  drawPath();
  drawExtents();
  drawShapes();
  drawMarks();
  drawDots();
  drawSectionLine();
  drawPicture(projectionCode());
  drawUnderlay();
  void drawContours();
  if (!touched) fit();
}
useResizeObserver(element, () => {
  map.value?.updateSize();
  if (!touched) fit();
});
onBeforeUnmount(() => map.value?.setTarget(undefined));
watch(
  () => [underlay.value?.id, underlay.value?.revision],
  () => map.value && drawUnderlay(),
);
watch(() => [props.dots, view.brush], drawDots);
watch(() => [props.path, props.pathLimits, props.spans, view.brush], drawPath);
watch(() => [props.marks, view.hoveredMark, view.selectedMark], drawMarks);
watch(() => [props.extents, props.picture], drawAll);
watch(
  () => props.shapes,
  () => {
    drawShapes();
    if (!touched) fit();
  },
);
watch(
  () => [props.path, props.around],
  () => !touched && fit(),
);
watch(
  () => props.marks,
  () => !touched && fit(),
);
watch(
  () => props.drawSection,
  (drawing) => {
    // two quick clicks set a line; they must not zoom
    for (const i of map.value?.getInteractions().getArray() ?? [])
      if (i instanceof DoubleClickZoom) i.setActive(!drawing);
  },
);
watch(
  () => props.contoursUrl,
  () => void drawContours(),
);
watch(
  () => [JSON.stringify(contourStyles.current), length.value],
  () => styleContours(),
);
watch(() => [view.section, props.draft, look.picked], drawSectionLine, { deep: true });
function zoomBy(steps: number): void {
  const shown = map.value?.getView();
  touched = true;
  shown?.animate({ zoom: (shown.getZoom() ?? 8) + steps, duration: 150 });
}
/** Moves the map to a place, so that so many metres are seen across. */
function show([e, n]: [number, number], acrossM: number): void {
  touched = true;
  const half = acrossM / 2;
  map.value?.getView().fit([e - half, n - half, e + half, n + half], { duration: 150 });
}
/** Places in plan, metres, of pixels of the map: flat lists. */
const toPlan = (px: number[]): number[] =>
  px.flatMap((v, i) => (i % 2 ? [] : (map.value?.getCoordinateFromPixel([v, px[i + 1]]) ?? [])));
/** Zooms at the pointer while something lies over the map. */
const wheel = (event: WheelEvent) => map.value?.getViewport()?.dispatchEvent(new WheelEvent('wheel', event));
defineExpose({ fit, show, toPlan, wheel });
</script>

<template>
  <div class="map">
    <MapTools
      :rasters="under === undefined ? rasters : []"
      :underlay="underlay?.id ?? 0"
      @everything="((touched = false), fit())"
      @zoom="zoomBy"
    >
      <slot name="tools" />
    </MapTools>
    <div
      ref="element"
      class="plan"
      tabindex="0"
      aria-label="Map in the project's system"
      @pointerleave="view.cursor = null"
    >
      <slot name="over" />
    </div>
    <div v-if="$slots.key" class="keys"><slot name="key" /></div>
  </div>
</template>

<style scoped>
.map {
  position: absolute;
  inset: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  grid-template-rows: auto minmax(0, 1fr) auto;
}
.plan {
  position: relative;
  min-height: 0;
  background: #f9fbfb;
}
.keys {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 16px;
  min-height: 34px;
  padding: 2px 8px;
  border-top: 1px solid var(--line);
  background: var(--paper);
  font-size: 12px;
}
.map :deep(.ol-scale-line) {
  background: #ffffffc0;
  bottom: 26px;
  left: auto;
  right: 8px;
}
.map :deep(.ol-scale-line-inner) {
  color: var(--ink);
  border-color: var(--ink);
  font: 12px var(--mono);
}
</style>
