<script setup lang="ts">
import { computed, onBeforeUnmount, watch, watchEffect } from 'vue';
import { useProject } from '../../stores/project';
import { useSelection } from '../../stores/selection';
import { useView } from '../../stores/view';
import DatasetCard from '../../ui/DatasetCard.vue';
import Num from '../../ui/Num.vue';
import { className } from '../../views3d/colouring';
import { useAddress, useChosen } from '../address';
import CloudBench from '../CloudBench.vue';
import { useMapData } from '../mapData';
import StageLayout from '../StageLayout.vue';
import FigureTable from '../../ui/FigureTable.vue';

/** Clouds, the one that is worked on, and the panel that works on it. */
const MANY = 12;
const store = useProject();
const view = useView();
const { path, marks } = useMapData();
const { panel } = useAddress();
const clouds = computed(() => store.ofKind('point-cloud'));
/** Of many clouds those that were made here stand first: tiles of a delivery come by hundreds. */
const listed = computed(() =>
  clouds.value.length > MANY
    ? [...clouds.value].sort((a, b) => Number(b.stage === 'clean') - Number(a.stage === 'clean'))
    : clouds.value,
);
const { chosen, choose } = useChosen(
  () => clouds.value,
  () => store.latest('point-cloud', 'clean') ?? clouds.value.at(-1),
);
const counts = computed(() =>
  Object.entries(chosen.value?.revision.content.countsByClass ?? {}).map(([c, n]) => ({ cls: Number(c), n })),
);
const rejected = computed(() => chosen.value?.revision.content.rejected ?? 0);
const total = computed(() => counts.value.reduce((sum, c) => sum + c.n, 0));
const classRows = computed(() => [
  ...counts.value.map((c) => ({ name: className(c.cls), n: c.n })),
  ...(rejected.value ? [{ name: 'Rejected by hand', n: rejected.value }] : []),
]);
const selection = useSelection();
/** A selection belongs to the panels that act on it. */
const selects = computed(() => panel.value === 'find' || panel.value === 'hand');
watch(selects, (now) => !now && selection.begin(0));
onBeforeUnmount(() => selection.begin(0));
watchEffect(() => (view.active = (selects.value || chosen.value?.stage === 'clean' ? chosen.value?.id : null) ?? null));
</script>

<template>
  <StageLayout holdings-title="Clouds" tabs="sheet">
    <template #holdings>
      <DatasetCard v-for="d in listed" :key="d.id" :dataset="d" :selected="d.id === chosen?.id" @choose="choose(d)" />
      <p v-if="clouds.length === 0" class="soft">
        No cloud yet. Make one in the stage Place, or take in a LAS or LAZ file in Gather.
      </p>
      <template v-if="counts.length">
        <h3>Points by class</h3>
        <FigureTable
          class="classes"
          name="points_by_class"
          :columns="[
            { key: 'cls', label: 'Class', wrap: true, value: (c) => c.name },
            { key: 'n', label: 'Points', right: true, value: (c) => c.n },
            { key: 'share', label: '%', right: true, value: (c) => (100 * c.n) / total },
          ]"
          :rows="classRows"
          :row-key="(c) => c.name"
        >
          <template #n="{ row: c }"><Num :value="c.n" /></template>
          <template #share="{ row: c }"><Num :value="(100 * c.n) / total" :digits="1" /></template>
        </FigureTable>
        <p class="soft">Noise points are flagged and not used; nothing is deleted.</p>
      </template>
    </template>
    <CloudBench storage-key="clean" :dataset="chosen" :path="path" :marks="marks" />
    <template #sheet>
      <RouterView v-slot="{ Component }">
        <p v-if="selects && !chosen?.revision.content.index" class="soft">No cloud is ready to be worked on.</p>
        <component :is="Component" v-else :dataset="chosen" />
      </RouterView>
    </template>
  </StageLayout>
</template>

<style scoped>
.classes {
  width: 100%;
}
.classes :deep(td),
.classes :deep(th) {
  padding: 3px;
  font-size: 12px;
}
</style>
