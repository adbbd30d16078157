<script setup lang="ts">
import { computed, ref, watchEffect } from 'vue';
import { useLocalStorage } from '@vueuse/core';
import { type PhotographDto, type PhotographPairsDto } from '@longheron/contract/api';
import { imageKey } from '@longheron/core/photo';
import { api } from '../../../api/client';
import { aroundPlaces } from '../../../map/around';
import MapView from '../../../map/MapView.vue';
import { type MapShape } from '../../../map/shapes';
import { clockText } from '../../../ui/format';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import DatasetCard from '../../../ui/DatasetCard.vue';
import FigureTable from '../../../ui/FigureTable.vue';
import { useLoaded } from '../../../ui/loaded';
import NotLoaded from '../../../ui/NotLoaded.vue';
import PlainButton from '../../../ui/PlainButton.vue';
import Num from '../../../ui/Num.vue';
import OperationForm from '../../../ui/OperationForm.vue';
import { useUnits } from '../../../ui/units';
import { useChosen } from '../../address';
import { photographPath, photographsOf } from '../../place/points/photographs';
import SplitBench from '../../SplitBench.vue';
import StageLayout from '../../StageLayout.vue';
import CameraLibrary from './CameraLibrary.vue';
import Groups from './Groups.vue';
import Pairing from './Pairing.vue';

/** Photographs of a set: by which cameras, when, and where, with what does not fit. */
const store = useProject();
const view = useView();
const { length } = useUnits();
const sets = computed(() => store.ofKind('photo-set'));
const { chosen, choose } = useChosen(
  () => sets.value,
  () => sets.value.at(-1),
);
watchEffect(() => (view.active = chosen.value?.id ?? null));
const project = computed(() => store.project!.id);
const photographs = useLoaded<number, PhotographDto[]>(
  () => chosen.value?.id,
  (id) => photographsOf(project.value, id),
  [],
);
/** Lists of positions, and which of them this set is held against: the one that names its photographs, if there is one. */
const lists = computed(() => store.ofKind('positions'));
const listIds = useLocalStorage<Record<number, number>>('longheron.photographs.positions', {});
const all = useLoaded<string, Record<number, PhotographPairsDto>>(
  () =>
    chosen.value && lists.value.length
      ? `${chosen.value.id} ${lists.value.map((l) => l.revision.id).join()}`
      : undefined,
  () =>
    api.get<Record<number, PhotographPairsDto>>(
      `/projects/${project.value}/datasets/${chosen.value!.id}/photograph-pairs`,
    ),
  {},
);
const list = computed(() => {
  const own = lists.value.find((l) => l.id === listIds.value[chosen.value?.id ?? 0]);
  const fit = (id: number) => {
    const p = all.value.value[id];
    return p ? (p.by === 'name' ? 1000 : p.by === 'times' ? 1 : 0) * p.pairs.length : 0;
  };
  return own ?? [...lists.value].sort((a, b) => fit(b.id) - fit(a.id)).find((l) => fit(l.id) > 0);
});
const pairs = computed(() => (list.value ? all.value.value[list.value.id] : undefined));
const byImage = computed(() => new Map((pairs.value?.pairs ?? []).map((p) => [imageKey(p.image), p])));
const rows = computed(() => photographs.value.value.map((p) => ({ ...p, pair: byImage.value.get(imageKey(p.name)) })));
type Row = (typeof rows.value)[number];

const shown = useLocalStorage<'table' | 'pictures'>('longheron.photographs.shown', 'table');
const marked = ref('');
const shapes = computed<MapShape[]>(() =>
  rows.value.flatMap((r) =>
    r.pair?.at
      ? [
          {
            kind: 'point' as const,
            points: [[r.pair.at[0], r.pair.at[1]] as [number, number]],
            colour: r.name === marked.value ? '#c97a00' : '#0e5e66',
            label: r.name === marked.value ? r.name : undefined,
          },
        ]
      : [],
  ),
);
const around = computed(() =>
  aroundPlaces(
    rows.value.flatMap((r) => (r.pair?.at ? [r.pair.at] : [])),
    30,
  ),
);
function taken({ takenS, zoneH }: Row): string {
  if (takenS === null) return '–';
  const text = clockText(takenS);
  if (zoneH === null) return text;
  const minutes = Math.round(60 * Math.abs(zoneH));
  return `${text} ${zoneH < 0 ? '−' : '+'}${Math.floor(minutes / 60)}:${String(minutes % 60).padStart(2, '0')}`;
}
const state = (r: Row) =>
  !pairs.value
    ? ''
    : r.pair
      ? 'paired'
      : pairs.value.without.some((w) => imageKey(w) === imageKey(r.name))
        ? 'no position'
        : 'left over';
</script>

