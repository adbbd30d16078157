<script setup lang="ts">
import { computed } from 'vue';
import { type PairFigures, type PieceFigures } from '@longheron/contract/kinds/adjustment';
import FigureTable from '../../../ui/FigureTable.vue';
import Num from '../../../ui/Num.vue';
import { useUnits } from '../../../ui/units';

/** Pairs of strips before and after, worst first; a click looks at the worst place of the pair. */
const props = defineProps<{ pairs: readonly PairFigures[]; heads: boolean }>();
const emit = defineEmits<{ look: [pair: PairFigures] }>();
const { small } = useUnits();
const d = computed(() => small.value.digits + 1);
const name = (p: PieceFigures) => (props.heads ? `${p.strip} ${p.head}` : String(p.strip));
const of = (v: number | null) => (v === null ? null : small.value.of(v));
</script>

<template>
  <FigureTable
    name="strip_pairs"
    :columns="[
      { key: 'pair', label: 'Strips', value: (p) => `${name(p.second)} less ${name(p.first)}` },
      { key: 'patches', label: 'patches', right: true, value: (p) => p.patches },
      { key: 'm0', label: 'mean before', right: true, value: (p) => of(p.before_mean_m) },
      { key: 'm1', label: 'after', right: true, value: (p) => of(p.after_mean_m) },
      { key: 'r0', label: `RMS before, ${small.symbol}`, right: true, value: (p) => of(p.before_rms_m) },
      { key: 'r1', label: 'after', right: true, value: (p) => of(p.after_rms_m) },
      {
        key: 'noise',
        label: 'noise',
        hint: 'What the scatter of the points lets expect, RMS',
        right: true,
        value: (p) => of(p.noise_m),
      },
    ]"
    :rows="pairs"
    :row-key="(p) => `${name(p.first)} ${name(p.second)}`"
    pick
    @pick="(p) => emit('look', p)"
  >
    <template #patches="{ row: p }"><Num :value="p.patches" /></template>
    <template #m0="{ row: p }"><Num :value="of(p.before_mean_m)" :digits="d" plus /></template>
    <template #m1="{ row: p }"><Num :value="of(p.after_mean_m)" :digits="d" plus /></template>
    <template #r0="{ row: p }"><Num :value="of(p.before_rms_m)" :digits="d" /></template>
    <template #r1="{ row: p }"
      ><span :class="p.after_rms_m !== null && p.after_rms_m > 1.5 * p.noise_m ? 'state warn' : ''"
        ><Num :value="of(p.after_rms_m)" :digits="d" /></span
    ></template>
    <template #noise="{ row: p }"><Num :value="of(p.noise_m)" :digits="d" /></template>
  </FigureTable>
</template>
