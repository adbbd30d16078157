<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { gridNameOf } from '@longheron/core/frames';
import { type SystemNames } from '@longheron/contract/api';
import { api } from '../api/client';
import { useProject } from '../stores/project';

interface Entry {
  code: number;
  name: string;
  area: string;
}
/** A projected system of the EPSG list, and what its heights refer to: a geoid grid of the project, EGM96, the ellipsoid. */
const props = defineProps<{
  /** Name of the system that is set, until another is searched for. */
  name?: string;
  label?: string;
}>();
const horizontal = defineModel<number>('horizontal', { required: true });
/** What heights refer to, and the grid of the datum. */
const heights = defineModel<Pick<SystemNames, 'vertical' | 'geoid' | 'shift'>>('heights', { required: true });
const store = useProject();
const EGM96 = 5773;
const gridsOf = (kind: 'geoid' | 'datum-grid') =>
  store.ofKind(kind).map((d) => ({ dataset: d.id, ...gridNameOf(d.name, d.revision.content.object) }));
const grids = computed(() => gridsOf('geoid'));
const shifts = computed(() => gridsOf('datum-grid'));
/** 0: by the list's parameters. */
const shift = computed({
  get: () => heights.value.shift?.dataset ?? 0,
  set: (id) => (heights.value = { ...heights.value, shift: shifts.value.find((g) => g.dataset === id) }),
});
/** `grid 12`, `5773` or `0`. */
const chosen = computed({
  get: () => (heights.value.geoid ? `grid ${heights.value.geoid.dataset}` : String(heights.value.vertical)),
  set: (key) => {
    const geoid = grids.value.find((g) => key === `grid ${g.dataset}`);
    heights.value = { shift: heights.value.shift, ...(geoid ? { vertical: 0, geoid } : { vertical: Number(key) }) };
  },
});
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
  <el-form-item v-if="shifts.length" label="Datum shift, for a system on another datum">
    <el-select v-model="shift" aria-label="Datum shift"
      ><el-option :value="0" label="by the list's parameters, approximate" /><el-option
        v-for="g in shifts"
        :key="g.dataset"
        :value="g.dataset"
        :label="`by the grid ${g.name}`"
    /></el-select>
  </el-form-item>
  <el-form-item label="Heights refer to">
    <el-select v-model="chosen" aria-label="Heights refer to"
      ><el-option
        v-for="g in grids"
        :key="g.dataset"
        :value="`grid ${g.dataset}`"
        :label="`the geoid ${g.name}`" /><el-option
        :value="String(EGM96)"
        label="EGM96 geoid (15′ grid, ± 5 mm)" /><el-option value="0" label="the ellipsoid"
    /></el-select>
    <p class="soft note">Another geoid: import its grid, GTX or GeoTIFF, in Gather.</p>
  </el-form-item>
</template>

<style scoped>
.note {
  margin: 2px 0 0;
  font-size: 12px;
  line-height: 1.3;
}
</style>
