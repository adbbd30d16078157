<script setup lang="ts">
import { computed, onBeforeUnmount, ref, watch, watchEffect } from 'vue';
import { useLocalStorage } from '@vueuse/core';
import { CLOTH_DEFAULTS, GROUND_DEFAULTS, STRAY_DEFAULTS, TERRAINS, THING_DEFAULTS } from '@longheron/core/cloud';
import { useProject } from '../../stores/project';
import { useView } from '../../stores/view';
import DatasetCard from '../../ui/DatasetCard.vue';
import Num from '../../ui/Num.vue';
import OutOfDate from '../../ui/OutOfDate.vue';
import Setting from '../../ui/Setting.vue';
import StageLayout from '../../ui/StageLayout.vue';
import TrailList from '../../ui/TrailList.vue';
import { className } from '../../views3d/colouring';
import CloudBench from '../CloudBench.vue';
import ByHand from './ByHand.vue';
import FindPoints from './FindPoints.vue';
import Recipes from './Recipes.vue';
import WholeClouds from './WholeClouds.vue';
import { useSelection } from '../../stores/selection';
import { useMapData } from '../mapData';

interface Figures {
  points: number;
  strays: number;
  ground: number;
}
const MANY = 12;
const store = useProject();
const view = useView();
const { path, marks } = useMapData();
const clouds = computed(() => store.ofKind('point-cloud'));
/** Of many clouds those that were made here stand first: tiles of a delivery come by hundreds. */
const listed = computed(() =>
  clouds.value.length > MANY
    ? [...clouds.value].sort((a, b) => Number(b.stage === 'clean') - Number(a.stage === 'clean'))
    : clouds.value,
);
const results = computed(() => store.ofKind('point-cloud', 'clean'));
const chosen = computed(
  () => clouds.value.find((d) => d.id === view.selectedDataset.clean) ?? results.value.at(-1) ?? clouds.value.at(-1),
);
const result = computed(() => (chosen.value?.stage === 'clean' ? chosen.value : undefined));
const figures = computed(() => result.value?.revision.content.figures as Figures | undefined);
/** A result that may be found again in its place: a part cut out or a corrected cloud is another thing. */
const over = computed(() => (figures.value?.ground !== undefined ? result.value : undefined));
const counts = computed(() =>
  Object.entries((chosen.value?.revision.content.countsByClass ?? {}) as Record<string, number>).map(([c, n]) => ({
    cls: Number(c),
    n,
  })),
);
const rejected = computed(() => Number(chosen.value?.revision.content.rejected ?? 0));
const total = computed(() => counts.value.reduce((sum, c) => sum + c.n, 0));
const source = ref(0);
const noise = ref(true);
const ground = ref(true);
const strays = ref({ ...STRAY_DEFAULTS });
const land = ref({ ...GROUND_DEFAULTS });
const method = useLocalStorage<'triangles' | 'cloth'>('longheron.groundMethod', 'triangles');
const cloth = ref({ ...CLOTH_DEFAULTS });
const things = useLocalStorage('longheron.things', true);
const { radiusM: _radius, ...THINGS } = THING_DEFAULTS;
const thing = ref({ ...THINGS });
/** The kind of land whose settings these are, if of one. */
const terrain = computed(() => {
  const same = (wanted: object, now: object) =>
    Object.entries(wanted).every(([k, v]) => (now as Record<string, unknown>)[k] === v);
  return (
    Object.entries(TERRAINS).find(([, t]) =>
      method.value === 'cloth' ? same(t.cloth, cloth.value) : same(t.triangles, land.value),
    )?.[0] ?? ''
  );
});
function takeTerrain(name: string): void {
  Object.assign(land.value, TERRAINS[name].triangles);
  Object.assign(cloth.value, TERRAINS[name].cloth);
}
watch(
  () => [store.datasets.length, result.value?.id],
  () => {
    const from = result.value?.revision.inputs.find((i) => i.role === 'cloud')?.datasetId;
    source.value = from ?? store.latest('point-cloud', 'place')?.id ?? 0;
  },
  { immediate: true },
);
const sources = computed(() => clouds.value.filter((d) => d.stage !== 'clean'));
const start = (again: boolean) =>
  store.run(
    'classify',
    { cloud: source.value },
    {
      ...{ noise: noise.value, ground: ground.value, method: method.value },
      ...{ ...strays.value, ...land.value, ...cloth.value },
      ...{ things: things.value && ground.value, ...thing.value },
    },
    again ? over.value?.id : undefined,
  );
const defaults = () => {
  strays.value = { ...STRAY_DEFAULTS };
  land.value = { ...GROUND_DEFAULTS };
  cloth.value = { ...CLOTH_DEFAULTS };
  thing.value = { ...THINGS };
};
const panel = useLocalStorage<'find' | 'points' | 'hand' | 'whole' | 'recipes'>('longheron.cleanPanel', 'find');
const selection = useSelection();
/** A selection belongs to the parts that act on it. */
watch(panel, (now) => now !== 'points' && now !== 'hand' && selection.begin(0));
onBeforeUnmount(() => selection.begin(0));
const byHand = computed(
  () => (panel.value === 'hand' || panel.value === 'points') && chosen.value?.revision.content.index,
);
watchEffect(() => (view.active = (byHand.value ? chosen.value?.id : result.value?.id) ?? null));
</script>

