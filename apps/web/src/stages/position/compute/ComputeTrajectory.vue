<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue';
import { type DatasetOf } from '@longheron/contract/api';
import { useProject } from '../../../stores/project';
import DatasetChoice from '../../../ui/DatasetChoice.vue';
import GnssOptions, { type GnssOptionsForm } from './GnssOptions.vue';
import { parseAngle } from '@longheron/core/frames';
import { inertialDefaults } from '@longheron/core/inertial';
import { mountingFor, overlapShare, platformOf, recorded } from '../receivers';
import BasePosition, { verticalOf, type BasePositionForm } from './BasePosition.vue';
import BaseChoice from './BaseChoice.vue';
import InertialChoice, { type InertialForm } from './InertialChoice.vue';
import TrailList from '../../../ui/TrailList.vue';
import { useBench } from '../bench';

/** Chooses rover, base, navigation and inertial data, and computes the trajectory. */
const props = defineProps<{ dataset?: DatasetOf<'trajectory'> }>();
const store = useProject();
const { sky } = useBench();
const observations = computed(() => store.ofKind('gnss-observations'));
const navigations = computed(() => store.ofKind('gnss-navigation'));
const precise = computed(() => store.ofKind('gnss-orbits'));
const calibrations = computed(() => store.ofKind('gnss-antennas'));
const units = computed(() => store.ofKind('inertial'));
const mountings = computed(() => store.ofKind('mounting'));
/** The computed trajectory that is looked at: what is computed again. */
const target = computed(() =>
  props.dataset?.stage === 'position' && !props.dataset.revision.content.joined ? props.dataset : undefined,
);
const form = ref({
  rover: 0,
  base: 0,
  navigation: [] as number[],
  orbits: [] as number[],
  calibrations: [] as number[],
});
const options = ref<GnssOptionsForm>({
  ...{ maskDeg: 10, systems: 'GE', frequencies: 'both', direction: 'both', leftOut: [], span: null },
});
const position = ref<BasePositionForm>({
  from: 'header',
  latitude: '',
  longitude: '',
  heightM: undefined,
  marks: 0,
  mark: '',
  frame: 'ETRS89',
  epoch: 2026.46,
  heightKind: 'ellipsoidal',
  antennaFrom: 'header',
  antennaHeightM: undefined,
  slantM: undefined,
  rimRadiusM: 0.17,
  rimAboveM: 0.04,
});
const unit = ref<InertialForm>({
  inertial: 0,
  mounting: 0,
  platform: 'vehicle',
  headingFrom: 'found',
  headingDeg: 0,
  leverArmSdMm: 3,
  standstill: true,
  noSlip: true,
});
watch(
  () => store.datasets,
  () => {
    // the receiver that observes more often is the one that moves
    const byRate = [...observations.value].sort((a, b) => (recorded(b)?.rateHz ?? 0) - (recorded(a)?.rateHz ?? 0));
    form.value.rover ||= byRate[0]?.id ?? 0;
    unit.value.mounting ||= mountings.value[0]?.id ?? 0;
  },
  { immediate: true },
);
/** What is taken in is meant to be used; what a person takes out stays out until something new arrives. */
for (const [role, list] of [
  ['navigation', navigations],
  ['calibrations', calibrations],
] as const)
  watch(
    () => list.value.map((d) => d.id).join(),
    () => (form.value[role] = list.value.map((d) => d.id)),
    { immediate: true },
  );
