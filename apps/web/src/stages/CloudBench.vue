<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue';
import { useLocalStorage } from '@vueuse/core';
import { type CloudIndex, type DatasetOf } from '@longheron/contract/api';
import { objectJson } from '../api/client';
import { type MapMark } from '../map/marks';
import LookedKey from '../map/LookedKey.vue';
import { useLookedMap } from '../map/lookedMap';
import { type MapPath } from '../map/paths';
import MapView from '../map/MapView.vue';
import SectionView from '../section/SectionView.vue';
import { useRail } from '../section/useRail';
import { useProject } from '../stores/project';
import { VIRIDIS } from '../ui/colour';
import ScaleKey from '../ui/ScaleKey.vue';
import TabRow from '../ui/TabRow.vue';
import ToolButton from '../ui/ToolButton.vue';
import ToolMenu from '../ui/ToolMenu.vue';
import { useUnits } from '../ui/units';
import { useSelection, type SelectionMode } from '../stores/selection';
import { useView } from '../stores/view';
import { type MapShape } from '../map/shapes';
import { pairs } from './outlines';
import { systemOf } from './systems';
import SelectOverlay from '../views3d/SelectOverlay.vue';
import { type CloudScene } from '../views3d/CloudScene';
import CloudView from '../views3d/CloudView.vue';
import CompareView from '../views3d/CompareView.vue';

/** Plan, cloud and section of one cloud, linked. */
const props = defineProps<{
  dataset?: DatasetOf<'point-cloud'>;
  surface?: DatasetOf<'surface'>;
  path?: MapPath | null;
  marks?: MapMark[];
  picture?: { url: string; extent: [number, number, number, number] } | null;
  contoursUrl?: string | null;
  storageKey: string;
  spans?: Array<[number, number]>;
  reportPicture?: boolean;
}>();
const emit = defineEmits<{ picture: [blob: Blob] }>();
const store = useProject();
const view = useView();
const layout = useLocalStorage<'plan' | 'both' | 'cloud' | 'two'>(`longheron.layout.${props.storageKey}`, 'both');
/** What is made of a cloud without a system is no better placed than it. */
const unplaced = computed(() => !!props.dataset?.revision.content.index && systemOf(props.dataset) === '');
const scene = shallowRef<CloudScene | null>(null);
const lookedOn = useLocalStorage('longheron.lookedAt', false);
const looked = useLookedMap(
  () => props.dataset,
  () => lookedOn.value && (layout.value === 'plan' || layout.value === 'both'),
);
const layouts = computed(() => [
  { key: 'plan', label: 'Plan' },
  { key: 'both', label: 'Plan and cloud', disabled: !props.dataset },
  { key: 'cloud', label: 'Cloud', disabled: !props.dataset },
  {
    key: 'two',
    label: 'Side by side',
    disabled: !props.dataset,
    hint: 'Two views with one camera: before and after, two clouds, two colourings',
  },
]);
const { small } = useUnits();
/** Deviations in plan that the trajectory's colours run between, metres. */
const PATH_LIMITS_M: [number, number] = [0, 0.03];
const pathEnds = computed(() => PATH_LIMITS_M.map((m) => (m * small.value.factor).toFixed(small.value.digits)));
const drawing = ref(false);
/** The line while it is being drawn; the section opens when it is set, so that the map keeps its place until then. */
const draft = ref<{ from: [number, number]; to: [number, number]; widthM: number } | null>(null);
const cloud = ref<InstanceType<typeof CloudView> | null>(null);
const heights = computed(() => {
  const out: Record<string, number> = {};
  for (const d of store.ofKind('marks'))
    for (const m of (d.revision.content.marks as Array<{ name: string; heightM: number }> | undefined) ?? [])
      out[m.name] ??= m.heightM;
  return out;
});
function setSection(from: [number, number], to: [number, number], done: boolean): void {
  if (Math.hypot(to[0] - from[0], to[1] - from[1]) < 0.5) return;
  const line = { from, to, widthM: view.section?.widthM ?? 2 };
  draft.value = done ? null : line;
  if (!done) return;
  view.rail = null;
  view.section = line;
  drawing.value = false;
}
const rail = useRail(() => props.path);
// selecting in plan: full depth, whatever lies above each other
const selection = useSelection();
const plan = ref<InstanceType<typeof MapView> | null>(null);
const planTool = computed(() =>
  props.dataset && selection.dataset === props.dataset.id && selection.tool !== 'brush' && !drawing.value
    ? selection.tool
    : 'none',
);
function selectInPlan(path: number[], how: SelectionMode | undefined): void {
  const polygon = plan.value?.toPlan(path) ?? [];
  if (polygon.length >= 6) selection.add({ kind: 'plan', polygon }, how);
}
/** Shapes of the selection that were drawn in plan. */
const selectedShapes = computed<MapShape[]>(() =>
  selection.dataset === props.dataset?.id
    ? selection.regions.flatMap(({ mode, shape }): MapShape[] =>
        shape.kind === 'plan'
          ? [{ kind: 'area', points: pairs(shape.polygon), colour: mode === 'subtract' ? '#53666d' : '#c23b7e' }]
          : [],
      )
    : [],
);
let asked = 0;
/** Without a trajectory or a picture the map shows where the cloud is. */
const extents = ref<Array<{ name: string; extent: [number, number, number, number] }>>([]);
watch(
  () => (props.path || props.picture ? undefined : (props.dataset?.revision.content.index as string | undefined)),
  async (sha) => {
    extents.value = [];
    const mine = ++asked;
    const index = sha ? await objectJson<CloudIndex>(sha).catch(() => null) : null;
    if (mine !== asked) return;
    const { min, max } = index?.bounds ?? {};
    extents.value = min && max ? [{ name: '', extent: [min[0], min[1], max[0], max[1]] }] : [];
  },
  { immediate: true },
);
async function takePicture(): Promise<void> {
  const blob = await cloud.value?.picture();
  if (blob) emit('picture', blob);
}
</script>

