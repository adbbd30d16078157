<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue';
import { useResizeObserver } from '@vueuse/core';
import 'ol/ol.css';
import Feature from 'ol/Feature';
import OlMap from 'ol/Map';
import View from 'ol/View';
import { ScaleLine } from 'ol/control';
import DoubleClickZoom from 'ol/interaction/DoubleClickZoom';
import { boundingExtent, extend, isEmpty, type Extent } from 'ol/extent';
import GeoJSON from 'ol/format/GeoJSON';
import { LineString, Point, Polygon } from 'ol/geom';
import ImageLayer from 'ol/layer/Image';
import TileLayer from 'ol/layer/Tile';
import VectorLayer from 'ol/layer/Vector';
import { get as getProjection } from 'ol/proj';
import { register } from 'ol/proj/proj4';
import ImageStatic from 'ol/source/ImageStatic';
import VectorSource from 'ol/source/Vector';
import { Circle, Fill, Stroke, Style, Text } from 'ol/style';
import proj4 from 'proj4';
import { useCloudLook } from '../stores/cloudLook';
import { useContourStyles } from '../stores/contourStyles';
import { useProject } from '../stores/project';
import { useView } from '../stores/view';
import { css, VIRIDIS } from '../ui/colour';
import { useUnits } from '../ui/units';
import { gridFeatures } from './grid';
import { markStyle, type MapMark } from './marks';
import { shapeFeature, type MapShape } from './shapes';
import { extentOf, rasterOf, underlaySource } from './underlay';

export interface MapPath {
  eastingM: number[];
  northingM: number[];
  time: number[];
  /** Metres; colours the line. */
  value?: number[];
  /** Metres in the height system of the project. */
  heightM?: number[];
}