<template>
  <StageLayout holdings-title="Sets of photographs" own-needs>
    <template #holdings>
      <DatasetCard v-for="d in sets" :key="d.id" :dataset="d" :selected="d.id === chosen?.id" @choose="choose(d)" />
      <p v-if="sets.length === 0" class="soft">
        No photographs are here yet. Import a ZIP archive of JPEG files under Files; the photographs stay as the camera
        wrote them.
      </p>
    </template>
    <SplitBench v-if="chosen" storage-key="photographs-intake" :upper-percent="58">
      <template #upper>
        <div class="upper">
          <el-radio-group v-model="shown" size="small" class="which" aria-label="How photographs are shown">
            <el-radio-button value="table">Table</el-radio-button>
            <el-radio-button value="pictures">Pictures</el-radio-button>
          </el-radio-group>
          <div class="scroll">
            <NotLoaded what="The photographs" :of="photographs" />
            <p v-if="photographs.loading.value" class="soft">Reading what the photographs say of themselves …</p>
            <FigureTable
              v-if="shown === 'table'"
              name="photographs"
              label="Photographs"
              :columns="[
                { key: 'name', label: 'Name', value: (r) => r.name },
                { key: 'taken', label: 'Camera’s clock', value: (r) => r.takenS },
                { key: 'camera', label: 'Body', value: (r) => `${r.camera} ${r.serial}` },
                { key: 'size', label: 'Size, px', right: true, value: (r) => r.widthPx },
                { key: 'place', label: 'Own position', value: (r) => (r.place ? 1 : 0) },
                { key: 'state', label: 'In the list', value: state },
                { key: 'off', label: 'Clock off, s', right: true, value: (r) => r.pair?.offS ?? null },
              ]"
              :rows="rows"
              :row-key="(r) => r.name"
              :row-class="(r) => ({ chosen: r.name === marked })"
              pick
              @pick="(r) => (marked = r.name)"
            >
              <template #name="{ row: r }">{{ r.name }}</template>
              <template #taken="{ row: r }"
                ><span class="mono">{{ taken(r) }}</span></template
              >
              <template #camera="{ row: r }">{{
                [r.camera, r.serial].filter(Boolean).join(', ') || 'not said'
              }}</template>
              <template #size="{ row: r }"
                ><template v-if="r.widthPx">{{ r.widthPx }} × {{ r.heightPx }}</template
                ><template v-else>–</template></template
              >
              <template #place="{ row: r }">{{ r.place ? 'yes' : 'none' }}</template>
              <template #state="{ row: r }"
                ><span :class="{ 'state warn': state(r) === 'no position' || state(r) === 'left over' }">{{
                  state(r)
                }}</span></template
              >
              <template #off="{ row: r }"><Num :value="r.pair?.offS ?? null" :digits="1" plus /></template>
            </FigureTable>
            <div v-else class="grid">
              <PlainButton
                v-for="r in rows"
                :key="r.name"
                class="card"
                :class="{ chosen: r.name === marked }"
                @click="marked = r.name"
              >
                <img :src="photographPath(project, chosen.id, r.name, 240)" :alt="r.name" loading="lazy" />
                <span>{{ r.name }}</span>
                <span v-if="state(r) && state(r) !== 'paired'" class="state warn">{{ state(r) }}</span>
              </PlainButton>
            </div>
          </div>
        </div>
      </template>
      <MapView :shapes="shapes" :around="around" />
    </SplitBench>
    <template #sheet>
      <template v-if="chosen">
        <h2>{{ chosen.name }}</h2>
        <Groups :photographs="photographs.value.value" />
        <CameraLibrary v-if="rows.length" :set="chosen.id" :photographs="photographs.value.value" />
        <h3 class="spaced">Where they were taken</h3>
        <el-select
          v-if="lists.length"
          :model-value="list?.id"
          size="small"
          :placeholder="all.loading.value ? 'Comparing …' : 'No list fits'"
          aria-label="List of positions"
          @change="(id: number) => (listIds = { ...listIds, [chosen!.id]: id })"
        >
          <el-option v-for="l in lists" :key="l.id" :value="l.id" :label="l.name" />
        </el-select>
        <Pairing v-if="pairs && list" :pairs="pairs" :list="list" :photographs="rows.length" />
        <p v-else-if="all.loading.value" class="soft">Comparing with the lists of positions …</p>
        <p v-else class="soft">
          No list of positions names these photographs. Position the events of their camera, import a list, or take what
          they say themselves.
        </p>
        <p v-if="marked && byImage.get(imageKey(marked))?.at" class="mono">
          {{ marked }}:
          <Num
            v-for="(v, k) in byImage.get(imageKey(marked))!.at"
            :key="k"
            :value="length.of(v)"
            :digits="2"
            :unit="k === 2 ? length.symbol : undefined"
            class="at"
          />
        </p>
        <h3 class="spaced">Their own positions</h3>
        <p v-if="rows.length" class="soft">
          {{ rows.filter((r) => r.place).length }} of {{ rows.length }} photographs say where they were taken, as their
          receiver had it.
        </p>
        <OperationForm v-if="rows.some((r) => r.place)" operation="exif-positions" />
      </template>
    </template>
  </StageLayout>
</template>

<style scoped>
.upper {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  min-height: 0;
}
.which {
  padding: 4px 8px;
}
.scroll {
  overflow: auto;
  padding: 0 8px;
}
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(132px, 1fr));
  gap: 8px;
  padding: 4px 0 12px;
}
.card {
  display: grid;
  gap: 2px;
  padding: 3px;
  border-radius: 4px;
  font-size: 12px;
}
.card.chosen {
  background: var(--reed-soft);
  outline: 1px solid var(--reed);
}
.card img {
  width: 100%;
  aspect-ratio: 3 / 2;
  object-fit: contain;
  background: var(--mist);
  image-orientation: none;
}
.spaced {
  margin-top: 14px;
}
.at {
  margin-right: 6px;
}
</style>
