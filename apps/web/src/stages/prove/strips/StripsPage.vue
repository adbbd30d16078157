<script setup lang="ts">
import { computed, ref, watch, watchEffect } from 'vue';
import { AGREEMENT_DEFAULTS } from '@longheron/core/accuracy';
import { pictureOf } from '../../../map/picture';
import { objectJson } from '../../../api/client';
import Histogram from '../../../charts/Histogram.vue';
import MapView from '../../../map/MapView.vue';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import DatasetChoice from '../../../ui/DatasetChoice.vue';
import { SIGNED } from '../../../ui/colour';
import AgainButtons from '../../../ui/AgainButtons.vue';
import DatasetCard from '../../../ui/DatasetCard.vue';
import DiscardButton from '../../../ui/DiscardButton.vue';
import Num from '../../../ui/Num.vue';
import ScaleKey from '../../../ui/ScaleKey.vue';
import { useLoaded } from '../../../ui/loaded';
import NotLoaded from '../../../ui/NotLoaded.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import SplitBench from '../../SplitBench.vue';
import StageLayout from '../../StageLayout.vue';
import TrailList from '../../../ui/TrailList.vue';
import { useUnits } from '../../../ui/units';
import { useMapData } from '../../mapData';
import { useChosen } from '../../address';
import { OPERATIONS } from '@longheron/contract/operations';
import SettingsForm from '../../../ui/SettingsForm.vue';
import FigureTable from '../../../ui/FigureTable.vue';

/** How overlapping strips agree: map, histogram and table. */
const store = useProject();
const view = useView();
const { small } = useUnits();
const { path } = useMapData();
const results = computed(() => store.ofKind('agreement'));
const { chosen, choose } = useChosen(
  () => results.value,
  () => results.value.at(-1),
);
const content = computed(() => chosen.value?.revision.content);
watchEffect(() => (view.active = chosen.value?.id ?? null));
const differences = useLoaded(() => content.value?.values, objectJson<number[]>, []);
const values = differences.value;
const picture = computed(() => {
  const c = content.value;
  if (!c?.picture) return null;
  return pictureOf(c.picture, c.layout);
});
const clouds = computed(() => store.ofKind('point-cloud').filter((d) => d.revision.content.index));
const form = ref({ cloud: 0, ...AGREEMENT_DEFAULTS, groundOnly: false });
watch(
  () => [store.datasets.length, chosen.value?.id],
  () => {
    const from = chosen.value?.revision.inputs.find((i) => i.role === 'cloud')?.datasetId;
    Object.assign(form.value, content.value?.settings ?? {});
    form.value.cloud = from ?? store.latest('point-cloud', 'clean')?.id ?? clouds.value[0]?.id ?? 0;
  },
  { immediate: true },
);
function start(over: boolean): void {
  const { cloud, ...settings } = form.value;
  void store.run('agreement', { cloud }, settings, over ? chosen.value?.id : undefined);
}
const worst = computed(() => [...(content.value?.pairs ?? [])].sort((a, b) => b.rmsM - a.rmsM)[0]);
const beyond = computed(() => (content.value?.pairs ?? []).filter((p) => p.rmsM > content.value!.toleranceM).length);
/** Those that a histogram with the tolerance in it can show. */
const nearby = computed(() => values.value.filter((v) => Math.abs(v) <= 2 * (content.value?.toleranceM ?? 1)));
const limit = computed(() => ((content.value?.limitM ?? 0) * small.value.factor).toFixed(small.value.digits));
const d = computed(() => small.value.digits + 1);
</script>

