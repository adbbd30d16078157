<script setup lang="ts">
import { computed, watch } from 'vue';
import { costOfDistance, rankBases, type RankedBase } from '@longheron/core/gnss';
import { type DatasetOf } from '@longheron/contract/api';
import Num from '../../../ui/Num.vue';
import StationsNearby from './StationsNearby.vue';
import FigureTable from '../../../ui/FigureTable.vue';
import { useUnits } from '../../../ui/units';

/** The recordings that may serve as base, by distance, the one to take and why; and where to get others. */
const { length } = useUnits();
const base = defineModel<number>({ required: true });
const props = defineProps<{
  rover: DatasetOf<'gnss-observations'> | undefined;
  others: DatasetOf<'gnss-observations'>[];
}>();

interface Facts {
  startGps: number;
  endGps: number;
  gaps: Array<{ startGps: number; endGps: number }>;
  rateHz: number | null;
  extent: { min: [number, number, number] } | null;
  details: Array<[string, string]>;
}
const factsOf = (d: DatasetOf<'gnss-observations'>) => d.revision.content.facts as Facts;
const detail = (f: Facts, key: string) => f.details.find(([k]) => k === key)?.[1].trim() ?? '';
const choice = computed(() => {
  if (!props.rover) return { ranked: [] as RankedBase[], reason: '', proposed: undefined };
  const span = factsOf(props.rover);
  return rankBases(
    { startGps: span.startGps, endGps: span.endGps, place: span.extent?.min },
    // what bears the rover's own name moves with it
    props.others
      .filter((d) => detail(factsOf(d), 'Marker') !== detail(span, 'Marker'))
      .map((d) => {
        const f = factsOf(d);
        return {
          id: d.id,
          name: d.name,
          place: f.extent?.min,
          startGps: f.startGps,
          endGps: f.endGps,
          gaps: f.gaps,
          rateHz: f.rateHz,
          antenna: f.details.find(([k]) => k === 'Antenna')?.[1].trim() ?? '',
        };
      }),
  );
});
watch(
  () => `${props.rover?.id} ${choice.value.proposed}`,
  () => {
    const there = choice.value.ranked.some((b) => b.id === base.value);
    if (!there) base.value = choice.value.proposed ?? 0;
  },
  { immediate: true },
);
const chosen = computed(() => choice.value.ranked.find((b) => b.id === base.value));
const cost = computed(() => costOfDistance(chosen.value?.distanceM ?? null));
const coverWord = (cover: number) => (cover >= 0.999 ? 'whole' : cover > 0 ? `${Math.floor(100 * cover)} %` : 'none');
</script>

<template>
  <div class="bases" role="radiogroup" aria-label="Base">
    <p v-if="choice.ranked.length === 0" class="soft">No other receiver’s observations are here.</p>
    <FigureTable
      v-else
      :columns="[
        { key: 'c0', label: 'Base, at rest' },
        { key: 'c1', label: 'away', right: true },
        { key: 'c2', label: 'covers', right: true, value: (b) => coverWord(b.cover) },
        { key: 'c3', label: 'rate', right: true, value: (b) => b.rateHz },
      ]"
      :rows="choice.ranked"
      :row-key="(b) => b.id"
      :row-class="(b) => ({ chosen: b.id === base })"
      name="bases"
      ><template #c0="{ row: b }">
        <el-radio v-model="base" :value="b.id" :title="`Antenna ${b.antenna}`">{{ b.name }}</el-radio> </template
      ><template #c1="{ row: b }">
        <Num v-if="b.distanceM === null" :value="null" />
        <Num
          v-else-if="b.distanceM < 2000 || length.symbol !== 'm'"
          :value="length.of(b.distanceM)"
          :unit="length.symbol"
        />
        <Num v-else :value="b.distanceM / 1000" :digits="1" unit="km" /> </template
      ><template #c2="{ row: b }"
        ><span :class="b.cover >= 0.999 ? '' : 'state warn'">{{ coverWord(b.cover) }}</span></template
      ><template #c3="{ row: b }"
        ><Num :value="b.rateHz" :digits="b.rateHz && b.rateHz < 1 ? 1 : 0" unit="Hz" /></template
    ></FigureTable>
    <p v-if="choice.ranked.length" class="soft">{{ choice.reason }} {{ cost }}</p>
    <StationsNearby :session="rover" />
  </div>
</template>

<style scoped>
.bases {
  margin-bottom: 8px;
}
.figures td,
.figures th {
  padding: 2px 3px;
  font-size: 12px;
}
.figures :deep(.el-radio) {
  height: 24px;
  margin: 0;
}
.figures :deep(.el-radio__label) {
  font-size: 12px;
  padding-left: 4px;
  max-width: 132px;
  overflow: hidden;
  text-overflow: ellipsis;
}
p {
  margin: 2px 0 6px;
}
.figures th {
  position: static;
}
</style>
