<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { check, PointTextColumns } from '@longheron/contract/requests';
import { type DatasetOf } from '@longheron/contract/api';
import { api } from '../../../api/client';
import { useProject } from '../../../stores/project';
import SampleTable from '../../../ui/SampleTable.vue';

/** What the columns of a text of points were taken to hold, and another reading of them. */
const props = defineProps<{ dataset: DatasetOf<'point-cloud'> }>();
const store = useProject();
type Key = 'x' | 'y' | 'z' | 'intensity' | 'red' | 'green' | 'blue' | 'classification' | 'source' | 'time';
const ROWS: Array<[Key, string, boolean]> = [
  ['x', 'Easting', true],
  ['y', 'Northing', true],
  ['z', 'Height', true],
  ['intensity', 'Intensity', false],
  ['red', 'Red', false],
  ['green', 'Green', false],
  ['blue', 'Blue', false],
  ['classification', 'Class', false],
  ['source', 'Strip or scan', false],
  ['time', 'GPS time', false],
];
const text = computed(
  () =>
    props.dataset.revision.content.pointText as
      { header: string[] | null; sample: string[][]; columns: Partial<Record<Key, number>> } | undefined,
);
const columns = ref<Partial<Record<Key, number>>>({});
const message = ref('');
watch(
  () => props.dataset.revision.id,
  () => {
    columns.value = { ...text.value?.columns };
    message.value = '';
  },
  { immediate: true },
);
const names = computed(() => {
  const width = text.value?.sample[0]?.length ?? 0;
  return Array.from({ length: width }, (_, k) => text.value?.header?.[k] ?? `column ${k + 1}`);
});
const meaningOf = (column: number) =>
  ROWS.filter(([key]) => columns.value[key] === column)
    .map(([, label]) => label.toLowerCase())
    .join(', ') || 'not used';
const changed = computed(() => ROWS.some(([key]) => (columns.value[key] ?? -1) !== (text.value?.columns[key] ?? -1)));
async function save(): Promise<void> {
  const body = Object.fromEntries(Object.entries(columns.value).filter(([, k]) => typeof k === 'number'));
  const checked = check(PointTextColumns, body);
  message.value = 'message' in checked ? checked.message : '';
  if (message.value) return;
  await store.attempt(
    () => api.post(`/projects/${store.project!.id}/datasets/${props.dataset.id}/point-columns`, body),
    'The points are read anew.',
  );
}
</script>

<template>
  <section v-if="text">
    <h3>What the columns hold</h3>
    <div class="scroll">
      <SampleTable :header="names" :meanings="names.map((_h, i) => meaningOf(i))" :rows="text.sample" />
    </div>
    <div class="map">
      <div v-for="[key, label, must] in ROWS" :key="key" class="choice">
        <span>{{ label }}<span v-if="!must" class="soft"> (if any)</span></span>
        <el-select v-model="columns[key]" :clearable="!must" placeholder="none" :aria-label="`Column of ${label}`">
          <el-option v-for="(h, i) in names" :key="i" :value="i" :label="h" />
        </el-select>
      </div>
    </div>
    <p v-if="message" class="state bad">{{ message }}</p>
    <el-button :disabled="!changed" @click="save">Read the points anew</el-button>
    <p class="soft">Acts done to the cloud so far stay with the earlier reading.</p>
  </section>
</template>

<style scoped>
.map {
  display: grid;
  gap: 4px;
  margin: 8px 0;
}
.choice {
  display: grid;
  grid-template-columns: 1fr 150px;
  align-items: center;
  font-size: 12px;
}
.scroll {
  max-height: 180px;
  overflow: auto;
  border: 1px solid var(--line);
}
</style>
