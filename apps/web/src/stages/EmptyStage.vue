<script setup lang="ts">
import { computed } from 'vue';
import { STAGE_NAMES } from '@longheron/contract/stages';
import { useProject } from '../stores/project';
import Icon from '../ui/Icon.vue';
import { useAddress } from './address';
import { NEEDS } from './needs';

/** Over the bench of a stage that holds nothing yet: what it makes, what it needs, and the way to what is missing. */
const store = useProject();
const { stage, project } = useAddress();
const shown = computed(
  () => store.loaded && store.stages.find((s) => s.stage === stage.value)?.state === 'nothing yet',
);
const about = computed(() => NEEDS[stage.value]);
const needs = computed(() => about.value.needs.map((n) => ({ ...n, there: n.met(store.datasets, store.project) })));
</script>

<template>
  <section v-if="shown" class="empty-stage" aria-label="What this stage needs">
    <h2>{{ about.makes }}</h2>
    <ul>
      <li v-for="n in needs" :key="n.what" :class="{ there: n.there }">
        <Icon :name="n.there ? 'done' : 'todo'" />
        <span
          >{{ n.what }}
          <RouterLink v-if="!n.there && n.from && n.from !== stage" :to="`/project/${project}/${n.from}`"
            >to {{ STAGE_NAMES[n.from] }}</RouterLink
          ></span
        >
      </li>
    </ul>
    <p v-if="about.then" class="soft">{{ about.then }}</p>
  </section>
</template>

<style scoped>
.empty-stage {
  position: absolute;
  left: 50%;
  top: 42%;
  transform: translate(-50%, -50%);
  width: min(440px, 86%);
  z-index: 3;
  padding: 16px 20px;
  background: var(--paper);
  border: 1px solid var(--line);
  border-radius: 4px;
}
h2 {
  margin: 0 0 8px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 20px 1fr;
  gap: 6px;
  padding: 3px 0;
}
li.there {
  color: var(--ink-soft);
}
p {
  margin: 8px 0 0;
}
</style>