/** The inertial data of the rover's time, if any. */
watch(
  () => form.value.rover,
  (id) => {
    const rover = observations.value.find((d) => d.id === id);
    const found = rover && units.value.find((u) => overlapShare(recorded(rover), recorded(u)) > 0.5);
    unit.value.inertial = found?.id ?? 0;
    if (!found) return;
    unit.value.mounting = mountingFor(mountings.value, found.name);
    const platform = platformOf(found.name);
    const { standstill, noSlip } = inertialDefaults(platform);
    Object.assign(unit.value, { platform, standstill, noSlip });
  },
  { immediate: true },
);
/** What a trajectory was computed with stands in the form, to be changed. */
function fillFrom(dataset: DatasetOf<'trajectory'> | undefined): void {
  const made = dataset && store.runs.find((r) => r.operation === 'position' && r.outputs.includes(dataset.id));
  if (!made || !dataset) return;
  const ids = (role: string) => dataset.revision.inputs.filter((i) => i.role === role).map((i) => i.datasetId);
  const s = made.settings as Record<string, never>;
  form.value = {
    ...{ rover: ids('rover')[0] ?? 0, base: ids('base')[0] ?? 0, navigation: ids('navigation') },
    ...{ orbits: ids('orbits'), calibrations: ids('calibrations') },
  };
  options.value = {
    ...{ maskDeg: s.maskDeg ?? 10, systems: s.systems ?? 'GE', frequencies: s.frequencies ?? 'both' },
    ...{ direction: s.direction ?? 'both', leftOut: s.leftOut ?? [] },
    span: s.startGps === undefined || s.endGps === undefined ? null : [s.startGps, s.endGps],
  };
  const typed = s.baseLatDeg !== undefined;
  position.value = {
    ...position.value,
    from: ids('baseMarks').length ? 'mark' : s.baseMean ? 'mean' : typed ? 'typed' : 'header',
    ...(typed ? { latitude: String(s.baseLatDeg), longitude: String(s.baseLonDeg), heightM: s.baseHEllM } : {}),
    heightKind: s.baseHeightKind ?? 'ellipsoidal',
    ...{ marks: ids('baseMarks')[0] ?? 0, mark: s.baseMark ?? '', frame: s.baseFrame ?? 'ETRS89' },
    epoch: s.baseEpoch ?? position.value.epoch,
    ...(s.antennaHeightM === undefined
      ? { antennaFrom: 'header' as const }
      : { antennaFrom: 'typed' as const, antennaHeightM: s.antennaHeightM }),
  };
  void nextTick(() => {
    unit.value = {
      ...unit.value,
      ...{ inertial: ids('inertial')[0] ?? 0, mounting: ids('antenna')[0] ?? unit.value.mounting },
      ...(s.platform ? { platform: s.platform, standstill: s.standstill ?? true, noSlip: s.noSlip ?? true } : {}),
      ...(s.headingDeg === undefined
        ? { headingFrom: 'found' as const }
        : { headingFrom: 'typed' as const, headingDeg: s.headingDeg }),
    };
  });
}
watch(
  () => target.value?.id,
  () => fillFrom(target.value),
  { immediate: true },
);
/** Share of the rover's span that the base covers. */
const cover = computed(() => {
  const of = (id: number) => observations.value.find((d) => d.id === id);
  const [rover, base] = [of(form.value.rover), of(form.value.base)];
  if (!rover || !base) return null;
  const [r, b] = [recorded(rover), recorded(base)];
  return Math.max(0, Math.min(r.endGps, b.endGps) - Math.max(r.startGps, b.startGps)) / (r.endGps - r.startGps);
});
/** The typed position, undefined while it cannot be read. */
const typedBase = computed(() => {
  const p = position.value;
  try {
    const [baseLatDeg, baseLonDeg] = [parseAngle(p.latitude, 'latitude'), parseAngle(p.longitude, 'longitude')];
    return typeof p.heightM === 'number' ? { baseLatDeg, baseLonDeg, baseHEllM: p.heightM } : undefined;
  } catch {
    return undefined;
  }
});
const message = computed(() => {
  const f = form.value;
  if (f.rover && f.rover === f.base) return 'Rover and base are the same file.';
  if (cover.value === 0) return 'Rover and base do not overlap in time.';
  const p = position.value;
  if (p.from === 'typed' && !typedBase.value) return 'Type latitude, longitude and height of the base.';
  if (p.from === 'mark' && !p.mark) return 'Choose the mark that the base stands on.';
  if (p.antennaFrom === 'typed' && typeof p.antennaHeightM !== 'number') return 'Type the height of the antenna.';
  if (p.antennaFrom === 'slant' && verticalOf(p) === null) return 'Type the slant height of the antenna.';
  if (unit.value.inertial && !unit.value.mounting) return 'Choose the mounting that goes with the inertial data.';
  return '';
});
const ready = computed(() => form.value.rover && form.value.base && form.value.navigation.length && !message.value);
function compute(again: boolean): void {
  const { rover, base, navigation, orbits, calibrations } = form.value;
  const { span, ...settings } = options.value;
  const p = position.value;
  const typed = {
    ...(p.from === 'typed' ? { ...typedBase.value, baseHeightKind: p.heightKind } : {}),
    ...(p.from === 'mean' ? { baseMean: true } : {}),
    ...(p.from === 'mark' ? { baseMark: p.mark } : {}),
    ...(p.from !== 'mark' && p.frame !== 'ETRS89' ? { baseFrame: p.frame, baseEpoch: p.epoch } : {}),
    ...(span ? { startGps: span[0], endGps: span[1] } : {}),
    ...(p.antennaFrom === 'typed' ? { antennaHeightM: p.antennaHeightM } : {}),
    ...(p.antennaFrom === 'slant' ? { antennaHeightM: verticalOf(p) } : {}),
  };
  const u = unit.value;
  const withUnit = u.inertial > 0;
  const inertial = {
    ...{ platform: u.platform, leverArmSdM: u.leverArmSdMm / 1000, standstill: u.standstill, noSlip: u.noSlip },
    ...(u.headingFrom === 'typed' ? { headingDeg: u.headingDeg } : {}),
  };
  void store.run(
    'position',
    {
      rover,
      base,
      navigation,
      orbits,
      calibrations,
      ...(p.from === 'mark' ? { baseMarks: p.marks } : {}),
      ...(withUnit ? { inertial: u.inertial, antenna: u.mounting } : {}),
    },
    { ...settings, ...typed, ...(withUnit ? inertial : {}) },
    again ? target.value?.id : undefined,
  );
}
</script>

