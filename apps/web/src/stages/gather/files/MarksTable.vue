<script setup lang="ts">
import { computed } from 'vue';
import { type Mark } from '@longheron/core/accuracy';
import { type DatasetOf } from '@longheron/contract/api';
import { api } from '../../../api/client';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import Num from '../../../ui/Num.vue';
import { useUnits } from '../../../ui/units';
import RolesPanel from './RolesPanel.vue';
import FigureTable from '../../../ui/FigureTable.vue';

const props = defineProps<{ dataset: DatasetOf<'marks'> }>();
const store = useProject();
const view = useView();
const { length } = useUnits();
const marks = computed(() => (props.dataset.revision.content.marks as Mark[] | undefined) ?? []);
const setRole = (name: string, role: string) =>
  store.attempt(() => api.patch(`/projects/${store.project!.id}/datasets/${props.dataset.id}/marks`, { name, role }));
</script>

<template>
  <h3>Marks</h3>
  <div class="scroll">
    <FigureTable
      :columns="[
        { key: 'c0', label: 'Name', value: (m) => m.name },
        { key: 'c1', label: 'Role', value: (m) => m.role },
        { key: 'c2', label: `Height, ${length.symbol}`, right: true, value: (m) => length.of(m.heightM) },
        { key: 'c3', label: 'SD H, mm', right: true, value: (m) => (m.sdHM === undefined ? null : 1000 * m.sdHM) },
      ]"
      :rows="marks"
      :row-key="(m) => m.name"
      :row-class="(m) => ({ hover: view.hoveredMark === m.name })"
      @enter="(m) => (view.hoveredMark = m.name)"
      @leave="() => (view.hoveredMark = null)"
      ><template #c0="{ row: m }"
        ><span :title="m.note">
          {{ m.name }}<span v-if="m.code" class="soft"> {{ m.code }}</span>
        </span></template
      ><template #c1="{ row: m }">
        <el-select
          :model-value="m.role"
          :aria-label="`Role of ${m.name}`"
          style="width: 86px"
          @update:model-value="setRole(m.name, $event)"
          ><el-option v-for="r in ['control', 'check', 'unused']" :key="r" :value="r" :label="r"
        /></el-select> </template
      ><template #c2="{ row: m }"><Num :value="length.of(m.heightM)" :digits="length.digits" /></template
      ><template #c3="{ row: m }"><Num :value="m.sdHM === undefined ? null : 1000 * m.sdHM" :digits="0" /></template
    ></FigureTable>
  </div>
  <RolesPanel :dataset="dataset" :marks="marks" />
</template>

<style scoped>
.figures td,
.figures th {
  padding: 4px 5px;
}
.scroll {
  max-height: 320px;
  overflow: auto;
  border: 1px solid var(--line);
}
</style>
