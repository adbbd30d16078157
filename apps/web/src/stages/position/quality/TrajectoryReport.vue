<script setup lang="ts">
import { computed } from 'vue';
import { type DatasetDto } from '@longheron/contract/api';
import { useProject } from '../../../stores/project';
import OutOfDate from '../../../ui/OutOfDate.vue';

/** The report on a trajectory as PDF: tied to the revision it was written of. */
const props = defineProps<{ dataset: DatasetDto }>();
const store = useProject();
const report = computed(() =>
  store
    .ofKind('report', 'position')
    .findLast((r) => r.revision.inputs.some((i) => i.role === 'trajectory' && i.datasetId === props.dataset.id)),
);
const content = computed(() => report.value?.revision.content as { pages: number } | undefined);
const busy = computed(() => store.running.some((r) => r.operation === 'trajectory-report'));
const write = () => store.run('trajectory-report', { trajectory: props.dataset.id }, {}, report.value?.id);
</script>

<template>
  <p class="report">
    <template v-if="report && content">
      <a :href="`/api/projects/${store.project!.id}/datasets/${report.id}/export/pdf`"
        >Report as PDF, {{ content.pages }} pages</a
      >
      <el-button size="small" :loading="busy" @click="write">Write it anew</el-button>
    </template>
    <el-button v-else size="small" :loading="busy" @click="write">Write the report (PDF)</el-button>
  </p>
  <OutOfDate v-if="report" :dataset="report" />
</template>

<style scoped>
.report {
  display: flex;
  align-items: center;
  gap: 10px;
}
</style>
