<script setup lang="ts">
import { computed, ref, watch, watchEffect } from 'vue';
import { useEventListener, useLocalStorage } from '@vueuse/core';
import { COVERAGE_DEFAULTS } from '@longheron/core/accuracy';
import { pictureOf } from '../../../map/picture';
import MapView from '../../../map/MapView.vue';
import { type MapShape } from '../../../map/shapes';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import AgainButtons from '../../../ui/AgainButtons.vue';
import DatasetCard from '../../../ui/DatasetCard.vue';
import DatasetChoice from '../../../ui/DatasetChoice.vue';
import { isTyping } from '../../../ui/keys';
import Num from '../../../ui/Num.vue';
import ScaleKey from '../../../ui/ScaleKey.vue';
import SplitBench from '../../SplitBench.vue';
import StageLayout from '../../StageLayout.vue';
import { useUnits } from '../../../ui/units';
import { edgesOf, useOutlines } from '../../outlines';
import CoverageSheet from './CoverageSheet.vue';
import { useChosen } from '../../address';
import { OPERATIONS } from '@longheron/contract/operations';
import SettingsForm from '../../../ui/SettingsForm.vue';
import FigureTable from '../../../ui/FigureTable.vue';

/** How the cloud covers the area: density, voids, stated precision. */
const store = useProject();
const view = useView();
const { length, small } = useUnits();
const results = computed(() => store.ofKind('coverage'));
const { chosen, choose } = useChosen(
  () => results.value,
  () => results.value.at(-1),
);
const content = computed(() => chosen.value?.revision.content);
watchEffect(() => (view.active = chosen.value?.id ?? null));

const clouds = computed(() => store.ofKind('point-cloud').filter((d) => d.revision.content.index));
const files = computed(() => store.ofKind('outlines'));
const form = ref({ cloud: 0, outlines: 0, ...COVERAGE_DEFAULTS, groundOnly: false, area: '' });
watch(
  () => [store.datasets.length, chosen.value?.id],
  () => {
    const of = (role: string) => chosen.value?.revision.inputs.find((i) => i.role === role)?.datasetId;
    Object.assign(form.value, content.value?.settings ?? {});
    form.value.area = content.value?.settings.area ?? '';
    form.value.cloud = of('cloud') ?? store.latest('point-cloud', 'clean')?.id ?? clouds.value[0]?.id ?? 0;
    form.value.outlines = of('outlines') ?? (chosen.value ? 0 : (files.value[0]?.id ?? 0));
  },
  { immediate: true },
);
const file = computed(() => files.value.find((d) => d.id === form.value.outlines));
const { areas, failure } = useOutlines(() => [file.value]);
const shown = useOutlines(() => [
  files.value.find((d) => d.id === chosen.value?.revision.inputs.find((i) => i.role === 'outlines')?.datasetId),
]);
const ordered = computed(() => {
  const name = content.value?.settings.area;
  return shown.areas.value.filter((o) => !name || o.name === name);
});
function start(over: boolean): void {
  const { cloud, outlines, area, ...settings } = form.value;
  const inputs = { cloud, ...(outlines ? { outlines } : {}) };
  void store.run(
    'coverage',
    inputs,
    { ...settings, ...(outlines && area ? { area } : {}) },
    over ? chosen.value?.id : undefined,
  );
}

const layer = useLocalStorage<'density' | 'precision'>('longheron.coverageLayer', 'density');
const picture = computed(() => {
  const c = content.value;
  const sha = c?.pictures[layer.value];
  if (!c || !sha) return null;
  return pictureOf(sha, c.layout);
});
const selected = ref(0);
watch(content, () => (selected.value = 0));
const shapes = computed<MapShape[]>(() => [
  ...ordered.value.flatMap((o) => edgesOf(o)),
  ...(content.value?.voids ?? []).slice(0, 60).map((v, i): MapShape => ({
    kind: 'point',
    points: [[v.eastingM, v.northingM]],
    colour: i === selected.value ? '#c97a00' : '#7a2a1c',
    label: String(i + 1),
  })),
]);
const map = ref<InstanceType<typeof MapView> | null>(null);
const body = ref<HTMLElement | null>(null);
function go(i: number): void {
  const v = content.value?.voids[i];
  if (!v) return;
  selected.value = i;
  map.value?.show([v.eastingM, v.northingM], Math.max(30, 4 * Math.sqrt(v.areaM2)));
  requestAnimationFrame(() => body.value?.querySelector('tr.hover')?.scrollIntoView({ block: 'nearest' }));
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
  const count = content.value?.voids.length ?? 0;
  if (!by || count === 0 || isTyping(event.target)) return;
  event.preventDefault();
  go(Math.min(count - 1, Math.max(0, selected.value + by)));
});
const square = computed(() => length.value.factor ** 2);
const unit2 = computed(() => `${length.value.symbol}²`);
const wanted = computed(() => {
  const t = (content.value?.settings.targetPerM2 ?? 0) / square.value;
  return `${t.toFixed(t < 10 ? 1 : 0)} points/${unit2.value}`;
});
</script>

