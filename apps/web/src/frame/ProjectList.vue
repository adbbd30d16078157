<script setup lang="ts">
import { computed, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { ElMessageBox } from 'element-plus';
import { type ListedProject, type ProjectDto, DEMO_NAME, SECOND_DEMO_NAME } from '@longheron/contract/api';

import { check, CreateProject } from '@longheron/contract/requests';
import { STAGE_NAMES } from '@longheron/contract/stages';
import { formatGps } from '@longheron/core/time';
import { api } from '../api/client';
import { bytesText } from '../ui/format';
import ToolMenu from '../ui/ToolMenu.vue';
import SmallPlan from './SmallPlan.vue';
import { STATE_CLASS } from './states';

const DEMOS = [DEMO_NAME, SECOND_DEMO_NAME];
const projects = ref<ListedProject[] | null>(null);
const error = ref('');
const name = ref('');
const nameError = ref('');
const router = useRouter();

async function load(): Promise<void> {
  try {
    projects.value = await api.get<ListedProject[]>('/projects');
    error.value = '';
  } catch (e) {
    error.value = (e as Error).message;
  }
}
onMounted(load);

async function create(): Promise<void> {
  const checked = check(CreateProject, { name: name.value.trim() });
  nameError.value = 'message' in checked ? checked.message : '';
  if (nameError.value) return;
  try {
    const made = await api.post<ProjectDto>('/projects', { name: name.value.trim() });
    await router.push(`/project/${made.id}/gather`);
  } catch (e) {
    nameError.value = (e as Error).message;
  }
}

const several = (n: number, one: string) => `${n} ${n === 1 ? one : `${one}s`}`;
function holds({ files, results, bytes }: ListedProject['holds']): string {
  if (files + results === 0) return 'empty';
  return `${several(files, 'file')}, ${several(results, 'result')}, ${bytesText(bytes)}`;
}
const dayOf = (p: ListedProject) =>
  p.holds.startGps === null ? '' : formatGps(p.holds.startGps, 'utc', 0).slice(0, 10);
const makeDemo = () => change(() => api.post('/demo'));
async function rename(p: ListedProject): Promise<void> {
  const answer = await ElMessageBox.prompt('', `Rename "${p.name}"`, {
    inputValue: p.name,
    inputValidator: (v) => {
      const checked = check(CreateProject, { name: v?.trim() ?? '' });
      return 'message' in checked ? checked.message : true;
    },
    confirmButtonText: 'Rename',
    cancelButtonText: 'Cancel',
  }).catch(() => undefined);
  if (answer) await change(() => api.patch(`/projects/${p.id}`, { name: String(answer.value).trim() }));
}
async function remove(p: ListedProject): Promise<void> {
  const answer = await ElMessageBox.confirm(
    `${holds(p.holds)}. Everything made in it goes; what nothing else uses is freed at the next start. Files that were imported from a folder stay where they are.`,
    `Delete "${p.name}"`,
    { confirmButtonText: 'Delete', cancelButtonText: 'Cancel', confirmButtonClass: 'el-button--danger' },
  ).catch(() => undefined);
  if (answer) await change(() => api.del(`/projects/${p.id}`));
}
async function change(work: () => Promise<unknown>): Promise<void> {
  try {
    await work();
    await load();
  } catch (e) {
    error.value = (e as Error).message;
  }
}
const putAway = (p: ListedProject, away: boolean) => change(() => api.patch(`/projects/${p.id}`, { putAway: away }));
const ACTS: Record<string, (p: ListedProject) => Promise<void>> = {
  rename,
  away: (p) => putAway(p, true),
  back: (p) => putAway(p, false),
  delete: remove,
};
const act = (p: ListedProject, key: string) => ACTS[key]?.(p);
/** Projects that are put away stand last, and only when they are asked for. */
const withAway = ref(false);
const away = computed(() => (projects.value ?? []).filter((p) => p.putAway));
const shown = computed(() => [
  ...(projects.value ?? []).filter((p) => !p.putAway),
  ...(withAway.value ? away.value : []),
]);
</script>

<template>
  <main class="page">
    <h1>Long Heron</h1>
    <p class="soft">From raw sensor files to proven deliverables.</p>
    <p v-if="error" class="state bad">{{ error }} <el-button @click="load">Try again</el-button></p>
    <ul v-if="projects" class="list">
      <li v-for="p in shown" :key="p.id" class="item" :class="{ away: p.putAway }">
        <RouterLink :to="`/project/${p.id}/gather`" class="card">
          <SmallPlan :lines="p.holds.plan" class="place" />
          <strong>{{ p.name }}</strong>
          <span class="mono soft day">{{ dayOf(p) }}</span>
          <span class="soft">{{
            p.reference ? `${p.reference.horizontalName}, ${p.reference.verticalName}` : 'No coordinate system yet'
          }}</span>
          <span class="soft size">{{ holds(p.holds) }}</span>
          <span class="stages">
            <span v-for="s in p.holds.stages" :key="s.stage" :class="STATE_CLASS[s.state]"
              >{{ STAGE_NAMES[s.stage] }} <small>{{ s.state }}</small></span
            >
          </span>
        </RouterLink>
        <ToolMenu
          icon="more"
          :label="`What to do with ${p.name}`"
          :items="[
            { key: 'rename', label: 'Rename …' },
            p.putAway ? { key: 'back', label: 'Take back' } : { key: 'away', label: 'Put away' },
            { key: 'delete', label: 'Delete …' },
          ]"
          @choose="act(p, $event)"
        />
      </li>
    </ul>
    <p v-if="away.length">
      <el-button link :aria-expanded="withAway" @click="withAway = !withAway"
        >{{ withAway ? 'Hide' : 'Show' }} {{ several(away.length, 'project') }} put away</el-button
      >
    </p>
    <p v-if="projects && projects.length === 0" class="soft">No project yet. Give the first one a name.</p>
    <p v-if="projects && DEMOS.some((name) => !projects!.some((p) => p.name === name))">
      <el-button @click="makeDemo">Make the demo projects</el-button>
      <span class="soft">
        what is missing of them: a survey of a made-up reach with its files, and an older delivery in national heights;
        they fill themselves in a few minutes.</span
      >
    </p>
    <form novalidate class="new" @submit.prevent="create">
      <label for="new-name">New project</label>
      <el-input id="new-name" v-model="name" placeholder="Name" maxlength="120" style="width: 280px" />
      <el-button type="primary" native-type="submit">Create project</el-button>
    </form>
    <p v-if="nameError" class="state bad">{{ nameError }}</p>
  </main>
