<script setup lang="ts">
import { computed, onMounted, ref } from 'vue';
import { ElMessageBox } from 'element-plus';
import { api } from '../api/client';
import { useCloudLook, type PointFilterSettings } from '../stores/cloudLook';
import ToolMenu, { type ToolItem } from '../ui/ToolMenu.vue';
import { isColouring } from './colouring';
import { useProject } from '../stores/project';
import { useView } from '../stores/view';

/** Views kept under a name: where one looks from, and everything that decides what is shown. */
interface Camera {
  position: number[];
  target: number[];
  zoom: number;
}
interface Look {
  camera: Camera;
  /** Zero of the cloud that the camera is about. */
  origin: number[];
  parallel: boolean;
  colouring: string;
  limits: Record<string, [number, number]>;
  hiddenClasses: number[];
  rejected: 'hidden' | 'shown' | 'only';
  clip: boolean;
  filter?: PointFilterSettings;
  exaggeration3d?: number;
  section: { from: [number, number]; to: [number, number]; widthM: number } | null;
  brush: [number, number] | null;
}
const props = defineProps<{ camera: () => { camera: Camera; origin: number[] } | null }>();
const emit = defineEmits<{ camera: [camera: Camera, origin: number[]] }>();
const store = useProject();
const look = useCloudLook();
const view = useView();
const kept = ref<Array<{ name: string; look: Look }>>([]);
const at = () => `/projects/${store.project!.id}/views`;
async function load(): Promise<void> {
  kept.value = await api.get<typeof kept.value>(at()).catch(() => []);
}
onMounted(load);

async function keep(): Promise<void> {
  const now = props.camera();
  if (!now) return;
  const answer = await ElMessageBox.prompt(
    'Camera, colouring, what is hidden or filtered, section and brush are kept.',
    'Keep this view',
    {
      inputPlaceholder: 'Name of the view',
      inputValidator: (v) => (!!v?.trim() && v.trim().length <= 60) || 'A view needs a name of at most 60 characters.',
      confirmButtonText: 'Save',
      cancelButtonText: 'Cancel',
    },
  ).catch(() => undefined);
  if (!answer) return;
  const content: Look = {
    ...now,
    parallel: look.parallel,
    colouring: look.colouring,
    limits: look.limits,
    hiddenClasses: look.hiddenClasses,
    rejected: look.rejected,
    clip: look.clip,
    filter: look.filter,
    exaggeration3d: look.exaggeration3d,
    section: view.section,
    brush: view.brush,
  };
  const name = String(answer.value).trim();
  if (await store.attempt(() => api.put(at(), { name, look: content }), `The view “${name}” is kept.`)) await load();
}
function show(name: string): void {
  const found = kept.value.find((v) => v.name === name)?.look;
  if (!found) return;
  look.parallel = found.parallel;
  if (isColouring(found.colouring)) look.colouring = found.colouring;
  look.limits = { ...look.limits, ...found.limits };
  look.hiddenClasses = [...found.hiddenClasses];
  look.rejected = found.rejected;
  look.clip = found.clip;
  look.filter = found.filter ?? {};
  look.exaggeration3d = found.exaggeration3d ?? 1;
  view.section = found.section;
  view.brush = found.brush;
  emit('camera', found.camera, found.origin);
}
const items = computed<ToolItem[]>(() => [
  ...kept.value.map((v) => ({ key: `=${v.name}`, label: v.name })),
  { key: '+', label: 'Keep this view …', divided: kept.value.length > 0 },
  ...kept.value.map((v, k) => ({ key: `-${v.name}`, label: `Delete ${v.name}`, divided: k === 0 })),
]);
async function choose(key: string): Promise<void> {
  if (key === '+') await keep();
  else if (key.startsWith('-')) {
    const name = key.slice(1);
    if (await store.attempt(() => api.del(`${at()}/${encodeURIComponent(name)}`), `The view “${name}” is deleted.`))
      await load();
  } else show(key.slice(1));
}
</script>

<template>
  <ToolMenu icon="views" label="Views" hint="kept under a name" :items="items" @choose="choose" />
</template>
