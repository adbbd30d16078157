<script setup lang="ts">
import { computed } from 'vue';
import { type DatasetDto } from '@longheron/contract/api';
import { formatGps } from '@longheron/core/time';
import { statisticsOfBins } from '@longheron/core/trajectory';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import Num from '../../../ui/Num.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import { type Preview } from '../../mapData';
import { binsOf, lengthsByBand, weakStretches, worstOf } from './judge';
import { type Sky } from '../sky';
import ExportTrajectory from './ExportTrajectory.vue';
import TrajectoryReport from './TrajectoryReport.vue';
import FigureTable from '../../../ui/FigureTable.vue';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';
import { useUnits } from '../../../ui/units';

/** How good a trajectory says it is, over the whole of it or the brushed span, and where it is not and why. */
const { length, small } = useUnits();
const props = defineProps<{ dataset: DatasetDto; preview: Preview; sky: Sky | null; span: [number, number] }>();
const store = useProject();
const view = useView();
const MAX_STRETCHES = 6;
const tolerance = computed(() => store.project?.toleranceM ?? 0.03);
const within = computed(() => {
  const [from, to] = binsOf(props.preview, props.span);
  let good = 0;
  for (let k = from; k < to; k++) if (worstOf(props.preview, k) <= tolerance.value) good++;
  return to > from ? good / (to - from) : null;
});
const weak = computed(() => weakStretches(props.preview, props.sky, tolerance.value, props.span));
const bands = computed(() => {
  const limits = [tolerance.value / 2, tolerance.value];
  const said = (m: number) => `${small.value.of(m).toFixed(small.value.digits)} ${small.value.symbol}`;
  const words = [`to ${said(limits[0])}`, `to ${said(limits[1])}`, `beyond ${said(limits[1])}`];
  const lengths = lengthsByBand(props.preview, limits, props.span);
  const all = lengths.reduce((a, b) => a + b, 0);
  return lengths.map((lengthM, k) => ({ word: words[k], lengthM, share: all ? lengthM / all : 0 }));
});
const brushed = computed(() => !!view.brush && !!props.preview.binned?.length);
const statistics = computed(() => {
  const p = props.preview;
  if (!brushed.value) return p.statistics.map((s) => ({ ...s, p95: s.p95 as number | null }));
  const [from, to] = binsOf(p, props.span);
  if (to <= from) return [];
  return statisticsOfBins(p.binned!, p.counts!, from, to).map((s) => ({ ...s, p95: null as number | null }));
});
const display = computed(() => store.project?.reference?.time ?? 'gps');
const digitsOf = (s: { name: string; unit: string }) =>
  /^SD/.test(s.name) ? (s.unit === '°' ? 4 : 3) : s.unit === '°' ? 2 : 1;
const columns = computed(() =>
  brushed.value
    ? ([
        ['mean', 'mean'],
        ['rms', 'RMS'],
        ['min', 'min'],
        ['max', 'max'],
      ] as const)
    : ([
        ['mean', 'mean'],
        ['rms', 'RMS'],
        ['p95', '95 %'],
        ['max', 'max'],
      ] as const),
);
type Statistic = (typeof statistics.value)[number];
</script>

<template>
  <h2>Quality of the trajectory</h2>
  <p v-if="within !== null">
    <strong :class="within > 0.999 ? 'state ok' : 'state warn'" style="font-size: 13px"
      >{{ (100 * within).toFixed(1) }} %</strong
    >
    of {{ view.brush ? 'the brushed span' : 'the drive' }} states deviations within the tolerance of
    {{ small.of(tolerance).toFixed(small.digits) }} {{ small.symbol }} (1 SD, plan and height).
  </p>
  <template v-if="weak.length">
    <p>Where it does not, and why:</p>
    <ul class="weak">
      <li v-for="w in weak.slice(0, MAX_STRETCHES)" :key="w.from">
        <a href="#" @click.prevent="view.brush = [w.from - 5, w.to + 5]">{{
          formatGps(w.from, display, 0).slice(11)
        }}</a>, <Num :value="w.to - w.from" :digits="0" unit="s" />,
        <Num :value="length.of(w.lengthM)" :digits="0" :unit="length.symbol" />: up to
        <Num :value="small.of(w.worstM)" :digits="small.digits" :unit="small.symbol" />, {{ w.why }}
      </li>
    </ul>
    <p v-if="weak.length > MAX_STRETCHES" class="soft">and {{ weak.length - MAX_STRETCHES }} more stretches.</p>
  </template>
  <FactList>
    <Fact v-for="b in bands" :key="b.word" :label="`Path with SD ${b.word}`">
      <Num :value="length.of(b.lengthM)" :digits="0" :unit="length.symbol" />,
      <Num :value="100 * b.share" :digits="1" unit="%" />
    </Fact>
  </FactList>
  <FigureTable
    class="tight"
    name="trajectory_statistics"
    :columns="[
      { key: 'name', label: brushed ? 'Brushed span' : 'Whole file', value: (s) => `${s.name}, ${s.unit}` },
      ...columns.map(([k, word]) => ({ key: k, label: word, right: true, value: (s: Statistic) => s[k] })),
    ]"
    :rows="statistics"
    :row-key="(s) => s.name"
  >
    <template #name="{ row: s }"
      >{{ s.name.replace('Ellipsoidal height', 'Ell. height')
      }}<span v-if="s.unit" class="soft">, {{ s.unit }}</span></template
    >
    <template v-for="[k] in columns" #[k]="{ row: s }" :key="k"><Num :value="s[k]" :digits="digitsOf(s)" /></template>
  </FigureTable>
  <p class="soft" style="margin-top: 8px">
    Deviations are 1 SD as the file states them. Statistics come from all epochs; plots show the lowest and highest in
    each pixel.
  </p>
  <OutOfDate :dataset="dataset" />
  <p class="files">
    <a :href="`/api/projects/${store.project!.id}/datasets/${dataset.id}/export/quality`">Quality as CSV</a>
  </p>
  <TrajectoryReport :dataset="dataset" />
  <ExportTrajectory :dataset="dataset" />
</template>

<style scoped>
.weak {
  margin: 0 0 6px;
  padding-left: 16px;
  font-size: 12px;
}
.files {
  display: flex;
  gap: 16px;
}
.tight {
  margin-top: 6px;
}
.tight :deep(th) {
  position: static;
}
.tight :deep(td),
.tight :deep(th) {
  padding: 3px 4px;
  font-size: 12px;
}
</style>
