<script setup lang="ts">
import { computed, ref } from 'vue';
import { type PatchFigures, type PatchSliceFile } from '@longheron/contract/kinds/patch';
import FigureTable from '../../../ui/FigureTable.vue';
import TableTabs from '../../../ui/TableTabs.vue';
import PairSlices from './PairSlices.vue';

/** Pairs of lines with what they tell, slices through them, and the lines. */
const props = defineProps<{ figures: PatchFigures; slices: PatchSliceFile | null }>();
const hovered = defineModel<readonly [number, number] | null>('hovered', { required: true });
const tab = ref('pairs');
const slice = ref(0);
type Pair = PatchFigures['pairs'][number];
/** Shows the slice through a pair. */
function look(p: Pair): void {
  const at = props.slices?.slices.findIndex((s) => s.a === p.a && s.b === p.b) ?? -1;
  if (at < 0) return;
  slice.value = at;
  tab.value = 'slices';
}
const tabs = computed(() => [
  { key: 'pairs', label: `Pairs (${props.figures.pairs.length})` },
  ...(props.slices ? [{ key: 'slices', label: `Slices (${props.slices.slices.length})` }] : []),
  { key: 'lines', label: `Lines (${props.figures.lines.length})` },
]);
</script>

<template>
  <TableTabs v-model="tab" label="Figures of the test" :tabs="tabs">
    <FigureTable
      v-if="tab === 'pairs'"
      name="pairs_of_lines"
      label="Pairs of lines"
      :columns="[
        { key: 'pair', label: 'Lines', mono: true, value: (p) => `${p.a} and ${p.b}` },
        {
          key: 'cells',
          label: 'Cells',
          hint: 'In which both have soundings',
          right: true,
          mono: true,
          value: (p) => p.cells,
        },
        {
          key: 'turn',
          label: 'Courses, °',
          hint: 'Angle between them',
          right: true,
          mono: true,
          value: (p) => p.turn_deg,
        },
        {
          key: 'speed',
          label: 'Speeds',
          hint: 'The faster over the slower',
          right: true,
          mono: true,
          value: (p) => p.speed_ratio,
        },
        {
          key: 'apart',
          label: 'Beams apart, °',
          hint: 'Median difference of beam angles: 0 where one line runs on the other',
          right: true,
          mono: true,
          value: (p) => p.apart_deg,
        },
        {
          key: 'slope',
          label: 'Slope, %',
          hint: 'Median, where they overlap',
          right: true,
          mono: true,
          value: (p) => 100 * p.slope,
        },
        { key: 'serves', label: 'Good for', value: (p) => p.serves.join(', ') },
        { key: 'look', label: '', value: () => '' },
      ]"
      :rows="figures.pairs"
      :row-key="(p) => `${p.a} ${p.b}`"
      :row-class="(p) => ({ chosen: hovered?.[0] === p.a && hovered?.[1] === p.b })"
      @enter="(p) => (hovered = [p.a, p.b])"
      @leave="() => (hovered = null)"
      ><template #turn="{ row: p }">{{ p.turn_deg.toFixed(0) }}</template
      ><template #speed="{ row: p }">{{ p.speed_ratio.toFixed(1) }}</template
      ><template #apart="{ row: p }">{{ p.apart_deg.toFixed(0) }}</template
      ><template #slope="{ row: p }">{{ (100 * p.slope).toFixed(0) }}</template
      ><template #serves="{ row: p }">{{ p.serves.join(', ') || 'little' }}</template
      ><template #look="{ row: p }"
        ><el-button v-if="slices" size="small" link @click="look(p)">Slice</el-button></template
      ></FigureTable
    >
    <PairSlices v-else-if="tab === 'slices' && slices" v-model="slice" :file="slices" />
    <FigureTable
      v-else
      name="tested_lines"
      label="Lines"
      :columns="[
        { key: 'id', label: 'Line', right: true, mono: true, value: (l) => l.id },
        { key: 'file', label: 'File', value: (l) => l.file },
        { key: 'course', label: 'Course, °', right: true, mono: true, value: (l) => l.heading_deg },
        { key: 'speed', label: 'Speed, m/s', right: true, mono: true, value: (l) => l.speed_mps },
        { key: 'pings', label: 'Pings', right: true, mono: true, value: (l) => l.pings },
      ]"
      :rows="figures.lines"
      :row-key="(l) => String(l.id)"
      ><template #course="{ row: l }">{{ Math.round(l.heading_deg) % 360 }}</template
      ><template #speed="{ row: l }">{{ l.speed_mps.toFixed(1) }}</template></FigureTable
    >
  </TableTabs>
</template>