<template>
  <StageLayout holdings-title="Density and voids">
    <template #holdings>
      <DatasetCard v-for="r in results" :key="r.id" :dataset="r" :selected="r.id === chosen?.id" @choose="choose(r)" />
      <p v-if="results.length === 0" class="soft">
        Nothing is measured yet. Density and voids say whether the order is met, and where a surface would be made up.
      </p>
    </template>
    <SplitBench v-if="content && chosen" storage-key="coverage">
      <template #upper>
        <MapView ref="map" :picture="picture" :shapes="shapes">
          <template #tools>
            <el-radio-group v-model="layer" size="small" aria-label="Shown on the map"
              ><el-radio-button value="density" label="Density" /><el-radio-button
                value="precision"
                label="Stated precision"
                :disabled="!content.pictures.precision"
            /></el-radio-group>
          </template>
          <template #key>
            <ScaleKey
              v-if="layer === 'density'"
              title="points on the surface"
              :colours="['#f5e8cd', '#c99336', '#b3cde3', '#1d4f91']"
              :labels="['few', wanted, 'many']"
              ><span class="patch"><i />no points</span></ScaleKey
            >
            <ScaleKey
              v-else
              :title="`deviation of height (1 SD), ${small.symbol}`"
              :colours="['#d0e7d6', '#7ab28c', '#debe6e', '#c97836', '#8c281e']"
              :labels="['0', `${small.of(content.sdMostM).toFixed(small.digits)} and more`]"
            />
          </template>
        </MapView>
      </template>
      <div ref="body" class="rows">
        <FigureTable
          :columns="[
            { key: 'c0', label: 'Void', right: true, value: (v) => content!.voids.indexOf(v) + 1 },
            { key: 'c1', label: `area, ${unit2}`, right: true, value: (v) => v.areaM2 * square },
            {
              key: 'c2',
              label: `width, ${length.symbol}`,
              hint: 'Diameter of the largest circle in it',
              right: true,
              value: (v) => length.of(v.widthM),
            },
            { key: 'c3', label: `easting, ${length.symbol}`, right: true, value: (v) => length.of(v.eastingM) },
            { key: 'c4', label: `northing, ${length.symbol}`, right: true, value: (v) => length.of(v.northingM) },
            { key: 'c5', label: 'place', value: (v) => (v.atEdge ? 'at the edge' : 'within') },
          ]"
          :rows="content.voids"
          :row-class="(_v, i) => ({ hover: i === selected })"
          pick
          name="voids"
          @pick="(_v, i) => go(i)"
          ><template #c1="{ row: v }"><Num :value="v.areaM2 * square" :digits="0" /></template
          ><template #c2="{ row: v }"><Num :value="length.of(v.widthM)" :digits="1" /></template
          ><template #c3="{ row: v }"><Num :value="length.of(v.eastingM)" :digits="1" /></template
          ><template #c4="{ row: v }"><Num :value="length.of(v.northingM)" :digits="1" /></template
        ></FigureTable>
        <p v-if="content.voids.length === 0" class="none">
          No void has {{ (content.settings.leastVoidM2 * square).toFixed(1) }} {{ unit2 }} or more.
        </p>
      </div>
    </SplitBench>
    <p v-else class="none">The maps of density and precision appear here once the cloud is measured.</p>
    <template #sheet>
      <CoverageSheet v-if="content && chosen" :dataset="chosen" :content="content" />
      <h2 v-if="chosen" class="spaced">Settings</h2>
      <el-form novalidate label-position="top" class="spaced" @submit.prevent="start(!!chosen)">
        <DatasetChoice v-model="form.cloud" label="Cloud" :datasets="clouds" />
        <DatasetChoice
          v-model="form.outlines"
          label="Ordered area"
          :datasets="files"
          none="where the points are, gaps closed"
        />
        <el-form-item v-if="form.outlines && areas.length > 1" label="Of its areas"
          ><el-select v-model="form.area" aria-label="Of its areas"
            ><el-option value="" label="all" /><el-option
              v-for="a in areas"
              :key="a.name"
              :value="a.name"
              :label="a.name" /></el-select
        ></el-form-item>
        <p v-if="form.outlines && failure" class="state bad">{{ failure }}</p>
        <p v-if="files.length === 0" class="soft">An area comes in as GeoJSON, under Gather.</p>
        <SettingsForm
          v-model="form"
          :schema="OPERATIONS.coverage.settings"
          :only="['cellM', 'targetPerM2', 'leastVoidM2', 'closeM', 'groundOnly']"
          :chosen="{ outlines: !!form.outlines }"
        />
        <AgainButtons
          first="Measure"
          again="Measure again"
          :there="!!chosen"
          :able="!!form.cloud"
          @beside="start(false)"
        />
      </el-form>
    </template>
  </StageLayout>
</template>

<style scoped>
.rows {
  overflow: auto;
}
tbody tr {
  cursor: pointer;
}
.none {
  color: var(--ink-soft);
  padding: 16px;
}
.patch {
  display: flex;
  align-items: center;
  gap: 5px;
}
.patch i {
  width: 10px;
  height: 10px;
  background: #a8402e;
}
</style>
