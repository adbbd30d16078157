<script setup lang="ts">
import { computed, ref, watchEffect } from 'vue';
import { aroundPlaces } from '../../../map/around';
import MapView from '../../../map/MapView.vue';
import { type MapShape } from '../../../map/shapes';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import DatasetCard from '../../../ui/DatasetCard.vue';
import DiscardButton from '../../../ui/DiscardButton.vue';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';
import Num from '../../../ui/Num.vue';
import OperationForm from '../../../ui/OperationForm.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import TrailList from '../../../ui/TrailList.vue';
import { useUnits } from '../../../ui/units';
import { useChosen } from '../../address';
import { useMapData } from '../../mapData';
import StageLayout from '../../StageLayout.vue';

/** Clouds that are made from photographs: of what part, how sure the matches are, what stayed empty. */
const store = useProject();
const view = useView();
const { marks } = useMapData();
const { small, length } = useUnits();
const all = computed(() => store.ofKind('point-cloud').filter((d) => d.revision.content.matched));
const { chosen, choose } = useChosen(
  () => all.value,
  () => all.value.at(-1),
);
watchEffect(() => (view.active = chosen.value?.id ?? null));
const f = computed(() => chosen.value?.revision.content.matched);
const blocks = computed(() => store.ofKind('block').filter((d) => d.revision.content.figures.frame === 'earth'));
const block = computed(() => {
  const own = chosen.value?.revision.inputs.find((i) => i.role === 'oriented')?.datasetId;
  return blocks.value.find((d) => d.id === own) ?? blocks.value.at(-1);
});
/** The photographs that the block was made of. */
const usual = computed(() => ({
  photos: block.value?.revision.inputs.filter((i) => i.role === 'photos').map((i) => i.datasetId) ?? [],
  oriented: block.value ? [block.value.id] : [],
}));

type Corners = [west: number, south: number, east: number, north: number];
const drawing = ref(false);
const drawn = ref<Corners>();
const preset = ref<{ corners: string }>();
function draw(a: [number, number], b: [number, number], done: boolean): void {
  drawn.value = [Math.min(a[0], b[0]), Math.min(a[1], b[1]), Math.max(a[0], b[0]), Math.max(a[1], b[1])];
  if (!done) return;
  drawing.value = false;
  preset.value = { corners: drawn.value.map((v) => v.toFixed(1)).join(', ') };
}
const shapes = computed<MapShape[]>(() => {
  const out: MapShape[] = (block.value?.revision.content.pictures ?? []).flatMap(({ at }) =>
    at ? [{ kind: 'point' as const, points: [at], colour: '#7b8d92' }] : [],
  );
  const box = (c: Corners | undefined, colour: string, dashed: boolean) => {
    if (!c) return;
    const [w, s, e, n] = c;
    out.push({
      kind: 'area',
      points: [
        [w, s],
        [e, s],
        [e, n],
        [w, n],
      ],
      colour,
      dashed,
    });
  };
  box(f.value?.area_m, '#0e5e66', false);
  box(drawn.value, '#a3531a', true);
  return out;
});
const around = computed(() =>
  aroundPlaces(
    (block.value?.revision.content.pictures ?? []).flatMap((p) => (p.at ? [p.at] : [])),
    60,
  ),
);
</script>

<template>
  <StageLayout holdings-title="Clouds from photographs" own-needs>
    <template #holdings>
      <DatasetCard v-for="d in all" :key="d.id" :dataset="d" :selected="d.id === chosen?.id" @choose="choose(d)" />
      <p v-if="all.length === 0" class="soft">
        No cloud was made from photographs yet. It takes a block that lies in the system of the project; each place must
        be shown by three or more photographs. Where pairs of them do not agree there is no point.
      </p>
    </template>
    <MapView :marks="marks" :shapes="shapes" :around="around" :draw-section="drawing" @section="draw">
      <template #key>
        <el-button size="small" :type="drawing ? 'primary' : undefined" @click="drawing = !drawing">{{
          drawing ? 'Click two corners of the area' : 'Draw the area'
        }}</el-button>
      </template>
    </MapView>
    <template #sheet>
      <template v-if="chosen && f">
        <h2>{{ chosen.name }}</h2>
        <OutOfDate :dataset="chosen" />
        <FactList>
          <Fact label="Points"><Num :value="f.points" /></Fact>
          <Fact label="Cell"><Num :value="length.of(f.cell_m)" :digits="3" :unit="length.symbol" /></Fact>
          <Fact label="Of the cells" hint="Of the area as far as photographs reach"
            ><Num :value="100 * f.share" :digits="1" unit="%"
          /></Fact>
          <Fact label="Pairs of photographs"><Num :value="f.pairs" /></Fact>
          <Fact
            label="Left empty: pairs disagree"
            hint="Cells in which no height has two pairs and more than half of them"
            ><Num :value="f.disagreed" /> cells</Fact
          >
          <Fact label="Left empty: one pair alone" hint="Nothing there can prove that pair"
            ><Num :value="f.alone" /> cells</Fact
          >
          <Fact
            v-if="f.label_sd_px"
            label="Matches, 1 SD"
            hint="Where photographs show most and where they show least; by what pairs differ by"
            ><Num :value="f.label_sd_px[0]" :digits="2" /> to <Num :value="f.label_sd_px[1]" :digits="2" unit="px"
          /></Fact>
          <Fact label="Heights, 1 SD" hint="RMS of what the points state, poses included"
            ><Num :value="small.of(f.sd_h_m)" :digits="small.digits" :unit="small.symbol"
          /></Fact>
          <Fact label="Looked for between"
            ><Num :value="length.of(f.heights_m[0])" :digits="1" /> and
            <Num :value="length.of(f.heights_m[1])" :digits="1" :unit="length.symbol"
          /></Fact>
        </FactList>
        <p class="soft">It is among the clouds of Clean: edited, classified, checked and thinned like any other.</p>
        <DiscardButton :dataset="chosen" label="Discard the cloud" />
      </template>
      <h2 :class="{ spaced: chosen }">{{ chosen ? 'Settings' : 'Make a cloud from photographs' }}</h2>
      <OperationForm operation="match" :made="chosen" :preset="preset" :usual-inputs="usual" />
      <TrailList v-if="chosen" :dataset="chosen" />
    </template>
  </StageLayout>
</template>

<style scoped>
.spaced {
  margin-top: 16px;
}
</style>
