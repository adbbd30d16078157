<script setup lang="ts">
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { STAGE_NAMES } from '@longheron/contract/stages';
import { useAddress } from '../stages/address';
import { useProject } from '../stores/project';
import { useView } from '../stores/view';
import Icon from '../ui/Icon.vue';
import { STATE_CLASS } from './states';
import PlainButton from '../ui/PlainButton.vue';

const store = useProject();
const view = useView();
const route = useRoute();
const { stage } = useAddress();
const base = computed(() => `/project/${String(route.params.projectId)}`);
</script>

<template>
  <header class="top">
    <div class="who">
      <RouterLink to="/" class="brand">Long Heron</RouterLink>
      <h1 class="project" :title="store.project?.name">{{ store.project?.name }}</h1>
    </div>
    <nav aria-label="Course" class="course">
      <RouterLink
        v-for="(s, i) in store.stages"
        :key="s.stage"
        :to="`${base}/${s.stage}`"
        class="stage"
        :class="[STATE_CLASS[s.state], { here: s.stage === stage }]"
        :title="`${STAGE_NAMES[s.stage]}: ${s.state} (key ${i + 1})`"
      >
        <span class="name">{{ STAGE_NAMES[s.stage] }}</span>
        <span class="word">{{ s.state }}</span>
      </RouterLink>
    </nav>
    <div class="tools">
      <PlainButton class="tool" title="Notices (n)" @click="view.drawer = 'notices'">
        <Icon name="flag" /> {{ store.openNotices.length }}<span class="label">notices</span>
      </PlainButton>
      <PlainButton class="tool" title="Work in progress (w)" @click="view.drawer = 'work'">
        <Icon name="work" /> {{ store.running.length }}<span class="label">running</span>
      </PlainButton>
      <PlainButton class="tool" title="Keys (?)" @click="view.drawer = 'help'">
        <Icon name="help" /><span class="label">keys</span>
      </PlainButton>
    </div>
  </header>
</template>

<style scoped>
.top {
  display: grid;
  grid-template-columns: minmax(180px, 1fr) auto minmax(180px, 1fr);
  align-items: stretch;
  background: var(--paper);
  border-bottom: 1px solid var(--line);
  padding: 0 12px;
}
.who {
  display: flex;
  flex-direction: column;
  justify-content: center;
  min-width: 0;
  line-height: 1.25;
}
.brand {
  font-size: 12px;
  color: var(--ink-soft);
  text-decoration: none;
  letter-spacing: 0.04em;
}
.project {
  font-weight: 600;
  font-size: 15px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.course {
  display: flex;
}
.stage {
  position: relative;
  display: flex;
  flex-direction: column;
  justify-content: center;
  align-items: center;
  width: 104px;
  text-decoration: none;
  color: var(--ink);
  border-bottom: 3px solid transparent;
  line-height: 1.25;
}
.stage::before {
  content: '';
  position: absolute;
  left: -50%;
  top: 7px;
  width: 100%;
  height: 2px;
  background: var(--line);
  z-index: 0;
}
.stage:first-child::before {
  display: none;
}
.stage::after {
  content: '';
  position: absolute;
  top: 4px;
  width: 8px;
  height: 8px;
  border-radius: 50%;
  background: var(--paper);
  border: 2px solid var(--line);
  z-index: 1;
}
.stage.ok::after {
  background: var(--moss);
  border-color: var(--moss);
}
.stage.warn::after {
  background: var(--bill);
  border-color: var(--bill);
}
.stage.busy::after {
  border-color: var(--reed);
}
.stage.here {
  border-bottom-color: var(--reed);
}
.stage .name {
  font-weight: 600;
  margin-top: 11px;
}
.stage .word {
  font-size: 12px;
  color: var(--ink-soft);
}
.stage.warn .word {
  color: var(--bill-text);
  font-weight: 600;
}
.stage.busy .word {
  color: var(--reed);
  font-weight: 600;
}
.tools {
  display: flex;
  justify-content: flex-end;
  align-items: center;
  gap: 4px;
}
.tool {
  display: inline-flex;
  align-items: center;
  gap: 4px;
  border: 1px solid transparent;
  background: none;
  border-radius: 4px;
  padding: 4px 8px;
  cursor: pointer;
  color: var(--ink);
  font-variant-numeric: tabular-nums;
}
.tool:hover {
  border-color: var(--line);
  background: var(--mist);
}
.label {
  color: var(--ink-soft);
  font-size: 12px;
}
@media (max-width: 1180px) {
  .tool .label {
    display: none;
  }
  .stage {
    width: 92px;
  }
}
</style>
