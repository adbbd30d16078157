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
    <table class="figures">
      <thead>
        <tr>
          <th>Name</th>
          <th>Role</th>
          <th class="r">Height, {{ length.symbol }}</th>
          <th class="r">SD H, mm</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="m in marks"
          :key="m.name"
          :class="{ hover: view.hoveredMark === m.name }"
          @mouseenter="view.hoveredMark = m.name"
          @mouseleave="view.hoveredMark = null"
        >
          <td :title="m.note">
            {{ m.name }}<span v-if="m.code" class="soft"> {{ m.code }}</span>
          </td>
          <td>
            <el-select
              :model-value="m.role"
              :aria-label="`Role of ${m.name}`"
              style="width: 86px"
              @update:model-value="setRole(m.name, $event)"
              ><el-option v-for="r in ['control', 'check', 'unused']" :key="r" :value="r" :label="r"
            /></el-select>
          </td>
          <td class="r"><Num :value="m.heightM * length.factor" :digits="length.digits" /></td>
          <td class="r"><Num :value="m.sdHM === undefined ? null : 1000 * m.sdHM" :digits="0" /></td>
        </tr>
      </tbody>
    </table>
  </div>
  <RolesPanel :dataset="dataset" :marks="marks" />
</template>

<style scoped>
h3 {
  margin: 16px 0 4px;
}
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
