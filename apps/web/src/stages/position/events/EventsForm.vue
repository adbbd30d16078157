<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { type DatasetOf } from '@longheron/contract/api';
import { SENSOR_ROLE } from '@longheron/contract/operations/events';
import { uploadText } from '../../../api/upload';
import { useProject } from '../../../stores/project';
import AgainButtons from '../../../ui/AgainButtons.vue';
import DatasetChoice from '../../../ui/DatasetChoice.vue';
import { useSettings } from '../../../ui/settings';
import SettingsForm from '../../../ui/SettingsForm.vue';
import { photoList } from './photos';

/** The form that positions events; settings are those of the result that is shown. */
const props = defineProps<{ result?: DatasetOf<'positions'> }>();
const store = useProject();
const { declaration, settings } = useSettings('events', () => props.result);
const { settings: schema } = declaration;
const lists = computed(() => store.ofKind('events'));
const photos = computed(() => store.ofKind('photos'));
const mountings = computed(() => store.ofKind('mounting'));
const form = ref({ events: 0, photos: 0, trajectory: 0, mounting: 0 });
const hasSensors = (d: DatasetOf<'mounting'>) => Object.keys(d.revision.content.mounting.sensors ?? {}).length > 0;
let offered = false;
/** What a result was made of; a mounting of which one sensor counts is kept under that sensor's role. */
const madeOf = (is: (role: string) => boolean) => props.result?.revision.inputs.find((i) => is(i.role))?.datasetId ?? 0;
watch(
  () => [store.datasets, props.result?.id] as const,
  (_now, before) => {
    const f = form.value;
    if (props.result && props.result.id !== before?.[1]) {
      for (const role of ['events', 'trajectory', 'photos'] as const) f[role] = madeOf((r) => r === role);
      f.mounting = madeOf((r) => r === 'mounting' || r.startsWith(SENSOR_ROLE));
      offered = true;
    }
    f.events ||= lists.value[0]?.id ?? 0;
    // proposed once: none is a choice of its own
    if (!offered && photos.value.length) f.photos = photos.value[0].id;
    offered ||= photos.value.length > 0;
    f.mounting ||= (mountings.value.find(hasSensors) ?? mountings.value[0])?.id ?? 0;
    f.trajectory ||= store.trajectory()?.id ?? 0;
  },
  { immediate: true },
);
const sensors = computed(
  () => mountings.value.find((d) => d.id === form.value.mounting)?.revision.content.mounting.sensors ?? {},
);
const sensor = computed({
  get: () => String(settings.value.sensor ?? ''),
  set: (name) => (settings.value = { ...settings.value, sensor: name || undefined }),
});
watch(
  () => Object.keys(sensors.value).join(),
  () => {
    if (!props.result) sensor.value ||= Object.keys(sensors.value).find((s) => /cam/i.test(s)) ?? '';
  },
  { immediate: true },
);
const camera = computed(() => sensors.value[sensor.value]?.camera);
const FARTHEST_DOWN_M = 2000;
const FARTHEST_FORWARD_M = 60;
/** A height of the ground to begin with: the middle of the marks. */
const marksM = computed(() => {
  const heights = store
    .ofKind('marks')
    .flatMap((d) => d.revision.content.marks ?? [])
    .map((m) => m.heightM)
    .sort((a, b) => a - b);
  return Number((heights[heights.length >> 1] ?? 0).toFixed(1));
});
const ground = computed({
  get: () => typeof settings.value.groundM === 'number',
  set: (wanted) => {
    const farthestM = camera.value?.looks === 'down' ? FARTHEST_DOWN_M : FARTHEST_FORWARD_M;
    settings.value = { ...settings.value, groundM: wanted ? marksM.value : undefined, farthestM };
  },
});
function compute(over: boolean, leftOut?: ReadonlyArray<{ event: number; reason: string }>): void {
  const f = form.value;
  // left out by their place: that holds for the same list alone
  const same = over && props.result?.revision.inputs.some((i) => i.role === 'events' && i.datasetId === f.events);
  const inputs = { trajectory: f.trajectory, events: f.events, ...(f.photos ? { photos: f.photos } : {}) };
  const { groundM, ...rest } = settings.value;
  void store.run(
    'events',
    { ...inputs, ...(sensor.value ? { mounting: f.mounting } : {}) },
    {
      ...rest,
      ...(camera.value && typeof groundM === 'number' ? { groundM } : {}),
      leftOut: same ? (leftOut ?? settings.value.leftOut ?? []) : [],
    },
    over ? props.result?.id : undefined,
  );
}
const picker = ref<HTMLInputElement | null>(null);
const reading = ref(false);
async function pick(files: FileList | null): Promise<void> {
  if (!files?.length) return;
  reading.value = true;
  await store.attempt(
    async () => uploadText(store.project!.id, `photographs_${files.length}.csv`, await photoList([...files])),
    `${files.length} photographs read; their list is being taken in.`,
  );
  reading.value = false;
}
defineExpose({ compute });
</script>

<template>
  <h3>{{ result ? 'Position them again' : 'Position events' }}</h3>
  <el-form novalidate label-position="top" @submit.prevent="compute(!!result)">
    <DatasetChoice v-model="form.events" label="Events" :datasets="lists" />
    <DatasetChoice
      v-model="form.photos"
      label="Photographs, paired one to one"
      name="Photographs"
      :datasets="photos"
      none="none: events alone"
    />
    <el-button size="small" :loading="reading" class="pick" @click="picker?.click()"
      >Choose photographs on this computer</el-button
    ><input
      ref="picker"
      type="file"
      accept="image/jpeg"
      multiple
      hidden
      @change="pick(($event.target as HTMLInputElement).files)"
    />
    <DatasetChoice
      v-model="form.trajectory"
      label="Trajectory"
      name="Trajectory of the events"
      :datasets="store.ofKind('trajectory')"
    />
    <el-form-item label="Of which point"
      ><el-select v-model="sensor" :aria-label="schema.sensor.label"
        ><el-option value="" label="the trajectory’s own point, no lever arm" /><el-option
          v-for="(_, s) in sensors"
          :key="s"
          :value="s"
          :label="`${s}, by its lever arm`" /></el-select
    ></el-form-item>
    <el-checkbox v-if="camera" v-model="ground" label="Footprints on level ground" />
    <SettingsForm v-if="camera && ground" v-model="settings" :schema="schema" :only="['groundM', 'farthestM']" />
    <SettingsForm v-model="settings" :schema="schema" :only="['leaveOutStrays']" />
    <AgainButtons
      first="Position the events"
      again="Position them again"
      :there="!!result"
      :able="!!form.events && !!form.trajectory"
      @beside="compute(false)"
    />
  </el-form>
  <p v-if="result && !sensor && Object.keys(sensors).length" class="soft">
    A camera’s own positions need its lever arm: choose it above.
  </p>
</template>

<style scoped>
.pick {
  margin: -12px 0 12px;
}
</style>
