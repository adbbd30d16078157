<script setup lang="ts">
import { ref, watch } from 'vue';
import { parseMounting } from '@longheron/core/frames';
import { type DatasetDto } from '@longheron/contract/api';
import { api } from '../../api/client';
import { useProject } from '../../stores/project';

interface Angles {
  roll: number;
  pitch: number;
  heading: number;
}
interface Sensor {
  lever_arm_m: [number, number, number];
  orientation_deg: Angles;
  boresight_deg: Angles;
  lever_arm_sd_m: number;
  boresight_sd_deg: number;
}
const props = defineProps<{ dataset: DatasetDto }>();
const store = useProject();
interface Antenna {
  lever_arm_m: [number, number, number];
  lever_arm_sd_m?: number;
}
const draft = ref<{ gnss?: Antenna; sensors: Record<string, Sensor> }>({ sensors: {} });
const error = ref('');
const dirty = ref(false);
watch(
  () => props.dataset.revision.id,
  () => {
    draft.value = structuredClone(props.dataset.revision.content.mounting as never);
    for (const s of Object.values(draft.value.sensors)) {
      s.orientation_deg ??= { roll: 0, pitch: 0, heading: 0 };
      s.boresight_deg ??= { roll: 0, pitch: 0, heading: 0 };
    }
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
const AXES = ['x', 'y', 'z'];
const ANGLES = ['roll', 'pitch', 'heading'] as const;
</script>

<template>
  <h3>Mounting</h3>
  <svg viewBox="0 0 260 96" class="axes" role="img" aria-label="Axes of the body frame: x forward, y right, z down">
    <path d="M70 52h92l22-10v-16l-26-6H92L76 28 62 36z" fill="#eef2f2" stroke="#53666d" />
    <circle cx="88" cy="54" r="8" fill="#fff" stroke="#53666d" />
    <circle cx="160" cy="54" r="8" fill="#fff" stroke="#53666d" />
    <g stroke="#0e5e66" stroke-width="2" fill="none">
      <path d="M128 20h66m-6-4l6 4-6 4" />
      <path d="M128 20v52m-4-6l4 6 4-6" />
      <path d="M128 20l-26 26m1-7l-1 7 7-1" />
    </g>
    <text x="198" y="24">x forward</text>
    <text x="134" y="84">z down</text>
    <text x="52" y="62">y right</text>
  </svg>
  <div v-if="draft.gnss" class="sensor">
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
      <span class="soft">SD (m, °)</span>
      <el-input-number
        v-model="s.lever_arm_sd_m"
        :aria-label="`${name} lever arm SD`"
        :min="0"
        :precision="4"
        :controls="false"
      />
      <el-input-number
        v-model="s.boresight_sd_deg"
        :aria-label="`${name} boresight SD`"
        :min="0"
        :precision="4"
        :controls="false"
      />
    </div>
  </div>
  <p class="soft">
    Columns: x, y, z from the inertial reference point (of the antenna: to its reference point); roll, pitch, heading.
    Deviations are 1 SD.
  </p>
  <p v-if="error" class="state bad">{{ error }}</p>
  <el-button type="primary" :disabled="!dirty" @click="save">Change the mounting</el-button>
</template>

<style scoped>
h3 {
  margin: 16px 0 4px;
}
.axes {
  width: 100%;
}
.axes text {
  font: 11px var(--sans);
  fill: var(--ink);
}
.sensor {
  margin-bottom: 10px;
}
.grid {
  display: grid;
  grid-template-columns: 78px repeat(3, 1fr);
  gap: 4px;
  align-items: center;
  font-size: 12px;
}
.grid :deep(.el-input-number) {
  width: 100%;
}
.grid :deep(.el-input__wrapper) {
  padding: 0 4px;
}
.grid :deep(input) {
  font-family: var(--mono);
  text-align: right;
  font-size: 11.5px;
}
.grid > span {
  grid-column: 1;
}
</style>
