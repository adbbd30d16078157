<script setup lang="ts">
import { type SiteContent, type SiteMark } from '@longheron/contract/kinds';
import FigureTable from '../../../ui/FigureTable.vue';
import Num from '../../../ui/Num.vue';
import { useUnits } from '../../../ui/units';

/** How the marks of a system agree: computed less given, and by how much each would be missed were it not used. */
defineProps<{ site: SiteContent }>();
const { small } = useUnits();
const COLUMNS: Array<[key: keyof SiteMark & string, label: string, hint: string]> = [
  ['eM', 'E', 'Computed less given, to the east'],
  ['nM', 'N', 'Computed less given, to the north'],
  ['missPlanM', 'Missed in plan', 'By how much the mark would be missed were it not used'],
  ['hM', 'Height', 'Computed less given'],
  ['missHeightM', 'Missed in height', 'By how much the mark would be missed were it not used'],
];
const valueOf = (m: SiteMark, key: keyof SiteMark) => {
  const v = m[key];
  return typeof v === 'number' ? small.value.of(v) : null;
};
</script>

<template>
  <h3>Marks, computed less given</h3>
  <FigureTable
    name="system_marks"
    label="Marks of the system"
    :columns="[
      { key: 'name', label: 'Mark', value: (m) => m.name },
      ...COLUMNS.map(([key, label, hint]) => ({
        key,
        label: `${label}, ${small.symbol}`,
        hint,
        right: true,
        value: (m: SiteMark) => valueOf(m, key),
      })),
      { key: 'says', label: ' ', value: (m) => m.says },
    ]"
    :rows="site.marks"
    :row-key="(m) => m.name"
    :row-class="(m) => ({ dim: m.says === 'left out' })"
  >
    <template v-for="[key] in COLUMNS" #[key]="{ row }" :key="key">
      <Num :value="valueOf(row, key)" :digits="small.digits + 1" plus />
    </template>
    <template #says="{ row }"
      ><span v-if="row.says" :class="row.says === 'left out' ? 'soft' : 'state bad'">{{ row.says }}</span></template
    >
  </FigureTable>
</template>
