<script setup lang="ts">
import { computed, ref, watchEffect } from 'vue';
import { type PatchSliceFile, type PatchTerm } from '@longheron/contract/kinds/patch';
import { objectJson } from '../../../api/client';
import { aroundPlaces } from '../../../map/around';
import MapView from '../../../map/MapView.vue';
import { type MapShape } from '../../../map/shapes';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import DatasetCard from '../../../ui/DatasetCard.vue';
import DiscardButton from '../../../ui/DiscardButton.vue';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';
import { useLoaded } from '../../../ui/loaded';
import Num from '../../../ui/Num.vue';
import OperationForm from '../../../ui/OperationForm.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import TrailList from '../../../ui/TrailList.vue';
import { useUnits } from '../../../ui/units';
import { useChosen } from '../../address';
import SplitBench from '../../SplitBench.vue';
import StageLayout from '../../StageLayout.vue';
import { lineColour, placesOf } from '../soundings/shapes';
import { usualInputs } from '../soundings/usual';
import TestTables from './TestTables.vue';

/** The mounting of an echo sounder, tested by lines that overlap. */
const store = useProject();
const view = useView();
const { small } = useUnits();
const all = computed(() => store.ofKind('patch'));
const { chosen, choose } = useChosen(
  () => all.value,
  () => all.value.at(-1),
);
watchEffect(() => (view.active = chosen.value?.id ?? null));
const f = computed(() => chosen.value?.revision.content.figures);
const slices = useLoaded<string, PatchSliceFile | null>(
  () => chosen.value?.revision.content.slices,
  objectJson<PatchSliceFile>,
  null,
);
const hovered = ref<readonly [number, number] | null>(null);
const shapes = computed((): MapShape[] =>
  (f.value?.lines ?? []).map((l) => ({
    kind: 'line',
    points: placesOf(l.path),
    colour: lineColour(l.id),
    widthPx: hovered.value?.includes(l.id) ? 5 : 2,
    label: String(l.id),
  })),
);
const around = computed(() =>
  f.value
    ? aroundPlaces(
        f.value.lines.flatMap((l) => placesOf(l.path)),
        15,
      )
    : undefined,
);
const usual = computed(() =>
  usualInputs({
    sonar: store.ofKind('sonar'),
    // what is tested is a mounting that was not tested yet
    mountings: store.ofKind('mounting').filter((d) => d.revision.madeBy !== 'tested-mounting'),
    trajectories: store.ofKind('trajectory'),
    casts: store.ofKind('casts'),
  }),
);
const TERMS: Array<{
  name: string;
  key: 'roll_deg' | 'pitch_deg' | 'heading_deg' | 'latency_s';
  unit: string;
  factor: number;
  digits: number;
}> = [
  { name: 'Roll', key: 'roll_deg', unit: '°', factor: 1, digits: 3 },
  { name: 'Pitch', key: 'pitch_deg', unit: '°', factor: 1, digits: 3 },
  { name: 'Heading', key: 'heading_deg', unit: '°', factor: 1, digits: 3 },
  { name: 'Latency', key: 'latency_s', unit: 'ms', factor: 1000, digits: 1 },
];
const NAME: { readonly [t in PatchTerm]: string } = {
  roll: 'roll',
  pitch: 'pitch',
  heading: 'heading',
  latency: 'latency',
};
/** The mounting made of this test, where there is one. */
const taken = computed(() =>
  store
    .ofKind('mounting')
    .find((d) => d.revision.inputs.some((i) => i.role === 'patch' && i.datasetId === chosen.value?.id)),
);
const take = () => store.run('tested-mounting', { patch: chosen.value!.id }, {}, taken.value?.id);
</script>

<template>
  <StageLayout holdings-title="Mounting tests" own-needs>
    <template #holdings>
      <DatasetCard v-for="d in all" :key="d.id" :dataset="d" :selected="d.id === chosen?.id" @choose="choose(d)" />
      <p v-if="all.length === 0" class="soft">
        No test yet. It takes lines that overlap: one run both ways, one beside it, one at another speed, over a bed
        that is not flat.
      </p>
    </template>
    <SplitBench storage-key="mounting-test" :upper-percent="50">
      <template #upper>
        <MapView :shapes="shapes" :around="around" />
      </template>
      <TestTables v-if="f" v-model:hovered="hovered" :figures="f" :slices="slices.value.value" />
      <p v-else class="soft empty">
        Pairs of lines, and what they are good for, stand here once the mounting is tested.
      </p>
    </SplitBench>
    <template #sheet>
      <template v-if="chosen && f">
        <h2>{{ chosen.name }}</h2>
        <OutOfDate :dataset="chosen" />
        <p class="state" :class="f.held.length ? 'warn' : 'ok'">
          {{
            f.held.length
              ? `not told by these lines: ${f.held.map((h) => NAME[h.term]).join(', ')}`
              : 'roll, pitch, heading and latency found'
          }}
        </p>
        <ul v-if="f.held.length || f.together.length" class="found">
          <li v-for="h in f.held" :key="h.term">For {{ NAME[h.term] }} run {{ h.needs }}.</li>
          <li v-for="t in f.together" :key="t.a + t.b">
            {{ NAME[t.a] }} and {{ NAME[t.b] }} are hardly told apart (correlation {{ t.correlation.toFixed(2) }}).
          </li>
        </ul>
        <table class="terms">
          <thead>
            <tr>
              <th></th>
              <th>Before</th>
              <th>After</th>
              <th>1 SD</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="t in TERMS" :key="t.key">
              <td>{{ t.name }}, {{ t.unit }}</td>
              <td class="mono">{{ (t.factor * f.before[t.key]).toFixed(t.digits) }}</td>
              <td class="mono">{{ f[t.key] === null ? 'held' : (t.factor * f.after[t.key]).toFixed(t.digits) }}</td>
              <td class="mono">
                {{ f[t.key] === null ? '–' : (t.factor * (f[`${t.key}_sd`] ?? 0)).toFixed(t.digits) }}
              </td>
            </tr>
          </tbody>
        </table>
        <FactList>
          <Fact label="Lines apart before, RMS"
            ><Num :value="small.factor * f.before_m" :digits="small.digits" :unit="small.symbol"
          /></Fact>
          <Fact label="after"
            ><Num :value="small.factor * f.after_m" :digits="small.digits" :unit="small.symbol"
          /></Fact>
          <Fact label="Cells compared"><Num :value="f.cells" /></Fact>
        </FactList>
        <el-button size="small" type="primary" @click="take">{{
          taken ? 'Take it again' : 'Take the tested mounting'
        }}</el-button>
        <p v-if="taken" class="soft">It is there as “{{ taken.name }}”: reduce the soundings with it.</p>
        <DiscardButton :dataset="chosen" label="Discard the test" />
      </template>
      <h2 :class="{ spaced: chosen }">{{ chosen ? 'Test again' : 'Test the mounting' }}</h2>
      <OperationForm operation="patch" :made="chosen" :usual-inputs="usual" />
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
.found {
  margin: 4px 0 8px;
  padding-left: 16px;
}
.terms {
  width: 100%;
  border-collapse: collapse;
  margin: 6px 0;
  font-size: 13px;
}
.terms th {
  text-align: right;
  font-weight: 400;
  color: var(--ink-soft);
}
.terms td {
  padding: 2px 0;
  border-top: 1px solid var(--line, #e3e9e9);
}
.terms td.mono {
  text-align: right;
}
</style>
