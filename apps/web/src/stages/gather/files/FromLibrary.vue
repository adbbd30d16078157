<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { type PlatformDto } from '@longheron/contract/api';
import { api } from '../../../api/client';
import { useProject } from '../../../stores/project';

/** Takes a vehicle of the library into the project. */
const open = defineModel<boolean>({ required: true });
const store = useProject();
const kept = ref<PlatformDto[] | null>(null);
const earlier = ref(false);
const shown = computed(() =>
  (kept.value ?? []).filter((p, i, all) => earlier.value || all.findIndex((q) => q.name === p.name) === i),
);
async function load(): Promise<void> {
  await store.attempt(async () => {
    kept.value = await api.get<PlatformDto[]>('/platforms');
  });
}
watch(open, (now) => now && void load(), { immediate: true });
async function take(p: PlatformDto): Promise<void> {
  const at = `/projects/${store.project!.id}/platforms/${p.id}`;
  if (await store.attempt(() => api.post(at, {}), `“${p.name}”, version ${p.version}, is among the files.`))
    open.value = false;
}
async function drop(p: PlatformDto): Promise<void> {
  if (await store.attempt(() => api.del(`/platforms/${p.id}`), 'Taken out of the library; projects keep theirs.'))
    await load();
}
const serials = (p: PlatformDto) => p.sensors.map((s) => (s.serial ? `${s.name} ${s.serial}` : s.name)).join(', ');
</script>

<template>
  <el-drawer v-model="open" :modal="false" modal-penetrable title="Vehicles of the library" size="440px">
    <p v-if="kept && kept.length === 0" class="soft">
      Nothing is kept yet. Open a mounting, and keep it under the name of its vehicle.
    </p>
    <template v-else-if="kept">
      <article v-for="p in shown" :key="p.id" class="entry">
        <div>
          <strong>{{ p.name }}</strong><span class="soft"
            >, version {{ p.version }}, {{ p.createdAt.slice(0, 10) }}</span
          >
          <div class="soft">{{ serials(p) }}</div>
          <div v-if="p.note" class="soft">{{ p.note }}</div>
          <div class="soft">kept from {{ p.project }}</div>
        </div>
        <div class="acts">
          <el-button size="small" type="primary" @click="take(p)">Use here</el-button>
          <el-popconfirm title="Take this version out of the library?" @confirm="drop(p)"
            ><template #reference><el-button size="small">Take out</el-button></template></el-popconfirm
          >
        </div>
      </article>
      <el-checkbox v-model="earlier" label="Earlier versions too" />
    </template>
  </el-drawer>
</template>

<style scoped>
.entry {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  padding: 8px 0;
  border-bottom: 1px solid var(--line);
  font-size: 12.5px;
}
.acts {
  display: grid;
  gap: 4px;
  align-content: start;
}
.acts .el-button {
  margin: 0;
}
</style>
