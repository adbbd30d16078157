<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { type Mark } from '@longheron/core/accuracy';
import { useProject } from '../stores/project';
import { useView } from '../stores/view';
import { STAGE_NAMES, STAGES, type Stage } from '@longheron/contract/stages';
import { KIND_NAMES } from '../ui/format';

/** Finds datasets, marks, notices and stages by their words. */
const open = defineModel<boolean>({ required: true });
const store = useProject();
const view = useView();
const router = useRouter();
const route = useRoute();
const text = ref('');
const at = ref(0);
const input = ref<HTMLInputElement | null>(null);
interface Hit {
  key: string;
  kind: string;
  name: string;
  go: () => void;
}
const to = (stage: string) => void router.push(`/project/${String(route.params.projectId)}/${stage}`);
const all = computed<Hit[]>(() => [
  ...STAGES.map((s: Stage) => ({ key: s, kind: 'stage', name: STAGE_NAMES[s], go: () => to(s) })),
  ...store.datasets
    .filter((d) => d.kind !== 'reference')
    .map((d) => ({
      key: `d${d.id}`,
      kind: (KIND_NAMES[d.kind] ?? d.kind).toLowerCase(),
      name: d.name,
      go: () => {
        view.selectedDataset = { ...view.selectedDataset, [d.stage]: d.id };
        to(d.stage);
      },
    })),
  ...store.ofKind('marks').flatMap((d) =>
    ((d.revision.content.marks as Mark[] | undefined) ?? []).map((m) => ({
      key: `m${d.id} ${m.name}`,
      kind: `${m.role} mark`,
      name: `${m.name} in ${d.name}`,
      go: () => {
        view.selectedMark = m.name;
        to('prove');
      },
    })),
  ),
  ...store.notices.map((n) => ({ key: `n${n.id}`, kind: 'notice', name: n.text, go: () => (view.drawer = 'notices') })),
]);
const hits = computed(() => {
  const words = text.value.toLowerCase().split(/\s+/).filter(Boolean);
  return all.value.filter((h) => words.every((w) => `${h.kind} ${h.name}`.toLowerCase().includes(w))).slice(0, 12);
});
watch(text, () => (at.value = 0));
watch(open, (now) => {
  if (!now) return;
  text.value = '';
  void nextTick(() => input.value?.focus());
});
function choose(h: Hit | undefined): void {
  if (!h) return;
  open.value = false;
  h.go();
}
function key(event: KeyboardEvent): void {
  if (event.key === 'ArrowDown') at.value = Math.min(hits.value.length - 1, at.value + 1);
  else if (event.key === 'ArrowUp') at.value = Math.max(0, at.value - 1);
  else if (event.key === 'Enter') choose(hits.value[at.value]);
  else if (event.key === 'Escape') open.value = false;
  else return;
  event.preventDefault();
}
</script>

<template>
  <div v-if="open" class="find" role="dialog" aria-label="Find in the project">
    <input
      ref="input"
      v-model="text"
      placeholder="Find a file, result, mark, notice or stage"
      aria-label="Find"
      @keydown="key"
      @blur="open = false"
    />
    <ul role="listbox">
      <li
        v-for="(h, i) in hits"
        :key="h.key"
        role="option"
        :aria-selected="i === at"
        :class="{ at: i === at }"
        @mousedown.prevent="choose(h)"
      >
        <span class="soft">{{ h.kind }}</span> {{ h.name }}
      </li>
    </ul>
    <p v-if="hits.length === 0" class="soft">Nothing of that name.</p>
  </div>
</template>

<style scoped>
.find {
  position: fixed;
  z-index: 3000;
  top: 88px;
  left: 50%;
  width: 520px;
  margin-left: -260px;
  background: var(--paper);
  border: 1px solid var(--line);
  border-radius: 4px;
  box-shadow: 0 8px 32px #15262c33;
  padding: 8px;
}
input {
  width: 100%;
  height: 32px;
  border: 1px solid var(--reed);
  border-radius: 4px;
  padding: 0 8px;
  font: inherit;
}
ul {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
}
li {
  padding: 4px 8px;
  cursor: pointer;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
li.at {
  background: var(--reed-soft);
}
p {
  margin: 8px;
}
</style>
