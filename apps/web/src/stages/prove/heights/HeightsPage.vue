<script setup lang="ts">
import { computed, ref, watch, watchEffect } from 'vue';
import { useEventListener } from '@vueuse/core';
import { type Mark } from '@longheron/core/accuracy';
import { api } from '../../../api/client';
import Histogram from '../../../charts/Histogram.vue';
import { RESIDUAL_SCALE_M, type MapMark } from '../../../map/marks';
import MapView from '../../../map/MapView.vue';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import DatasetChoice from '../../../ui/DatasetChoice.vue';
import { css, SIGNED } from '../../../ui/colour';
import ScaleKey from '../../../ui/ScaleKey.vue';
import DatasetCard from '../../../ui/DatasetCard.vue';
import Num from '../../../ui/Num.vue';
import DiscardButton from '../../../ui/DiscardButton.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import SplitBench from '../../SplitBench.vue';
import StageLayout from '../../StageLayout.vue';
import TrailList from '../../../ui/TrailList.vue';
import { useUnits } from '../../../ui/units';
import { useMapData } from '../../mapData';
import { type CoverFigures, type MarkFigures } from '@longheron/contract/kinds/residuals';
import ProveSheet from './HeightsSheet.vue';
import { useChosen } from '../../address';
import FigureTable from '../../../ui/FigureTable.vue';

const store = useProject();
const view = useView();
const { path } = useMapData();
const { length, small } = useUnits();
const checks = computed(() => store.ofKind('residuals'));
const { chosen, choose } = useChosen(
  () => checks.value,
  () => checks.value.at(-1),
);
const figures = computed(() => chosen.value?.revision.content.figures);
const size = (m: MarkFigures) => (m.residual_m === null ? -1 : Math.abs(m.residual_m));
const rows = computed(() =>
  [...(figures.value?.marks ?? [])].sort(
    (a, b) => Number(b.flagged) - Number(a.flagged) || size(b) - size(a) || a.name.localeCompare(b.name),
  ),
);
const mapMarks = computed<MapMark[]>(() =>
  rows.value
    .filter((m) => Number.isFinite(m.easting_m) && Number.isFinite(m.northing_m))
    .map((m) => ({
      name: m.name,
      role: m.role,
      eastingM: m.easting_m,
      northingM: m.northing_m,
      residualM: m.residual_m,
      flagged: m.flagged,
      leftOut: !!m.left_out,
    })),
);
const values = computed(() => rows.value.filter((m) => m.used && m.residual_m !== null).map((m) => m.residual_m!));
const tolerance = computed(() => store.project?.toleranceM ?? 0.03);
const covers = computed(() => {
  const f = figures.value;
  return f
    ? ([
        ['hard', f.hard],
        ['soft', f.soft],
        ['all', f],
      ] as Array<[string, CoverFigures]>)
    : [];
});

watchEffect(() => (view.active = chosen.value?.id ?? null));
const cloud = ref(0);
const lists = ref<number[]>([]);
const clouds = computed(() =>
  store.ofKind('point-cloud').filter((d) => d.stage !== 'gather' || d.revision.content.las),
);
watch(
  () => [store.datasets.length, chosen.value?.id],
  () => {
    const inputs = chosen.value?.revision.inputs ?? [];
    cloud.value = inputs.find((i) => i.role === 'cloud')?.datasetId ?? store.latest('point-cloud', 'clean')?.id ?? 0;
    const used = inputs.filter((i) => i.role === 'marks').map((i) => i.datasetId);
    lists.value = used.length
      ? used
      : store
          .ofKind('marks')
          .slice(0, 1)
          .map((d) => d.id);
  },
  { immediate: true },
);
const start = () => store.run('check', { cloud: cloud.value, marks: lists.value }, {}, chosen.value?.id);

useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  const target = event.target as HTMLElement;
  if (/^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName)) return;
  const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
  if (!by || rows.value.length === 0) return;
  event.preventDefault();
  const at = rows.value.findIndex((m) => m.name === view.selectedMark);
  select(rows.value[Math.min(rows.value.length - 1, Math.max(0, at + by))]);
});
const body = ref<HTMLElement | null>(null);
function select(m: MarkFigures): void {
  view.selectedMark = m.name;
  requestAnimationFrame(() => body.value?.querySelector('tr.chosen')?.scrollIntoView({ block: 'nearest' }));
}
const selected = computed(() => rows.value.find((m) => m.name === view.selectedMark));
const METHOD = { plane: 'plane', triangle: 'triangle', none: 'not found' } as Record<string, string>;

