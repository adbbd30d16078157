<script setup lang="ts">
import { computed, watchEffect } from 'vue';
import { useLocalStorage } from '@vueuse/core';
import { aroundPlaces } from '../../../map/around';
import MapView from '../../../map/MapView.vue';
import { pictureOf } from '../../../map/picture';
import { type MapShape } from '../../../map/shapes';
import { EXPECTED_COLOURS, OVERLAP_COLOURS, type BlockPicture } from '@longheron/contract/kinds/block';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import DatasetCard from '../../../ui/DatasetCard.vue';
import FigureTable from '../../../ui/FigureTable.vue';
import Num from '../../../ui/Num.vue';
import ScaleKey from '../../../ui/ScaleKey.vue';
import { useUnits } from '../../../ui/units';
import { useChosen } from '../../address';
import { useMapData } from '../../mapData';
import SplitBench from '../../SplitBench.vue';
import StageLayout from '../../StageLayout.vue';
import BlockSheet from './BlockSheet.vue';
import BlockTables from './BlockTables.vue';
import { sessionColour } from './sessions';

/** Blocks of photographs: where they were taken, how marks and distances prove them, what was left out. */
const store = useProject();
const view = useView();
const { path } = useMapData();
const blocks = computed(() => store.ofKind('block'));
const { chosen, choose } = useChosen(
  () => blocks.value,
  () => blocks.value.at(-1),
);
watchEffect(() => (view.active = chosen.value?.id ?? null));
const content = computed(() => chosen.value?.revision.content);
const pictures = computed(() =>
  [...(content.value?.pictures ?? [])].sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true })),
);
const local = computed(() => content.value?.figures.frame === 'local');
/** More names than this would hide each other’s pictures. */
const MOST_NAMES = 12;
const feet = useLocalStorage('longheron.photographs.feet', false);
/** Places of pictures, in the order in which they were taken, and what they show; none in a frame of its own. */
const shapes = computed<MapShape[]>(() => {
  if (local.value) return [];
  const all = content.value?.pictures ?? [];
  const out: MapShape[] = [];
  if (feet.value)
    for (const { foot, session } of all)
      if (foot) {
        const points = [0, 2, 4, 6].map((k): [number, number] => [foot[k], foot[k + 1]]);
        out.push({ kind: 'line', points: [...points, points[0]], colour: sessionColour(session ?? 1), widthPx: 0.8 });
      }
  if (feet.value) out.push(...ways(all));
  for (const { at, name, session } of all)
    if (at)
      out.push({
        kind: 'point',
        points: [at],
        colour: sessionColour(session ?? 1),
        label: all.length > MOST_NAMES ? undefined : plain(name),
      });
  return out;
});
/** From photograph to photograph of each session, as they were taken. */
function ways(all: readonly BlockPicture[]): MapShape[] {
  const sessions = new Map<number, BlockPicture[]>();
  for (const p of all)
    if (p.at && p.session !== undefined && p.order !== undefined)
      sessions.set(p.session, [...(sessions.get(p.session) ?? []), p]);
  return [...sessions].map(([session, list]) => ({
    kind: 'line',
    points: list.sort((a, b) => a.order! - b.order!).map((p) => p.at!),
    colour: sessionColour(session),
    widthPx: 2,
  }));
}
const plain = (name: string) => name.replace(/\.[a-z]+$/i, '');
const around = computed(() =>
  local.value
    ? undefined
    : aroundPlaces(
        (content.value?.pictures ?? []).flatMap((p) => (p.at ? [p.at] : [])),
        30,
      ),
);
const { small } = useUnits();
/** What is drawn of the ground under the photographs. */
const ground = useLocalStorage<'none' | 'overlap' | 'height'>('longheron.photographs.ground', 'none');
const expectedPicture = computed(() => {
  const e = content.value?.expected;
  return e && ground.value !== 'none' ? pictureOf(e[ground.value], e.layout) : null;
});
const shown = useLocalStorage<'marks' | 'cameras' | 'sessions' | 'against' | 'out'>(
  'longheron.photographs.table',
  'marks',
);
</script>

