<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { parseMounting, type MountingJson, type SensorJson } from '@longheron/core/frames';
import { type DatasetOf } from '@longheron/contract/api';
import { api } from '../../../api/client';
import { useProject } from '../../../stores/project';
import MountingLibrary from './MountingLibrary.vue';
import PlatformDrawing from './PlatformDrawing.vue';

interface Angles {
  roll: number;
  pitch: number;
  heading: number;
}
/** As in the file, with its angles there to be typed into. */
type Sensor = Omit<SensorJson, 'calibrated_on' | 'serviced_on' | 'boresight_sd_deg'> & {
  orientation_deg: Angles;
  boresight_deg: Angles;
  boresight_sd_deg: Angles;
  calibrated_on?: string | null;
  serviced_on?: string | null;
};
const props = defineProps<{ dataset: DatasetOf<'mounting'> }>();
const store = useProject();
const draft = ref<{ gnss?: MountingJson['gnss']; sensors: Record<string, Sensor> }>({ sensors: {} });
const error = ref('');
const dirty = ref(false);
watch(
  () => props.dataset.revision.id,
  () => {
    const { sensors, ...rest } = structuredClone(props.dataset.revision.content.mounting);
    const level = () => ({ roll: 0, pitch: 0, heading: 0 });
    const each = (sd: SensorJson['boresight_sd_deg'] = 0) =>
      typeof sd === 'number' ? { roll: sd, pitch: sd, heading: sd } : sd;
    const whole = ([name, s]: [string, SensorJson]): [string, Sensor] => {
      const { lever_arm_m: arm } = s;
      return [
        name,
        {
          ...s,
          lever_arm_m: arm,
          orientation_deg: s.orientation_deg ?? level(),
          boresight_deg: s.boresight_deg ?? level(),
          boresight_sd_deg: each(s.boresight_sd_deg),
        },
      ];
    };
    draft.value = { ...rest, sensors: Object.fromEntries(Object.entries(sensors).map(whole)) };
    dirty.value = false;
  },
  { immediate: true },
);
watch(draft, () => (dirty.value = true), { deep: true, flush: 'sync' });
watch(
  () => props.dataset.revision.id,
  () => (dirty.value = false),
  { flush: 'post' },
);

async function save(): Promise<void> {
  try {
    parseMounting(structuredClone(JSON.parse(JSON.stringify(draft.value))));
    error.value = '';
  } catch (e) {
    error.value = (e as Error).message;
    return;
  }
  if (
    await store.attempt(
      () => api.put(`/projects/${store.project!.id}/datasets/${props.dataset.id}/mounting`, { mounting: draft.value }),
      'The mounting is changed; what was made with it is out of date.',
    )
  )
    dirty.value = false;
}
/** The mounting as it stands in the form; undefined while something in it makes no sense. */
const drawn = computed(() => {
  try {
    return parseMounting(JSON.parse(JSON.stringify(draft.value)));
  } catch {
    return undefined;
  }
});
const AXES = ['x', 'y', 'z'];
const ANGLES = ['roll', 'pitch', 'heading'] as const;
</script>

