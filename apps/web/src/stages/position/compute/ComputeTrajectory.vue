<script setup lang="ts">
import { isBaseFrame, isPlate, isResultFrame } from '@longheron/contract/operations/position';
import { computed, nextTick, ref, watch } from 'vue';
import { type DatasetOf } from '@longheron/contract/api';
import { useProject } from '../../../stores/project';
import DatasetChoice from '../../../ui/DatasetChoice.vue';
import AgainButtons from '../../../ui/AgainButtons.vue';
import { useSettings } from '../../../ui/settings';
import GnssOptions from './GnssOptions.vue';
import { parseAngle } from '@longheron/core/frames';
import { mountingFor, overlapShare, platformOf, recorded } from '../receivers';
import BasePosition, { verticalOf, type BasePositionForm } from './BasePosition.vue';
import BaseChoice from './BaseChoice.vue';
import InertialChoice, { type InertialForm } from './InertialChoice.vue';
import { platformSettings } from './platform';
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
/** Settings as they were declared; those of the base come from its own form. */
const { settings } = useSettings('position', () => target.value);
/** What only inertial data need. */
const OF_UNIT = ['platform', 'grade', 'headingDeg', 'leverArmSdM', 'standstill', 'noSlip'];
const OF_BASE = /^(base|antennaHeight|frame$)/;
const position = ref<BasePositionForm>({
  from: 'header',
  latitude: '',
  longitude: '',
  heightM: undefined,
  marks: 0,
  mark: '',
  frame: 'ETRS89',
  epoch: 2026.46,
  resultFrame: 'EPSG:4937',
  plate: 'unknown',
  heightKind: 'ellipsoidal',
  antennaFrom: 'header',
  antennaHeightM: undefined,
  slantM: undefined,
  rimRadiusM: 0.17,
  rimAboveM: 0.04,
});
const unit = ref<InertialForm>({ inertial: 0, mounting: 0 });
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
    if (!target.value) settings.value = { ...settings.value, ...platformSettings(platformOf(found.name)) };
  },
  { immediate: true },
);
/** What a trajectory was computed from stands in the form, to be changed. */
watch(
  () => target.value?.revision.id,
  () => {
    const dataset = target.value;
    if (!dataset) return;
    const ids = (role: string) => dataset.revision.inputs.filter((i) => i.role === role).map((i) => i.datasetId);
    form.value = {
      rover: ids('rover')[0] ?? 0,
      base: ids('base')[0] ?? 0,
      navigation: ids('navigation'),
      orbits: ids('orbits'),
      calibrations: ids('calibrations'),
    };
    void nextTick(() => {
      unit.value = { inertial: ids('inertial')[0] ?? 0, mounting: ids('antenna')[0] ?? unit.value.mounting };
      position.value = { ...position.value, marks: ids('baseMarks')[0] ?? 0 };
    });
  },
  { immediate: true },
);
/** Where the base was, as the settings of the result say it. */
watch(settings, (s, before) => {
  const same = (key: string) => s[key] === before[key];
  if (
    Object.keys({ ...s, ...before })
      .filter((k) => OF_BASE.test(k))
      .every(same)
  )
    return;
  const typed = typeof s.baseLatDeg === 'number';
  const own = typeof s.antennaHeightM === 'number';
  position.value = {
    ...position.value,
    from: s.baseMark ? 'mark' : s.baseMean ? 'mean' : typed ? 'typed' : 'header',
    ...(typed ? { latitude: String(s.baseLatDeg), longitude: String(s.baseLonDeg), heightM: Number(s.baseHEllM) } : {}),
    heightKind: s.baseHeightKind === 'project' ? 'project' : 'ellipsoidal',
    mark: String(s.baseMark ?? ''),
    frame: isBaseFrame(s.baseFrame) ? s.baseFrame : 'ETRS89',
    epoch: typeof s.baseEpoch === 'number' ? s.baseEpoch : position.value.epoch,
    resultFrame: isResultFrame(s.frame) ? s.frame : 'EPSG:4937',
    plate: isPlate(s.basePlate) ? s.basePlate : 'unknown',
    antennaFrom: own ? 'typed' : 'header',
    antennaHeightM: own ? Number(s.antennaHeightM) : undefined,
  };
});
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
  const p = position.value;
  const typed = {
    ...(p.from === 'typed' ? { ...typedBase.value, baseHeightKind: p.heightKind } : {}),
    ...(p.from === 'mean' ? { baseMean: true } : {}),
    ...(p.from === 'mark' ? { baseMark: p.mark } : {}),
    ...(p.from !== 'mark' && p.frame !== 'ETRS89'
      ? { baseFrame: p.frame, baseEpoch: p.epoch, basePlate: p.plate }
      : {}),
    ...(p.resultFrame === 'EPSG:4937' ? {} : { frame: p.resultFrame }),
    ...(p.antennaFrom === 'typed' ? { antennaHeightM: p.antennaHeightM } : {}),
    ...(p.antennaFrom === 'slant' ? { antennaHeightM: verticalOf(p) } : {}),
  };
  const u = unit.value;
  const withUnit = u.inertial > 0;
  const rest = Object.entries(settings.value).filter(
    ([key]) => !OF_BASE.test(key) && (withUnit || !OF_UNIT.includes(key)),
  );
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
    { ...Object.fromEntries(rest), ...typed },
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
    <InertialChoice v-model="unit" v-model:settings="settings" :units="units" :mountings="mountings" />
    <GnssOptions v-model="settings" :satellites="sky?.satellites ?? []" />
    <p v-if="message" class="state bad wrap">{{ message }}</p>
    <AgainButtons
      first="Compute the trajectory"
      again="Compute it again"
      :there="!!target"
      :able="!!ready"
      @beside="compute(false)"
    />
  </el-form>
  <TrailList v-if="dataset?.stage === 'position'" :dataset="dataset" />
</template>

<style scoped>
.wrap {
  white-space: normal;
}
</style>