<template>
  <StageLayout holdings-title="Strips against each other">
    <template #holdings>
      <DatasetCard v-for="r in results" :key="r.id" :dataset="r" :selected="r.id === chosen?.id" @choose="choose(r)" />
      <p v-if="results.length === 0" class="soft">
        Nothing is compared yet. Strips that lie over each other show what the trajectory and the mounting are worth.
      </p>
    </template>
    <SplitBench v-if="content && chosen" storage-key="strips" :upper-percent="76">
      <template #upper>
        <MapView :path="path" :picture="picture">
          <template #key>
            <ScaleKey
              :title="`largest difference in a cell, ${small.symbol}`"
              :colours="SIGNED"
              :labels="[`−${limit}`, '0', `+${limit}`]"
            />
          </template>
        </MapView>
      </template>
      <div class="lower">
        <div class="rows">
          <FigureTable
            :columns="[
              { key: 'c0', label: 'Strips' },
              { key: 'c1', label: 'cells', right: true, value: (p) => p.cells },
              { key: 'c2', label: 'mean', right: true, value: (p) => small.of(p.meanM) },
              { key: 'c3', label: 'median', right: true, value: (p) => small.of(p.medianM) },
              { key: 'c4', label: 'SD', right: true, value: (p) => small.of(p.sdM) },
              {
                key: 'c5',
                label: '95 %',
                hint: '95 of 100 cells lie below',
                right: true,
                value: (p) => small.of(p.p95M),
              },
              { key: 'c6', label: `RMS, ${small.symbol}`, right: true, value: (p) => small.of(p.rmsM) },
              {
                key: 'c7',
                label: 'expected',
                hint: 'What the stated precision of the points lets expect, RMS',
                right: true,
                value: (p) => small.of(p.expectedM),
              },
            ]"
            :rows="content.pairs"
            :row-key="(p) => `${p.first} ${p.second}`"
            name="strip_agreement"
            ><template #c0="{ row: p }">{{ p.second }} less {{ p.first }}</template
            ><template #c1="{ row: p }"><Num :value="p.cells" /></template
            ><template #c2="{ row: p }"><Num :value="small.of(p.meanM)" :digits="d" plus /></template
            ><template #c3="{ row: p }"><Num :value="small.of(p.medianM)" :digits="d" plus /></template
            ><template #c4="{ row: p }"><Num :value="small.of(p.sdM)" :digits="d" /></template
            ><template #c5="{ row: p }"><Num :value="small.of(p.p95M)" :digits="d" /></template
            ><template #c6="{ row: p }"
              ><span :class="p.rmsM > content.toleranceM ? 'state warn' : ''">
                <Num :value="small.of(p.rmsM)" :digits="d" /> </span></template
            ><template #c7="{ row: p }"
              ><span :class="p.expectedM !== null && p.rmsM > 1.5 * p.expectedM ? 'state warn' : ''">
                <Num :value="small.of(p.expectedM)" :digits="d" /> </span></template
          ></FigureTable>
        </div>
        <Histogram
          v-if="values.length"
          class="histogram"
          :values="nearby"
          :unit="small.symbol"
          :factor="small.factor"
          :digits="small.digits"
          :limit="content.toleranceM"
        />
        <NotLoaded what="The histogram" :of="differences" />
      </div>
    </SplitBench>
    <p v-else class="soft" style="padding: 24px">The map of differences appears here once strips are compared.</p>
    <template #sheet>
      <template v-if="content && chosen">
        <h2>How the strips agree</h2>
        <OutOfDate :dataset="chosen" />
        <p v-if="content.cells === 0" class="state warn">
          No two strips could be compared. Take larger cells or fewer points in each; strips that do not overlap prove
          nothing.
        </p>
        <template v-else>
          <p>
            <strong><Num :value="small.of(content.rmsM)" :digits="d" :unit="small.symbol" /></strong> RMS of
            <Num :value="content.differences" /> differences along the normal, in <Num :value="content.cells" /> cells.
            <span v-if="beyond" class="state warn"
              >{{ beyond }} of {{ content.pairs.length }} pairs are beyond the tolerance of
              {{ small.of(content.toleranceM).toFixed(small.digits) }} {{ small.symbol }}</span
            ><span v-else class="state ok"
              >{{ content.pairs.length === 1 ? 'The pair is' : `All ${content.pairs.length} pairs are` }} within the
              tolerance</span
            >.
          </p>
          <p v-if="worst">
            Worst are strips {{ worst.first }} and {{ worst.second }}:
            <Num :value="small.of(worst.rmsM)" :digits="d" :unit="small.symbol" /><template
              v-if="worst.expectedM !== null"
              >, where the stated precision lets
              <Num :value="small.of(worst.expectedM)" :digits="d" :unit="small.symbol" /> expect</template
            >.
          </p>
          <p class="soft">
            <Num :value="content.rough" /> cells were left out as too rough or steep, and
            <Num :value="content.apart" /> comparisons as of two surfaces. Differences are of robust planes at the
            middle of their points, the later strip less the earlier.
          </p>
        </template>
      </template>
      <h2 v-if="chosen" class="spaced">Settings</h2>
      <el-form novalidate label-position="top" class="spaced" @submit.prevent="start(!!chosen)">
        <DatasetChoice v-model="form.cloud" label="Cloud" :datasets="clouds" />
        <SettingsForm
          v-model="form"
          :schema="OPERATIONS.agreement.settings"
          :only="['cellM', 'fewest', 'roughestM', 'apartM', 'groundOnly']"
        />
        <AgainButtons
          first="Compare strips"
          again="Compare again"
          :there="!!chosen"
          :able="!!form.cloud"
          @beside="start(false)"
        />
      </el-form>
      <template v-if="chosen">
        <TrailList :dataset="chosen" />
        <DiscardButton :dataset="chosen" label="Discard this comparison" />
      </template>
    </template>
  </StageLayout>
</template>

<style scoped>
.lower {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 280px;
  min-height: 0;
}
.rows {
  overflow: auto;
}
.histogram {
  width: 100%;
  padding: 6px;
}
</style>
