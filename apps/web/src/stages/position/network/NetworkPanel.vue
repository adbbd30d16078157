<script setup lang="ts">
import { computed, onBeforeUnmount, ref, watch, watchEffect } from 'vue';
import { type Mark } from '@longheron/core/accuracy';
import { type DatasetDto, factsOf } from '@longheron/contract/api';
import { useBench } from '../bench';
import { useProject } from '../../../stores/project';
import DatasetChoice from '../../../ui/DatasetChoice.vue';
import DiscardButton from '../../../ui/DiscardButton.vue';
import NumberField from '../../../ui/NumberField.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import TrailList from '../../../ui/TrailList.vue';
import { markerOf, networkOf, networkShapes, seemAtRest } from './network';
import NetworkFigures from './NetworkFigures.vue';
import StationsNearby from '../compute/StationsNearby.vue';
import FigureTable from '../../../ui/FigureTable.vue';

/** Coordinates of a base, or of marks, from recordings at rest: static vectors, adjusted. */
const { shapes } = useBench();
onBeforeUnmount(() => (shapes.value = []));
const store = useProject();
const results = computed(() => store.ofKind('marks', 'position').filter((d) => d.revision.content.network));
const result = computed(() => results.value.at(-1));
const network = computed(() => networkOf(result.value));
const drawn = computed(() => (network.value ? networkShapes(network.value) : { shapes: [], scale: 1 }));
watchEffect(() => (shapes.value = drawn.value.shapes));

const recordings = computed(() => store.ofKind('gnss-observations').filter(markerOf));
const measurements = computed(() => store.ofKind('measurements'));
const marks = computed(() =>
  store
    .ofKind('marks', 'gather')
    .flatMap((d) => (d.revision.content.marks as Mark[] | undefined) ?? [])
    .filter((m) => !m.leftOutReason),
);
const rovers = computed(
  () =>
    new Set(
      store
        .ofKind('trajectory')
        .flatMap((d) => d.revision.inputs.filter((i) => i.role === 'rover').map((i) => i.datasetId)),
    ),
);
const atRest = computed(() => seemAtRest(recordings.value, rovers.value));
const FIND = 'find';
/** By recording: whether it takes part, and what its point is held by. */
const chosen = ref<Record<number, boolean>>({});
const heldBy = ref<Record<string, string>>({});
const form = ref({ measured: 0, sdPlanMm: 2, sdHeightMm: 4 });
const offered = new Set<number>();
watch(
  () => recordings.value.map((d) => d.id).join(),
  () => {
    const still = new Set(atRest.value.map((d) => d.id));
    for (const d of recordings.value) {
      if (offered.has(d.id)) continue;
      offered.add(d.id);
      chosen.value[d.id] = still.has(d.id);
      if (still.has(d.id)) heldBy.value[markerOf(d)] ??= standsApart(d) ? 'header' : FIND;
    }
  },
  { immediate: true },
);
watch(
  () => measurements.value.length,
  (n, before) => n && !before && (form.value.measured = measurements.value[0].id),
  { immediate: true },
);
/** A receiver far from the session is a station whose header states surveyed coordinates; one's own is to be found. */
const APART_M = 1500;
function standsApart(d: DatasetDto): boolean {
  const place = (r: DatasetDto) => factsOf(r)?.extent?.min;
  const here = place(d);
  const moving = recordings.value.filter((r) => !atRest.value.includes(r));
  const [other] = (moving.length ? moving : recordings.value.filter((r) => r !== d)).map(place);
  if (!here || !other) return false;
  const east = (here[0] - other[0]) * Math.cos((here[1] * Math.PI) / 180);
  return 111_320 * Math.hypot(east, here[1] - other[1]) > APART_M;
}
const used = computed(() => recordings.value.filter((d) => chosen.value[d.id]));
const points = computed(() => [...new Set(used.value.map(markerOf))]);
const held = computed(() => points.value.filter((p) => (heldBy.value[p] ?? FIND) !== FIND));
const why = computed(() => {
  if (used.value.length < 2) return 'Choose at least two recordings of receivers at rest.';
  if (points.value.length < 2) return 'All chosen recordings are of one point.';
  if (held.value.length === 0) return 'Hold at least one point, better two that check each other.';
  if (held.value.length === points.value.length) return 'Nothing is to be found: every point is held.';
  return '';
});
function adjust(over: boolean): void {
  const ids = (kind: Parameters<typeof store.ofKind>[0]) => store.ofKind(kind).map((d) => d.id);
  const calibrations = ids('gnss-antennas');
  const orbits = ids('gnss-orbits');
  void store.run(
    'network',
    {
      recordings: used.value.map((d) => d.id),
      navigation: ids('gnss-navigation'),
      ...(calibrations.length ? { calibrations } : {}),
      ...(orbits.length ? { orbits } : {}),
      ...(form.value.measured ? { measured: form.value.measured } : {}),
      known: store.ofKind('marks', 'gather').map((d) => d.id),
    },
    {
      held: held.value.map((name) => ({
        name,
        sdPlanM: form.value.sdPlanMm / 1000,
        sdHeightM: form.value.sdHeightMm / 1000,
        ...(heldBy.value[name] === 'header' ? {} : { mark: heldBy.value[name] }),
      })),
    },
    over ? result.value?.id : undefined,
  );
}
</script>

