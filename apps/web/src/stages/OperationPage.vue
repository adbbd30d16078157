<script setup lang="ts">
import { computed, watchEffect } from 'vue';
import { KINDS, type DatasetKind } from '@longheron/contract/kinds';
import { OPERATIONS, type Operation } from '@longheron/contract/operations';
import MapView from '../map/MapView.vue';
import { useProject } from '../stores/project';
import { useView } from '../stores/view';
import DatasetCard from '../ui/DatasetCard.vue';
import DiscardButton from '../ui/DiscardButton.vue';
import OperationForm from '../ui/OperationForm.vue';
import OutOfDate from '../ui/OutOfDate.vue';
import TrailList from '../ui/TrailList.vue';
import { useChosen } from './address';
import { useMapData } from './mapData';
import StageLayout from './StageLayout.vue';

/** An operation whose result needs no view of its own: its form, its results, what can be exported of them. */
const props = defineProps<{ operation: Operation }>();
const store = useProject();
const view = useView();
const { path, marks } = useMapData();
const declaration = OPERATIONS[props.operation];
const kind: DatasetKind = declaration.result;
const results = computed(() => store.ofKind(kind).filter((d) => d.revision.madeBy === props.operation));
const { chosen, choose } = useChosen(
  () => results.value,
  () => results.value.at(-1),
);
watchEffect(() => (view.active = chosen.value?.id ?? null));
const exports = computed(() =>
  Object.entries(KINDS[kind].exports).map(([name, e]) => ({ name, label: (e as { label: string }).label })),
);
</script>

<template>
  <StageLayout :holdings-title="KINDS[kind].name">
    <template #holdings>
      <DatasetCard v-for="d in results" :key="d.id" :dataset="d" :selected="d.id === chosen?.id" @choose="choose(d)" />
      <p v-if="results.length === 0" class="soft">Nothing yet. Choose the inputs in the sheet and start.</p>
    </template>
    <MapView :path="path" :marks="marks" />
    <template #sheet>
      <h2>{{ declaration.title }}</h2>
      <OutOfDate v-if="chosen" :dataset="chosen" />
      <OperationForm :operation="operation" :made="chosen" />
      <template v-if="chosen">
        <p v-for="e in exports" :key="e.name">
          <a :href="`/api/projects/${store.project!.id}/datasets/${chosen.id}/export/${e.name}`">{{ e.label }}</a>
        </p>
        <TrailList :dataset="chosen" />
        <DiscardButton :dataset="chosen" :label="`Discard ${chosen.name}`" />
      </template>
    </template>
  </StageLayout>
</template>
