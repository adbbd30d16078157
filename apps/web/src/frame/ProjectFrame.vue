<script setup lang="ts">
import { onBeforeUnmount, ref, watch } from 'vue';
import { useEventListener } from '@vueuse/core';
import { useRoute, useRouter } from 'vue-router';
import { STAGES } from '@longheron/contract/stages';
import { useProject } from '../stores/project';
import { useView } from '../stores/view';
import CourseBar from './CourseBar.vue';
import FindPanel from './FindPanel.vue';
import HelpDrawer from './HelpDrawer.vue';
import NoticesDrawer from './NoticesDrawer.vue';
import ReferenceBar from './ReferenceBar.vue';
import ReferenceDrawer from './ReferenceDrawer.vue';
import TimeLanes from './TimeLanes.vue';
import WorkDrawer from './WorkDrawer.vue';
import { isTyping } from '../ui/keys';

const finding = ref(false);
const store = useProject();
const view = useView();
const route = useRoute();
const router = useRouter();

watch(
  () => Number(route.params.projectId),
  (id) => void store.open(id),
  { immediate: true },
);
onBeforeUnmount(() => store.close());

useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z' && !isTyping(event.target)) {
    const d = store.datasets.find((x) => x.id === view.active);
    if (d) void store.stepBack(d, event.shiftKey ? 'redo' : 'undo');
    event.preventDefault();
    return;
  }
  if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
  const digit = Number(event.key);
  if (digit >= 1 && digit <= 6) void router.push(`/project/${String(route.params.projectId)}/${STAGES[digit - 1]}`);
  else if (event.key === 't') view.lanesOpen = !view.lanesOpen;
  else if (event.key === 'n') view.drawer = view.drawer === 'notices' ? '' : 'notices';
  else if (event.key === 'w') view.drawer = view.drawer === 'work' ? '' : 'work';
  else if (event.key === '/') finding.value = true;
  else if (event.key === '?') view.drawer = view.drawer === 'help' ? '' : 'help';
  else return;
  event.preventDefault();
});
</script>

<template>
  <div v-if="store.error" class="failed">
    <h1>This project cannot be opened</h1>
    <p>{{ store.error }}</p>
    <RouterLink to="/">To the projects</RouterLink>
  </div>
  <div v-else class="frame">
    <CourseBar />
    <ReferenceBar />
    <main v-if="store.loaded" class="stage"><RouterView /></main>
    <main v-else class="stage soft" style="padding: 24px">Opening the project …</main>
    <TimeLanes />
    <NoticesDrawer />
    <WorkDrawer />
    <ReferenceDrawer />
    <HelpDrawer />
    <FindPanel v-model="finding" />
  </div>
</template>

<style scoped>
.frame {
  height: 100%;
  display: grid;
  grid-template-rows: 48px 26px minmax(0, 1fr) auto;
}
.stage {
  min-height: 0;
  overflow: hidden;
}
.failed {
  padding: 96px 24px;
  text-align: center;
}
</style>
