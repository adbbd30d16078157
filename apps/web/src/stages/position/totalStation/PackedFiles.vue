<script setup lang="ts">
import { computed, ref } from 'vue';
import { factsOf, type DatasetOf } from '@longheron/contract/api';
import { api } from '../../../api/client';
import { useProject } from '../../../stores/project';

/** Scans and pictures that a job came packed with: taken out, each is a file of the project. */
const props = defineProps<{ job: DatasetOf<'terrestrial-job'> }>();
const store = useProject();
const count = computed(() =>
  Number(factsOf(props.job)?.details.find(([k]) => k === 'Of these in the archive')?.[1] ?? 0),
);
const busy = ref(false);
const said = ref('');
async function takeOut(): Promise<void> {
  busy.value = true;
  said.value = '';
  try {
    const { files } = await api.post<{ files: string[] }>(
      `/projects/${store.project!.id}/datasets/${props.job.id}/take-out`,
    );
    said.value = `${files.length} files are imported: ${files.slice(0, 6).join(', ')}${files.length > 6 ? ', …' : ''}.`;
  } catch (error) {
    said.value = (error as Error).message;
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <p v-if="count" class="soft">
    {{ job.name }} is packed with {{ count }} {{ count === 1 ? 'scan or picture' : 'scans and pictures' }}.
    <el-button size="small" :loading="busy" @click="takeOut">Import them</el-button>
    <span role="status">{{ said }}</span>
  </p>
</template>
