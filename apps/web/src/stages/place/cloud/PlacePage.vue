<script setup lang="ts">
import { computed, ref, watch, watchEffect } from 'vue';
import { useLocalStorage } from '@vueuse/core';
import { type DatasetOf } from '@longheron/contract/api';
import { pictureOf } from '../../../map/picture';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import AgainButtons from '../../../ui/AgainButtons.vue';
import DatasetChoice from '../../../ui/DatasetChoice.vue';
import DatasetCard from '../../../ui/DatasetCard.vue';
import Fold from '../../../ui/Fold.vue';
import Num from '../../../ui/Num.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import StageLayout from '../../StageLayout.vue';
import TrailList from '../../../ui/TrailList.vue';
import CloudBench from '../../CloudBench.vue';
import { useMapData } from '../../mapData';
import DiscardButton from '../../../ui/DiscardButton.vue';
import PlatformChoice from './PlatformChoice.vue';
import Readiness from './Readiness.vue';
import { mountingFor, returnsOf } from '../session';
import { useChosen } from '../../address';
import { useSettings } from '../../../ui/settings';
import SettingsForm from '../../../ui/SettingsForm.vue';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';
import FigureTable from '../../../ui/FigureTable.vue';

const store = useProject();
const view = useView();
const form = ref({ trajectory: 0, returns: [] as number[], mounting: 0 });
const { path, marks, preview } = useMapData(() =>
  store.ofKind('trajectory').find((d) => d.id === form.value.trajectory),
);
const clouds = computed(() => store.ofKind('point-cloud', 'place'));
const { chosen: cloud, choose } = useChosen(
  () => clouds.value,
  () => clouds.value.at(-1),
);
const placedOf = (d: DatasetOf<'point-cloud'> | undefined) => {
  const f = d?.revision.content.figures;
  return f && 'points_out' in f ? f : undefined;
};
const figures = computed(() => placedOf(cloud.value));
const { declaration, settings } = useSettings('place', () => cloud.value);
const STRIPS = ['minLengthM', 'turnDegPerS', 'targetPerM2'];
const LIMITS = Object.keys(declaration.settings).filter((key) => !STRIPS.includes(key));
const inputs = (role: string) => cloud.value?.revision.inputs.filter((i) => i.role === role).map((i) => i.datasetId);
/** What the shown cloud was made of; for a first one what was recorded together. */
watch(
  () => [store.datasets.length, cloud.value?.id, cloud.value?.revision.id],
  () => {
    const trajectory = inputs('trajectory')?.[0] ?? (form.value.trajectory || store.trajectory()?.id || 0);
    const given = inputs('returns');
    const returns = given?.length ? given : returnsOf(store, trajectory);
    const mounting = inputs('mounting')?.[0] ?? mountingFor(store, returns, form.value.mounting);
    form.value = { trajectory, returns, mounting };
  },
  { immediate: true },
);
/** Another trajectory brings the returns of its time, and the mounting that knows them. */
function sessionOf(trajectory: number): void {
  const returns = returnsOf(store, trajectory);
  form.value = { trajectory, returns, mounting: mountingFor(store, returns, form.value.mounting) };
}
const ready = computed(
  () => form.value.trajectory && form.value.mounting && form.value.returns.length > 0 && store.project?.reference,
);
const make = (over: boolean) =>
  store.run(
    'place',
    { trajectory: form.value.trajectory, returns: form.value.returns, mounting: form.value.mounting },
    settings.value,
    over ? cloud.value?.id : undefined,
  );
const weekStart = computed(() => (preview.value ? Math.floor(preview.value.startGps / 604800) * 604800 : 0));
const brush = (from: number, to: number) => (view.brush = [weekStart.value + from, weekStart.value + to]);
watchEffect(() => (view.active = cloud.value?.id ?? null));
/** Which revision of which trajectory the cloud was made with. */
const madeWith = computed(() => {
  const i = cloud.value?.revision.inputs.find((x) => x.role === 'trajectory');
  const d = store.datasets.find((x) => x.id === i?.datasetId);
  if (!i || !d) return 'unknown';
  return d.revision.id === i.revisionId
    ? `${d.name}, revision ${d.revision.number}`
    : `an earlier revision of ${d.name}`;
});
const density = computed(() => cloud.value?.revision.content.density);
const showDensity = useLocalStorage('longheron.showDensity', false);
const picture = computed(() => {
  const d = density.value;
  if (!d || !showDensity.value) return null;
  return pictureOf(d.picture, d.layout);
});
/** Times of the strips, GPS seconds: the rest of the path is drawn grey. */
const spans = computed(() =>
  figures.value?.strips.map((s): [number, number] => [weekStart.value + s.start_sow, weekStart.value + s.end_sow]),
);
const leftOutS = computed(() => (figures.value?.left_out ?? []).reduce((sum, s) => sum + s.end_sow - s.start_sow, 0));
const stripsS = computed(() => (figures.value?.strips ?? []).reduce((sum, s) => sum + s.end_sow - s.start_sow, 0));
/** Strips, and after them what was left out of them with its reason. */
const strips = computed(() => [
  ...(figures.value?.strips ?? []).map((s) => ({
    id: s.id as number | string,
    start: s.start_sow,
    end: s.end_sow,
    lengthM: s.length_m,
    points: s.points as number | null,
  })),
  ...(figures.value?.left_out ?? []).map((s) => ({
    id: s.reason as number | string,
    start: s.start_sow,
    end: s.end_sow,
    lengthM: s.length_m,
    points: null as number | null,
  })),
]);
</script>

