<script setup lang="ts">
import { computed, ref } from 'vue';
import { type RegisterFigures, type SectionFile } from '@longheron/contract/kinds/parts/register';
import { useView } from '../../../stores/view';
import FigureTable from '../../../ui/FigureTable.vue';
import Num from '../../../ui/Num.vue';
import TableTabs from '../../../ui/TableTabs.vue';
import { useUnits } from '../../../ui/units';
import ScanSections from './ScanSections.vue';

/** Scans, how pairs agree, sections through them, residuals and targets, worst first. */
const props = defineProps<{ figures: RegisterFigures; sections: SectionFile | null }>();
const view = useView();
const { length } = useUnits();
const tab = ref('scans');
const section = ref(0);
/** Shows the section through a pair. */
function look(p: RegisterFigures['pairs'][number]): void {
  const at = props.sections?.sections.findIndex((s) => s.a === p.a && s.b === p.b) ?? -1;
  if (at < 0) return;
  section.value = at;
  tab.value = 'sections';
}
const tabs = computed(() => [
  { key: 'scans', label: `Scans (${props.figures.scans.length})` },
  { key: 'pairs', label: `Pairs (${props.figures.pairs.length})` },
  ...(props.sections ? [{ key: 'sections', label: `Sections (${props.sections.sections.length})` }] : []),
  { key: 'residuals', label: `Residuals (${props.figures.residuals.length})` },
  { key: 'targets', label: `Targets (${props.figures.targets.length})` },
]);
const mm = (m: number) => (1000 * m).toFixed(1);
const mmOf = (m: number | null | undefined) => (m === null || m === undefined ? '–' : mm(m));
const percent = (v: number | null | undefined) => (v === null || v === undefined ? '–' : (100 * v).toFixed(0));
type Pair = RegisterFigures['pairs'][number];
const targetsOf = (p: Pair) => (p.pieces && p.points === p.pieces ? 0 : p.points);
const OPEN_M = 1;
const heldSaid = (p: Pair) =>
  !p.weakest || p.weakest_sd_m === null
    ? '–'
    : `${weakest(p.weakest)}, ${p.weakest_sd_m > OPEN_M ? 'open' : `${mm(p.weakest_sd_m)} mm`}`;
const TEST_LIMIT = 3.29;
/** The least sure direction in words: plan by its bearing, or height. */
function weakest([e, n, h]: readonly number[]): string {
  if (Math.abs(h) > Math.hypot(e, n)) return 'height';
  const deg = ((Math.atan2(e, n) * 180) / Math.PI + 180) % 180;
  return `bearing ${deg.toFixed(0)}°`;
}
</script>

