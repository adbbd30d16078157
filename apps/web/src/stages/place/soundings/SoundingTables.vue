<script setup lang="ts">
import { computed, ref } from 'vue';
import { CAUSE_WORDS, type SoundingFigures } from '@longheron/contract/kinds/parts/soundings';
import { formatGps, WEEK_S } from '@longheron/core/time';
import { useProject } from '../../../stores/project';
import FigureTable from '../../../ui/FigureTable.vue';
import Num from '../../../ui/Num.vue';
import TableTabs from '../../../ui/TableTabs.vue';
import { useUnits } from '../../../ui/units';
import SpeedPlot from './SpeedPlot.vue';

/** Lines, casts and what the uncertainty comes from. */
const props = defineProps<{ figures: SoundingFigures }>();
const hovered = defineModel<number | null>('hovered', { required: true });
const store = useProject();
const { length, small } = useUnits();
const tab = ref('lines');
const tabs = computed(() => [
  { key: 'lines', label: `Lines (${props.figures.lines.length})` },
  { key: 'casts', label: `Sound speed (${props.figures.casts.length})` },
  { key: 'causes', label: 'Uncertainty by cause' },
  { key: 'angles', label: 'Uncertainty by beam angle' },
]);
const clock = (week: number, sow: number) =>
  formatGps(week * WEEK_S + sow, store.project?.reference?.time ?? 'gps', 0).slice(11, 19);
const little = (m: number) => (small.value.factor * m).toFixed(small.value.digits);
</script>

<template>
  <TableTabs v-model="tab" label="Figures of the soundings" :tabs="tabs">
    <FigureTable
      v-if="tab === 'lines'"
      name="sounding_lines"
      label="Lines"
      :columns="[
        { key: 'id', label: 'Line', right: true, mono: true, value: (l) => l.id },
        { key: 'file', label: 'File', value: (l) => l.file },
        {
          key: 'length',
          label: `Length, ${length.symbol}`,
          right: true,
          mono: true,
          value: (l) => length.of(l.length_m),
        },
        { key: 'course', label: 'Course, °', right: true, mono: true, value: (l) => l.heading_deg },
        { key: 'speed', label: 'Speed, m/s', right: true, mono: true, value: (l) => l.speed_mps },
        { key: 'pings', label: 'Pings', right: true, mono: true, value: (l) => l.pings },
        { key: 'soundings', label: 'Soundings', right: true, mono: true, value: (l) => l.soundings },
        { key: 'low', label: `Lowest, ${length.symbol}`, right: true, mono: true, value: (l) => length.of(l.lowest_m) },
        {
          key: 'high',
          label: `Highest, ${length.symbol}`,
          right: true,
          mono: true,
          value: (l) => length.of(l.highest_m),
        },
      ]"
      :rows="figures.lines"
      :row-key="(l) => String(l.id)"
      :row-class="(l) => ({ chosen: hovered === l.id })"
      @enter="(l) => (hovered = l.id)"
      @leave="() => (hovered = null)"
      ><template #length="{ row: l }">{{ length.of(l.length_m).toFixed(0) }}</template
      ><template #course="{ row: l }">{{ Math.round(l.heading_deg) % 360 }}</template
      ><template #speed="{ row: l }">{{ l.speed_mps.toFixed(1) }}</template
      ><template #pings="{ row: l }"><Num :value="l.pings" /></template
      ><template #soundings="{ row: l }"><Num :value="l.soundings" /></template
      ><template #low="{ row: l }">{{ length.of(l.lowest_m).toFixed(2) }}</template
      ><template #high="{ row: l }">{{ length.of(l.highest_m).toFixed(2) }}</template></FigureTable
    >
    <div v-else-if="tab === 'casts'" class="casts">
      <FigureTable
        name="casts"
        label="Casts"
        :columns="[
          { key: 'name', label: 'Cast', value: (c) => c.name },
          { key: 'time', label: 'Taken', mono: true, value: (c) => clock(c.week, c.sow) },
          { key: 'pings', label: 'Pings', right: true, mono: true, value: (c) => c.pings },
          { key: 'age', label: 'Age up to, min', right: true, mono: true, value: (c) => c.age_s / 60 },
          {
            key: 'away',
            label: `Away up to, ${length.symbol}`,
            right: true,
            mono: true,
            value: (c) => length.of(c.away_m),
          },
          {
            key: 'off',
            label: 'Head differs, m/s',
            hint: 'Largest difference of the speed measured at the head from the cast at that depth',
            right: true,
            mono: true,
            value: (c) => c.surface_off_mps ?? 0,
          },
        ]"
        :rows="figures.casts"
        :row-key="(c) => c.name"
        :row-class="(c) => ({ off: Math.abs(c.surface_off_mps ?? 0) > 1.5 })"
        ><template #pings="{ row: c }"><Num :value="c.pings" /></template
        ><template #age="{ row: c }">{{ c.pings ? (c.age_s / 60).toFixed(0) : '–' }}</template
        ><template #away="{ row: c }">{{ c.pings ? length.of(c.away_m).toFixed(0) : '–' }}</template
        ><template #off="{ row: c }">{{
          c.surface_off_mps === null ? '–' : c.surface_off_mps.toFixed(1)
        }}</template></FigureTable
      >
      <SpeedPlot :casts="figures.casts" />
    </div>
    <FigureTable
      v-else-if="tab === 'causes'"
      name="uncertainty_causes"
      label="Uncertainty by cause, 1 SD"
      :columns="[
        { key: 'cause', label: 'Cause', value: (c) => CAUSE_WORDS[c.cause] ?? c.cause },
        { key: 'h', label: `Height, ${small.symbol}`, right: true, mono: true, value: (c) => c.height_m },
        { key: 'plan', label: `Plan, ${small.symbol}`, right: true, mono: true, value: (c) => c.plan_m },
      ]"
      :rows="figures.causes"
      :row-key="(c) => c.cause"
      ><template #h="{ row: c }">{{ little(c.height_m) }}</template
      ><template #plan="{ row: c }">{{ little(c.plan_m) }}</template></FigureTable
    >
    <FigureTable
      v-else
      name="uncertainty_angles"
      label="Uncertainty by angle from the vertical, 1 SD"
      :columns="[
        { key: 'angle', label: 'Angle, °', mono: true, value: (b) => b.from_deg },
        { key: 'n', label: 'Soundings', right: true, mono: true, value: (b) => b.soundings },
        { key: 'h', label: `Height, ${small.symbol}`, right: true, mono: true, value: (b) => b.sd_h_m },
        { key: 'plan', label: `Plan, ${small.symbol}`, right: true, mono: true, value: (b) => b.sd_plan_m },
      ]"
      :rows="figures.by_angle"
      :row-key="(b) => String(b.from_deg)"
      ><template #angle="{ row: b }">{{ b.from_deg }} to {{ b.to_deg }}</template
      ><template #n="{ row: b }"><Num :value="b.soundings" /></template
      ><template #h="{ row: b }">{{ little(b.sd_h_m) }}</template
      ><template #plan="{ row: b }">{{ little(b.sd_plan_m) }}</template></FigureTable
    >
  </TableTabs>
</template>

<style scoped>
.casts {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(220px, 2fr);
  grid-template-rows: minmax(0, 1fr);
  height: 100%;
  min-height: 0;
}
.casts :deep(table) {
  align-self: start;
}
</style>
