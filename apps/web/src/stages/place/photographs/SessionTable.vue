<script setup lang="ts">
import { type BlockSession } from '@longheron/contract/kinds/block';
import FigureTable from '../../../ui/FigureTable.vue';
import { clockText } from '../../../ui/format';
import Num from '../../../ui/Num.vue';
import { useUnits } from '../../../ui/units';
import { sessionColour } from './sessions';

/** Sessions of a block: what became of each, and how they hang together. */
defineProps<{ sessions: readonly BlockSession[] }>();
const { small } = useUnits();
/** To the minute; the same day is said once. */
function whenOf({ first_s, last_s }: BlockSession): string {
  if (first_s === null || last_s === null) return '';
  const [from, to] = [first_s, last_s].map((v) => clockText(v).slice(0, 16));
  return `${from} to ${from.slice(0, 10) === to.slice(0, 10) ? to.slice(11) : to}`;
}
const joined = (s: BlockSession) => s.joined.map((j) => `${j.points} with session ${j.with}`).join(', ');
</script>

<template>
  <p class="soft">
    "Sessions to take" in the settings leaves some out or takes them in again; the photographs stay as they are.
  </p>
  <FigureTable
    name="block_sessions"
    :columns="[
      { key: 'number', label: 'Session', value: (s) => s.number },
      { key: 'joined', label: 'Points shared', value: joined },
      { key: 'when', label: 'Camera’s clock', value: whenOf },
      { key: 'cameras', label: 'Camera', value: (s) => s.cameras.join(', ') },
      { key: 'oriented', label: 'Oriented', right: true, value: (s) => s.oriented },
      { key: 'rays', label: 'Rays', right: true, value: (s) => s.rays },
      { key: 'rms', label: 'RMS, px', right: true, value: (s) => s.rms_px },
      {
        key: 'places',
        label: `Positions, ${small.symbol}`,
        hint: 'East, north, height: RMS of given less found',
        right: true,
        value: (s) => s.places_rms_m?.map((v) => small.of(v)).join(' ') ?? '',
      },
      { key: 'name', label: 'Of the set', wrap: true, value: (s) => s.name },
    ]"
    :rows="[...sessions]"
    :row-key="(s) => String(s.number)"
  >
    <template #number="{ row: s }"
      ><span class="dot" :style="{ background: sessionColour(s.number) }" /> {{ s.number }}</template
    >
    <template #name="{ row: s }">{{ s.name }}</template>
    <template #when="{ row: s }">{{ whenOf(s) }}</template>
    <template #cameras="{ row: s }">{{ s.cameras.join(', ') }}</template>
    <template #oriented="{ row: s }">{{ s.oriented }} of {{ s.photographs }}</template>
    <template #rays="{ row: s }"><Num :value="s.rays" /></template>
    <template #rms="{ row: s }"><Num :value="s.rms_px" :digits="2" /></template>
    <template #places="{ row: s }"
      ><template v-if="s.places_rms_m">
        <Num :value="small.of(s.places_rms_m[0])" :digits="small.digits" />,
        <Num :value="small.of(s.places_rms_m[1])" :digits="small.digits" />,
        <Num :value="small.of(s.places_rms_m[2])" :digits="small.digits" /></template
    ></template>
    <template #joined="{ row: s }"
      ><span v-if="s.joined.every((j) => j.points === 0) && s.joined.length" class="state warn">none</span
      ><template v-else>{{ joined(s) }}</template></template
    >
  </FigureTable>
</template>

<style scoped>
.dot {
  display: inline-block;
  width: 9px;
  height: 9px;
  border-radius: 50%;
}
</style>