<template>
  <StageLayout holdings-title="Blocks of photographs" own-needs>
    <template #holdings>
      <DatasetCard v-for="d in blocks" :key="d.id" :dataset="d" :selected="d.id === chosen?.id" @choose="choose(d)" />
      <p v-if="blocks.length === 0" class="soft">
        Nothing is oriented yet. It takes photographs that overlap, or picks of the same points in several of them (CSV:
        image, point, x_px, y_px), and a list of cameras; positions, marks and taped distances say where the block lies
        and how good it is.
      </p>
      <template v-if="content">
        <h3>Photographs</h3>
        <FigureTable
          name="block_photographs"
          :columns="[
            { key: 'name', label: 'Name', value: (p) => p.name },
            { key: 'rays', label: 'Rays', right: true, value: (p) => p.rays },
            { key: 'rms', label: 'RMS, px', right: true, value: (p) => p.rms_px },
          ]"
          :rows="pictures"
          :row-key="(p) => p.name"
          :row-class="(p) => ({ soft: p.at === null })"
        >
          <template #name="{ row: p }">{{ p.name }}</template>
          <template #rays="{ row: p }"><Num :value="p.rays" /></template>
          <template #rms="{ row: p }"
            ><Num v-if="p.at" :value="p.rms_px" :digits="2" /><template v-else>left out</template></template
          >
        </FigureTable>
      </template>
    </template>
    <SplitBench v-if="content && chosen" storage-key="photographs" :upper-percent="55">
      <template #upper>
        <p v-if="local" class="empty soft">
          This block has a frame of its own, levelled by its first photograph: it has no place on the map. Positions, or
          at least three control marks that are picked, would give it one.
        </p>
        <MapView v-else :shapes="shapes" :around="around" :picture="expectedPicture">
          <template #key>
            <el-checkbox v-model="feet" size="small">Footprints and order</el-checkbox>
            <el-radio-group
              v-if="content.expected"
              v-model="ground"
              size="small"
              aria-label="What is drawn of the ground"
            >
              <el-radio-button value="none">Photographs</el-radio-button>
              <el-radio-button value="overlap">Overlap</el-radio-button>
              <el-radio-button value="height">Expected deviation</el-radio-button>
            </el-radio-group>
            <ScaleKey
              v-if="content.expected && ground === 'overlap'"
              title="photographs that see it"
              :colours="[...OVERLAP_COLOURS]"
              :labels="['1', '', `${content.expected.mostPictures} and more`]"
            />
            <ScaleKey
              v-else-if="content.expected && ground === 'height'"
              :title="`height, 1 SD, ${small.symbol}`"
              :colours="[...EXPECTED_COLOURS]"
              :labels="content.expected.heightM.map((v) => small.of(v).toFixed(small.digits + 1))"
            />
          </template>
        </MapView>
      </template>
      <div class="lower">
        <el-radio-group v-model="shown" size="small" class="which" aria-label="Shown below the map">
          <el-radio-button value="marks">Marks and distances</el-radio-button>
          <el-radio-button value="cameras">Cameras</el-radio-button>
          <el-radio-button v-if="content.figures.sessions" value="sessions">Sessions</el-radio-button>
          <el-radio-button v-if="!local" value="against">Against another block</el-radio-button>
          <el-radio-button value="out">Left out</el-radio-button>
        </el-radio-group>
        <div class="rows"><BlockTables :figures="content.figures" :shown="shown" :block="chosen.id" /></div>
      </div>
    </SplitBench>
    <MapView v-else :path="path" />
    <template #sheet><BlockSheet :chosen="chosen" /></template>
  </StageLayout>
</template>

<style scoped>
.empty {
  padding: 24px;
  max-width: 460px;
}
.lower {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  min-height: 0;
}
.which {
  padding: 4px 8px;
}
.rows {
  overflow: auto;
  padding: 0 8px;
}
</style>
