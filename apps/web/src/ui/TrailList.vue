<script setup lang="ts">
import { type DatasetDto, type RevisionDto } from '@longheron/contract/api';
import { type Given } from '@longheron/contract/declare';
import { pastOf, settingWords } from '@longheron/contract/operations';
import { formatGps, gpsFromUnix } from '@longheron/core/time';
import { api } from '../api/client';
import { useProject } from '../stores/project';
import { useLoaded } from './loaded';
import NotLoaded from './NotLoaded.vue';

const props = defineProps<{ dataset: DatasetDto }>();
const store = useProject();
const nameOf = (id: number) => store.datasets.find((d) => d.id === id)?.name ?? `dataset ${id}`;
const trail = useLoaded(
  () => `${props.dataset.id} ${props.dataset.revision.id} ${props.dataset.revisions}`,
  () =>
    api.get<Array<RevisionDto & { current: boolean; settings: Given | null }>>(
      `/projects/${store.project!.id}/datasets/${props.dataset.id}/revisions`,
    ),
  [],
);
const revisions = trail.value;
const restore = (n: number) =>
  store.attempt(
    () => api.post(`/projects/${store.project!.id}/datasets/${props.dataset.id}/revisions/${n}/current`),
    `Revision ${n} is current again.`,
  );
const discard = (n: number) =>
  store.attempt(
    () => api.del(`/projects/${store.project!.id}/datasets/${props.dataset.id}/revisions/${n}`),
    `Revision ${n} is discarded.`,
  );
const settingsOf = (r: { madeBy: string; settings: Given | null }) =>
  settingWords(r.madeBy, r.settings ?? {}).join(', ');
const when = (iso: string) => formatGps(gpsFromUnix(Date.parse(iso) / 1000), 'local', 0);
</script>

<template>
  <h3>Trail</h3>
  <NotLoaded what="The trail" :of="trail" />
  <ol class="trail" reversed>
    <li v-for="r in revisions" :key="r.id" :class="{ current: r.current }">
      <div>
        <strong>Revision {{ r.number }}</strong> {{ pastOf(r.madeBy) }}
        <span v-if="r.current" class="state ok">current</span>
      </div>
      <div class="soft mono">{{ when(r.createdAt) }} · {{ r.contentHash.slice(0, 10) }}</div>
      <div v-for="i in r.inputs" :key="i.role + i.datasetId" class="soft">from {{ nameOf(i.datasetId) }}</div>
      <div v-if="'how' in r.content && r.content.how" class="soft wrap">{{ r.content.how }}</div>
      <details v-if="settingsOf(r)">
        <summary class="soft">settings</summary>
        <div class="soft">{{ settingsOf(r) }}</div>
      </details>
      <template v-if="!r.current">
        <el-button @click="restore(r.number)">Make current</el-button>
        <el-button link @click="discard(r.number)">Discard</el-button>
      </template>
    </li>
  </ol>
</template>

<style scoped>
.trail {
  list-style: none;
  padding: 0;
  margin: 0;
  font-size: 12px;
}
.trail li {
  border-left: 2px solid var(--line);
  padding: 2px 0 6px 10px;
}
.wrap {
  overflow-wrap: anywhere;
}
.trail li.current {
  border-color: var(--moss);
}
</style>