<template>
  <div class="bench" :class="{ section: view.section && dataset }">
    <div>
      <div class="head">
        <TabRow v-model="layout" label="Layout" :tabs="layouts" />
        <span class="acts">
          <span v-if="drawing" class="soft">Two clicks in plan set the line</span>
          <template v-if="dataset && (layout === 'plan' || layout === 'both')">
            <ToolButton label="Draw a section" icon="section" :pressed="drawing" @click="drawing = !drawing" />
            <ToolButton
              label="Looked at"
              icon="looked"
              hint="where this cloud was looked at closely or in a section, and where never"
              :pressed="lookedOn"
              @click="lookedOn = !lookedOn"
            />
          </template>
          <ToolMenu
            v-if="dataset && !view.section && rail.offered.value.length"
            label="Section across"
            icon="more"
            hint="a section that is led along a line"
            :items="rail.offered.value.map((o) => ({ key: o.key, label: `Section across ${o.label}` }))"
            @choose="rail.choose($event)"
          />
          <ToolButton
            v-if="reportPicture && dataset && layout !== 'plan'"
            label="Put in report"
            icon="report"
            hint="the cloud as it is seen now"
            @click="takePicture"
          />
        </span>
      </div>
      <p v-if="unplaced" class="unplaced">
        {{ dataset!.name }} names no coordinate system: where it lies on Earth is not defined. Say which it is in, or
        place it: by marks in Clean under Clouds, by targets, surfaces or stations in Place under Scans.
      </p>
    </div>
    <div class="views" :class="dataset ? layout : 'plan'">
      <div v-if="layout === 'plan' || layout === 'both' || !dataset" class="view">
        <MapView
          ref="plan"
          :path="path"
          :spans="spans"
          :path-limits="PATH_LIMITS_M"
          :marks="marks"
          :extents="extents"
          :shapes="selectedShapes"
          :picture="looked.picture.value ?? picture"
          :contours-url="contoursUrl"
          :draw-section="drawing"
          :draft="draft"
          :with-section="!!dataset"
          @section="setSection"
        >
          <template v-if="dataset" #over>
            <SelectOverlay
              over="plan"
              :tool="planTool"
              :brush-px="selection.brushPx"
              @done="selectInPlan"
              @wheel="plan?.wheel($event)"
            />
          </template>
          <template v-if="lookedOn && dataset" #key>
            <LookedKey :looked="looked.looked.value" :failure="looked.failure.value" />
          </template>
          <template v-else-if="path" #key>
            <ScaleKey :title="`SD plan, ${small.symbol}`" :colours="VIRIDIS" :labels="pathEnds" />
          </template>
        </MapView>
      </div>
      <div v-if="layout !== 'plan' && dataset" class="view">
        <CloudView
          ref="cloud"
          :dataset="dataset"
          :surface="surface"
          :marks="marks"
          :mark-heights="heights"
          @opened="scene = $event"
        />
      </div>
      <div v-if="layout === 'two' && dataset" class="view">
        <CompareView :dataset="dataset" :first="scene" />
      </div>
    </div>
    <SectionView
      v-if="view.section && dataset"
      :dataset="dataset"
      :path="path"
      :rail="rail"
      :surface="surface"
      :marks="marks"
      :mark-heights="heights"
    />
  </div>
</template>

<style scoped>
.bench {
  position: absolute;
  inset: 0;
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
}
.bench.section {
  grid-template-rows: auto minmax(0, 1fr) minmax(150px, 36%);
}
.unplaced {
  margin: 0;
  padding: 4px 12px;
  font-size: 12px;
  background: #fff4dd;
  color: #6b4300;
  border-bottom: 1px solid var(--line);
}
.head {
  min-height: 32px;
  display: flex;
  justify-content: space-between;
  align-items: center;
  padding: 0 8px;
  border-bottom: 1px solid var(--line);
}
.acts {
  display: flex;
  gap: 2px;
  align-items: center;
  font-size: 12px;
}
.views {
  display: grid;
  min-height: 0;
}
.views.both {
  grid-template-columns: minmax(0, 2fr) minmax(0, 3fr);
}
.views.two {
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
}
.view {
  position: relative;
  min-width: 0;
  min-height: 0;
}
</style>
