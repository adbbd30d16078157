<script setup lang="ts">
import { computed, ref, watch, watchEffect } from 'vue';
import { OPERATIONS, type Operation } from '@longheron/contract/operations';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import DatasetCard from '../../../ui/DatasetCard.vue';
import DiscardButton from '../../../ui/DiscardButton.vue';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';
import OperationForm from '../../../ui/OperationForm.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import TrailList from '../../../ui/TrailList.vue';
import { useChosen } from '../../address';
import { useMapData } from '../../mapData';
import StageLayout from '../../StageLayout.vue';
import { systemHolds } from '../../systems';
import SystemMarks from './SystemMarks.vue';

/** Coordinate systems that no list has: made here or imported, with how well their marks agree. */
const store = useProject();
const view = useView();
const { path } = useMapData();
const systems = computed(() => store.ofKind('system'));
const { chosen, choose } = useChosen(
  () => systems.value,
  () => systems.value.at(-1),
);
watchEffect(() => (view.active = chosen.value?.id ?? null));
const WAYS = ['local-system', 'ground-system', 'own-projection', 'chart-datum'] as const;
const way = ref<Operation>('local-system');
/** The operation that made the chosen one. */
const madeBy = computed(() => WAYS.find((w) => w === chosen.value?.revision.madeBy));
watch(madeBy, (by) => by && (way.value = by), { immediate: true });
const content = computed(() => chosen.value?.revision.content);
const facts = computed(() => content.value?.site?.facts ?? content.value?.facts.details ?? []);
const holds = computed(() => (chosen.value ? systemHolds(chosen.value) : { plan: false, heights: false }));
/** In the middle of the drive: around there lengths are to be true. */
const preset = computed(() => {
  const { eastingM = [], northingM = [] } = path.value ?? {};
  const [e, n] = [eastingM, northingM].map((list) => list[list.length >> 1] as number | undefined);
  return way.value === 'ground-system' && e !== undefined
    ? { eastingM: Math.round(e), northingM: Math.round(n ?? 0) }
    : {};
});
function workIn(): void {
  view.proposedSystem = chosen.value!.id;
  view.drawer = 'reference';
}
const what = computed(() =>
  holds.value.plan ? (holds.value.heights ? 'plan and heights' : 'plan alone') : 'heights alone',
);
</script>

<template>
  <StageLayout holdings-title="Coordinate systems">
    <template #holdings>
      <DatasetCard v-for="d in systems" :key="d.id" :dataset="d" :selected="d.id === chosen?.id" @choose="choose(d)" />
      <p v-if="systems.length === 0" class="soft">
        None of its own. Systems of the EPSG list need nothing here. A local system is found from marks that are known
        in it and in the project’s; a file of well-known text (.wkt, .prj) is imported under Files.
      </p>
    </template>
    <div v-if="chosen" class="scroll">
      <h2>{{ content?.site?.name ?? chosen.name }}</h2>
      <p class="soft">Defines {{ what }}; well-known text, {{ chosen.name }}.</p>
      <FactList label="The system">
        <Fact v-for="[label, value] in facts" :key="label" :label="label">{{ value }}</Fact>
      </FactList>
      <SystemMarks v-if="content?.site?.marks.length" :site="content.site" />
    </div>
    <p v-else class="none">What a system is, and how its marks agree, stands here once there is one.</p>
    <template #sheet>
      <h2>Set up a system</h2>
      <el-form-item label="Kind">
        <el-select v-model="way" aria-label="Kind of system">
          <el-option v-for="w in WAYS" :key="w" :value="w" :label="OPERATIONS[w].title" />
        </el-select>
      </el-form-item>
      <OutOfDate v-if="chosen" :dataset="chosen" />
      <OperationForm :key="way" :operation="way" :made="madeBy === way ? chosen : undefined" :preset="preset" />
      <template v-if="chosen">
        <h2 class="spaced">{{ chosen.name }}</h2>
        <p>
          <el-button @click="workIn">{{ holds.plan ? 'Work in this system' : 'Use these heights' }}</el-button>
        </p>
        <p>
          <a :href="`/api/projects/${store.project!.id}/datasets/${chosen.id}/export/object`">Well-known text, WKT</a>
        </p>
        <TrailList :dataset="chosen" />
        <DiscardButton :dataset="chosen" :label="`Discard ${chosen.name}`" />
      </template>
    </template>
  </StageLayout>
</template>

<style scoped>
.scroll {
  overflow: auto;
  padding: 14px 18px;
}
.none {
  padding: 14px 18px;
  color: var(--ink-soft);
}
.spaced {
  margin-top: 18px;
}
</style>
