<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue';
import { useElementSize, useLocalStorage } from '@vueuse/core';
import { type CloudEditEntry, type CloudIndex, type DatasetOf } from '@longheron/contract/api';
import { objectJson } from '../api/client';
import { useCloudLook } from '../stores/cloudLook';
import { useProject } from '../stores/project';
import { loadEdits } from './cloudEdits';
import ToolBar from '../ui/ToolBar.vue';
import CloudFoot from './CloudFoot.vue';
import { CloudScene } from './CloudScene';
import { COLOURING_NAMES, colouringFor, colouringsOf, scaleOf, type Colouring } from './colouring';
import { lights } from './extras';
import { useSceneLook } from './look';

/** A second view beside a cloud, with the same camera: another cloud, the same one before its edits, or other colours. */
const props = defineProps<{ dataset: DatasetOf<'point-cloud'>; first: CloudScene | null }>();
const store = useProject();
const look = useCloudLook();
const box = ref<HTMLElement | null>(null);
const canvas = ref<HTMLCanvasElement | null>(null);
const { width, height } = useElementSize(box);
const scene = shallowRef<CloudScene | null>(null);
const failure = ref('');
const status = ref({ points: 0, finished: false, loading: true });
const chosen = useLocalStorage<Record<string, string>>('longheron.compareWith', {});
const wanted = useLocalStorage<Colouring>('longheron.compareColouring', 'class');
const colouring = computed(() => colouringFor(scene.value?.index, wanted.value));
const clouds = computed(() => store.ofKind('point-cloud').filter((d) => d.revision.content.index));
const edits = computed(() => (props.dataset.revision.content.edits as CloudEditEntry[] | undefined) ?? []);
/** What is shown: a cloud, and how many of its acts; "before" is the first one without any. */
const key = computed({
  get: () => chosen.value[props.dataset.id] ?? String(props.dataset.id),
  set: (v: string) => (chosen.value = { ...chosen.value, [props.dataset.id]: v }),
});
const before = computed(() => key.value === 'before');
const shown = computed(() =>
  before.value ? props.dataset : (clouds.value.find((d) => String(d.id) === key.value) ?? props.dataset),
);
const scale = computed(() =>
  scene.value ? scaleOf(scene.value.index, colouring.value, scene.value.index.ranges.time?.[3] ?? 1) : null,
);
const limitKey = computed(() => `${shown.value.id} ${colouring.value}`);
const limits = computed<[number, number]>({
  get: () => look.limits[limitKey.value] ?? [scale.value?.low ?? 0, scale.value?.high ?? 1],
  set: (v) => (look.limits = { ...look.limits, [limitKey.value]: v }),
});
const seen = useSceneLook(
  () => shown.value,
  scene,
  () => colouring.value,
  () => limits.value,
  () => false,
  (message) => (failure.value = message),
);

async function open(): Promise<void> {
  scene.value?.dispose();
  scene.value = null;
  failure.value = '';
  try {
    const index = await objectJson<CloudIndex>(String(shown.value.revision.content.index));
    if (!canvas.value) return;
    const made = new CloudScene(canvas.value, index);
    made.extras.add(lights());
    made.onFrame = () => {
      status.value = { points: made.report.points, finished: made.report.finished, loading: made.store.loading };
      if (made.store.failure) failure.value = made.store.failure;
    };
    scene.value = made;
    await showEdits();
    if (look.parallel) made.setParallel(true);
    made.exaggerate(look.exaggeration3d);
    seen.apply();
    fitSize();
    made.controls.addEventListener('change', () => follow(made, props.first));
    follow(props.first, made);
  } catch (e) {
    failure.value = (e as Error).message;
  }
}
async function showEdits(): Promise<void> {
  const s = scene.value;
  const list = before.value ? [] : ((shown.value.revision.content.edits as CloudEditEntry[] | undefined) ?? []);
  const loaded = await loadEdits(list);
  if (s && s === scene.value) s.marker.setEdits(loaded);
}
function fitSize(): void {
  if (scene.value && width.value > 10 && height.value > 10) scene.value.resize(width.value, height.value);
}

let following = false;
/** Gives one scene the camera of the other; a camera that was given is not given back. */
function follow(from: CloudScene | null, to: CloudScene | null): void {
  if (following || !from || !to) return;
  following = true;
  try {
    to.setCamera(
      from.getCamera(),
      from.index.origin.map((v, k) => v - to.index.origin[k]),
    );
    to.moved();
  } finally {
    following = false;
  }
}
const ahead = () => follow(props.first, scene.value);
watch(
  () => props.first,
  (now, was) => {
    was?.controls.removeEventListener('change', ahead);
    now?.controls.addEventListener('change', ahead);
    ahead();
  },
  { immediate: true },
);
onMounted(open);
onBeforeUnmount(() => {
  props.first?.controls.removeEventListener('change', ahead);
  scene.value?.dispose();
});
watch(() => [shown.value.revision.content.index, before.value], open);
watch(
  () => JSON.stringify(shown.value.revision.content.edits ?? []),
  () => void showEdits(),
);
watch([width, height], fitSize);
</script>

<template>
  <div class="compare">
    <ToolBar label="Second view" dark>
      <el-select v-model="key" aria-label="Cloud of the second view">
        <el-option :value="String(dataset.id)" :label="dataset.name" />
        <el-option v-if="edits.length" value="before" :label="`${dataset.name}, before its acts`" />
        <el-option
          v-for="d in clouds.filter((c) => c.id !== dataset.id)"
          :key="d.id"
          :value="String(d.id)"
          :label="d.name"
        />
      </el-select>
      <el-select v-model="wanted" aria-label="Colours of the second view"
        ><template #prefix>Colour</template>
        <el-option v-for="c in colouringsOf(scene?.index)" :key="c" :value="c" :label="COLOURING_NAMES[c]" />
      </el-select>
    </ToolBar>
    <div ref="box" class="scene">
      <canvas ref="canvas" tabindex="0" :aria-label="`Second view, ${shown.name}`" />
    </div>
    <CloudFoot
      v-model="limits"
      :dataset="shown"
      :index="scene?.index"
      :colouring="colouring"
      :scale="scale"
      :status="status"
      :hidden="seen.hiddenWords.value"
      :failure="failure"
    />
  </div>
</template>

<style scoped>
.compare {
  position: absolute;
  inset: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  grid-template-rows: auto minmax(0, 1fr) auto;
  background: var(--deep);
  overflow: hidden;
  border-left: 1px solid #3a5058;
}
.scene {
  position: relative;
  min-height: 0;
  overflow: hidden;
}
canvas {
  position: absolute;
  width: 100%;
  height: 100%;
  display: block;
  touch-action: none;
}
</style>
