<script setup lang="ts">
import { computed, ref } from 'vue';
import { type TraverseFigures } from '@longheron/contract/kinds/parts/traverse';
import { useView } from '../../../stores/view';
import FigureTable from '../../../ui/FigureTable.vue';
import Num from '../../../ui/Num.vue';
import TableTabs from '../../../ui/TableTabs.vue';
import { useUnits } from '../../../ui/units';
import { TEST_LIMIT } from './job';

/** Points, observations, traverses and set-ups of an adjusted job, worst first. */
const props = defineProps<{ figures: TraverseFigures }>();
const view = useView();
const { length } = useUnits();
const tab = ref('points');
const tabs = computed(() => [
  { key: 'points', label: `Points (${props.figures.points.length})` },
  { key: 'observations', label: `Observations (${props.figures.observations.length})` },
  { key: 'traverses', label: `Traverses (${props.figures.closures.length})` },
  { key: 'setups', label: `Set-ups (${props.figures.set_up_list.length})` },
]);
const worst = computed(() => [...props.figures.observations].sort((a, b) => (b.test ?? -1) - (a.test ?? -1)));
const mm = (m: number | null) => (m === null ? '–' : (1000 * m).toFixed(1));
const seconds = (deg: number | null) => (deg === null ? '–' : (3600 * deg).toFixed(1));
const KIND = { direction: 'direction', zenith: 'zenith angle', distance: 'distance', height: 'levelled' };
</script>