<template>
  <TableTabs v-model="tab" label="Figures of the scans" :tabs="tabs">
    <FigureTable
      v-if="tab === 'scans'"
      name="scans"
      label="Scans as placed"
      :columns="[
        { key: 'number', label: 'No.', right: true, mono: true, value: (s) => s.number },
        { key: 'name', label: 'Scan', value: (s) => s.name },
        { key: 'points', label: 'Points', right: true, mono: true, value: (s) => s.points },
        { key: 'x', label: `Easting, ${length.symbol}`, right: true, mono: true, value: (s) => length.of(s.x_m) },
        { key: 'y', label: `Northing, ${length.symbol}`, right: true, mono: true, value: (s) => length.of(s.y_m) },
        { key: 'z', label: `Height, ${length.symbol}`, right: true, mono: true, value: (s) => length.of(s.z_m) },
        {
          key: 'bearing',
          label: 'Bearing, °',
          hint: 'Grid bearing of the scanner’s y axis',
          right: true,
          mono: true,
          value: (s) => s.bearing_deg,
        },
        { key: 'sd', label: 'SD E N H, mm', hint: '1 SD', right: true, mono: true, value: (s) => s.sd_x_m },
        {
          key: 'turn',
          label: 'SD turn, °',
          hint: '1 SD of the least sure turn',
          right: true,
          mono: true,
          value: (s) => s.sd_rot_deg,
        },
        {
          key: 'weak',
          label: 'Least sure',
          hint: 'Direction of its place that is known least',
          value: (s) => weakest(s.weakest),
        },
        { key: 'targets', label: 'Targets', right: true, mono: true, value: (s) => s.targets },
        {
          key: 'pieces',
          label: 'Pieces',
          hint: 'Pieces of its surfaces that agree with other scans',
          right: true,
          mono: true,
          value: (s) => s.pieces ?? 0,
        },
      ]"
      :rows="figures.scans"
      :row-key="(s) => s.name"
      :row-class="(s) => ({ chosen: view.hoveredMark === s.name })"
      @enter="(s) => (view.hoveredMark = s.name)"
      @leave="() => (view.hoveredMark = null)"
      ><template #points="{ row: s }"><Num :value="s.points" /></template
      ><template #x="{ row: s }"><Num :value="length.of(s.x_m)" :digits="3" /></template
      ><template #y="{ row: s }"><Num :value="length.of(s.y_m)" :digits="3" /></template
      ><template #z="{ row: s }"><Num :value="length.of(s.z_m)" :digits="3" /></template
      ><template #bearing="{ row: s }">{{ s.bearing_deg.toFixed(3) }}</template
      ><template #sd="{ row: s }">{{ [s.sd_x_m, s.sd_y_m, s.sd_z_m].map(mm).join('  ') }}</template
      ><template #turn="{ row: s }">{{ s.sd_rot_deg.toFixed(4) }}</template
      ><template #weak="{ row: s }">{{ weakest(s.weakest) }}, {{ mm(s.weakest_sd_m) }} mm</template></FigureTable
    >
    <FigureTable
      v-else-if="tab === 'pairs'"
      name="pairs"
      label="How pairs of scans agree, worst first"
      :columns="[
        { key: 'a', label: 'Scan', value: (p) => p.a },
        { key: 'b', label: 'and', value: (p) => p.b },
        {
          key: 'rms',
          label: 'RMS, mm',
          hint: 'Of common targets, in space; of surfaces where there are none',
          right: true,
          mono: true,
          value: (p) => 1000 * p.rms_m,
        },
        { key: 'points', label: 'Targets', right: true, mono: true, value: (p) => targetsOf(p) },
        { key: 'pieces', label: 'Pieces of surfaces', right: true, mono: true, value: (p) => p.pieces ?? 0 },
        {
          key: 'surface',
          label: 'Surfaces, mm',
          hint: 'RMS of pieces off the planes of the other scan',
          right: true,
          mono: true,
          value: (p) => p.surface_rms_m ?? 0,
        },
        {
          key: 'overlap',
          label: 'Overlap, %',
          hint: 'Pieces of the smaller part that lie near anything of the other scan',
          right: true,
          mono: true,
          value: (p) => p.overlap ?? 0,
        },
        {
          key: 'agreeing',
          label: 'Agree, %',
          hint: 'Of these; the rest moved, or is hidden',
          right: true,
          mono: true,
          value: (p) => p.agreeing ?? 0,
        },
        {
          key: 'weak',
          label: 'Least held',
          hint: 'Where the surfaces of this pair alone say least, and 1 SD there',
          value: (p) => (p.weakest ? weakest(p.weakest) : ''),
        },
      ]"
      :rows="figures.pairs"
      :pick="sections !== null"
      @pick="look"
      ><template #rms="{ row: p }">{{ mm(p.rms_m) }}</template
      ><template #points="{ row: p }">{{ targetsOf(p) || '–' }}</template
      ><template #pieces="{ row: p }"><Num :value="p.pieces ?? null" /></template
      ><template #surface="{ row: p }">{{ mmOf(p.surface_rms_m) }}</template
      ><template #overlap="{ row: p }">{{ percent(p.overlap) }}</template
      ><template #agreeing="{ row: p }">{{ percent(p.agreeing) }}</template
      ><template #weak="{ row: p }">{{ heldSaid(p) }}</template></FigureTable
    >
    <ScanSections v-else-if="tab === 'sections' && sections" v-model="section" :file="sections" />
    <FigureTable
      v-else-if="tab === 'residuals'"
      name="residuals"
      label="Residuals of targets, worst first"
      :columns="[
        { key: 'scan', label: 'Scan', value: (r) => r.scan },
        { key: 'target', label: 'Target', value: (r) => r.target },
        {
          key: 'e',
          label: 'Off E, mm',
          hint: 'Adjusted less seen',
          right: true,
          mono: true,
          value: (r) => 1000 * r.de_m,
        },
        { key: 'n', label: 'N', hint: 'mm', right: true, mono: true, value: (r) => 1000 * r.dn_m },
        { key: 'h', label: 'H', hint: 'mm', right: true, mono: true, value: (r) => 1000 * r.dh_m },
        {
          key: 'test',
          label: 'Test',
          hint: 'Standardised residual; one in a thousand is above 3.29',
          right: true,
          mono: true,
          value: (r) => r.test,
        },
      ]"
      :rows="figures.residuals"
      ><template #e="{ row: r }">{{ mm(r.de_m) }}</template
      ><template #n="{ row: r }">{{ mm(r.dn_m) }}</template
      ><template #h="{ row: r }">{{ mm(r.dh_m) }}</template
      ><template #test="{ row: r }"
        ><span :class="(r.test ?? 0) > TEST_LIMIT ? 'state warn' : ''">{{
          r.test === null ? '–' : r.test.toFixed(1)
        }}</span></template
      ></FigureTable
    >
    <FigureTable
      v-else
      name="targets"
      label="Targets as placed"
      :columns="[
        { key: 'name', label: 'Target', value: (t) => t.name },
        { key: 'kind', label: 'Kind', value: (t) => (t.control ? 'known' : 'found') },
        { key: 'scans', label: 'Scans', right: true, mono: true, value: (t) => t.scans },
        { key: 'x', label: `Easting, ${length.symbol}`, right: true, mono: true, value: (t) => length.of(t.x_m) },
        { key: 'y', label: `Northing, ${length.symbol}`, right: true, mono: true, value: (t) => length.of(t.y_m) },
        { key: 'z', label: `Height, ${length.symbol}`, right: true, mono: true, value: (t) => length.of(t.z_m) },
        { key: 'sd', label: 'SD E N H, mm', hint: '1 SD', right: true, mono: true, value: (t) => t.sd_m[0] },
      ]"
      :rows="figures.targets"
      ><template #x="{ row: t }"><Num :value="length.of(t.x_m)" :digits="3" /></template
      ><template #y="{ row: t }"><Num :value="length.of(t.y_m)" :digits="3" /></template
      ><template #z="{ row: t }"><Num :value="length.of(t.z_m)" :digits="3" /></template
      ><template #sd="{ row: t }">{{ t.sd_m.map(mm).join('  ') }}</template></FigureTable
    >
  </TableTabs>
</template>
