<script setup lang="ts">
import { computed, watchEffect } from 'vue';
import { factsOf } from '@longheron/contract/api';
import { aroundPlaces } from '../../../map/around';
import MapView from '../../../map/MapView.vue';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import DatasetCard from '../../../ui/DatasetCard.vue';
import DiscardButton from '../../../ui/DiscardButton.vue';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';
import Num from '../../../ui/Num.vue';
import OperationForm from '../../../ui/OperationForm.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import TrailList from '../../../ui/TrailList.vue';
import { useChosen } from '../../address';
import { useMapData } from '../../mapData';
import SplitBench from '../../SplitBench.vue';
import StageLayout from '../../StageLayout.vue';
import HandOn from './HandOn.vue';
import { jobShapes, verdict } from './job';
import PackedFiles from './PackedFiles.vue';
import JobTables from './JobTables.vue';

/** Total-station jobs, adjusted: where the points lie, how sure they are, what contradicts. */
const store = useProject();
const view = useView();
const { marks } = useMapData();
const all = computed(() => store.ofKind('marks', 'position').filter((d) => d.revision.content.traverse));
const { chosen, choose } = useChosen(
  () => all.value,
  () => all.value.at(-1),
);
watchEffect(() => (view.active = chosen.value?.id ?? null));
const f = computed(() => chosen.value?.revision.content.traverse);
const said = computed(() => f.value && verdict(f.value));
const drawn = computed(() => (f.value ? jobShapes(f.value, view.hoveredMark) : { shapes: [], scale: 1 }));
const around = computed(
  () =>
    f.value &&
    aroundPlaces(
      f.value.points.map((p) => [p.easting_m, p.northing_m]),
      30,
    ),
);
/** The job that was adjusted, else the last one taken in. */
const job = computed(() => {
  const own = chosen.value?.revision.inputs.find((i) => i.role === 'job')?.datasetId;
  const jobs = store.ofKind('terrestrial-job', 'gather');
  return jobs.find((d) => d.id === own) ?? jobs.at(-1);
});
const reading = computed(() => {
  const details = (job.value && factsOf(job.value)?.details) ?? [];
  const at = details.findIndex(([k]) => k.endsWith('as written'));
  return at < 0 ? undefined : { of: details[at][0], written: details[at][1], understood: details[at + 1]?.[1] ?? '' };
});
const usual = computed(() => ({
  known: store
    .ofKind('marks', 'gather')
    .slice(0, 1)
    .map((d) => d.id),
}));
const seconds = (deg: number) => 3600 * deg;
</script>

<template>
  <StageLayout holdings-title="Adjusted jobs" tabs="sheet" own-needs>
    <template #holdings>
      <DatasetCard v-for="d in all" :key="d.id" :dataset="d" :selected="d.id === chosen?.id" @choose="choose(d)" />
      <p v-if="all.length === 0" class="soft">
        No total-station job was adjusted yet. It takes the job as LandXML, alone or as an archive with its scans and
        pictures, and the marks that it was tied to.
      </p>
    </template>
    <SplitBench storage-key="total-station" :upper-percent="56">
      <template #upper>
        <MapView :marks="marks" :shapes="drawn.shapes" :around="around">
          <template v-if="f" #key>
            <span>Ellipses of 1 SD, drawn {{ drawn.scale }} times as large; in red what fails</span>
          </template>
        </MapView>
      </template>
      <JobTables v-if="f" :figures="f" />
      <p v-else class="soft empty">Points, observations and traverses stand here once a job is adjusted.</p>
    </SplitBench>
    <template #sheet>
      <template v-if="chosen && f && said">
        <h2>{{ chosen.name }}</h2>
        <OutOfDate :dataset="chosen" />
        <p class="state" :class="said.state">{{ said.words }}</p>
        <ul v-if="f.rejected.length" class="found">
          <li v-for="r in f.rejected" :key="r.says">{{ r.says }}</li>
        </ul>
        <FactList>
          <Fact
            label="Sigma nought"
            :hint="`What most jobs have whose deviations are right: ${f.sigma0_expected?.map((v) => v.toFixed(2)).join(' to ')}`"
            ><Num :value="f.sigma0" :digits="2" /><span v-if="f.sigma0_expected" class="soft">
              of {{ f.sigma0_expected[0].toFixed(2) }} to {{ f.sigma0_expected[1].toFixed(2) }}</span
            ></Fact
          >
          <Fact label="Observations to spare"><Num :value="f.freedom" /></Fact>
          <Fact label="Angles, 1 SD" hint="Of one pointing in one face"
            ><Num :value="seconds(f.instrument.angle_sd_deg)" :digits="1" unit="″" /><span class="soft beside">{{
              { given: 'given', faces: 'by both faces', usual: 'usual' }[f.instrument.angle_sd_from]
            }}</span></Fact
          >
          <Fact label="Centring and heights, 1 SD"
            ><Num :value="1000 * f.instrument.place_sd_m" :digits="1" unit="mm" /><span class="soft beside">{{
              f.instrument.place_sd_from === 'given' ? 'given' : 'by residuals'
            }}</span></Fact
          >
          <Fact label="Collimation" hint="Found from both faces and taken out"
            ><Num :value="seconds(f.instrument.collimation_deg)" :digits="1" unit="″"
          /></Fact>
          <Fact label="Index error" hint="Of the vertical circle; found from both faces and taken out"
            ><Num :value="seconds(f.instrument.index_deg)" :digits="1" unit="″"
          /></Fact>
          <Fact label="Factor of the grid" hint="Grid lengths over lengths at the instruments; applied once"
            ><Num :value="f.applied.grid_factor[0]" :digits="6"
          /></Fact>
          <Fact label="Refraction"><Num :value="f.applied.refraction" :digits="2" /></Fact>
        </FactList>
        <p class="soft">
          The points stand among the marks of the project; roles are given there.
          <a :href="`/api/projects/${store.project!.id}/datasets/${chosen.id}/export/marks`">Points as CSV</a>
        </p>
        <DiscardButton :dataset="chosen" label="Discard the points" />
      </template>
      <h2 :class="{ spaced: chosen }">{{ chosen ? 'Adjust again' : 'Adjust a total-station job' }}</h2>
      <table v-if="reading" class="reading" :aria-label="reading.of">
        <caption class="soft">
          {{
            reading.of
          }}, and as understood
        </caption>
        <tbody>
          <tr v-for="(written, k) in reading.written.split(' · ')" :key="k">
            <th scope="row">{{ ['Circle', 'Zenith angle', 'Distance'][k] }}</th>
            <td class="mono">{{ written }}</td>
            <td class="mono">{{ reading.understood.split(' · ')[k] }}</td>
          </tr>
        </tbody>
      </table>
      <PackedFiles v-if="job" :job="job" />
      <OperationForm operation="traverse" :made="chosen" :usual-inputs="usual" />
      <HandOn v-if="job" :adjusted="chosen" :job="job" />
      <TrailList v-if="chosen" :dataset="chosen" />
    </template>
  </StageLayout>
</template>

<style scoped>
.spaced {
  margin-top: 16px;
}
.empty {
  padding: 12px;
}
.found {
  margin: 4px 0 8px;
  padding-left: 16px;
}
.reading {
  width: 100%;
  margin-bottom: 8px;
  padding: 4px 6px;
  background: var(--mist);
}
.reading caption {
  text-align: left;
}
.reading th {
  text-align: left;
  font-weight: 400;
}
.reading td {
  text-align: right;
}
.beside {
  margin-left: 5px;
}
.mono {
  font-family: var(--mono);
  font-size: 12px;
}
</style>