<template>
  <TableTabs v-model="tab" label="Figures of the job" :tabs="tabs">
    <FigureTable
      v-if="tab === 'points'"
      name="points"
      label="Adjusted points"
      :columns="[
        { key: 'name', label: 'Point', value: (p) => p.name },
        { key: 'kind', label: 'Kind', value: (p) => (p.code ? `${p.kind}, ${p.code}` : p.kind) },
        {
          key: 'e',
          label: `Easting, ${length.symbol}`,
          right: true,
          mono: true,
          value: (p) => length.of(p.easting_m),
        },
        {
          key: 'n',
          label: `Northing, ${length.symbol}`,
          right: true,
          mono: true,
          value: (p) => length.of(p.northing_m),
        },
        { key: 'h', label: `Height, ${length.symbol}`, right: true, mono: true, value: (p) => length.of(p.height_m) },
        { key: 'se', label: 'SD E, mm', hint: '1 SD', right: true, mono: true, value: (p) => 1000 * p.sd_e_m },
        { key: 'sn', label: 'N', hint: '1 SD, mm', right: true, mono: true, value: (p) => 1000 * p.sd_n_m },
        { key: 'sh', label: 'H', hint: '1 SD, mm', right: true, mono: true, value: (p) => 1000 * p.sd_h_m },
        {
          key: 'moved',
          label: 'Less given E N H, mm',
          hint: 'Adjusted less given, of known marks',
          right: true,
          mono: true,
          value: (p) => p.moved_m?.map(mm).join(' '),
        },
        { key: 'rays', label: 'Rays', hint: 'Set-ups that sight it', right: true, mono: true, value: (p) => p.rays },
        { key: 'checked', label: '', value: (p) => (p.checked ? '' : 'unchecked') },
      ]"
      :rows="figures.points"
      :row-key="(p) => p.name"
      :row-class="(p) => ({ chosen: view.hoveredMark === p.name })"
      @enter="(p) => (view.hoveredMark = p.name)"
      @leave="() => (view.hoveredMark = null)"
      ><template #e="{ row: p }"><Num :value="length.of(p.easting_m)" :digits="4" /></template
      ><template #n="{ row: p }"><Num :value="length.of(p.northing_m)" :digits="4" /></template
      ><template #h="{ row: p }"><Num :value="length.of(p.height_m)" :digits="4" /></template
      ><template #se="{ row: p }">{{ mm(p.sd_e_m) }}</template
      ><template #sn="{ row: p }">{{ mm(p.sd_n_m) }}</template
      ><template #sh="{ row: p }">{{ mm(p.sd_h_m) }}</template
      ><template #moved="{ row: p }">{{ p.moved_m?.map(mm).join('  ') ?? '' }}</template
      ><template #checked="{ row: p }"
        ><span class="state warn" title="A single ray leads there">{{ p.checked ? '' : 'unchecked' }}</span></template
      ></FigureTable
    >
    <FigureTable
      v-else-if="tab === 'observations'"
      name="observations"
      label="Observations, worst first"
      :columns="[
        { key: 'set', label: 'Set-up', value: (o) => o.set_up },
        { key: 'from', label: 'From', value: (o) => o.from },
        { key: 'to', label: 'To', value: (o) => o.to },
        { key: 'kind', label: 'Kind', value: (o) => KIND[o.kind] },
        { key: 'length', label: 'Length, m', right: true, mono: true, value: (o) => o.length_m },
        {
          key: 'off',
          label: 'Off, mm',
          hint: 'Adjusted less observed; of angles at the target',
          right: true,
          mono: true,
          value: (o) => 1000 * o.residual_m,
        },
        {
          key: 'arc',
          label: 'Off, ″',
          hint: 'Adjusted less observed, seconds of arc',
          right: true,
          mono: true,
          value: (o) => (o.residual_deg === null ? null : 3600 * o.residual_deg),
        },
        {
          key: 'redundancy',
          label: 'Shown, %',
          hint: 'Share of an error of it that its residual shows',
          right: true,
          mono: true,
          value: (o) => 100 * o.redundancy,
        },
        {
          key: 'test',
          label: 'Test',
          hint: 'Standardised residual; one in a thousand is above 3.29',
          right: true,
          mono: true,
          value: (o) => o.test,
        },
      ]"
      :rows="worst"
      :row-class="(o) => ({ chosen: view.hoveredMark === o.to })"
      @enter="(o) => (view.hoveredMark = o.to)"
      @leave="() => (view.hoveredMark = null)"
      ><template #length="{ row: o }">{{ o.length_m.toFixed(3) }}</template
      ><template #off="{ row: o }">{{ mm(o.residual_m) }}</template
      ><template #arc="{ row: o }">{{ seconds(o.residual_deg) }}</template
      ><template #redundancy="{ row: o }">{{ (100 * o.redundancy).toFixed(0) }}</template
      ><template #test="{ row: o }"
        ><span :class="(o.test ?? 0) > TEST_LIMIT ? 'state warn' : ''">{{
          o.test === null ? '–' : o.test.toFixed(1)
        }}</span></template
      ></FigureTable
    >
    <template v-else-if="tab === 'traverses'">
      <p v-if="!figures.closures.length" class="soft">
        No traverse: no two set-ups that follow each other sight each other.
      </p>
      <FigureTable
        v-else
        name="traverses"
        label="Traverses as observed"
        :columns="[
          { key: 'stations', label: 'Stations', wrap: true, value: (c) => c.stations.join(' – ') },
          { key: 'kind', label: 'Kind', value: (c) => c.kind },
          { key: 'length', label: 'Length, m', right: true, mono: true, value: (c) => c.length_m },
          { key: 'angle', label: 'Angle, ″', right: true, mono: true, value: (c) => seconds(c.angle_deg) },
          { key: 'de', label: 'E, mm', right: true, mono: true, value: (c) => mm(c.de_m) },
          { key: 'dn', label: 'N, mm', right: true, mono: true, value: (c) => mm(c.dn_m) },
          { key: 'dh', label: 'H, mm', right: true, mono: true, value: (c) => mm(c.dh_m) },
          {
            key: 'sd',
            label: 'Expected, 1 SD',
            hint: 'What the instrument lets expect: angle, plan, height',
            right: true,
            mono: true,
            value: (c) => `${seconds(c.angle_sd_deg)}″ ${mm(c.plan_sd_m)} ${mm(c.height_sd_m)} mm`,
          },
          {
            key: 'both',
            label: 'Both ways, mm',
            hint: 'Largest difference of legs seen from both ends: length, height',
            right: true,
            mono: true,
            value: (c) => `${mm(c.both_ways_length_m)} ${mm(c.both_ways_height_m)}`,
          },
          { key: 'ok', label: '', value: (c) => c.ok },
        ]"
        :rows="figures.closures"
        ><template #length="{ row: c }">{{ c.length_m.toFixed(1) }}</template
        ><template #ok="{ row: c }"
          ><span class="state" :class="c.ok ? 'ok' : 'warn'">{{
            c.ok === null ? 'open' : c.ok ? 'closes' : 'does not close'
          }}</span></template
        ></FigureTable
      >
    </template>
    <FigureTable
      v-else
      name="set_ups"
      label="Set-ups"
      :columns="[
        { key: 'id', label: 'Set-up', value: (s) => s.id },
        { key: 'station', label: 'Over', value: (s) => s.station },
        { key: 'back', label: 'Backsight', value: (s) => s.backsight },
        {
          key: 'bearing',
          label: 'Grid bearing of the circle’s zero',
          right: true,
          mono: true,
          value: (s) => s.bearing_deg,
        },
        { key: 'sd', label: '1 SD, ″', right: true, mono: true, value: (s) => seconds(s.sd_deg) },
      ]"
      :rows="figures.set_up_list"
      ><template #bearing="{ row: s }">{{
        s.bearing_deg === null ? '–' : `${s.bearing_deg.toFixed(5)}°`
      }}</template></FigureTable
    >
  </TableTabs>
</template>