<template>
  <h3>Mounting</h3>
  <PlatformDrawing v-if="drawn" :mounting="drawn" />
  <div v-if="draft.gnss?.lever_arm_m" class="sensor">
    <strong>GNSS antenna</strong>
    <div class="grid">
      <span class="soft">Lever arm, m</span>
      <el-input-number
        v-for="(a, i) in AXES"
        :key="a"
        v-model="draft.gnss.lever_arm_m[i]"
        :aria-label="`Antenna lever arm ${a}`"
        :step="0.001"
        :precision="4"
        :controls="false"
      />
      <span class="soft">SD, m</span>
      <el-input-number
        v-model="draft.gnss.lever_arm_sd_m"
        aria-label="Antenna lever arm SD"
        :min="0"
        :precision="4"
        :controls="false"
      />
    </div>
  </div>
  <el-button v-else size="small" @click="draft.gnss = { lever_arm_m: [0, 0, 0], lever_arm_sd_m: 0.01 }"
    >Add the GNSS antenna</el-button
  >
  <div v-for="(s, name) in draft.sensors" :key="name" class="sensor">
    <strong>{{ name }}</strong>
    <div class="grid">
      <span class="soft">Lever arm, m</span>
      <el-input-number
        v-for="(a, i) in AXES"
        :key="a"
        v-model="s.lever_arm_m[i]"
        :aria-label="`${name} lever arm ${a}`"
        :step="0.001"
        :precision="4"
        :controls="false"
      />
      <span class="soft">Orientation, °</span>
      <el-input-number
        v-for="a in ANGLES"
        :key="a"
        v-model="s.orientation_deg[a]"
        :aria-label="`${name} orientation ${a}`"
        :precision="3"
        :controls="false"
      />
      <span class="soft">Boresight, °</span>
      <el-input-number
        v-for="a in ANGLES"
        :key="a"
        v-model="s.boresight_deg[a]"
        :aria-label="`${name} boresight ${a}`"
        :step="0.001"
        :precision="4"
        :controls="false"
      />
      <span class="soft">Boresight SD, °</span>
      <el-input-number
        v-for="a in ANGLES"
        :key="a"
        v-model="s.boresight_sd_deg[a]"
        :aria-label="`${name} boresight SD ${a}`"
        :min="0"
        :step="0.001"
        :precision="4"
        :controls="false"
      />
      <span class="soft">Lever arm SD, m</span>
      <el-input-number
        v-model="s.lever_arm_sd_m"
        :aria-label="`${name} lever arm SD`"
        :min="0"
        :precision="4"
        :controls="false"
      />
      <template v-if="!s.camera">
        <span class="soft">Range offset, m</span>
        <el-input-number
          v-model="s.range_offset_m"
          :aria-label="`${name} range offset`"
          title="Added to every range"
          placeholder="none"
          :step="0.001"
          :precision="4"
          :controls="false"
        />
      </template>
    </div>
    <div v-if="s.camera" class="grid more">
      <span class="soft">Focal length, mm</span>
      <el-input-number
        v-model="s.camera.focal_length_mm"
        :aria-label="`${name} focal length, mm`"
        :min="0.1"
        :precision="2"
        :controls="false"
      />
      <span class="soft">Sensor size, mm</span>
      <el-input-number
        v-for="(side, i) in ['width', 'height']"
        :key="side"
        v-model="s.camera.sensor_mm[i]"
        :aria-label="`${name} sensor ${side}, mm`"
        :title="`Sensor ${side}`"
        :min="0.1"
        :precision="2"
        :controls="false"
      />
      <span class="soft">It looks</span>
      <el-select v-model="s.camera.looks" :aria-label="`${name} looks`" size="small" class="wide"
        ><el-option value="down" label="down, z axis" /><el-option value="forward" label="forward, x axis"
      /></el-select>
    </div>
    <el-button
      v-else-if="/cam/i.test(String(name))"
      size="small"
      @click="s.camera = { focal_length_mm: 35, sensor_mm: [36, 24], looks: 'down' }"
      >Add its camera</el-button
    >
    <div class="grid days">
      <span class="soft">Serial no.</span>
      <el-input v-model="s.serial" :aria-label="`${name} serial number`" maxlength="60" />
      <span class="soft">Calibrated</span>
      <el-date-picker
        v-model="s.calibrated_on"
        type="date"
        value-format="YYYY-MM-DD"
        :aria-label="`${name} calibrated on`"
      />
      <span class="soft">Serviced</span>
      <el-date-picker
        v-model="s.serviced_on"
        type="date"
        value-format="YYYY-MM-DD"
        :aria-label="`${name} serviced on`"
      />
    </div>
  </div>
  <p class="soft">
    Columns: x, y, z from the inertial reference point (of the antenna: to its reference point); roll, pitch, heading.
    SD is one standard deviation.
  </p>
  <p v-if="error" class="state bad">{{ error }}</p>
  <el-button type="primary" :disabled="!dirty" @click="save">Change the mounting</el-button>
  <MountingLibrary :dataset="dataset" :dirty="dirty" />
</template>

<style scoped>
.sensor {
  margin-bottom: 10px;
}
.grid {
  display: grid;
  grid-template-columns: 92px repeat(3, 1fr);
  gap: 4px;
  align-items: center;
  font-size: 12px;
}
.grid :deep(.el-input-number) {
  width: 100%;
}
.grid :deep(.el-input__wrapper) {
  padding: 0 2px;
}
.grid :deep(input) {
  font-family: var(--mono);
  text-align: right;
  font-size: 12px;
}
.more {
  margin-top: 4px;
}
.wide {
  grid-column: 2 / 5;
}
.days {
  grid-template-columns: 92px 1fr;
  margin-top: 4px;
}
.days :deep(input) {
  text-align: left;
  padding-left: 4px;
}
.days :deep(.el-date-editor) {
  width: 100%;
  height: 24px;
}
.grid > span {
  grid-column: 1;
}
</style>