<template>
  <StageLayout holdings-title="Clouds">
    <template #holdings>
      <DatasetCard
        v-for="d in clouds"
        :key="d.id"
        :dataset="d"
        :selected="d.id === cloud?.id"
        :figure="`${((placedOf(d)?.points_out ?? 0) / 1e6).toFixed(2)} million points`"
        @choose="choose(d)"
      />
      <p v-if="clouds.length === 0" class="soft">
        No cloud yet. Choose trajectory, returns and mounting in the sheet and make it.
      </p>
      <template v-if="figures">
        <h3>Strips</h3>
        <FigureTable
          name="strips"
          :columns="[
            { key: 'id', label: 'No.', value: (s) => s.id },
            { key: 'time', label: 'Time, s', right: true, value: (s) => s.end - s.start },
            { key: 'length', label: 'Long, m', right: true, value: (s) => s.lengthM },
            { key: 'points', label: 'Points', right: true, value: (s) => s.points },
          ]"
          :rows="strips"
          :row-key="(s) => s.start"
          :row-class="(s) => ({ out: s.points === null })"
          :row-title="(s) => (s.points === null ? `Left out: ${s.id}` : undefined)"
          pick
          @pick="(s) => brush(s.start, s.end)"
        >
          <template #time="{ row: s }"><Num :value="s.end - s.start" :digits="1" /></template>
          <template #length="{ row: s }"><Num :value="s.lengthM" /></template>
          <template #points="{ row: s }"
            ><Num v-if="s.points !== null" :value="s.points" /><template v-else>left out</template></template
          >
        </FigureTable>
        <p class="soft" style="margin-top: 4px">
          A click brushes the strip's time. <Num :value="stripsS" unit="s" /> in strips,
          <Num :value="leftOutS" unit="s" /> left out (grey in plan).
        </p>
      </template>
    </template>
    <CloudBench storage-key="place" :dataset="cloud" :path="path" :spans="spans" :marks="marks" :picture="picture" />
    <template #sheet>
      <h2>Make the cloud</h2>
      <OutOfDate v-if="cloud" :dataset="cloud" />
      <Readiness
        :returns="store.ofKind('laser-returns').filter((d) => form.returns.includes(d.id))"
        :trajectory="store.datasets.find((d) => d.id === form.trajectory)"
        :mounting="store.ofKind('mounting').find((d) => d.id === form.mounting)"
      />
      <el-form novalidate label-position="top" @submit.prevent="make(!!cloud)">
        <DatasetChoice
          :model-value="form.trajectory"
          label="Trajectory"
          :datasets="store.ofKind('trajectory')"
          @update:model-value="sessionOf($event as number)"
        />
        <DatasetChoice v-model="form.returns" label="Laser returns" several :datasets="store.ofKind('laser-returns')" />
        <DatasetChoice
          v-model="form.mounting"
          label="Mounting (edited in Gather)"
          :datasets="store.ofKind('mounting')"
        />
        <PlatformChoice v-model="settings" />
        <SettingsForm v-model="settings" :schema="declaration.settings" :only="STRIPS" />
        <Fold heading="Limits of returns">
          <p class="soft">
            What lies outside is rejected, not dropped: it can be looked at alone and taken back. 0 sets no limit.
          </p>
          <SettingsForm v-model="settings" :schema="declaration.settings" :only="LIMITS" />
        </Fold>
        <AgainButtons
          first="Make the cloud"
          again="Make the cloud again"
          :there="!!cloud"
          :able="!!ready"
          @beside="make(false)"
        />
      </el-form>
      <template v-if="cloud && figures">
        <h3>Result</h3>
        <FactList>
          <Fact label="Returns"><Num :value="figures.points_in" /></Fact>
          <Fact label="Placed"><Num :value="figures.points_out" /></Fact>
          <Fact label="Outside the trajectory"><Num :value="figures.points_outside_trajectory" /></Fact>
          <Fact
            v-if="figures.points_rejected !== undefined"
            label="Rejected by limits"
            hint="By range, by intensity, by direction"
          >
            <Num :value="figures.points_rejected" />: <Num :value="figures.rejected_by_range" />,
            <Num :value="figures.rejected_by_intensity" />, <Num :value="figures.rejected_by_azimuth" />
          </Fact>
          <Fact label="Outside strips"><Num :value="figures.points_outside_strips" /></Fact>
          <Fact label="Stated precision E, N, H (1 SD)">
            <Num :value="100 * figures.sd_e_m" :digits="1" />, <Num :value="100 * figures.sd_n_m" :digits="1" />,
            <Num :value="100 * figures.sd_h_m" :digits="1" unit="cm" />
          </Fact>
          <Fact label="Trajectory in use">{{ madeWith }}</Fact>
          <Fact label="System"
            ><span class="mono">{{ cloud.revision.content.crs }}</span></Fact
          >
        </FactList>
        <p><a :href="`/api/projects/${store.project!.id}/datasets/${cloud.id}/export/las`">Download as LAS 1.4</a></p>
        <template v-if="density">
          <h3>Density and coverage</h3>
          <p>
            Median <Num :value="density.medianPerM2" unit="points/m²" />;
            <Num :value="100 * density.belowShare" :digits="0" unit="%" /> of the
            <Num :value="density.coveredM2" unit="m²" /> with points hold fewer than {{ density.targetPerM2 }}.
          </p>
          <el-checkbox v-model="showDensity" label="Show it in plan" />
        </template>
        <TrailList :dataset="cloud" />
        <DiscardButton :dataset="cloud" label="Discard this cloud" />
      </template>
    </template>
  </StageLayout>
</template>

<style scoped>
.link {
  cursor: pointer;
}
.link:hover td {
  background: var(--reed-soft);
}
:deep(.out td) {
  color: var(--ink-soft);
}
table.figures td,
table.figures th {
  padding: 2px 4px;
  font-size: 12px;
}
</style>
