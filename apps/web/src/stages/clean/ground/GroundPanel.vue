<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { type DatasetOf } from '@longheron/contract/api';
import { TERRAINS } from '@longheron/core/cloud';
import { useProject } from '../../../stores/project';
import AgainButtons from '../../../ui/AgainButtons.vue';
import DatasetChoice from '../../../ui/DatasetChoice.vue';
import Num from '../../../ui/Num.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import { useSettings } from '../../../ui/settings';
import SettingsForm from '../../../ui/SettingsForm.vue';
import TrailList from '../../../ui/TrailList.vue';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';

/** Finds strays, the ground and what stands on it. */
const props = defineProps<{ dataset?: DatasetOf<'point-cloud'> }>();
const store = useProject();
const result = computed(() => (props.dataset?.stage === 'clean' ? props.dataset : undefined));
/** Figures of a result that may be found again in its place: a part cut out or a corrected cloud is another thing. */
const figures = computed(() => {
  const f = result.value?.revision.content.figures;
  return f && 'ground' in f ? f : undefined;
});
const over = computed(() => (figures.value ? result.value : undefined));
const { declaration, settings, usual } = useSettings('classify', () => over.value);
const STRAYS = ['noise', 'neighbours', 'ratio', 'keepWithinM', 'aloneBeyondM'];
const GROUND = [
  'method',
  'clothCellM',
  'stiffness',
  'clothWithinM',
  'largestObjectM',
  'steepestDeg',
  'cellM',
  'withinM',
];
const THINGS = ['things', 'lowM', 'mediumM', 'wireM', 'longM'];

const landOf = (name: string) => (settings.value.method === 'cloth' ? TERRAINS[name].cloth : TERRAINS[name].triangles);
/** The kind of land whose settings these are, if of one. */
const terrain = computed(
  () =>
    Object.keys(TERRAINS).find((name) => Object.entries(landOf(name)).every(([k, v]) => settings.value[k] === v)) ?? '',
);
const takeTerrain = (name: string) =>
  (settings.value = { ...settings.value, ...TERRAINS[name].triangles, ...TERRAINS[name].cloth });

const source = ref(0);
const sources = computed(() => store.ofKind('point-cloud').filter((d) => d.stage !== 'clean'));
watch(
  () => [store.datasets.length, result.value?.id],
  () => {
    const from = result.value?.revision.inputs.find((i) => i.role === 'cloud')?.datasetId;
    source.value = from ?? store.latest('point-cloud', 'place')?.id ?? 0;
  },
  { immediate: true },
);
const refusal = computed(() => declaration.refuse(settings.value));
const start = (again: boolean) =>
  store.run('classify', { cloud: source.value }, settings.value, again ? over.value?.id : undefined);
</script>

<template>
  <h2>{{ declaration.title }}</h2>
  <OutOfDate v-if="result" :dataset="result" />
  <el-form novalidate label-position="top" @submit.prevent="start(true)">
    <DatasetChoice v-model="source" label="Cloud" :datasets="sources" />
    <fieldset>
      <SettingsForm v-model="settings" :schema="declaration.settings" :only="STRAYS" />
    </fieldset>
    <fieldset>
      <SettingsForm v-model="settings" :schema="declaration.settings" :only="['ground']" />
      <el-form-item v-if="settings.ground" label="Terrain type"
        ><el-select
          :model-value="terrain"
          aria-label="Terrain type"
          placeholder="settings of your own"
          @change="takeTerrain"
          ><el-option
            v-for="(t, name) in TERRAINS"
            :key="name"
            :value="name"
            :label="`${name}: ${t.what}`" /></el-select
      ></el-form-item>
      <SettingsForm v-model="settings" :schema="declaration.settings" :only="GROUND" />
    </fieldset>
    <fieldset v-if="settings.ground">
      <SettingsForm v-model="settings" :schema="declaration.settings" :only="THINGS" />
    </fieldset>
    <p v-if="refusal" class="soft">{{ refusal }}</p>
    <AgainButtons
      :first="declaration.title"
      again="Find them again"
      :there="!!over"
      :able="!!source && !refusal"
      @beside="start(false)"
    />
    <el-button link @click="usual">Usual settings</el-button>
  </el-form>
  <template v-if="figures && result">
    <h3>Result</h3>
    <FactList>
      <Fact label="Points"><Num :value="figures.points" /></Fact>
      <Fact label="Noise points flagged">
        <Num :value="figures.strays" /> (<Num :value="(100 * figures.strays) / figures.points" :digits="2" unit="%" />)
      </Fact>
      <Fact label="Ground">
        <Num :value="figures.ground" /> (<Num :value="(100 * figures.ground) / figures.points" :digits="1" unit="%" />)
      </Fact>
    </FactList>
    <div class="row">
      <el-button :disabled="!result.canUndo" title="Ctrl+Z" @click="store.stepBack(result, 'undo')">Undo</el-button>
      <el-button :disabled="!result.canRedo" title="Ctrl+Shift+Z" @click="store.stepBack(result, 'redo')"
        >Redo</el-button
      >
      <a :href="`/api/projects/${store.project!.id}/datasets/${result.id}/export/las`">Download as LAS 1.4</a>
    </div>
    <TrailList :dataset="result" />
  </template>
</template>

<style scoped>
fieldset {
  border: 1px solid var(--line);
  border-radius: 4px;
  margin: 0 0 10px;
  padding: 6px 10px;
}
.row {
  display: flex;
  gap: 8px;
  align-items: center;
  margin: 8px 0;
}
.row .el-button + .el-button {
  margin-left: 0;
}
</style>
