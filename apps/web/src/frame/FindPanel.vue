<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { type DatasetDto } from '@longheron/contract/api';
import { useProject } from '../stores/project';
import { useView } from '../stores/view';
import { STAGE_NAMES, STAGES, type Stage } from '@longheron/contract/stages';
import { kindWords } from '@longheron/contract/kinds';
import { panelPath } from '../stages/address';
import { PANELS } from '../stages/panels';
import { lastDataset } from '../stores/lastPlace';

/** Finds datasets, marks, notices, stages and their panels by their words. */
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
const project = () => String(route.params.projectId);
const to = (stage: string) => void router.push(`/project/${project()}/${stage}`);
const toPanel = (stage: Stage, name: string, dataset: number | string = lastDataset(project(), stage, name)) =>
  void router.push(panelPath(project(), stage, name, dataset));
/** The panel that shows a dataset: the one of what made it, else the first of its stage. */
const panelFor = (d: DatasetDto) => {
  const own = PANELS.filter((p) => p.stage === d.stage);
  return own.find((p) => p.operations?.some((o) => o === d.revision.madeBy)) ?? own[0];
};
const all = computed<Hit[]>(() => [
  ...STAGES.map((s: Stage) => ({ key: s, kind: 'stage', name: STAGE_NAMES[s], go: () => to(s) })),
  ...PANELS.map((p) => ({
    key: `${p.stage}/${p.name}`,
    kind: `panel of ${STAGE_NAMES[p.stage]}`,
    name: `${p.title}: ${p.what}`,
    go: () => toPanel(p.stage, p.name),
  })),
  ...store.datasets
    .filter((d) => d.kind !== 'reference')
    .map((d) => ({
      key: `d${d.id}`,
      kind: kindWords(d.kind),
      name: d.name,
      go: () => toPanel(d.stage, panelFor(d).name, d.id),
    })),
  ...store.ofKind('marks').flatMap((d) =>
    d.revision.content.marks.map((m) => ({
      key: `m${d.id} ${m.name}`,
      kind: `${m.role} mark`,
      name: `${m.name} in ${d.name}`,
      go: () => {
        view.selectedMark = m.name;
        toPanel('prove', 'heights');
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
      placeholder="Find a file, result, mark, notice, stage or panel"
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
