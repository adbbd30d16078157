<script setup lang="ts">
import { ref } from 'vue';
import { type DatasetDto } from '@longheron/contract/api';
import { api } from '../api/client';
import { useProject } from '../stores/project';

/** Discards a dataset that nothing was made from; asks once, in place. */
const props = defineProps<{ dataset: DatasetDto; label: string }>();
const store = useProject();
const asking = ref(false);
async function discard(): Promise<void> {
  asking.value = false;
  await store.attempt(
    () => api.del(`/projects/${store.project!.id}/datasets/${props.dataset.id}`),
    `"${props.dataset.name}" is discarded.`,
  );
}
</script>

<template>
  <div class="discard">
    <template v-if="asking">
      <span
        >Discard "{{ dataset.name }}" and its {{ dataset.revisions }}
        {{ dataset.revisions === 1 ? 'revision' : 'revisions' }}? This cannot be undone.</span
      >
      <el-button type="danger" @click="discard">Discard</el-button>
      <el-button @click="asking = false">Keep</el-button>
    </template>
    <el-button v-else link @click="asking = true">{{ label }}</el-button>
  </div>
</template>

<style scoped>
.discard {
  margin-top: 12px;
  font-size: 12px;
}
</style>
