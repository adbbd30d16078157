<script setup lang="ts">
import { computed, watch } from 'vue';
import { type DatasetDto, type DatasetOf } from '@longheron/contract/api';
import { type Given } from '@longheron/contract/declare';
import { OPERATIONS } from '@longheron/contract/operations';
import DatasetChoice from '../../../ui/DatasetChoice.vue';
import SettingsForm from '../../../ui/SettingsForm.vue';
import { platformSettings } from './platform';

/** Inertial data, mounting and what holds for the platform. */
export interface InertialForm {
  inertial: number;
  mounting: number;
}
const form = defineModel<InertialForm>({ required: true });
const settings = defineModel<Given>('settings', { required: true });
const props = defineProps<{ units: DatasetDto[]; mountings: Array<DatasetOf<'mounting'>> }>();
const { settings: schema } = OPERATIONS.position;
/** The antenna as the chosen mounting has it. */
const antenna = computed(
  () => props.mountings.find((d) => d.id === form.value.mounting)?.revision.content.mounting.gnss,
);
const arm = computed(() => antenna.value?.lever_arm_m);
watch(
  () => antenna.value?.lever_arm_sd_m,
  (sd) => sd && (settings.value = { ...settings.value, leverArmSdM: sd }),
);
// what a result was computed with without its having been said stands in the form too
watch(
  settings,
  (s) => {
    const sd = antenna.value?.lever_arm_sd_m;
    const { platform, ...usual } = platformSettings(String(s.platform ?? ''));
    const said = Object.entries(s).filter(([, v]) => v !== undefined && v !== null);
    const filled: Given = { platform, ...usual, ...(sd ? { leverArmSdM: sd } : {}), ...Object.fromEntries(said) };
    const missing = ['platform', 'standstill', 'noSlip', ...(sd ? ['leverArmSdM'] : [])];
    if (missing.some((key) => s[key] === undefined || s[key] === null)) settings.value = { ...s, ...filled };
  },
  { immediate: true },
);
/** As a person changes them: another platform moves in another way, and what holds for it is filled in. */
const changed = computed({
  get: () => settings.value,
  set: (s: Given) =>
    (settings.value = s.platform === settings.value.platform ? s : { ...s, ...platformSettings(String(s.platform)) }),
});
const typed = computed({
  get: () => typeof settings.value.headingDeg === 'number',
  set: (wanted: boolean) => (settings.value = { ...settings.value, headingDeg: wanted ? 0 : undefined }),
});
</script>

<template>
  <DatasetChoice
    v-model="form.inertial"
    label="Inertial data of the rover"
    name="Inertial data"
    :datasets="units"
    none="none: the antenna's positions alone"
  />
  <template v-if="form.inertial">
    <DatasetChoice
      v-model="form.mounting"
      label="Mounting, with the lever arm to the antenna"
      name="Mounting"
      :datasets="mountings"
    />
    <p v-if="arm" class="soft">
      Inertial unit to antenna: {{ arm.map((v) => v.toFixed(3)).join(', ') }} m (forward, right, down).
    </p>
    <p v-else-if="form.mounting" class="state bad wrap">This mounting does not say where the antenna is.</p>
    <SettingsForm
      v-model="changed"
      :schema="schema"
      :only="['platform', 'grade', 'leverArmSdM', 'standstill', 'noSlip']"
    />
    <el-radio-group v-model="typed" class="choices" aria-label="Heading at the start">
      <el-radio :value="false">Heading found from motion, or from Earth rotation</el-radio>
      <el-radio :value="true">Heading at the start typed</el-radio>
    </el-radio-group>
    <SettingsForm v-if="typed" v-model="settings" :schema="schema" :only="['headingDeg']" />
  </template>
</template>

<style scoped>
.choices {
  margin-bottom: 6px;
  display: grid;
}
.wrap {
  white-space: normal;
}
p {
  margin: 0 0 6px;
}
</style>
