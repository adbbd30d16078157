<script setup lang="ts">
import { onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { type ProjectDto } from '@longheron/contract/api';
import { check, CreateProject } from '@longheron/contract/requests';
import { api } from '../api/client';

const projects = ref<ProjectDto[] | null>(null);
const error = ref('');
const name = ref('');
const nameError = ref('');
const router = useRouter();

async function load(): Promise<void> {
  try {
    projects.value = await api.get<ProjectDto[]>('/projects');
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
</script>

<template>
  <main class="page">
    <h1>Long Heron</h1>
    <p class="soft">From raw sensor files to proven deliverables.</p>
    <p v-if="error" class="state bad">{{ error }} <el-button @click="load">Try again</el-button></p>
    <ul v-if="projects" class="list">
      <li v-for="p in projects" :key="p.id">
        <RouterLink :to="`/project/${p.id}/gather`" class="card">
          <strong>{{ p.name }}</strong>
          <span class="soft">{{
            p.reference ? `${p.reference.horizontalName}, ${p.reference.verticalName}` : 'No coordinate system yet'
          }}</span>
        </RouterLink>
      </li>
    </ul>
    <p v-if="projects && projects.length === 0" class="soft">No project yet. Give the first one a name.</p>
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
  max-width: 720px;
  margin: 64px auto;
  padding: 0 24px;
}
.list {
  list-style: none;
  padding: 0;
  margin: 24px 0;
  display: grid;
  gap: 8px;
}
.card {
  display: flex;
  justify-content: space-between;
  gap: 16px;
  background: var(--paper);
  border: 1px solid var(--line);
  border-radius: 4px;
  padding: 12px 16px;
  color: inherit;
  text-decoration: none;
}
.card:hover {
  border-color: var(--reed);
}
.new {
  display: flex;
  align-items: center;
  gap: 8px;
}
</style>
