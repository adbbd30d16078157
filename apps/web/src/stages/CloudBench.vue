<script setup lang="ts">
import { computed, ref } from 'vue';
import { useLocalStorage } from '@vueuse/core';
import { type DatasetDto } from '@longheron/contract/api';
import { type MapMark } from '../map/marks';
import MapView, { type MapPath } from '../map/MapView.vue';
import SectionView from '../section/SectionView.vue';
import { useProject } from '../stores/project';
import { useView } from '../stores/view';
import CloudView from '../views3d/CloudView.vue';

/** Plan, cloud and section of one cloud, linked. */
const props = defineProps<{
  dataset?: DatasetDto;
  surface?: DatasetDto;
  path?: MapPath | null;
  marks?: MapMark[];
  picture?: { url: string; extent: [number, number, number, number] } | null;
  contoursUrl?: string | null;
  storageKey: string;
  spans?: Array<[number, number]>;
  reportPicture?: boolean;
}>();
const emit = defineEmits<{ picture: [blob: Blob] }>();
const store = useProject();
const view = useView();
const layout = useLocalStorage<'plan' | 'both' | 'cloud'>(`longheron.layout.${props.storageKey}`, 'both');
const drawing = ref(false);
/** The line while it is being drawn; the section opens when it is set, so that the map keeps its place until then. */
const draft = ref<{ from: [number, number]; to: [number, number]; widthM: number } | null>(null);
const cloud = ref<InstanceType<typeof CloudView> | null>(null);
const heights = computed(() => {
  const out: Record<string, number> = {};
  for (const d of store.ofKind('marks'))
    for (const m of (d.revision.content.marks as Array<{ name: string; heightM: number }> | undefined) ?? [])
      out[m.name] ??= m.heightM;
  return out;
});
function setSection(from: [number, number], to: [number, number], done: boolean): void {
  if (Math.hypot(to[0] - from[0], to[1] - from[1]) < 0.5) return;
  const line = { from, to, widthM: view.section?.widthM ?? 2 };
  draft.value = done ? null : line;
  if (!done) return;
  view.section = line;
  drawing.value = false;
}
async function takePicture(): Promise<void> {
  const blob = await cloud.value?.picture();
  if (blob) emit('picture', blob);
}
</script>

<template>
  <div class="bench" :class="{ section: view.section && dataset }">
    <div class="tabs">
      <div role="tablist" aria-label="Layout">
        <button role="tab" :aria-selected="layout === 'plan'" @click="layout = 'plan'">Plan</button>
        <button role="tab" :aria-selected="layout === 'both'" :disabled="!dataset" @click="layout = 'both'">
          Plan and cloud
        </button>
        <button role="tab" :aria-selected="layout === 'cloud'" :disabled="!dataset" @click="layout = 'cloud'">
          Cloud
        </button>
      </div>
      <span class="tools">
        <span v-if="drawing" class="soft">Two clicks in plan set the line</span>
        <button v-if="dataset && layout !== 'cloud'" class="small" :aria-pressed="drawing" @click="drawing = !drawing">
          Draw a section
        </button>
        <button v-if="reportPicture && dataset && layout !== 'plan'" class="small" @click="takePicture">
          Put in report
        </button>
      </span>
    </div>
    <div class="views" :class="dataset ? layout : 'plan'">
      <div v-if="layout !== 'cloud' || !dataset" class="view">
        <MapView
          :path="path"
          :spans="spans"
          :path-limits="[0, 0.03]"
          :marks="marks"
          :picture="picture"
          :contours-url="contoursUrl"
          :draw-section="drawing"
          :draft="draft"
          :with-section="!!dataset"
          @section="setSection"
        />
      </div>
      <div v-if="layout !== 'plan' && dataset" class="view">
        <CloudView ref="cloud" :dataset="dataset" :surface="surface" :marks="marks" :mark-heights="heights" />
      </div>
    </div>
    <SectionView
      v-if="view.section && dataset"
      :dataset="dataset"
      :surface="surface"
      :marks="marks"
      :mark-heights="heights"
    />
  </div>
</template>

<style scoped>
.bench {
  position: absolute;
  inset: 0;
  display: grid;
  grid-template-rows: 32px minmax(0, 1fr);
}
.bench.section {
  grid-template-rows: 32px minmax(0, 1fr) minmax(150px, 36%);
}
.tabs {
  display: flex;
  justify-content: space-between;
  align-items: center;
  padding: 0 8px;
  border-bottom: 1px solid var(--line);
}
.tabs button[role='tab'] {
  border: 0;
  background: none;
  padding: 0 12px;
  height: 31px;
  cursor: pointer;
  border-bottom: 2px solid transparent;
}
.tabs button[aria-selected='true'] {
  border-color: var(--reed);
  font-weight: 600;
}
.tools {
  display: flex;
  gap: 8px;
  align-items: center;
  font-size: 12px;
}
.small {
  background: var(--paper);
  border: 1px solid var(--line);
  border-radius: 4px;
  padding: 2px 8px;
  cursor: pointer;
}
.small[aria-pressed='true'] {
  background: var(--reed-soft);
  border-color: var(--reed);
}
.views {
  display: grid;
  min-height: 0;
}
.views.both {
  grid-template-columns: minmax(0, 2fr) minmax(0, 3fr);
}
.view {
  position: relative;
  min-width: 0;
  min-height: 0;
}
</style>