/** The list that holds a mark, among those that were checked. */
function listOf(name: string): number | undefined {
  return store
    .ofKind('marks')
    .find(
      (d) =>
        lists.value.includes(d.id) &&
        ((d.revision.content.marks as Mark[] | undefined) ?? []).some((m) => m.name === name),
    )?.id;
}
async function leaveOut(m: MarkFigures, reason: string): Promise<void> {
  const list = listOf(m.name);
  if (list === undefined) return;
  await store.attempt(
    () => api.patch(`/projects/${store.project!.id}/datasets/${list}/marks`, { name: m.name, leftOutReason: reason }),
    reason
      ? `${m.name} is left out; check again to see the figures.`
      : `${m.name} is used again; check again to see the figures.`,
  );
}
/** Where the scale of colours ends. */
const end = computed(() => (RESIDUAL_SCALE_M * small.value.factor).toFixed(small.value.digits - 1));
</script>

<template>
  <StageLayout holdings-title="Height checks">
    <template #holdings>
      <DatasetCard v-for="d in checks" :key="d.id" :dataset="d" :selected="d.id === chosen?.id" @choose="choose(d)" />
      <p v-if="checks.length === 0" class="soft">Nothing is checked yet. Choose cloud and marks below.</p>
    </template>
    <SplitBench v-if="figures" storage-key="heights" :upper-percent="46">
      <template #upper>
        <div class="top">
          <div class="mapbox">
            <MapView :path="path" :marks="mapMarks">
              <template #key>
                <ScaleKey
                  :title="`measured − reference, ${small.symbol}`"
                  :colours="SIGNED"
                  :labels="[`−${end}`, '0', `+${end}`]"
                />
              </template>
            </MapView>
          </div>
          <div class="side">
            <h3>Residuals at check marks</h3>
            <Histogram
              :values="values"
              :unit="small.symbol"
              :factor="small.factor"
              :digits="small.digits"
              :limit="tolerance"
              :marked="selected?.used ? selected.residual_m : null"
            />
            <FigureTable
              class="cover"
              :columns="[
                { key: 'cover', label: 'Cover' },
                { key: 'n', label: 'n', right: true },
                { key: 'mean', label: 'mean', right: true },
                { key: 'sd', label: 'SD', right: true },
                { key: 'rmse', label: `RMSE, ${small.symbol}`, right: true },
              ]"
              :rows="covers"
              :row-key="([name]) => name"
            >
              <template #cover="{ row }">{{ row[0] }}</template>
              <template #n="{ row }">{{ row[1].count }}</template>
              <template #mean="{ row }"><Num :value="small.of(row[1].mean_m)" :digits="small.digits" plus /></template>
              <template #sd="{ row }"><Num :value="small.of(row[1].sd_m)" :digits="small.digits" /></template>
              <template #rmse="{ row }"><Num :value="small.of(row[1].rmse_m)" :digits="small.digits" /></template>
            </FigureTable>
          </div>
        </div>
      </template>
      <div ref="body" class="rows" tabindex="0" aria-label="Residuals, worst first; arrow keys step from mark to mark">
        <FigureTable
          :columns="[
            { key: 'c0', label: 'Mark', value: (m) => m.name },
            { key: 'c1', label: 'Role', value: (m) => m.role },
            { key: 'c2', label: 'Cover', value: (m) => m.cover },
            {
              key: 'c3',
              label: `Measured − reference, ${small.symbol}`,
              right: true,
              value: (m) => small.of(m.residual_m),
            },
            {
              key: 'c4',
              label: 'State',
            },
            { key: 'c5', label: `Given H, ${length.symbol}`, right: true, value: (m) => length.of(m.height_m) },
            { key: 'c6', label: 'Found by', value: (m) => METHOD[m.method] ?? m.method },
            {
              key: 'c7',
              label: 'Points',
              hint: 'Ground points within the plane\'s radius',
              right: true,
              value: (m) => m.points,
            },
            { key: 'c8', label: 'Density, /m²', right: true, value: (m) => m.density_per_m2 },
            { key: 'c9', label: 'Nearest, m', right: true, value: (m) => m.nearest_m },
            {
              key: 'c10',
              label: 't',
              hint: 'Distance from the median of the check marks in units of the expected SD',
              right: true,
              value: (m) => m.test_t,
            },
          ]"
          :rows="rows"
          :row-key="(m) => m.name"
          :row-class="(m) => ({ hover: view.hoveredMark === m.name, chosen: view.selectedMark === m.name })"
          pick
          name="height_residuals"
          @enter="(m) => (view.hoveredMark = m.name)"
          @leave="() => (view.hoveredMark = null)"
          @pick="(m) => select(m)"
          ><template #c3="{ row: m }">
            <i
              v-if="m.residual_m !== null"
              class="chip"
              :style="{ background: css(SIGNED, 0.5 + m.residual_m / (2 * RESIDUAL_SCALE_M)) }"
            />
            <Num :value="small.of(m.residual_m)" :digits="small.digits" plus /> </template
          ><template #c4="{ row: m }"
            ><span :title="m.reason ?? ''">
              <span v-if="m.left_out" class="state">left out</span>
              <span v-else-if="m.used_for" class="state warn">not independent</span>
              <span v-else-if="m.flagged" class="state bad">does not agree</span>
              <span v-else-if="m.residual_m === null" class="state">not found</span>
              <span v-else-if="m.used" class="state ok">in statistics</span>
              <span v-else class="state">{{
                m.role === 'control' ? 'control, apart' : m.role === 'unused' ? 'unused, apart' : 'apart'
              }}</span>
            </span></template
          ><template #c5="{ row: m }"><Num :value="length.of(m.height_m)" :digits="3" /></template
          ><template #c6="{ row: m }">{{ METHOD[m.method] ?? m.method }}</template
          ><template #c7="{ row: m }"><Num :value="m.points" /></template
          ><template #c8="{ row: m }"><Num :value="m.density_per_m2" /></template
          ><template #c9="{ row: m }"><Num :value="m.nearest_m" :digits="2" /></template
          ><template #c10="{ row: m }"><Num :value="m.test_t" :digits="1" /></template
        ></FigureTable>
      </div>
    </SplitBench>
    <p v-else class="soft" style="padding: 24px">
      Residuals appear here once heights are checked. A cloud with ground and a list of marks are needed.
    </p>
    <template #sheet>
      <OutOfDate v-if="chosen" :dataset="chosen" />
      <ProveSheet
        v-if="chosen && figures"
        :dataset="chosen"
        :figures="figures"
        :selected="selected"
        :can-edit="!!selected && listOf(selected.name) !== undefined"
        @leave-out="leaveOut"
      />
      <h2 v-if="chosen" class="spaced">Settings</h2>
      <el-form novalidate label-position="top" class="spaced" @submit.prevent="start">
        <DatasetChoice v-model="cloud" label="Cloud" :datasets="clouds" />
        <DatasetChoice v-model="lists" label="Marks" several :datasets="store.ofKind('marks')" />
        <p class="soft">Only marks with the role check enter the statistics.</p>
        <el-button type="primary" native-type="submit" :disabled="!cloud || lists.length === 0">{{
          chosen ? 'Check again' : 'Check heights'
        }}</el-button>
      </el-form>
      <TrailList v-if="chosen" :dataset="chosen" />
      <DiscardButton v-if="chosen" :dataset="chosen" label="Discard this check" />
    </template>
  </StageLayout>
</template>

<style scoped>
.top {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 270px;
  border-bottom: 1px solid var(--line);
}
.mapbox {
  position: relative;
}
.side {
  border-left: 1px solid var(--line);
  padding: 8px 10px;
}
.rows {
  overflow: auto;
}
.rows :deep(td),
.rows :deep(th) {
  padding-left: 5px;
  padding-right: 5px;
}
.chip {
  display: inline-block;
  width: 9px;
  height: 9px;
  margin-right: 5px;
  border: 1px solid #0002;
}
tr {
  cursor: pointer;
}
tr.chosen td {
  background: var(--reed-soft);
  font-weight: 600;
}
.cover :deep(td),
.cover :deep(th) {
  padding: 2px 4px;
  font-size: 12px;
}
</style>
