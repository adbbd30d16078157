<script setup lang="ts">
import { computed, ref, watchEffect } from 'vue';
import { DEPTH_COLOURS } from '@longheron/contract/kinds/parts/soundings';
import depths, { DEPTH_FILES } from '@longheron/contract/kinds/depths';
import MapView from '../../../map/MapView.vue';
import { pictureOf } from '../../../map/picture';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import DatasetCard from '../../../ui/DatasetCard.vue';
import DiscardButton from '../../../ui/DiscardButton.vue';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';
import { bytesText } from '../../../ui/format';
import Num from '../../../ui/Num.vue';
import OperationForm from '../../../ui/OperationForm.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import ScaleKey from '../../../ui/ScaleKey.vue';
import TrailList from '../../../ui/TrailList.vue';
import { useUnits } from '../../../ui/units';
import { useChosen } from '../../address';
import StageLayout from '../../StageLayout.vue';

/** Grids of soundings: the bed, and what each cell rests on. */
const store = useProject();
const view = useView();
const { length, small } = useUnits();
const all = computed(() => store.ofKind('depths'));
const { chosen, choose } = useChosen(
  () => all.value,
  () => all.value.at(-1),
);
watchEffect(() => (view.active = chosen.value?.id ?? null));
const content = computed(() => chosen.value?.revision.content);
const f = computed(() => content.value?.figures);
const shown = ref<'heights' | 'count' | 'spread' | 'filled'>('heights');
const picture = computed(() => {
  const c = content.value;
  if (!c) return null;
  const object = shown.value === 'heights' ? c.picture : c.pictures?.[shown.value];
  return object ? pictureOf(object, c.layout) : null;
});
const contours = computed(() =>
  content.value?.exports.contoursGeoJson
    ? `/api/objects/${content.value.exports.contoursGeoJson.sha256}?type=application/geo%2Bjson`
    : null,
);
const soundings = computed(() =>
  store
    .ofKind('point-cloud')
    .filter((d) => d.revision.content.sounded)
    .at(-1),
);
const files = computed(() =>
  DEPTH_FILES.flatMap((key) => {
    const e = content.value?.exports[key];
    return e ? [{ key, name: depths.exports[key].label, bytes: e.bytes }] : [];
  }),
);
const KEYS = {
  heights: { title: 'Height of the bed', colours: DEPTH_COLOURS },
  count: { title: 'Soundings a cell', colours: ['#c4523e', '#2e7aa2'] },
  spread: { title: 'Spread of the soundings of a cell, 1 SD', colours: ['#f4ecdc', '#5e2e5a'] },
  filled: { title: 'Orange cells were filled', colours: ['#c4cbd0', '#d67a20'] },
};
const labels = computed(() => {
  const g = f.value;
  if (!g) return [];
  const unit = length.value.symbol;
  if (shown.value === 'heights')
    return [g.height_min_m, g.height_max_m].map((v) => `${length.value.of(v).toFixed(1)} ${unit}`);
  if (shown.value === 'count') return ['1', '10 and more'];
  if (shown.value === 'spread') return ['none', `${length.value.of(0.25).toFixed(2)} ${unit} and more`];
  return ['sounded', 'filled'];
});
</script>

<template>
  <StageLayout holdings-title="Depth grids" own-needs>
    <template #holdings>
      <DatasetCard v-for="d in all" :key="d.id" :dataset="d" :selected="d.id === chosen?.id" @choose="choose(d)" />
      <p v-if="all.length === 0" class="soft">
        No depth grid yet. It takes soundings, reduced in Place and cleaned in Clean. Another cell size makes a grid
        beside the first.
      </p>
      <template v-if="content?.pictures">
        <h3>Shown in plan</h3>
        <el-radio-group v-model="shown" class="choices">
          <el-radio value="heights">Heights</el-radio>
          <el-radio value="count">Soundings a cell</el-radio>
          <el-radio value="spread">Spread in a cell</el-radio>
          <el-radio value="filled">Filled cells</el-radio>
        </el-radio-group>
      </template>
    </template>
    <MapView :picture="picture" :contours-url="shown === 'heights' ? contours : null">
      <template v-if="f" #key>
        <ScaleKey :title="KEYS[shown].title" :colours="KEYS[shown].colours" :labels="labels" />
      </template>
    </MapView>
    <template #sheet>
      <template v-if="chosen && f && content">
        <h2>{{ chosen.name }}</h2>
        <OutOfDate :dataset="chosen" />
        <p v-if="content.relativeTo" class="state warn">relative heights: they count from {{ content.relativeTo }}</p>
        <p v-else-if="f.cell_m < 0.9 * f.spacing_m" class="state warn">cells are smaller than soundings lie apart</p>
        <FactList>
          <Fact label="Cells with soundings"><Num :value="f.cells" /></Fact>
          <Fact label="Filled"><Num :value="f.filled" /></Fact>
          <Fact label="Soundings"><Num :value="f.soundings" /></Fact>
          <Fact v-if="f.left_out" label="Rejected, left out"><Num :value="f.left_out" /></Fact>
          <Fact label="Soundings lie apart" hint="Median, where they lie"
            ><Num :value="length.of(f.spacing_m)" :digits="2" :unit="length.symbol"
          /></Fact>
          <Fact label="Soundings a cell"><Num :value="f.soundings_a_cell" :digits="1" /></Fact>
          <Fact label="Lowest"><Num :value="length.of(f.height_min_m)" :digits="2" :unit="length.symbol" /></Fact>
          <Fact label="Highest"><Num :value="length.of(f.height_max_m)" :digits="2" :unit="length.symbol" /></Fact>
          <Fact v-if="f.spread_m !== null" label="Spread in a cell, 1 SD" hint="Median over cells"
            ><Num :value="small.factor * f.spread_m" :digits="small.digits" :unit="small.symbol"
          /></Fact>
          <Fact
            v-if="f.sd_m !== null"
            label="Uncertainty of a cell, 1 SD"
            hint="Median over cells, by what soundings state"
            ><Num :value="small.factor * f.sd_m" :digits="small.digits" :unit="small.symbol"
          /></Fact>
        </FactList>
        <h3>Files</h3>
        <FactList>
          <Fact v-for="r in files" :key="r.key"
            ><template #label
              ><a :href="`/api/projects/${store.project!.id}/datasets/${chosen.id}/export/${r.key}`">{{
                r.name
              }}</a></template
            ><span class="mono">{{ bytesText(r.bytes) }}</span></Fact
          >
        </FactList>
        <DiscardButton :dataset="chosen" label="Discard the grid" />
      </template>
      <h2 :class="{ spaced: chosen }">{{ chosen ? 'Make it again' : 'Make a depth grid' }}</h2>
      <OperationForm operation="depths" :made="chosen" :usual-inputs="{ cloud: soundings ? [soundings.id] : [] }" />
      <TrailList v-if="chosen" :dataset="chosen" />
    </template>
  </StageLayout>
</template>

<style scoped>
.spaced {
  margin-top: 16px;
}
.choices {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
}
</style>
