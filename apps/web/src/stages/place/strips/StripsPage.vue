<script setup lang="ts">
import { computed, ref, watch, watchEffect } from 'vue';
import { useLocalStorage } from '@vueuse/core';
import { DIFFERENCE_COLOURS, type PairFigures, type ProfileFile } from '@longheron/contract/kinds/adjustment';
import { pictureOf } from '../../../map/picture';
import { objectJson } from '../../../api/client';
import Histogram from '../../../charts/Histogram.vue';
import MapView from '../../../map/MapView.vue';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import DatasetCard from '../../../ui/DatasetCard.vue';
import FigureTable from '../../../ui/FigureTable.vue';
import { useLoaded } from '../../../ui/loaded';
import Num from '../../../ui/Num.vue';
import NotLoaded from '../../../ui/NotLoaded.vue';
import ScaleKey from '../../../ui/ScaleKey.vue';
import { useUnits } from '../../../ui/units';
import { useChosen } from '../../address';
import { useMapData } from '../../mapData';
import SplitBench from '../../SplitBench.vue';
import StageLayout from '../../StageLayout.vue';
import AdjustSheet from './AdjustSheet.vue';
import { BETWEEN, headsOf, isBetween, together, type Between } from './between';
import CrossProfile from './CrossProfile.vue';
import { type Lines } from './lines';
import Pairs from './Pairs.vue';

/** Overlapping strips: how far they disagree, what of it mounting and trajectory explain, and what is left. */
const store = useProject();
const view = useView();
const { small } = useUnits();
const results = computed(() => store.ofKind('adjustment'));
const { chosen, choose } = useChosen(
  () => results.value,
  () => results.value.at(-1),
);
const content = computed(() => chosen.value?.revision.content);
const figures = computed(() => content.value?.figures);
watchEffect(() => (view.active = chosen.value?.id ?? null));
/** Lines as the sheet would have them; until it says so, those of the result. */
const lines = ref<Lines | null>(null);
const trajectory = ref(0);
const { path, preview } = useMapData(() => store.ofKind('trajectory').find((d) => d.id === trajectory.value));
const stage = useLocalStorage<'before' | 'after'>('longheron.strips.stage', 'before');
const below = useLocalStorage<'pairs' | 'profile'>('longheron.strips.below', 'profile');
const differences = useLoaded(
  () => content.value?.values || undefined,
  objectJson<Record<'before' | 'after', number[]>>,
  {
    before: [],
    after: [],
  },
);
const cuts = useLoaded<string, ProfileFile | null>(
  () => content.value?.profiles ?? undefined,
  objectJson<ProfileFile>,
  null,
);
/** Heads of the result: with several, one may look at them against each other. */
const heads = computed(() => headsOf((figures.value?.parameters ?? []).map(({ head }) => ({ strip: 0, head }))));
const wanted = useLocalStorage<Between>('longheron.strips.between', 'all');
const between = computed<Between>(() => (heads.value.length > 1 ? wanted.value : 'all'));
const pairs = computed(() =>
  (figures.value?.overlaps ?? []).filter((p) => isBetween(between.value, p.first, p.second)),
);
const sum = computed(() => together(pairs.value));
const profiles = computed<ProfileFile | null>(() => {
  const file = cuts.value.value;
  if (!file) return null;
  const kept = file.profiles.filter((p) => isBetween(between.value, file.pieces[p.first], file.pieces[p.second]));
  return kept.length ? { ...file, profiles: kept } : null;
});
const at = useLocalStorage('longheron.strips.overlap', 0);
watch(
  () => chosen.value?.revision.id,
  () => (at.value = 0),
);
const picture = computed(() => {
  const c = content.value;
  if (!c?.pictures) return null;
  return pictureOf(c.pictures[stage.value], c.layout);
});
/** The overlaps, with some room. */
const around = computed(() => picture.value?.extent);
const here = computed(() => {
  const p = profiles.value?.profiles[at.value];
  if (!p || below.value !== 'profile') return [];
  const half = 6 * (figures.value?.cell_m ?? 3);
  const [s, c] = [Math.sin(p.bearingRad) * half, Math.cos(p.bearingRad) * half];
  return [
    {
      kind: 'line' as const,
      points: [
        [p.eastingM - s, p.northingM - c],
        [p.eastingM + s, p.northingM + c],
      ] as Array<[number, number]>,
      colour: '#14262b',
      widthPx: 3,
      label: `${at.value + 1}`,
    },
  ];
});
/** The worst slice of a pair. */
function look(pair: PairFigures): void {
  const f = profiles.value;
  const piece = (k: number) => f!.pieces[k];
  const found = f?.profiles.findIndex(
    (p) =>
      piece(p.first).strip === pair.first.strip &&
      piece(p.first).head === pair.first.head &&
      piece(p.second).strip === pair.second.strip &&
      piece(p.second).head === pair.second.head,
  );
  if (found === undefined || found < 0) return;
  at.value = found;
  below.value = 'profile';
}
const limit = computed(() => ((content.value?.limitM ?? 0) * small.value.factor).toFixed(small.value.digits));
const half = computed(() => ((content.value?.limitM ?? 0) * 0.5 * small.value.factor).toFixed(small.value.digits));
const weekStart = computed(() => (preview.value ? Math.floor(preview.value.startGps / 604800) * 604800 : 0));
const spans = computed(
  () =>
    lines.value?.spans ??
    figures.value?.strips.map((s): [number, number] => [weekStart.value + s.start_sow, weekStart.value + s.end_sow]),
);
const rows = computed(() => (figures.value?.strips ?? []).filter((s) => s.points > 0));
/** What no strip holds: pieces without returns, and what rules left out, with the returns in it. */
const rest = computed(() => {
  const f = figures.value;
  if (!f) return null;
  const empty = f.strips.filter((s) => s.points === 0).length;
  const lost = f.left_out.reduce((sum, p) => sum + p.points, 0) + f.returns_outside;
  const all = f.returns_in_strips + lost;
  return { empty, pieces: f.left_out.length, lost, share: all ? lost / all : 0 };
});
const brush = (from: number, to: number) => (view.brush = [weekStart.value + from, weekStart.value + to]);
</script>

