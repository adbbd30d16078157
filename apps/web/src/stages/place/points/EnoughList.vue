<script setup lang="ts">
import { computed } from 'vue';
import { type PhotographDto } from '@longheron/contract/api';
import { enoughPicks, imageKey } from '@longheron/core/photo';
import PlainButton from '../../../ui/PlainButton.vue';
import { type PickDto, type PointRow } from './usePoints';

/** How many more picks each photograph needs, where nothing but picks holds them together. */
const props = defineProps<{
  photographs: readonly PhotographDto[];
  picks: readonly PickDto[];
  rows: readonly PointRow[];
  local: boolean;
}>();
const emit = defineEmits<{ open: [name: string] }>();
const PARTS = ['upper left', 'top', 'upper right', 'left', 'middle', 'right', 'lower left', 'bottom', 'lower right'];
const states = computed(() => {
  const many = new Map<string, number>();
  for (const p of props.picks) many.set(p.point, (many.get(p.point) ?? 0) + 1);
  const known = new Set(props.local ? [] : props.rows.filter((r) => r.at && r.role === 'control').map((r) => r.name));
  return props.photographs.map((photo) => {
    const key = imageKey(photo.name);
    const here = props.picks
      .filter((p) => imageKey(p.image) === key)
      .map((p) => ({ uPx: p.xPx, vPx: p.yPx, others: many.get(p.point)! - 1, known: known.has(p.point) }));
    return { name: photo.name, ...enoughPicks(here, photo.widthPx ?? 3000, photo.heightPx ?? 2000) };
  });
});
const words = (s: (typeof states.value)[number]) =>
  s.onOneLine
    ? 'all on one line: pick beside it'
    : s.moreToCompute
      ? `${s.moreToCompute} more to be computed`
      : s.moreToBeWell
        ? `${s.moreToBeWell} more to be sure`
        : 'well determined';
const hint = (s: (typeof states.value)[number]) =>
  s.emptyNinths.length && s.emptyNinths.length < 9
    ? `${s.useful} picks that others share; none yet: ${s.emptyNinths.map((k) => PARTS[k]).join(', ')}`
    : `${s.useful} picks that others share`;
</script>

<template>
  <h3>Picks needed</h3>
  <ul>
    <li v-for="s in states" :key="s.name">
      <PlainButton class="row" :title="hint(s)" @click="emit('open', s.name)">
        <span>{{ s.name.replace(/\.[a-z]+$/i, '') }}</span>
        <span class="state" :class="s.moreToCompute ? 'bad' : s.moreToBeWell ? 'warn' : 'ok'">{{ words(s) }}</span>
      </PlainButton>
    </li>
  </ul>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 4px 0 8px;
  padding: 0;
  max-height: 150px;
  overflow: auto;
}
.row {
  display: flex;
  justify-content: space-between;
  gap: 6px;
  width: 100%;
  padding: 1px 0;
}
</style>
