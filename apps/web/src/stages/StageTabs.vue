<script setup lang="ts">
import { computed } from 'vue';
import { useProject } from '../stores/project';
import { useAddress } from './address';
import { panelsOf, type Panel } from './panels';

/** The panels of the stage; those without anything to show stand back behind "more". */
const props = defineProps<{
  /** The dataset that is looked at stays when another panel is opened. */
  keep?: boolean;
}>();
const store = useProject();
const { stage, panel, dataset, to } = useAddress();
const panels = computed(() => panelsOf(stage.value));
const ready = (p: Panel) => !p.kinds || p.kinds.some((kind) => store.ofKind(kind).length > 0);
const front = computed(() => panels.value.filter((p) => ready(p) || p.name === panel.value));
const back = computed(() => panels.value.filter((p) => !front.value.includes(p)));
const path = (p: Panel) => to(stage.value, p.name, props.keep ? dataset.value : undefined);
</script>

<template>
  <nav v-if="panels.length > 1" class="tabs" aria-label="Parts of the stage">
    <RouterLink
      v-for="p in front"
      :key="p.name"
      :to="path(p)"
      :class="{ at: p.name === panel }"
      :aria-current="p.name === panel ? 'page' : undefined"
      :title="p.what"
      >{{ p.title }}</RouterLink
    >
    <details v-if="back.length">
      <summary>more</summary>
      <RouterLink v-for="p in back" :key="p.name" :to="path(p)" :title="p.what">{{ p.title }}</RouterLink>
    </details>
  </nav>
</template>

<style scoped>
.tabs {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  margin-bottom: 10px;
}
a,
summary {
  text-align: center;
  padding: 2px 6px;
  border: 1px solid var(--line);
  border-radius: 4px;
  color: inherit;
  text-decoration: none;
  font-size: 12px;
  cursor: pointer;
  white-space: nowrap;
}
a:hover {
  border-color: var(--reed);
}
a.at {
  background: var(--reed);
  border-color: var(--reed);
  color: #fff;
}
summary {
  color: var(--ink-soft);
  list-style: none;
}
details[open] {
  display: contents;
}
details[open] summary {
  display: none;
}
</style>