const props = defineProps<{
  path?: MapPath | null;
  pathLimits?: [number, number];
  /** Times of the path that count; the rest is drawn grey. */
  spans?: Array<[number, number]>;
  marks?: MapMark[];
  /** Places of events; the grey ones do not count. */
  dots?: Array<{ eastingM: number; northingM: number; time: number; counts: boolean }>;
  /** Lines and areas of the stage; the map shows them all. */
  shapes?: MapShape[];
  extents?: Array<{ name: string; extent: [number, number, number, number] }>;
  picture?: { url: string; extent: [number, number, number, number] } | null;
  contoursUrl?: string | null;
  /** Lets the person draw a section line. */
  drawSection?: boolean;
  /** A section line being drawn; shown in place of the one that is set. */
  draft?: { from: [number, number]; to: [number, number]; widthM: number } | null;
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
const sources = {
  grid: new VectorSource(),
  extents: new VectorSource(),
  path: new VectorSource(),
  contours: new VectorSource(),
  shapes: new VectorSource(),
  dots: new VectorSource(),
  marks: new VectorSource(),
  section: new VectorSource(),
};
/** Layers of the map by the name of their source. */
const drawn: Partial<Record<keyof typeof sources, VectorLayer<VectorSource>>> = {};
/** What a person can leave out, and the layers that belong to it. */
const LAYERS: Array<[name: string, layers: Array<keyof typeof sources | 'picture'>]> = [
  ['trajectory', ['path', 'dots']],
  ['marks', ['marks']],
  ['extents', ['extents']],
  ['lines and areas', ['shapes', 'contours']],
  ['pictures', ['picture']],
  ['grid', ['grid']],
];
const pictureLayer = new ImageLayer<ImageStatic>();
const underLayer = new TileLayer({ zIndex: 0 });
/** Pictures with a place that may lie under the map. */
const rasters = computed(() =>
  store.ofKind('raster').flatMap((d) => {
    const raster = rasterOf(d, store.project?.reference?.horizontal);
    return raster ? [{ id: d.id, name: d.name, raster, revision: d.revision.id }] : [];
  }),
);
const underlay = computed(() => rasters.value.find((r) => r.id === view.underlay));
/** Until a person has moved the map it shows all there is. */
let touched = false;

function projectionCode(): string {
  const r = store.project?.reference;
  if (!r) return 'EPSG:3857';
  const code = `EPSG:${r.horizontal}`;
  proj4.defs(code, r.proj4.replace(/\+units=\S+|\+to_meter=\S+/g, '') + ' +units=m');
  register(proj4);
  if (r.bbox) {
    const [north, west, south, east] = r.bbox;
    getProjection(code)?.setWorldExtent([west, south, east, north]);
  }
  return code;
}

function showLayers(): void {
  for (const [name, layers] of LAYERS) {
    const visible = !view.hiddenLayers.includes(name);
    for (const l of layers)
      if (l === 'picture') for (const p of [pictureLayer, underLayer]) p.setVisible(visible);
      else drawn[l]?.setVisible(visible);
  }
}
watch(() => [...view.hiddenLayers], showLayers);
const toggleLayer = (name: string) =>
  (view.hiddenLayers = view.hiddenLayers.includes(name)
    ? view.hiddenLayers.filter((n) => n !== name)
    : [...view.hiddenLayers, name]);

function drawGrid(): void {
  const m = map.value;
  const size = m?.getSize();
  if (!m || !size) return;
  sources.grid.clear();
  sources.grid.addFeatures(gridFeatures(m.getView().calculateExtent(size), size));
}

function drawPath(): void {
  sources.path.clear();
  const p = props.path;
  if (!p) return;
  const step = Math.max(1, Math.ceil(p.time.length / 5000));
  const [low, high] = props.pathLimits ?? [0, 1];
  for (let i = 0; i + step < p.time.length; i += step) {
    const j = i + step;
    let worst = 0;
    for (let k = i; k <= j; k++) worst = Math.max(worst, p.value?.[k] ?? 0);
    const counts = !props.spans || props.spans.some(([a, b]) => p.time[i] >= a - 0.1 && p.time[j] <= b + 0.1);
    const brushed = !view.brush || (p.time[i] >= view.brush[0] && p.time[j] <= view.brush[1]);
    const inside = counts && brushed;
    const f = new Feature(
      new LineString([
        [p.eastingM[i], p.northingM[i]],
        [p.eastingM[j], p.northingM[j]],
      ]),
    );
    const colour = p.value && props.pathLimits ? css(VIRIDIS, (worst - low) / Math.max(1e-9, high - low)) : '#0e5e66';
    f.setStyle(
      new Style({
        stroke: new Stroke({ color: inside ? colour : '#d3ddde', width: inside ? 3 : 1.5 }),
        zIndex: inside ? 2 : 1,
      }),
    );
    sources.path.addFeature(f);
  }
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
  for (const d of props.dots ?? []) {
    const inside = d.counts && (!view.brush || (d.time >= view.brush[0] && d.time <= view.brush[1]));
    const f = new Feature(new Point([d.eastingM, d.northingM]));
    f.setStyle(
      new Style({
        image: new Circle({
          radius: inside ? 3.5 : 2.5,
          fill: new Fill({ color: inside ? '#7a4b8c' : '#c4ccce' }),
          stroke: new Stroke({ color: '#fff', width: 1 }),
        }),
      }),
    );
    sources.dots.addFeature(f);
  }
}

function drawShapes(): void {
  sources.shapes.clear();
  sources.shapes.addFeatures((props.shapes ?? []).map(shapeFeature));
}

function drawExtents(): void {
  sources.extents.clear();
  for (const e of props.extents ?? []) {
    const [a, b, c, d] = e.extent;
    const f = new Feature(
      new Polygon([
        [
          [a, b],
          [c, b],
          [c, d],
          [a, d],
          [a, b],
        ],
      ]),
    );
    f.setStyle(
      new Style({
        stroke: new Stroke({ color: '#0e5e66', width: 1, lineDash: [4, 3] }),
        text: new Text({
          text: e.name,
          font: '11px IBM Plex Sans',
          fill: new Fill({ color: '#53666d' }),
          placement: 'point',
          offsetY: -8,
        }),
      }),
    );
    sources.extents.addFeature(f);
  }
}

function drawSectionLine(): void {
  sources.section.clear();
  if (!props.withSection) return;
  const p = look.picked;
  if (p) {
    const f = new Feature(new Point([p.eastingM, p.northingM]));
    f.setStyle(
      new Style({
        image: new Circle({ radius: 6, stroke: new Stroke({ color: '#c97a00', width: 2.5 }) }),
      }),
    );
    sources.section.addFeature(f);
  }
  const s = props.draft ?? view.section;
  if (!s) return;
  const [dx, dy] = [s.to[0] - s.from[0], s.to[1] - s.from[1]];
  const length = Math.hypot(dx, dy) || 1;
  const [nx, ny] = [(-dy / length) * (s.widthM / 2), (dx / length) * (s.widthM / 2)];
  const box = new Feature(
    new Polygon([
      [
        [s.from[0] + nx, s.from[1] + ny],
        [s.to[0] + nx, s.to[1] + ny],
        [s.to[0] - nx, s.to[1] - ny],
        [s.from[0] - nx, s.from[1] - ny],
        [s.from[0] + nx, s.from[1] + ny],
      ],
    ]),
  );
  box.setStyle(
    new Style({ stroke: new Stroke({ color: '#a8402e', width: 1 }), fill: new Fill({ color: '#a8402e22' }) }),
  );
  const axis = new Feature(new LineString([s.from, s.to]));
  axis.setStyle(new Style({ stroke: new Stroke({ color: '#a8402e', width: 2 }) }));
  sources.section.addFeatures([box, axis]);
}

async function drawContours(): Promise<void> {
  if (!props.contoursUrl) {
    sources.contours.clear();
    return;
  }
  const text = await fetch(props.contoursUrl)
    .then((r) => r.text())
    .catch(() => '');
  if (!text) return;
  const features = new GeoJSON().readFeatures(JSON.parse(text) as object, {
    dataProjection: undefined,
    featureProjection: undefined,
  });
  sources.contours.clear();
  sources.contours.addFeatures(features);
  styleContours();
}

function styleContours(): void {
  const s = contourStyles.current;
  const factor = length.value.factor;
  const thin = new Style({ stroke: new Stroke({ color: s.colour, width: s.widthPx }) });
  for (const f of sources.contours.getFeatures()) {
    const text = s.heights
      ? new Text({
          text: (Number(f.get('height_m')) * factor).toFixed(s.decimals),
          font: '10px IBM Plex Mono',
          placement: 'line',
          fill: new Fill({ color: s.indexColour }),
          stroke: new Stroke({ color: '#fff', width: 3 }),
        })
      : undefined;
    const stroke = new Stroke({ color: s.indexColour, width: s.indexWidthPx });
    f.setStyle(f.get('index') ? new Style({ stroke, text }) : thin);
  }
}

function fit(): void {
  const m = map.value;
  if (!m) return;
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
let under = '';
function drawUnderlay(): void {
  const u = underlay.value;
  const code = projectionCode();
  const now = u ? `${u.id} ${u.revision} ${code}` : '';
  if (now === under) return;
  under = now;
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
  const layer = (name: keyof typeof sources, zIndex: number, declutter = false) => {
    const made = new VectorLayer({ source: sources[name], zIndex, declutter, updateWhileInteracting: true });
    drawn[name] = made;
    return made;
  };
  map.value = new OlMap({
    target: element.value!,
    layers: [
      underLayer,
      layer('grid', 0),
      pictureLayer,
      layer('extents', 2),
      layer('contours', 3),
      layer('path', 4),
      layer('shapes', 4, true),
      layer('section', 5),
      layer('dots', 5),
      layer('marks', 6),
    ],
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
  () => props.path,
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
  <div
    ref="element"
    class="map"
    tabindex="0"
    aria-label="Map in the project's system"
    @pointerleave="view.cursor = null"
  >
    <details class="layers">
      <summary :class="{ some: view.hiddenLayers.length }">
        {{ view.hiddenLayers.length ? `hidden: ${view.hiddenLayers.join(', ')}` : 'Layers' }}
      </summary>
      <label v-for="[name] in LAYERS" :key="name"
        ><input type="checkbox" :checked="!view.hiddenLayers.includes(name)" @change="toggleLayer(name)" />{{
          name
        }}</label
      >
    </details>
    <select
      v-if="rasters.length"
      class="under"
      aria-label="Picture under the map"
      :value="underlay?.id ?? 0"
      @change="view.underlay = Number(($event.target as HTMLSelectElement).value)"
    >
      <option :value="0">no picture below</option>
      <option v-for="r in rasters" :key="r.id" :value="r.id">{{ r.name }}</option>
    </select>
    <button class="fit" title="Show everything" @click="((touched = false), fit())">Show everything</button>
  </div>
</template>

<style scoped>
.map {
  position: absolute;
  inset: 0;
  background: #f9fbfb;
}
.fit {
  position: absolute;
  right: 8px;
  top: 8px;
  z-index: 2;
  background: var(--paper);
  border: 1px solid var(--line);
  border-radius: 4px;
  padding: 3px 8px;
  cursor: pointer;
  font-size: 12px;
}
.layers {
  position: absolute;
  left: 40px;
  top: 8px;
  z-index: 2;
  background: var(--paper);
  border: 1px solid var(--line);
  border-radius: 4px;
  padding: 3px 8px;
  font-size: 12px;
}
.layers summary {
  cursor: pointer;
}
.layers .some {
  color: var(--bill);
  font-weight: 600;
}
.layers label {
  display: flex;
  align-items: center;
  gap: 4px;
}
.under {
  position: absolute;
  right: 8px;
  top: 40px;
  z-index: 2;
  max-width: 60%;
  background: var(--paper);
  border: 1px solid var(--line);
  border-radius: 4px;
  font-size: 12px;
  height: 24px;
}
.map :deep(.ol-zoom) {
  left: 8px;
  top: 8px;
}
.map :deep(.ol-zoom button) {
  background: var(--paper);
  color: var(--ink);
  border: 1px solid var(--line);
  font-size: 14px;
}
.map :deep(.ol-scale-line) {
  background: #ffffffc0;
  bottom: 8px;
  left: auto;
  right: 8px;
}
.map :deep(.ol-scale-line-inner) {
  color: var(--ink);
  border-color: var(--ink);
  font: 11px var(--mono);
}
</style>
