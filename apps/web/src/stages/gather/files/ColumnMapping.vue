<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { check, MarkColumns } from '@longheron/contract/requests';
import { type DatasetOf } from '@longheron/contract/api';
import { api } from '../../../api/client';
import { useProject } from '../../../stores/project';
import SampleTable from '../../../ui/SampleTable.vue';

/** Gives the columns of a foreign table their meaning, with a preview of what that makes of its rows. */
const props = defineProps<{ dataset: DatasetOf<'table' | 'marks'> }>();
const store = useProject();
const table = computed(() => props.dataset.revision.content.table);
type Key = 'name' | 'easting' | 'northing' | 'height' | 'role' | 'sdH' | 'note';
const ROWS: Array<[Key, string, boolean]> = [
  ['name', 'Name', true],
  ['easting', 'Easting', true],
  ['northing', 'Northing', true],
  ['height', 'Height', true],
  ['role', 'Role', false],
  ['sdH', 'SD of height', false],
  ['note', 'Note', false],
];
const columns = ref<Partial<Record<Key, number>>>({});
const unit = ref<'metre' | 'foot' | 'usSurveyFoot'>();
const defaultRole = ref<'control' | 'check' | 'unused'>('unused');
const decimalComma = ref(false);
const message = ref('');
watch(
  () => props.dataset.id,
  () => {
    const guess = props.dataset.revision.content.mapping;
    columns.value = {};
    for (const [key] of ROWS) if (guess?.[key] !== undefined) columns.value[key] = guess[key];
    decimalComma.value =
      guess?.decimalComma ?? table.value?.rows.some((r) => r.some((c) => /^\d+,\d+$/.test(c))) ?? false;
    unit.value = undefined;
    message.value = '';
  },
  { immediate: true },
);
const cell = (row: string[], key: Key) => (columns.value[key] === undefined ? '' : (row[columns.value[key]!] ?? ''));
const number = (text: string) => Number(decimalComma.value ? text.replace(',', '.') : text);
const meaningOf = (column: number) =>
  ROWS.filter(([key]) => columns.value[key] === column)
    .map(([, label]) => label.toLowerCase())
    .join(', ');
/** A cell that should be a number and is not. */
const wrong = (row: string[], column: number) =>
  (['easting', 'northing', 'height', 'sdH'] as const).some((key) => columns.value[key] === column) &&
  (row[column] ?? '') !== '' &&
  !Number.isFinite(number(row[column]));
/** Easting and northing the wrong way round show themselves: a northing is the larger in most systems of the north. */
const exchanged = computed(() => {
  const r = store.project?.reference;
  const rows = table.value?.rows ?? [];
  if (!r?.bbox || columns.value.easting === undefined || columns.value.northing === undefined) return false;
  const e = rows.map((x) => number(cell(x, 'easting'))).filter(Number.isFinite);
  const n = rows.map((x) => number(cell(x, 'northing'))).filter(Number.isFinite);
  return e.length > 0 && n.length > 0 && Math.min(...e) > 1.1e6 && Math.max(...n) < 1e6;
});
async function save(): Promise<void> {
  const body = { ...columns.value, unit: unit.value, defaultRole: defaultRole.value, decimalComma: decimalComma.value };
  const checked = check(MarkColumns, body);
  message.value = 'message' in checked ? checked.message : '';
  if (message.value) return;
  await store.attempt(
    () => api.post(`/projects/${store.project!.id}/datasets/${props.dataset.id}/columns`, body),
    'The table is read as marks.',
  );
}
</script>

<template>
  <section v-if="table">
    <h3>What the columns hold</h3>
    <div class="map">
      <div v-for="[key, label, must] in ROWS" :key="key" class="choice">
        <span>{{ label }}<span v-if="!must" class="soft"> (if any)</span></span>
        <el-select v-model="columns[key]" :clearable="!must" placeholder="none" :aria-label="`Column of ${label}`">
          <el-option v-for="(h, i) in table.header" :key="i" :value="i" :label="h" />
        </el-select>
      </div>
      <div class="choice">
        <span>Unit of coordinates</span>
        <el-select v-model="unit" placeholder="say which" aria-label="Unit of coordinates"
          ><el-option value="metre" label="metre" /><el-option value="foot" label="foot (0.3048 m)" /><el-option
            value="usSurveyFoot"
            label="US survey foot"
        /></el-select>
      </div>
      <div class="choice">
        <span>Role where none is given</span>
        <el-select v-model="defaultRole" aria-label="Role where none is given"
          ><el-option v-for="r in ['control', 'check', 'unused']" :key="r" :value="r" :label="r"
        /></el-select>
      </div>
      <el-checkbox v-model="decimalComma" label="Decimals follow a comma" />
    </div>
    <div class="scroll">
      <SampleTable
        :header="table.header"
        :meanings="table.header.map((_h, i) => meaningOf(i) || 'not used')"
        :rows="table.rows"
        :wrong="wrong"
      />
    </div>
    <p class="soft">First {{ table.rows.length }} of {{ table.count }} rows.</p>
    <p v-if="exchanged" class="state warn wrap">
      Easting and northing look exchanged: choose the columns the other way round.
    </p>
    <p v-if="message" class="state bad">{{ message }}</p>
    <el-button type="primary" @click="save">Read it as marks</el-button>
  </section>
</template>

<style scoped>
.map {
  display: grid;
  gap: 4px;
  margin-bottom: 8px;
}
.choice {
  display: grid;
  grid-template-columns: 1fr 150px;
  align-items: center;
  font-size: 12px;
}
.scroll {
  max-height: 220px;
  overflow: auto;
  border: 1px solid var(--line);
}
.bad {
  color: var(--clay);
}
.wrap {
  white-space: normal;
}
</style>
