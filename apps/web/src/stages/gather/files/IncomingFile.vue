<script setup lang="ts">
import { computed } from 'vue';
import { kindName } from '@longheron/contract/kinds';
import { api } from '../../../api/client';
import { type Incoming } from '../../../stores/intake';
import { useProject } from '../../../stores/project';
import { bytesText } from '../../../ui/format';
import { panelPath } from '../../address';

/** A file that was sent or picked, and what became of it. */
const props = defineProps<{ file: Incoming }>();
const store = useProject();
const run = computed(() => store.runs.find((r) => r.id === props.file.run));
const dataset = computed(() => {
  const id = run.value?.status === 'done' ? run.value.outputs[0] : undefined;
  return store.datasets.find((d) => d.id === id);
});
const sentPercent = computed(() => (props.file.bytes ? Math.round((100 * props.file.sent) / props.file.bytes) : 0));
/** Words of the job's log for content that the project has already. */
const twin = computed(() => run.value?.log.some((l) => l.startsWith('The same content is there already')) ?? false);
const failure = computed(() => {
  const r = run.value;
  if (props.file.error) return props.file.error;
  if (!r || !['failed', 'cancelled', 'interrupted'].includes(r.status)) return '';
  const { message, place, remedy } = r.error ?? {};
  return [message ?? (r.status === 'cancelled' ? 'Cancelled.' : 'Cut off.'), place && `At ${place}.`, remedy]
    .filter(Boolean)
    .join(' ');
});
const path = computed(
  () => dataset.value && panelPath(String(props.file.project), 'gather', 'files', dataset.value.id),
);
async function again(): Promise<void> {
  if (props.file.error) props.file.again?.();
  else await store.attempt(() => api.post(`/projects/${props.file.project}/runs/${props.file.run}/again`));
}
</script>

<template>
  <div class="row">
    <span class="name" :title="file.name">{{ file.name }}</span><span class="soft mono">{{
      bytesText(file.bytes)
    }}</span>
    <span v-if="failure" class="state bad wide"
      >{{ file.error ? '' : 'Refused: ' }}{{ failure }}
      <el-button v-if="file.again || file.run" link type="primary" @click="again">Try again</el-button></span
    >
    <el-progress
      v-else-if="file.run === null"
      class="wide"
      :percentage="sentPercent"
      :stroke-width="5"
      :aria-label="`${file.name}, sent`"
    />
    <span v-else-if="dataset" class="state ok wide"
      >{{
        twin
          ? `The same content as "${dataset.name}", which is there already`
          : `Recognised as ${kindName(dataset.kind).toLowerCase()}`
      }}
      <RouterLink v-if="path" :to="path">Show</RouterLink></span
    >
    <span v-else class="soft wide">{{
      run?.status === 'running' ? `Being inspected, ${Math.round(100 * run.progress)} %` : 'Waiting to be inspected'
    }}</span>
  </div>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 2px 8px;
  margin-bottom: 8px;
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
}
.wide {
  grid-column: 1 / 3;
  white-space: normal;
}
</style>
