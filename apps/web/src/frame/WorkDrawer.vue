<script setup lang="ts">
import { isOperation } from '@longheron/contract/operations';
import { formatGps, gpsFromUnix } from '@longheron/core/time';
import { type RunDto } from '@longheron/contract/api';
import { api } from '../api/client';
import { useProject } from '../stores/project';
import { useView } from '../stores/view';
import { durationText } from '../ui/format';

const store = useProject();
const view = useView();
const WORDS: Record<string, string> = {
  queued: 'waiting',
  running: 'running',
  done: 'done',
  failed: 'failed',
  cancelled: 'cancelled',
  interrupted: 'interrupted',
};
const repeatable = (r: RunDto) =>
  isOperation(r.operation) ||
  (r.operation === 'intake' && !!(r.settings.path ?? r.settings.upload ?? r.settings.prepare));
const spent = (r: RunDto) =>
  r.startedAt && r.endedAt ? durationText((Date.parse(r.endedAt) - Date.parse(r.startedAt)) / 1000) : '';
const started = (r: RunDto) =>
  r.startedAt ? formatGps(gpsFromUnix(Date.parse(r.startedAt) / 1000), 'local', 0).slice(5) : '';
const act = (r: RunDto, what: string) => store.attempt(() => api.post(`/projects/${r.projectId}/runs/${r.id}/${what}`));
</script>

<template>
  <el-drawer
    :modal="false"
    modal-penetrable
    :model-value="view.drawer === 'work'"
    title="Work in progress"
    size="440px"
    @close="view.drawer = ''"
  >
    <p v-if="store.runs.length === 0" class="soft">No job has run yet.</p>
    <article v-for="r in store.runs" :key="r.id" class="job">
      <header>
        <strong>{{ r.title }}</strong>
        <span
          class="state"
          :class="{ done: 'ok', failed: 'bad', interrupted: 'warn', cancelled: 'warn' }[r.status as string]"
          >{{ WORDS[r.status] }}</span
        >
      </header>
      <template v-if="r.status === 'running'">
        <el-progress :percentage="Math.round(r.progress * 100)" :stroke-width="6" />
        <p class="soft">
          {{ r.doing || 'Starting'
          }}<template v-if="r.secondsLeft !== null">, about {{ durationText(r.secondsLeft) }} left</template>
        </p>
        <el-button @click="act(r, 'cancel')">Cancel</el-button>
      </template>
      <p v-else class="soft">
        {{ started(r) }}<template v-if="spent(r)">, took {{ spent(r) }}</template>
      </p>
      <p v-if="r.error" class="state bad">
        {{ [r.error.file, r.error.place].filter(Boolean).join(', ') }}{{ r.error.file ? ': ' : ''
        }}{{ r.error.message }} {{ r.error.remedy }}
      </p>
      <details v-if="r.log.length">
        <summary>Log</summary>
        <pre>{{ r.log.join('\n') }}</pre>
      </details>
      <el-button
        v-if="repeatable(r) && ['failed', 'cancelled', 'interrupted'].includes(r.status)"
        @click="act(r, 'again')"
        >Run again</el-button
      >
    </article>
  </el-drawer>
</template>

<style scoped>
.job {
  border-bottom: 1px solid var(--line);
  padding: 8px 0;
}
.job header {
  display: flex;
  justify-content: space-between;
}
.job p {
  margin: 2px 0;
}
pre {
  white-space: pre-wrap;
  font: 12px var(--mono);
  margin: 4px 0;
}
</style>
