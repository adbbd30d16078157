<script setup lang="ts">
import { api } from '../api/client';
import { useProject } from '../stores/project';
import { type DatasetDto } from '@longheron/contract/api';

defineProps<{ dataset: DatasetDto }>();
const store = useProject();
const update = () =>
  store.attempt(() => api.post(`/projects/${store.project!.id}/bring-up-to-date`), 'Running what is needed, in order.');
</script>

<template>
  <div v-if="dataset.outOfDate" class="stale">
    <p><span class="state warn">Out of date</span>: {{ dataset.outOfDateBecause }}.</p>
    <el-button type="primary" :disabled="store.running.length > 0" @click="update">Bring up to date</el-button>
  </div>
</template>

<style scoped>
.stale {
  border: 1px solid var(--bill);
  border-radius: 4px;
  padding: 8px;
  margin-bottom: 12px;
  background: #fdf6ea;
}
.stale p {
  margin-bottom: 6px;
}
</style>
