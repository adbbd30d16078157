<script setup lang="ts">
import { computed, watch } from 'vue';
import { type Platform } from '@longheron/core/inertial';
import { type DatasetDto, type DatasetOf } from '@longheron/contract/api';
import DatasetChoice from '../../../ui/DatasetChoice.vue';
import Setting from '../../../ui/Setting.vue';

/** Inertial data, mounting and what holds for the platform. */
export interface InertialForm {
  inertial: number;
  mounting: number;
  platform: Platform;
  headingFrom: 'found' | 'typed';
  headingDeg: number;
  leverArmSdMm: number;
  standstill: boolean;
  noSlip: boolean;
}
const form = defineModel<InertialForm>({ required: true });
const props = defineProps<{ units: DatasetDto[]; mountings: Array<DatasetOf<'mounting'>> }>();
const NAMES: Record<Platform, string> = {
  vehicle: 'land vehicle',
  aircraft: 'aircraft',
  boat: 'boat',
  tripod: 'tripod',
};
/** The antenna as the chosen mounting has it. */
const antenna = computed(() => {
  const m = props.mountings.find((d) => d.id === form.value.mounting)?.revision.content.mounting;
  return m?.gnss;
});
const arm = computed(() => antenna.value?.lever_arm_m);
watch(
  () => antenna.value?.lever_arm_sd_m,
  (sd) => sd && (form.value.leverArmSdMm = 1000 * sd),
  { immediate: true },
);
function choose(platform: Platform): void {
  form.value.platform = platform;
  form.value.standstill = platform !== 'boat';
  form.value.noSlip = platform === 'vehicle';
}
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
    <el-form-item label="Platform"
      ><el-select :model-value="form.platform" aria-label="Platform" @update:model-value="choose"
        ><el-option v-for="(name, p) in NAMES" :key="p" :value="p" :label="name" /></el-select
    ></el-form-item>
    <Setting
      v-model="form.leverArmSdMm"
      label="Lever arm good to"
      unit="mm, 1 SD"
      :min="0.5"
      :max="500"
      :step="1"
      :digits="1"
      reason="It is estimated within this. As measured, not smaller: a wrong lever arm hides in it and shows in the figures."
    />
    <el-checkbox v-model="form.standstill" label="It stands still at times: no velocity then" />
    <el-checkbox v-model="form.noSlip" label="Wheels do not slip sideways" />
    <el-radio-group v-model="form.headingFrom" class="choices" aria-label="Heading at the start">
      <el-radio value="found">Heading found from motion, or the Earth's turn</el-radio>
      <el-radio value="typed">Heading at the start typed</el-radio>
    </el-radio-group>
    <Setting
      v-if="form.headingFrom === 'typed'"
      v-model="form.headingDeg"
      label="True heading at the start"
      unit="°"
      :min="-360"
      :max="360"
      :digits="2"
      reason="Clockwise from true north, of the unit's forward axis; good to about 2°."
    />
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
