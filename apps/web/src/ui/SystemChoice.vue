<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { gridNameOf } from '@longheron/core/frames';
import { type DatasetOf, type SystemNames } from '@longheron/contract/api';
import { api } from '../api/client';
import { systemHolds } from '../stages/systems';
import { useProject } from '../stores/project';

interface Entry {
  code: number;
  name: string;
  area: string;
}
/**
 * A projected system of the EPSG list or of a file of the project, and what its heights refer to: a geoid grid or a height
 * system of the project, EGM96, the ellipsoid.
 */
const props = defineProps<{
  /** Name of the system that is set, until another is searched for. */
  name?: string;
  label?: string;
}>();
const system = defineModel<SystemNames>({ required: true });
const store = useProject();
const EGM96 = 5773;
const named = (d: DatasetOf<'geoid'> | DatasetOf<'datum-grid'> | DatasetOf<'system'>) => ({
  dataset: d.id,
  ...gridNameOf(d.name, d.revision.content.object),
});
const grids = computed(() => store.ofKind('geoid').map(named));
const shifts = computed(() => store.ofKind('datum-grid').map(named));
/** Files of well-known text, by what they hold. */
const filesWith = (what: 'plan' | 'heights') =>
  store
    .ofKind('system')
    .filter((d) => systemHolds(d)[what])
    .map(named);
const plans = computed(() => filesWith('plan'));
const heightFiles = computed(() => filesWith('heights'));
const planFile = computed(() => store.ofKind('system').find((d) => d.id === system.value.plan?.dataset));
/** Whether the file of the plan has heights of its own. */
const ownHeights = computed(() => !!planFile.value && systemHolds(planFile.value).heights);
/** A code, or `file 12`. */
const plan = computed({
  get: () => (system.value.plan ? `file ${system.value.plan.dataset}` : system.value.horizontal || undefined),
  set: (key) => {
    const file = plans.value.find((g) => key === `file ${g.dataset}`);
    const { plan: _plan, fileHeights: _heights, ...rest } = system.value;
    if (!file) system.value = { ...rest, horizontal: Number(key ?? 0) };
    else {
      const d = store.ofKind('system').find((x) => x.id === file.dataset)!;
      const heights = systemHolds(d).heights ? { vertical: 0, geoid: undefined, fileHeights: 'used' as const } : {};
      system.value = { ...rest, horizontal: 0, plan: file, ...heights };
    }
  },
});
/** 0: by the list's parameters. */
const shift = computed({
  get: () => system.value.shift?.dataset ?? 0,
  set: (id) => (system.value = { ...system.value, shift: shifts.value.find((g) => g.dataset === id) }),
});
/** `grid 12`, `own`, `5773` or `0`. */
const chosen = computed({
  get: () => {
    const { geoid, fileHeights, vertical } = system.value;
    return geoid ? `grid ${geoid.dataset}` : fileHeights === 'used' ? 'own' : String(vertical);
  },
  set: (key) => {
    const geoid = [...grids.value, ...heightFiles.value].find((g) => key === `grid ${g.dataset}`);
    const { geoid: _geoid, fileHeights: _heights, ...rest } = system.value;
    const own = ownHeights.value ? { fileHeights: key === 'own' ? ('used' as const) : ('left' as const) } : {};
    if (geoid) system.value = { ...rest, vertical: 0, geoid };
    else if (key === 'own' || key === '0') system.value = { ...rest, vertical: 0, ...own };
    else system.value = { ...rest, vertical: Number(key) };
  },
});
const found = ref<Entry[]>([]);
watch(
  () => [system.value.horizontal, props.name] as const,
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
  <el-form-item :label="label ?? 'Projected coordinate system: EPSG list, or of this project'">
    <el-select
      v-model="plan"
      filterable
      remote
      :remote-method="search"
      :aria-label="label ?? 'Projected coordinate system'"
      placeholder="Code, name or country"
    >
      <el-option
        v-for="g in plans"
        :key="`file ${g.dataset}`"
        :value="`file ${g.dataset}`"
        :label="`${g.name}, of this project`"
      />
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
        v-for="g in heightFiles"
        :key="g.dataset"
        :value="`grid ${g.dataset}`"
        :label="`the heights of ${g.name}`" /><el-option
        v-if="ownHeights"
        value="own"
        :label="`what ${system.plan?.name} says`" /><el-option
        :value="String(EGM96)"
        label="EGM96 geoid (15′ grid, ± 5 mm)" /><el-option value="0" label="the ellipsoid"
    /></el-select>
    <p class="soft note">
      Another geoid: import its grid, GTX or GeoTIFF, in Gather. A local system or a chart datum is made there.
    </p>
  </el-form-item>
</template>

<style scoped>
.note {
  margin: 2px 0 0;
  font-size: 12px;
  line-height: 1.3;
}
</style>
