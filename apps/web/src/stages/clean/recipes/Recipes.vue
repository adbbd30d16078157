<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { type DatasetOf, type PastStepsDto, type RecipeDto, type RunDto } from '@longheron/contract/api';
import { stepWords } from '@longheron/core/cloud';
import { api } from '../../../api/client';
import { useProject } from '../../../stores/project';
import DatasetChoice from '../../../ui/DatasetChoice.vue';
import Num from '../../../ui/Num.vue';
import { className } from '../../../views3d/colouring';
import FigureTable from '../../../ui/FigureTable.vue';

/** What was done to one cloud, kept as steps under a name, and done to others. */
const props = defineProps<{ dataset?: DatasetOf<'point-cloud'> }>();
const store = useProject();
const clouds = computed(() => store.ofKind('point-cloud').filter((d) => d.revision.content.index));
const at = (what: string) => `/projects/${store.project!.id}/${what}`;
const words = (s: RecipeDto['steps'][number]) => stepWords(s, className);

const past = ref<PastStepsDto | null>(null);
const wanted = ref<boolean[]>([]);
const name = ref('');
watch(
  () => props.dataset?.revision.id,
  async () => {
    past.value = null;
    if (!props.dataset?.revision.content.index) return;
    await store.attempt(async () => {
      const got = await api.get<PastStepsDto>(at(`datasets/${props.dataset!.id}/steps`));
      past.value = got;
      wanted.value = got.steps.map(() => true);
    });
  },
  { immediate: true },
);
const steps = computed(() => (past.value?.steps ?? []).filter((_, i) => wanted.value[i]));

const kept = ref<RecipeDto[]>([]);
const chosen = ref('');
const recipe = computed(() => kept.value.find((r) => r.name === chosen.value));
const load = () =>
  store.attempt(async () => {
    kept.value = await api.get<RecipeDto[]>('/recipes');
    if (!recipe.value) chosen.value = kept.value[0]?.name ?? '';
  });
void load();
const taken = computed(() => kept.value.some((r) => r.name === name.value.trim()));
const keep = () =>
  store.attempt(async () => {
    const called = name.value.trim();
    await api.put('/recipes', { name: called, steps: steps.value });
    chosen.value = called;
    name.value = '';
    await load();
  });
const remove = () =>
  store.attempt(async () => {
    await api.del(`/recipes/${encodeURIComponent(chosen.value)}`);
    await load();
  });

const targets = ref<number[]>([]);
const batch = ref(0);
const start = () =>
  store.attempt(async () => {
    const got = await api.post<{ batch: number }>(at('recipes/run'), { name: chosen.value, clouds: targets.value });
    batch.value = got.batch;
    targets.value = [];
  });
/** Jobs of the batch that was started last, failures first. */
const ORDER = ['failed', 'interrupted', 'cancelled', 'running', 'queued', 'done'];
const results = computed(() => {
  const mine = store.runs.filter((r) => r.operation === 'recipe');
  const last = batch.value || Math.max(0, ...mine.map((r) => Number(r.settings.batch)));
  return mine
    .filter((r) => r.settings.batch === last)
    .sort((a, b) => ORDER.indexOf(a.status) - ORDER.indexOf(b.status) || a.id - b.id);
});
const STATES: Record<RunDto['status'], string> = {
  queued: 'waiting',
  running: 'running',
  done: 'done',
  failed: 'failed',
  cancelled: 'cancelled',
  interrupted: 'interrupted',
};
const ended = computed(() => results.value.filter((r) => r.status === 'done').length);
const actDone = (act: PastStepsDto['left'][number]['act']) =>
  act.kind === 'class' ? `to ${className(act.to)}` : act.kind === 'reject' ? 'rejected' : 'taken back';
</script>

