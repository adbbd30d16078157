<script setup lang="ts">
import { computed, watch } from 'vue';
import { costOfDistance, rankBases, type RankedBase } from '@longheron/core/gnss';
import { type DatasetOf } from '@longheron/contract/api';
import Num from '../../../ui/Num.vue';
import StationsNearby from './StationsNearby.vue';

/** The recordings that may serve as base, by distance, the one to take and why; and where to get others. */
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
          ...{ id: d.id, name: d.name, place: f.extent?.min, startGps: f.startGps, endGps: f.endGps, gaps: f.gaps },
          ...{ rateHz: f.rateHz, antenna: f.details.find(([k]) => k === 'Antenna')?.[1].trim() ?? '' },
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
    <table v-else class="figures">
      <thead>
        <tr>
          <th>Base, at rest</th>
          <th class="r">away</th>
          <th class="r">covers</th>
          <th class="r">rate</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="b in choice.ranked" :key="b.id" :class="{ chosen: b.id === base }">
          <td>
            <el-radio v-model="base" :value="b.id" :title="`Antenna ${b.antenna}`">{{ b.name }}</el-radio>
          </td>
          <td class="r">
            <Num v-if="b.distanceM === null" :value="null" />
            <Num v-else-if="b.distanceM < 2000" :value="b.distanceM" unit="m" />
            <Num v-else :value="b.distanceM / 1000" :digits="1" unit="km" />
          </td>
          <td class="r" :class="b.cover >= 0.999 ? '' : 'state warn'">{{ coverWord(b.cover) }}</td>
          <td class="r"><Num :value="b.rateHz" :digits="b.rateHz && b.rateHz < 1 ? 1 : 0" unit="Hz" /></td>
        </tr>
      </tbody>
    </table>
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
  font-size: 11.5px;
}
.figures :deep(.el-radio) {
  height: 24px;
  margin: 0;
}
.figures :deep(.el-radio__label) {
  font-size: 11.5px;
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