<template>
  <StageLayout holdings-title="Strip adjustments">
    <template #holdings>
      <DatasetCard v-for="d in results" :key="d.id" :dataset="d" :selected="d.id === chosen?.id" @choose="choose(d)" />
      <p v-if="results.length === 0" class="soft">
        Nothing is adjusted yet. Strips that lie over each other show what mounting and trajectory are worth, and make
        both better.
      </p>
      <template v-if="figures">
        <h3>Strips</h3>
        <FigureTable
          name="strips"
          :columns="[
            { key: 'name', label: 'No.', value: (s) => s.id },
            { key: 'heading', label: 'Heading', right: true, value: (s) => s.heading_deg },
            { key: 'length', label: 'Long, m', right: true, value: (s) => s.length_m },
            { key: 'points', label: 'Returns', right: true, value: (s) => s.points },
          ]"
          :rows="rows"
          :row-key="(s) => s.start_sow"
          pick
          @pick="(s) => brush(s.start_sow, s.end_sow)"
        >
          <template #name="{ row: s }">{{ s.id }}</template>
          <template #heading="{ row: s }"><Num :value="s.heading_deg" :digits="0" unit="°" /></template>
          <template #length="{ row: s }"><Num :value="s.length_m" /></template>
          <template #points="{ row: s }"><Num :value="s.points" /></template>
        </FigureTable>
        <p v-if="rest" class="soft" style="margin-top: 4px">
          A click brushes the strip's time.
          <template v-if="rest.empty">{{ rest.empty }} straight pieces have no returns. </template>
          <Num :value="rest.lost" /> returns (<Num :value="100 * rest.share" :digits="1" unit="%" />) lie in none:
          {{ rest.pieces }} {{ rest.pieces === 1 ? 'piece is' : 'pieces are' }} left out (grey in plan).
        </p>
      </template>
    </template>
    <SplitBench v-if="content && chosen" storage-key="adjust" :upper-percent="56">
      <template #upper>
        <MapView :path="path" :spans="spans" :picture="picture" :shapes="here" :around="around">
          <template #key>
            <el-radio-group v-model="stage" size="small" aria-label="Before or after">
              <el-radio-button value="before">Before</el-radio-button>
              <el-radio-button value="after">After</el-radio-button>
            </el-radio-group>
            <ScaleKey
              :title="`largest difference, ${small.symbol}`"
              :colours="[...DIFFERENCE_COLOURS]"
              :labels="['0', half, `${limit} and more`]"
            />
          </template>
        </MapView>
      </template>
      <div class="lower">
        <div class="left">
          <div class="which">
            <el-radio-group v-model="below" size="small" aria-label="Shown below the map">
              <el-radio-button value="profile">Cross-profile</el-radio-button>
              <el-radio-button value="pairs">Pairs of strips</el-radio-button>
            </el-radio-group>
            <template v-if="heads.length > 1">
              <el-radio-group v-model="wanted" size="small" aria-label="What is compared">
                <el-radio-button v-for="b in BETWEEN" :key="b.key" :value="b.key">{{ b.label }}</el-radio-button>
              </el-radio-group>
              <span class="soft">
                RMS <Num :value="small.of(sum.beforeM)" :digits="small.digits + 1" /> before,
                <Num :value="small.of(sum.afterM)" :digits="small.digits + 1" :unit="small.symbol" /> after, in
                <Num :value="sum.patches" /> patches
              </span>
            </template>
          </div>
          <CrossProfile v-if="below === 'profile' && profiles" v-model="at" :file="profiles" :stage="stage" />
          <p v-else-if="below === 'profile'" class="soft" style="padding: 8px">
            {{
              between === 'all' ? 'No overlap is large enough for a profile.' : 'None of these overlaps has a profile.'
            }}
          </p>
          <div v-else class="rows"><Pairs :pairs="pairs" :heads="heads.length > 1" @look="look" /></div>
        </div>
        <Histogram
          v-if="differences.value.value[stage].length"
          class="histogram"
          :values="differences.value.value[stage].filter((v) => Math.abs(v) <= 2 * content!.limitM)"
          :unit="small.symbol"
          :factor="small.factor"
          :digits="small.digits"
          :limit="content.limitM"
          shaded="the map’s scale"
        />
        <NotLoaded what="The histogram" :of="differences" />
      </div>
    </SplitBench>
    <MapView v-else :path="path" :spans="spans" />
    <template #sheet>
      <AdjustSheet :chosen="chosen" @lines="lines = $event" @trajectory="trajectory = $event" />
    </template>
  </StageLayout>
</template>

<style scoped>
.lower {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 216px;
  min-height: 0;
}
.left {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  min-height: 0;
}
.which {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
  padding: 4px 8px 0;
  font-size: 12px;
}
.rows {
  overflow: auto;
}
.histogram {
  width: 100%;
  padding: 6px;
}
</style>
