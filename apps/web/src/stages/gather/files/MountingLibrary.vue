<script setup lang="ts">
import { computed, onMounted, ref } from 'vue';
import { mountingToJson, parseMounting } from '@longheron/core/frames';
import { type DatasetOf, type PlatformDto } from '@longheron/contract/api';
import { api } from '../../../api/client';
import { useProject } from '../../../stores/project';

/** Keeps the mounting in the library of vehicles, where every project finds it. */
const props = defineProps<{ dataset: DatasetOf<'mounting'>; dirty: boolean }>();
const store = useProject();
const kept = ref<PlatformDto[]>([]);
const form = ref({ name: '', note: '' });
const plain = (m: unknown) => JSON.stringify(mountingToJson(parseMounting(m)));
const twin = computed(() => {
  const own = plain(props.dataset.revision.content.mounting);
  return kept.value.find((p) => plain(p.mounting) === own);
});
const names = computed(() => [...new Set(kept.value.map((p) => p.name))]);
async function load(): Promise<void> {
  await store.attempt(async () => {
    kept.value = await api.get<PlatformDto[]>('/platforms');
    form.value.name ||= names.value[0] ?? props.dataset.name.replace(/(_mount)?\.json$/, '');
  });
}
onMounted(load);
async function keep(): Promise<void> {
  const at = `/projects/${store.project!.id}/datasets/${props.dataset.id}/platform`;
  if (await store.attempt(() => api.post(at, form.value), 'Kept in the library.')) {
    form.value.note = '';
    await load();
  }
}
</script>

<template>
  <h3>Library of vehicles</h3>
  <p v-if="twin" class="soft">This is “{{ twin.name }}”, version {{ twin.version }}, of the library.</p>
  <template v-else>
    <p class="soft">Kept under a name, a mounting is there for every project; each change is a version with its day.</p>
    <form class="keep" @submit.prevent="keep">
      <el-autocomplete
        v-model="form.name"
        :fetch-suggestions="(_q: string, done: (l: object[]) => void) => done(names.map((value) => ({ value })))"
        aria-label="Name in the library"
        maxlength="60"
      />
      <el-input v-model="form.note" aria-label="What changed" placeholder="what changed (optional)" maxlength="300" />
      <el-button
        native-type="submit"
        :disabled="dirty || !form.name.trim()"
        :title="dirty ? 'Change the mounting first' : ''"
        >Keep in the library</el-button
      >
    </form>
  </template>
</template>

<style scoped>
.keep {
  display: grid;
  gap: 6px;
}
</style>
