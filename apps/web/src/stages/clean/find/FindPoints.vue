<script setup lang="ts">
import { computed, ref } from 'vue';
import { useLocalStorage } from '@vueuse/core';
import { type DatasetOf, type FoundDto } from '@longheron/contract/api';
import { FINDERS, type FinderName } from '@longheron/core/cloud';
import { api } from '../../../api/client';
import { useCloudLook } from '../../../stores/cloudLook';
import { useProject } from '../../../stores/project';
import { useSelection } from '../../../stores/selection';
import Num from '../../../ui/Num.vue';
import Setting from '../../../ui/Setting.vue';
import SelectionActs from '../hand/SelectionActs.vue';

/** Finding points by themselves: what is found is selected, to be looked at before anything is done with it. */
const props = defineProps<{ dataset: DatasetOf<'point-cloud'> }>();
const store = useProject();
const selection = useSelection();
const look = useCloudLook();
const names = Object.keys(FINDERS) as FinderName[];
const finder = useLocalStorage<FinderName>('longheron.finder', 'groups');
const plan = computed(() => FINDERS[finder.value] ?? FINDERS.groups);
const usual = (n: FinderName) => Object.fromEntries(FINDERS[n].settings.map((s) => [s.key, s.usual]));
const settings = ref(Object.fromEntries(names.map((n) => [n, usual(n)])) as Record<FinderName, Record<string, number>>);
const changed = computed(() => plan.value.settings.some((s) => settings.value[finder.value][s.key] !== s.usual));
const found = ref<(FoundDto & { title: string }) | null>(null);
const busy = ref(false);
const within = ref(false);
const lacking = computed(() => {
  if (plan.value.needs === 'point' && !look.picked) return 'Click a point of the thing in the cloud view first.';
  const counts = (props.dataset.revision.content.countsByClass ?? {}) as Record<string, number>;
  if (plan.value.needs === 'ground' && !counts[2]) return 'This cloud has no ground points: find the ground first.';
  return '';
});
async function find(): Promise<void> {
  busy.value = true;
  const title = plan.value.title;
  const body = {
    finder: finder.value,
    settings: settings.value[finder.value],
    ...(plan.value.needs === 'point' ? { row: look.picked!.row } : {}),
  };
  await store.attempt(async () => {
    const got = await api.post<FoundDto>(`/projects/${store.project!.id}/datasets/${props.dataset.id}/find`, body);
    found.value = { ...got, title };
    if (got.count) {
      const how = within.value && selection.regions.length ? 'within' : 'replace';
      selection.add({ kind: 'rows', object: got.object, name: title }, how);
    } else if (!within.value) selection.clear();
  });
  busy.value = false;
}
</script>

<template>
  <h2>Find points</h2>
  <el-form novalidate label-position="top" @submit.prevent="find">
    <el-form-item label="What to find"
      ><el-select v-model="finder" aria-label="What to find"
        ><el-option v-for="n in names" :key="n" :value="n" :label="FINDERS[n].title" /></el-select
    ></el-form-item>
    <p class="soft">{{ plan.what }}</p>
    <Setting
      v-for="s in plan.settings"
      :key="finder + s.key"
      v-model="settings[finder][s.key]"
      :label="s.label"
      :unit="s.unit"
      :min="s.min"
      :max="s.max"
      :step="s.step"
      :digits="s.digits"
      :reason="s.reason"
    />
    <el-checkbox v-if="selection.regions.length" v-model="within" label="Only within what is selected now" />
    <p v-if="lacking" class="state warn wrap">{{ lacking }}</p>
    <div class="row">
      <el-button type="primary" native-type="submit" :loading="busy" :disabled="!!lacking">Find</el-button>
      <el-button v-if="changed" link @click="settings[finder] = usual(finder)">Back to the usual values</el-button>
    </div>
  </el-form>
  <p v-if="found" aria-live="polite">
    {{ found.title }}: <strong><Num :value="found.count" /></strong> points found<template v-if="found.count"
      >, and selected; nothing is changed yet</template
    >. <span v-if="found.note" class="soft">{{ found.note }}</span>
  </p>
  <SelectionActs :dataset="dataset" />
</template>

<style scoped>
.row {
  display: flex;
  gap: 8px;
  margin: 8px 0;
}
.wrap {
  white-space: normal;
}
</style>
