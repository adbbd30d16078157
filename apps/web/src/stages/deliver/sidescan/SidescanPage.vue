<script setup lang="ts">
import { computed, ref, watchEffect } from 'vue';
import MapView from '../../../map/MapView.vue';
import { pictureOf } from '../../../map/picture';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import DatasetCard from '../../../ui/DatasetCard.vue';
import DiscardButton from '../../../ui/DiscardButton.vue';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';
import FigureTable from '../../../ui/FigureTable.vue';
import Num from '../../../ui/Num.vue';
import OperationForm from '../../../ui/OperationForm.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import TableTabs from '../../../ui/TableTabs.vue';
import TrailList from '../../../ui/TrailList.vue';
import { useUnits } from '../../../ui/units';
import { useChosen } from '../../address';
import { usualInputs } from '../../place/soundings/usual';
import SplitBench from '../../SplitBench.vue';
import StageLayout from '../../StageLayout.vue';

/** Mosaics of side-scan lines: the picture, the stack of lines, and where the first return is doubtful. */
const store = useProject();
const view = useView();
const { length } = useUnits();
const all = computed(() => store.ofKind('mosaic'));
const { chosen, choose } = useChosen(
  () => all.value,
  () => all.value.at(-1),
);
watchEffect(() => (view.active = chosen.value?.id ?? null));
const content = computed(() => chosen.value?.revision.content);
const f = computed(() => content.value?.figures);
const tab = ref('lines');
const doubtful = computed(() =>
  (f.value?.lines ?? [])
    .flatMap((l) => l.doubtful.map((d) => ({ ...d, file: l.file })))
    .sort((a, b) => a.confidence - b.confidence),
);
const tabs = computed(() => [
  { key: 'lines', label: `Lines (${f.value?.lines.length ?? 0})` },
  { key: 'doubtful', label: `Doubtful stretches (${doubtful.value.length})` },
]);
const usual = computed(() => ({
  ...usualInputs({
    sonar: store.ofKind('sonar'),
    mountings: store.ofKind('mounting'),
    trajectories: store.ofKind('trajectory'),
    casts: store.ofKind('casts'),
  }),
  bed: store
    .ofKind('depths')
    .slice(-1)
    .map((d) => d.id),
}));
/** Lines from the top of the stack down. */
const stack = computed(() => [...(f.value?.lines ?? [])].reverse());
</script>

<template>
  <StageLayout holdings-title="Side-scan mosaics" own-needs>
    <template #holdings>
      <DatasetCard v-for="d in all" :key="d.id" :dataset="d" :selected="d.id === chosen?.id" @choose="choose(d)" />
      <p v-if="all.length === 0" class="soft">
        No mosaic yet. It takes recordings with side-scan, the mounting, a trajectory and casts; on a depth grid things
        lie where they are, also on slopes.
      </p>
    </template>
    <SplitBench storage-key="sidescan" :upper-percent="66">
      <template #upper>
        <MapView :picture="content?.picture ? pictureOf(content.picture, content.layout) : null" />
      </template>
      <TableTabs v-if="f" v-model="tab" label="Figures of the mosaic" :tabs="tabs">
        <FigureTable
          v-if="tab === 'lines'"
          name="sidescan_lines"
          label="Lines, top of the stack first"
          :columns="[
            { key: 'file', label: 'Line, top of the stack first', value: (l) => l.file },
            { key: 'pings', label: 'Pings', right: true, mono: true, value: (l) => l.pings },
            {
              key: 'sure',
              label: 'First return sure, %',
              right: true,
              mono: true,
              value: (l) => 100 * l.tracked_share,
            },
            {
              key: 'low',
              label: `Altitude, ${length.symbol}`,
              hint: 'Lowest and highest of the head over the bed',
              right: true,
              mono: true,
              value: (l) => length.of(l.altitude_m[0]),
            },
            {
              key: 'outside',
              label: 'Outside',
              hint: 'Pings outside the trajectory',
              right: true,
              mono: true,
              value: (l) => l.outside,
            },
          ]"
          :rows="stack"
          :row-key="(l) => l.file"
          ><template #pings="{ row: l }"><Num :value="l.pings" /></template
          ><template #sure="{ row: l }">{{ (100 * l.tracked_share).toFixed(1) }}</template
          ><template #low="{ row: l }">{{
            l.altitude_m.map((v: number) => length.of(v).toFixed(1)).join(' to ')
          }}</template></FigureTable
        >
        <FigureTable
          v-else
          name="doubtful_stretches"
          label="Doubtful stretches, worst first"
          :columns="[
            { key: 'file', label: 'Line', value: (d) => d.file },
            { key: 'from', label: 'From ping', right: true, mono: true, value: (d) => d.from },
            { key: 'to', label: 'To ping', right: true, mono: true, value: (d) => d.to },
            { key: 'confidence', label: 'Confidence, 0 to 1', right: true, mono: true, value: (d) => d.confidence },
          ]"
          :rows="doubtful"
          :row-key="(d) => `${d.file} ${d.from}`"
          ><template #confidence="{ row: d }">{{ d.confidence.toFixed(2) }}</template></FigureTable
        >
      </TableTabs>
      <p v-else class="soft empty">Lines, and where the first return is doubtful, stand here once a mosaic is made.</p>
    </SplitBench>
    <template #sheet>
      <template v-if="chosen && f">
        <h2>{{ chosen.name }}</h2>
        <OutOfDate :dataset="chosen" />
        <p class="state" :class="f.bed === 'grid' ? 'ok' : 'warn'">
          {{ f.bed === 'grid' ? 'ranges corrected on the depth grid' : 'ranges corrected on a flat bed' }}
        </p>
        <FactList>
          <Fact label="Channel">{{ f.channel }}</Fact>
          <Fact label="Pings"><Num :value="f.pings" /></Fact>
          <Fact label="First return sure"><Num :value="100 * f.tracked_share" :digits="1" unit="%" /></Fact>
          <Fact label="Pings lie apart" hint="Median, along the lines"
            ><Num :value="length.of(f.ping_spacing_m)" :digits="2" :unit="length.symbol"
          /></Fact>
          <Fact label="Samples lie apart" hint="Of slant range"
            ><Num :value="length.of(f.sample_spacing_m)" :digits="3" :unit="length.symbol"
          /></Fact>
          <Fact label="Cells with something"><Num :value="f.cells" /></Fact>
        </FactList>
        <p class="soft">
          <a :href="`/api/projects/${store.project!.id}/datasets/${chosen.id}/export/geotiff`">Mosaic, GeoTIFF</a>,
          <a :href="`/api/projects/${store.project!.id}/datasets/${chosen.id}/export/tracks`">first returns, CSV</a>
        </p>
        <DiscardButton :dataset="chosen" label="Discard the mosaic" />
      </template>
      <h2 :class="{ spaced: chosen }">{{ chosen ? 'Make it again' : 'Make a mosaic' }}</h2>
      <OperationForm operation="sidescan" :made="chosen" :usual-inputs="usual" />
      <TrailList v-if="chosen" :dataset="chosen" />
    </template>
  </StageLayout>
</template>

<style scoped>
.spaced {
  margin-top: 16px;
}
.empty {
  padding: 12px;
}
</style>