<template>
  <h3>{{ target ? `Compute ${target.name} again` : 'Compute a trajectory from GNSS' }}</h3>
  <p v-if="observations.length < 2 || navigations.length === 0" class="soft">
    Needs the observations of a rover and of a base, and a navigation file, all RINEX: take them in, in the stage
    Gather.
  </p>
  <el-form v-else novalidate label-position="top" @submit.prevent="compute(!!target)">
    <DatasetChoice v-model="form.rover" label="Rover, the receiver that moves" name="Rover" :datasets="observations" />
    <BaseChoice
      v-model="form.base"
      :rover="observations.find((d) => d.id === form.rover)"
      :others="observations.filter((d) => d.id !== form.rover)"
    />
    <DatasetChoice v-model="form.navigation" label="Navigation" :datasets="navigations" several />
    <DatasetChoice
      v-if="precise.length"
      v-model="form.orbits"
      label="Precise orbits, instead of the broadcast ones"
      name="Precise orbits"
      :datasets="precise"
      several
      placeholder="none: broadcast orbits"
    />
    <DatasetChoice
      v-model="form.calibrations"
      label="Antenna calibrations"
      :datasets="calibrations"
      several
      :placeholder="calibrations.length ? 'none: phase centres are not applied' : 'no ANTEX file taken in yet'"
    />
    <BasePosition v-model="position" :base="observations.find((d) => d.id === form.base)" />
    <InertialChoice v-model="unit" :units="units" :mountings="mountings" />
    <GnssOptions v-model="options" :satellites="sky?.satellites ?? []" />
    <p v-if="message" class="state bad wrap">{{ message }}</p>
    <div class="row">
      <el-button type="primary" native-type="submit" :disabled="!ready">{{
        target ? 'Compute it again' : 'Compute the trajectory'
      }}</el-button>
      <el-button
        v-if="target"
        :disabled="!ready"
        title="Keeps this result and makes another beside it"
        @click="compute(false)"
        >Beside it</el-button
      >
    </div>
  </el-form>
  <TrailList v-if="dataset?.stage === 'position'" :dataset="dataset" />
</template>

<style scoped>
h3 {
  margin: 16px 0 4px;
}
.row {
  display: flex;
  margin: 8px 0;
}
.wrap {
  white-space: normal;
}
</style>
