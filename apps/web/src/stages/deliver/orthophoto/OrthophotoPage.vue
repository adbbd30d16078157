<script setup lang="ts">
import { computed, watchEffect } from 'vue';
import MapView from '../../../map/MapView.vue';
import { extentOf } from '../../../map/underlay';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import DatasetCard from '../../../ui/DatasetCard.vue';
import DiscardButton from '../../../ui/DiscardButton.vue';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';
import FigureTable from '../../../ui/FigureTable.vue';
import Num from '../../../ui/Num.vue';
import OperationForm from '../../../ui/OperationForm.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import TrailList from '../../../ui/TrailList.vue';
import { useUnits } from '../../../ui/units';
import { useChosen } from '../../address';
import { useMapData } from '../../mapData';
import StageLayout from '../../StageLayout.vue';

/** Orthophotos: seen on the map, with what each photograph gave and what stayed empty. */
const store = useProject();
const view = useView();
const { path, marks } = useMapData();
const { length } = useUnits();
const all = computed(() => store.ofKind('orthophoto'));
const { chosen, choose } = useChosen(
  () => all.value,
  () => all.value.at(-1),
);
watchEffect(() => (view.active = chosen.value?.id ?? null));
const content = computed(() => chosen.value?.revision.content);
const f = computed(() => content.value?.figures);
const around = computed(() => (content.value?.raster ? extentOf(content.value.raster) : undefined));
/** Those that gave most first; of the others nothing was needed. */
const pictures = computed(() => [...(f.value?.pictures ?? [])].sort((a, b) => b.cells - a.cells));
const shown = computed(() => (f.value ? f.value.cells - f.value.empty - f.value.no_height : 0));
const exportOf = (id: number) => `/api/projects/${store.project!.id}/datasets/${id}/export/geotiff`;
</script>

<template>
  <StageLayout holdings-title="Orthophotos" own-needs>
    <template #holdings>
      <DatasetCard v-for="d in all" :key="d.id" :dataset="d" :selected="d.id === chosen?.id" @choose="choose(d)" />
      <p v-if="all.length === 0" class="soft">
        No orthophoto yet. It takes photographs, the block that says how they were taken, and a surface: with buildings
        and trees in it these stand upright.
      </p>
      <template v-if="f">
        <h3>What each photograph gave</h3>
        <FigureTable
          name="orthophoto_photographs"
          :columns="[
            { key: 'image', label: 'Photograph', value: (p) => p.image },
            { key: 'share', label: 'Share, %', right: true, value: (p) => (100 * p.cells) / shown },
            { key: 'bright', label: 'Gain', right: true, value: (p) => (p.red + p.green + p.blue) / 3 },
          ]"
          :rows="pictures"
          :row-key="(p) => p.image"
          :row-class="(p) => ({ soft: p.cells === 0 })"
        >
          <template #image="{ row: p }">{{ p.image }}</template>
          <template #share="{ row: p }"><Num :value="(100 * p.cells) / shown" :digits="1" /></template>
          <template #bright="{ row: p }"><Num :value="(p.red + p.green + p.blue) / 3" :digits="3" /></template>
        </FigureTable>
      </template>
    </template>
    <MapView :path="chosen ? null : path" :marks="marks" :under="chosen?.id" :around="around" />
    <template #sheet>
      <template v-if="chosen && f">
        <h2>{{ chosen.name }}</h2>
        <OutOfDate :dataset="chosen" />
        <FactList>
          <Fact label="Cell"><Num :value="length.of(f.cell_m)" :digits="3" :unit="length.symbol" /></Fact>
          <Fact label="Size"><Num :value="f.columns" /> by <Num :value="f.rows" /> cells</Fact>
          <Fact label="From photographs"
            ><Num :value="f.pictures.filter((p) => p.cells > 0).length" /> of <Num :value="f.pictures.length"
          /></Fact>
          <Fact label="Taken from another" hint="Hidden from the photograph that gave the cells beside them"
            ><Num :value="f.patched" /> cells</Fact
          >
          <Fact label="Empty" hint="Cells over the surface that no photograph shows"
            ><Num :value="f.empty" /> cells</Fact
          >
          <Fact label="Without a height" hint="Cells within the outline of the surface that have none"
            ><Num :value="f.no_height" /> cells</Fact
          >
          <Fact label="Surface">{{ f.surface === 'highest' ? 'the highest of each place' : 'the ground' }}</Fact>
        </FactList>
        <p><a :href="exportOf(chosen.id)">Orthophoto, GeoTIFF</a></p>
        <p class="soft">It may lie under every map: choose it there as the picture below.</p>
        <DiscardButton :dataset="chosen" label="Discard the orthophoto" />
      </template>
      <h2 :class="{ spaced: chosen }">{{ chosen ? 'Settings' : 'Make an orthophoto' }}</h2>
      <OperationForm operation="ortho" :made="chosen" />
      <TrailList v-if="chosen" :dataset="chosen" />
    </template>
  </StageLayout>
</template>

<style scoped>
.spaced {
  margin-top: 16px;
}
</style>
