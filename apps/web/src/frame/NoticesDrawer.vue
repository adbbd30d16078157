<script setup lang="ts">
import { computed, ref } from 'vue';
import { AcceptNotice, check } from '@longheron/contract/requests';
import { api } from '../api/client';
import { useProject } from '../stores/project';
import { useView } from '../stores/view';

const store = useProject();
const view = useView();
const reasons = ref<Record<number, string>>({});
const errors = ref<Record<number, string>>({});
const ORDER = { error: 0, warning: 1, info: 2 };
const WORD = { error: 'blocks', warning: 'degrades', info: 'harmless' };
const sorted = computed(() =>
  [...store.notices].sort(
    (a, b) => Number(a.state === 'accepted') - Number(b.state === 'accepted') || ORDER[a.severity] - ORDER[b.severity],
  ),
);
const nameOf = (id: number | null) => store.datasets.find((d) => d.id === id)?.name ?? '';

async function accept(id: number): Promise<void> {
  const checked = check(AcceptNotice, { reason: (reasons.value[id] ?? '').trim() });
  errors.value[id] = 'message' in checked ? checked.message : '';
  if (errors.value[id]) return;
  await store.attempt(() =>
    api.post(`/projects/${store.project!.id}/notices/${id}/accept`, { reason: reasons.value[id].trim() }),
  );
}

const fix = (id: number, label: string) =>
  store.attempt(
    () => api.post(`/projects/${store.project!.id}/notices/${id}/fix`),
    `Done: ${label.toLowerCase()}. Undo brings it back.`,
  );
</script>

<template>
  <el-drawer
    :modal="false"
    modal-penetrable
    :model-value="view.drawer === 'notices'"
    title="Notices"
    size="440px"
    @close="view.drawer = ''"
  >
    <p v-if="sorted.length === 0" class="soft">Nothing was found that needs your attention.</p>
    <article v-for="n in sorted" :key="n.id" class="notice" :class="[n.severity, n.state]">
      <header>
        <span class="state" :class="{ error: 'bad', warning: 'warn', info: '' }[n.severity]">{{
          n.state === 'accepted' ? 'accepted' : WORD[n.severity]
        }}</span>
        <span class="soft">{{ nameOf(n.datasetId) }}</span>
      </header>
      <p>{{ n.text }}</p>
      <p v-if="n.effect" class="soft">Effect: {{ n.effect }}</p>
      <p v-if="n.remedy">What to do: {{ n.remedy }}</p>
      <el-button v-if="n.fix && n.state === 'open'" type="primary" @click="fix(n.id, n.fix)">{{ n.fix }}</el-button>
      <p v-if="n.state === 'accepted'" class="soft">Accepted because: {{ n.reason }}</p>
      <form v-else-if="n.severity !== 'info'" novalidate class="accept" @submit.prevent="accept(n.id)">
        <el-input
          v-model="reasons[n.id]"
          :aria-label="`Reason to accept: ${n.text}`"
          placeholder="Reason, if it can be accepted"
          maxlength="500"
        />
        <el-button native-type="submit">Accept</el-button>
      </form>
      <p v-if="errors[n.id]" class="state bad">{{ errors[n.id] }}</p>
    </article>
  </el-drawer>
</template>

<style scoped>
.notice header {
  display: flex;
  gap: 8px;
}
.notice {
  border-left: 3px solid var(--line);
  padding: 4px 0 8px 12px;
  margin-bottom: 12px;
}
.notice.error {
  border-color: var(--clay);
}
.notice.warning {
  border-color: var(--bill);
}
.notice.accepted {
  border-color: var(--moss);
  opacity: 0.8;
}
.notice p {
  margin: 2px 0;
}
.accept {
  display: flex;
  gap: 8px;
  margin-top: 4px;
}
</style>