</template>

<style scoped>
.page {
  max-width: 860px;
  margin: 48px auto;
  padding: 0 24px;
}
.list {
  list-style: none;
  padding: 0;
  margin: 24px 0;
  display: grid;
  gap: 8px;
}
.item {
  display: flex;
  align-items: center;
  gap: 6px;
}
.card {
  flex: 1;
  min-width: 0;
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: 2px 16px;
  background: var(--paper);
  border: 1px solid var(--line);
  border-radius: 4px;
  padding: 10px 16px 10px 10px;
  color: inherit;
  text-decoration: none;
}
.card:hover {
  border-color: var(--reed);
}
.away .card {
  background: none;
}
.place {
  grid-row: 1 / span 3;
}
.day,
.size {
  text-align: right;
}
.stages {
  grid-column: 2 / -1;
  display: grid;
  grid-template-columns: repeat(6, minmax(0, 1fr));
  gap: 4px;
  align-self: end;
  font-size: 12px;
  line-height: 1.3;
}
.stages > span {
  border-top: 3px solid var(--line);
  padding-top: 2px;
}
.stages small {
  display: block;
  font-size: 12px;
  color: var(--ink-soft);
}
.stages .ok {
  border-color: var(--moss);
}
.stages .warn {
  border-color: var(--bill);
}
.stages .busy {
  border-color: var(--reed);
}
.new {
  display: flex;
  align-items: center;
  gap: 8px;
}
</style>
