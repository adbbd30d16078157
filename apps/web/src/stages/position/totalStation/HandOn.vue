<script setup lang="ts">
import { computed } from 'vue';
import { factsOf, type DatasetOf } from '@longheron/contract/api';
import { useProject } from '../../../stores/project';
import DiscardButton from '../../../ui/DiscardButton.vue';
import Fold from '../../../ui/Fold.vue';
import OperationForm from '../../../ui/OperationForm.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';

/** The job as a file for others: chosen kinds, adjusted points, with its scans and pictures or alone. */
const props = defineProps<{ adjusted?: DatasetOf<'marks'>; job?: DatasetOf<'terrestrial-job'> }>();
const store = useProject();
const files = computed(() => store.ofKind('terrestrial-job', 'position'));
const usual = computed(() => ({
  job: props.job ? [props.job.id] : [],
  adjusted: props.adjusted ? [props.adjusted.id] : [],
}));
const factOf = (d: DatasetOf<'terrestrial-job'>, name: string) =>
  factsOf(d)?.details.find(([k]) => k === name)?.[1] ?? '–';
</script>

<template>
  <Fold heading="Hand the job on">
    <div v-for="d in files" :key="d.id" class="file">
      <a :href="`/api/projects/${store.project!.id}/datasets/${d.id}/export/object`">{{ d.name }}</a>
      <span class="soft">
        {{ factOf(d, 'Set-ups') }} set-ups, {{ factOf(d, 'Points with coordinates') }} points,
        {{ factOf(d, 'Scans named') }} scans, {{ factOf(d, 'Pictures named') }} pictures
      </span>
      <OutOfDate :dataset="d" />
      <DiscardButton :dataset="d" label="Discard this file" />
    </div>
    <OperationForm operation="write-job" :usual-inputs="usual" />
  </Fold>
</template>

<style scoped>
.file {
  display: grid;
  gap: 2px;
  margin: 6px 0;
  font-size: 12px;
}
</style>