<template>
  <h2>From what was done</h2>
  <p v-if="!dataset" class="soft">Choose a cloud on the left.</p>
  <template v-else-if="past">
    <p v-if="past.steps.length === 0" class="soft">
      Nothing that was done to {{ dataset.name }} can be done to another cloud: find points or filter by attributes,
      then act on them.
    </p>
    <ol v-else class="steps">
      <li v-for="(s, i) in past.steps" :key="i">
        <el-checkbox v-model="wanted[i]" class="step" :label="words(s)" />
      </li>
    </ol>
    <details v-if="past.left.length">
      <summary>
        <Num :value="past.left.length" /> {{ past.left.length === 1 ? 'act belongs' : 'acts belong' }} to this cloud
        alone
      </summary>
      <p v-for="(l, i) in past.left" :key="i" class="soft">
        <Num :value="l.points" /> points {{ actDone(l.act) }}: {{ l.why }}.
      </p>
    </details>
    <el-form v-if="past.steps.length" novalidate label-position="top" @submit.prevent="keep">
      <el-form-item label="Name of the recipe"
        ><el-input v-model="name" maxlength="60" aria-label="Name of the recipe"
      /></el-form-item>
      <p v-if="taken" class="state warn">A recipe of this name is replaced.</p>
      <el-button native-type="submit" :disabled="!name.trim() || !steps.length">Keep as a recipe</el-button>
    </el-form>
  </template>
  <h2 class="spaced">Do it to clouds</h2>
  <p v-if="kept.length === 0" class="soft">No recipe is kept yet.</p>
  <el-form v-else novalidate label-position="top" @submit.prevent="start">
    <el-form-item label="Recipe"
      ><el-select v-model="chosen" aria-label="Recipe"
        ><el-option v-for="r in kept" :key="r.name" :value="r.name" :label="r.name" /></el-select
    ></el-form-item>
    <ol v-if="recipe" class="steps soft">
      <li v-for="(s, i) in recipe.steps" :key="i">{{ words(s) }}</li>
    </ol>
    <p v-if="recipe">
      <el-button link title="The clouds it was done to stay as they are" @click="remove">Forget the recipe</el-button>
    </p>
    <DatasetChoice
      v-model="targets"
      label="Clouds"
      :datasets="clouds"
      several
      collapse
      placeholder="Choose one or more"
    />
    <div class="row">
      <el-button type="primary" native-type="submit" :disabled="!recipe || !targets.length">{{
        targets.length > 1 ? `Do it to ${targets.length} clouds` : 'Do it'
      }}</el-button>
      <el-button v-if="clouds.length > 1" link @click="targets = clouds.map((d) => d.id)"
        >All {{ clouds.length }}</el-button
      >
    </div>
    <p class="soft">
      One undo takes back all that a recipe did to a cloud. What fails with one cloud stops none of the others.
    </p>
  </el-form>
  <template v-if="results.length">
    <h3>{{ String(results[0].settings.recipe) }}: {{ ended }} of {{ results.length }} done</h3>
    <FigureTable
      :columns="[
        { key: 'c0', label: 'Cloud', value: (r) => String(r.settings.cloud) },
        { key: 'c1', label: 'State', wrap: true },
      ]"
      :rows="results"
      :row-key="(r) => r.id"
      ><template #c1="{ row: r }"
        ><span :class="{ bad: r.status === 'failed' }">
          {{ STATES[r.status] }}<template v-if="r.status === 'running'"> {{ Math.round(100 * r.progress) }} %</template>
          <div v-if="r.error" class="soft">{{ r.error.message }} {{ r.error.remedy }}</div>
          <div v-for="line in r.status === 'done' ? r.log : []" :key="line" class="soft">{{ line }}</div>
        </span></template
      ></FigureTable
    >
  </template>
</template>

<style scoped>
.steps {
  padding-left: 20px;
  margin: 4px 0 8px;
  font-size: 12.5px;
}
.step {
  height: auto;
  white-space: normal;
  align-items: flex-start;
}
.step :deep(.el-checkbox__label) {
  white-space: normal;
  line-height: 1.4;
}
.row {
  display: flex;
  gap: 8px;
  margin: 8px 0;
  align-items: center;
}
.bad {
  color: var(--clay);
}
.figures td {
  vertical-align: top;
  white-space: normal;
}
</style>
