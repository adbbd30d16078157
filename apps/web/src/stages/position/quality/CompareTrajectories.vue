<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { type ComparisonDto, type DatasetDto } from '@longheron/contract/api';
import { api } from '../../../api/client';
import { useProject } from '../../../stores/project';
import Num from '../../../ui/Num.vue';
import FigureTable from '../../../ui/FigureTable.vue';

/** The chosen trajectory less another: figures here, plots on the bench. */
const comparison = defineModel<ComparisonDto | null>({ required: true });
const props = defineProps<{ dataset: DatasetDto; others: DatasetDto[] }>();
const store = useProject();
const other = ref(0);
const busy = ref(false);
watch(
  () => [props.dataset.revision.id, ...props.others.map((d) => d.revision.id)].join(),
  () => {
    if (!props.others.some((d) => d.id === other.value)) other.value = props.others[0]?.id ?? 0;
    comparison.value = null;
  },
  { immediate: true },
);
async function compare(): Promise<void> {
  busy.value = true;
  await store.attempt(async () => {
    const at = `/projects/${store.project!.id}/datasets/${props.dataset.id}/compare/${other.value}`;
    comparison.value = await api.post<ComparisonDto>(at, {});
  });
  busy.value = false;
}
const samePoint = computed(() => comparison.value?.points[0] === comparison.value?.points[1]);
const digits = (unit: string) => (unit === 'm' ? 1 : 4);
const factor = (unit: string) => (unit === 'm' ? 1000 : 1);
const COLUMNS = [
  ['mean', 'mean'],
  ['sd', 'SD'],
  ['rms', 'RMS'],
  ['max', 'most'],
] as const;
type Row = ComparisonDto['statistics'][number];
</script>

<template>
  <template v-if="others.length">
    <h3>Against another trajectory</h3>
    <div class="row">
      <el-select v-model="other" aria-label="Trajectory to compare with"
        ><el-option v-for="d in others" :key="d.id" :value="d.id" :label="d.name"
      /></el-select>
      <el-button :loading="busy" :disabled="!other" @click="compare">Compare</el-button>
    </div>
    <template v-if="comparison">
      <FigureTable
        name="trajectory_differences"
        :columns="[
          { key: 'name', label: 'This less that', value: (s) => `${s.name}, ${s.unit === 'm' ? 'mm' : s.unit}` },
          ...COLUMNS.map(([key, label]) => ({
            key,
            label,
            right: true,
            value: (s: Row) => (s[key] === null ? null : s[key]! * factor(s.unit)),
          })),
        ]"
        :rows="comparison.statistics"
        :row-key="(s) => s.name"
      >
        <template #name="{ row: s }"
          >{{ s.name }}<span class="soft">, {{ s.unit === 'm' ? 'mm' : s.unit }}</span></template
        >
        <template v-for="[k] in COLUMNS" #[k]="{ row: s }" :key="k">
          <Num :value="s[k] === null ? null : s[k]! * factor(s.unit)" :digits="digits(s.unit)" />
        </template>
      </FigureTable>
      <p class="soft">
        From {{ comparison.epochs }} epochs<template v-if="comparison.without"
          >; {{ comparison.without }} have no counterpart</template
        >. Choose the differences among the plots.
        <template v-if="!samePoint">
          The two are of different points ({{ comparison.points.join(' and ') }}): the lever arm is in the
          differences.</template
        >
      </p>
    </template>
  </template>
</template>

<style scoped>
.row {
  display: flex;
  gap: 6px;
  margin-bottom: 6px;
}
.figures td,
.figures th {
  padding: 3px 4px;
  font-size: 12px;
}
.figures th {
  position: static;
}
</style>