<template>
  <h2>Network of static vectors</h2>
  <p v-if="!network" class="soft">
    Finds a base from stations around it, or marks from each other: a vector between each two receivers at rest, then
    all of them adjusted with what was taped and levelled.
  </p>
  <template v-if="network && result">
    <OutOfDate :dataset="result" />
    <NetworkFigures :network="network" :scale="drawn.scale" />
    <p>
      What was found stands among the marks of the project; choose it in Compute as the mark that the base stands on.
      <a :href="`/api/projects/${store.project!.id}/datasets/${result.id}/export/marks`">Marks as CSV</a>
    </p>
  </template>
  <h3>{{ result ? 'Adjust again' : 'Adjust a network' }}</h3>
  <el-form novalidate label-position="top" @submit.prevent="adjust(!!result)">
    <p v-if="recordings.length === 0" class="soft">
      No GNSS observations yet: take in those of the base, and fetch those of stations nearby.
    </p>
    <FigureTable
      v-else
      :columns="[
        { key: 'c0', label: 'Recording at rest' },
        { key: 'c1', label: 'Its point is' },
      ]"
      :rows="recordings"
      :row-key="(d) => d.id"
      :row-class="(d) => ({ dim: !chosen[d.id] })"
      ><template #c0="{ row: d }">
        <el-checkbox v-model="chosen[d.id]" :title="d.name" :aria-label="`Use ${d.name}`"
          ><b>{{ markerOf(d) }}</b> <span class="soft">{{ d.name }}</span></el-checkbox
        > </template
      ><template #c1="{ row: d }">
        <el-select v-if="chosen[d.id]" v-model="heldBy[markerOf(d)]" size="small" :aria-label="`What ${markerOf(d)} is`"
          ><el-option :value="FIND" label="to be found" /><el-option value="header" label="held, header" /><el-option
            v-for="m in marks"
            :key="m.name"
            :value="m.name"
            :label="`held, mark ${m.name}`"
        /></el-select> </template
    ></FigureTable>
    <StationsNearby :session="used[0] ?? recordings[0]" />
    <NumberField
      v-model="form.sdPlanMm"
      label="Held points, 1 SD of plan, mm"
      name="SD of held points in plan, mm"
      :min="0"
      :digits="1"
    />
    <NumberField
      v-model="form.sdHeightMm"
      label="and of height, mm"
      name="SD of held points in height, mm"
      :min="0"
      :digits="1"
    />
    <DatasetChoice
      v-if="measurements.length"
      v-model="form.measured"
      label="Taped and levelled"
      :datasets="measurements"
      none="nothing"
    />
    <p v-if="why" class="soft">{{ why }}</p>
    <div class="row">
      <el-button type="primary" native-type="submit" :disabled="!!why">{{
        result ? 'Adjust again' : 'Adjust'
      }}</el-button>
      <el-button
        v-if="result"
        :disabled="!!why"
        title="Keeps this one and makes another beside it"
        @click="adjust(false)"
        >Beside it</el-button
      >
    </div>
  </el-form>
  <TrailList v-if="result" :dataset="result" />
  <DiscardButton v-if="result" :dataset="result" :label="`Discard ${result.name}`" />
</template>

<style scoped>
.figures {
  margin-bottom: 8px;
  width: 100%;
  table-layout: fixed;
}
.figures td,
.figures th {
  padding: 2px 3px;
  font-size: 12px;
}
.figures th:first-child {
  width: 56%;
}
.figures :deep(.el-checkbox) {
  width: 100%;
  height: 24px;
}
.figures :deep(.el-checkbox__label) {
  font-size: 12px;
  overflow: hidden;
  text-overflow: ellipsis;
}
.row {
  display: flex;
  margin: 8px 0;
}
.figures th {
  position: static;
}
</style>