<template>
  <StageLayout holdings-title="Clouds">
    <template #holdings>
      <DatasetCard
        v-for="d in listed"
        :key="d.id"
        :dataset="d"
        :selected="d.id === chosen?.id"
        @choose="view.selectedDataset.clean = d.id"
      />
      <p v-if="clouds.length === 0" class="soft">
        No cloud yet. Make one in the stage Place, or take in a LAS or LAZ file in Gather.
      </p>
      <template v-if="counts.length">
        <h3 class="gap">Points by class</h3>
        <table class="figures classes">
          <thead>
            <tr>
              <th>Class</th>
              <th class="r">Points</th>
              <th class="r">%</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="c in counts" :key="c.cls">
              <td>{{ className(c.cls) }}</td>
              <td class="r"><Num :value="c.n" /></td>
              <td class="r"><Num :value="(100 * c.n) / total" :digits="1" /></td>
            </tr>
            <tr v-if="rejected">
              <td>Rejected by hand</td>
              <td class="r"><Num :value="rejected" /></td>
              <td class="r"><Num :value="(100 * rejected) / total" :digits="1" /></td>
            </tr>
          </tbody>
        </table>
        <p class="soft">Strays are flagged as noise and not used; nothing is deleted.</p>
      </template>
    </template>
    <CloudBench storage-key="clean" :dataset="chosen" :path="path" :marks="marks" />
    <template #sheet>
      <el-radio-group v-model="panel" size="small" class="panels" aria-label="Part of the sheet"
        ><el-radio-button value="find" label="Ground" /><el-radio-button value="points" label="Find" /><el-radio-button
          value="hand"
          label="By hand" /><el-radio-button value="recipes" label="Recipes" /><el-radio-button
          value="whole"
          label="Clouds"
      /></el-radio-group>
      <WholeClouds v-if="panel === 'whole'" :dataset="chosen" />
      <Recipes v-else-if="panel === 'recipes'" :dataset="chosen" />
      <ByHand v-else-if="byHand && chosen && panel === 'hand'" :dataset="chosen" />
      <FindPoints v-else-if="byHand && chosen" :dataset="chosen" />
      <p v-else-if="panel !== 'find'" class="soft">No cloud is ready to be worked on.</p>
      <h2 v-if="panel === 'find'">Find strays and ground</h2>
      <OutOfDate v-if="result && panel === 'find'" :dataset="result" />
      <el-form v-if="panel === 'find'" novalidate label-position="top" @submit.prevent="start(true)">
        <el-form-item label="Cloud"
          ><el-select v-model="source"
            ><el-option v-for="d in sources" :key="d.id" :value="d.id" :label="d.name" /></el-select
        ></el-form-item>
        <fieldset>
          <legend><el-checkbox v-model="noise" label="Flag stray points" /></legend>
          <Setting
            v-model="strays.neighbours"
            label="Neighbours looked at"
            unit=""
            :min="2"
            :max="30"
            :step="1"
            :disabled="!noise"
            reason="Groups of up to this many strays are found; more costs time."
          />
          <Setting
            v-model="strays.ratio"
            label="Spacing ratio"
            unit="×"
            :min="1.5"
            :max="20"
            :step="0.5"
            :disabled="!noise"
            reason="How many times farther a point's neighbours lie than they lie from each other. Judged by local spacing, so that wires and far points stay."
          />
          <Setting
            v-model="strays.keepWithinM"
            label="Never a stray within"
            unit="m"
            :min="0.05"
            :max="5"
            :step="0.1"
            :disabled="!noise"
            reason="Points this close to their neighbours are kept whatever the ratio."
          />
          <Setting
            v-model="strays.aloneBeyondM"
            label="Alone beyond"
            unit="m"
            :min="0.5"
            :max="50"
            :step="0.5"
            :disabled="!noise"
            reason="With fewer neighbours than asked for within this distance, a point stands alone."
          />
        </fieldset>
        <fieldset>
          <legend><el-checkbox v-model="ground" label="Find the ground" /></legend>
          <template v-if="ground">
            <el-form-item label="Kind of land"
              ><el-select
                :model-value="terrain"
                aria-label="Kind of land"
                placeholder="settings of your own"
                @change="takeTerrain"
                ><el-option
                  v-for="(t, name) in TERRAINS"
                  :key="name"
                  :value="name"
                  :label="`${name}: ${t.what}`" /></el-select
            ></el-form-item>
            <el-radio-group v-model="method" size="small" aria-label="How the ground is found" class="panels"
              ><el-radio-button value="triangles" label="By triangles" /><el-radio-button
                value="cloth"
                label="By a cloth"
            /></el-radio-group>
            <p class="soft">
              {{
                method === 'cloth'
                  ? 'A cloth is laid on the cloud from below: stiff enough not to rise into houses, soft enough to follow the land.'
                  : 'Triangles between the lowest points are refined step by step as long as the land rises no more steeply than allowed.'
              }}
            </p>
          </template>
          <template v-if="method === 'cloth'">
            <Setting
              v-model="cloth.clothCellM"
              label="Cell of the cloth"
              unit="m"
              :min="0.1"
              :max="20"
              :step="0.1"
              :digits="2"
              :disabled="!ground"
              reason="Finer follows more detail, and lets more low things through."
            />
            <Setting
              v-model="cloth.stiffness"
              label="Stiffness"
              unit=""
              :min="1"
              :max="3"
              :step="1"
              :disabled="!ground"
              reason="1 gives way on steep land, 3 stays flat under wide roofs."
            />
            <Setting
              v-model="cloth.clothWithinM"
              label="Ground within"
              unit="m"
              :min="0.02"
              :max="2"
              :step="0.01"
              :digits="2"
              :disabled="!ground"
              reason="Points this near the cloth at rest are ground."
            />
          </template>
          <template v-else>
            <Setting
              v-model="land.largestObjectM"
              label="Largest thing without ground"
              unit="m"
              :min="2"
              :max="200"
              :step="1"
              :disabled="!ground"
              reason="Larger than the largest building or bridge deck; too small and roofs become ground."
            />
            <Setting
              v-model="land.steepestDeg"
              label="Steepest slope"
              unit="°"
              :min="5"
              :max="88"
              :step="1"
              :disabled="!ground"
              reason="Steepest true ground over short distances. Raise it for banks that are cut off, lower it when low walls stay."
            />
            <Setting
              v-model="land.cellM"
              label="Finest cell"
              unit="m"
              :min="0.1"
              :max="10"
              :step="0.1"
              :disabled="!ground"
              reason="One candidate height a cell. Smaller follows more detail and more grass."
            />
            <Setting
              v-model="land.withinM"
              label="Ground within"
              unit="m"
              :min="0.02"
              :max="1"
              :step="0.01"
              :disabled="!ground"
              reason="Points this near the final surface are ground: about three times the noise of the scanner."
            />
          </template>
        </fieldset>
        <fieldset>
          <legend><el-checkbox v-model="things" :disabled="!ground" label="Class what stands on it" /></legend>
          <p class="soft">
            Buildings, wires, poles and bridge decks by their shape, the rest as vegetation by its height. What a person
            set by hand to another class stays.
          </p>
          <template v-if="things && ground">
            <Setting
              v-model="thing.lowM"
              label="Low vegetation up to"
              unit="m"
              :min="0.2"
              :max="5"
              :step="0.1"
              :digits="1"
              reason="Above the ground; below 0.15 m it stays unclassified."
            />
            <Setting
              v-model="thing.mediumM"
              label="Medium up to"
              unit="m"
              :min="0.2"
              :max="20"
              :step="0.5"
              :digits="1"
              reason="Above that it is high."
            />
            <Setting
              v-model="thing.wireM"
              label="Wires from"
              unit="m"
              :min="1"
              :max="50"
              :step="0.5"
              :digits="1"
              reason="Lower lines are fences and rails: they stay with the rest."
            />
            <Setting
              v-model="thing.longM"
              label="Walls from"
              unit="m"
              :min="0.5"
              :max="50"
              :step="0.5"
              :digits="1"
              reason="Long or high at least: smaller planes are signs and boxes."
            />
          </template>
        </fieldset>
        <div class="row">
          <el-button type="primary" native-type="submit" :disabled="!source || (!noise && !ground)">{{
            over ? 'Find them again' : 'Find strays and ground'
          }}</el-button>
          <el-button
            v-if="over"
            :disabled="!source"
            title="Keeps this result and makes another beside it"
            @click="start(false)"
            >As a new cloud</el-button
          >
        </div>
        <el-button link @click="defaults">Back to the defaults</el-button>
      </el-form>
      <template v-if="figures && over && result && panel === 'find'">
        <h3 class="gap">Result</h3>
        <table class="facts">
          <tbody>
            <tr>
              <td>Points</td>
              <td><Num :value="figures.points" /></td>
            </tr>
            <tr>
              <td>Strays flagged</td>
              <td>
                <Num :value="figures.strays" /> (<Num
                  :value="(100 * figures.strays) / figures.points"
                  :digits="2"
                  unit="%"
                />)
              </td>
            </tr>
            <tr>
              <td>Ground</td>
              <td>
                <Num :value="figures.ground" /> (<Num
                  :value="(100 * figures.ground) / figures.points"
                  :digits="1"
                  unit="%"
                />)
              </td>
            </tr>
          </tbody>
        </table>
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
  </StageLayout>
</template>

<style scoped>
.panels {
  margin-bottom: 10px;
  flex-wrap: nowrap;
}
.panels :deep(.el-radio-button__inner) {
  padding: 5px 9px;
}
.gap {
  margin: 16px 0 4px;
}
fieldset {
  border: 1px solid var(--line);
  border-radius: 4px;
  margin: 0 0 10px;
  padding: 0 10px 6px;
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
.classes {
  width: 100%;
}
.classes :deep(td),
.classes :deep(th) {
  padding: 3px;
  font-size: 11.5px;
}
</style>
