<script setup lang="ts">
import { ref, watch } from 'vue';
import { api } from '../api/client';

interface Entry {
  code: number;
  name: string;
  area: string;
}
/** A projected system of the EPSG list with its heights. */
const props = defineProps<{
  /** Name of the system that is set, until another is searched for. */
  name?: string;
  label?: string;
}>();
const horizontal = defineModel<number>('horizontal', { required: true });
const vertical = defineModel<number>('vertical', { required: true });
const found = ref<Entry[]>([]);
watch(
  () => [horizontal.value, props.name] as const,
  ([code, name]) => {
    if (code && name && !found.value.some((e) => e.code === code)) found.value = [{ code, name, area: '' }];
  },
  { immediate: true },
);
async function search(text: string): Promise<void> {
  found.value =
    text.trim().length < 2 ? [] : await api.get<Entry[]>(`/systems?q=${encodeURIComponent(text)}`).catch(() => []);
}
</script>

<template>
  <el-form-item :label="label ?? 'Projected coordinate system (EPSG list)'">
    <el-select
      :model-value="horizontal || undefined"
      filterable
      remote
      :remote-method="search"
      :aria-label="label ?? 'Projected coordinate system'"
      placeholder="Code, name or country"
      @update:model-value="horizontal = $event"
    >
      <el-option v-for="e in found" :key="e.code" :value="e.code" :label="`${e.name} (${e.code})`" />
    </el-select>
  </el-form-item>
  <slot />
  <el-form-item label="Heights refer to">
    <el-select v-model="vertical" aria-label="Heights refer to"
      ><el-option :value="5773" label="EGM96 geoid (15′ grid, ± 5 mm)" /><el-option :value="0" label="the ellipsoid"
    /></el-select>
  </el-form-item>
</template>
