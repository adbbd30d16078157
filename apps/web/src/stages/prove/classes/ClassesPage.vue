<script setup lang="ts">
import { computed, ref, watch, watchEffect } from 'vue';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import AgainButtons from '../../../ui/AgainButtons.vue';
import DatasetCard from '../../../ui/DatasetCard.vue';
import DatasetChoice from '../../../ui/DatasetChoice.vue';
import DiscardButton from '../../../ui/DiscardButton.vue';
import Num from '../../../ui/Num.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import StageLayout from '../../StageLayout.vue';
import TrailList from '../../../ui/TrailList.vue';
import { percent } from '../coverage/coverage';
import { useChosen } from '../../address';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';
import FigureTable from '../../../ui/FigureTable.vue';

/** Classes of a cloud against a reference of the same points: confusion table and rates. */
const store = useProject();
const view = useView();
const results = computed(() => store.ofKind('class-check'));
const { chosen, choose } = useChosen(
  () => results.value,
  () => results.value.at(-1),
);
const content = computed(() => chosen.value?.revision.content);
watchEffect(() => (view.active = chosen.value?.id ?? null));
const clouds = computed(() => store.ofKind('point-cloud').filter((d) => d.revision.content.index));
const cloud = ref(0);
const reference = ref(0);
watch(
  () => [store.datasets.length, chosen.value?.id],
  () => {
    const of = (role: string) => chosen.value?.revision.inputs.find((i) => i.role === role)?.datasetId;
    cloud.value = of('cloud') ?? store.latest('point-cloud', 'clean')?.id ?? 0;
    reference.value = of('against') ?? of('outlines') ?? 0;
  },
  { immediate: true },
);
/** Clouds, and files of areas, that may serve as reference. */
const references = computed(() => [...clouds.value.filter((d) => d.id !== cloud.value), ...store.ofKind('outlines')]);
const start = (over: boolean) => {
  const role = references.value.find((d) => d.id === reference.value)?.kind === 'outlines' ? 'outlines' : 'against';
  return store.run(
    'class-check',
    { cloud: cloud.value, [role]: reference.value },
    {},
    over ? chosen.value?.id : undefined,
  );
};
/** How much of its row a cell holds: what is wrong is tinted by it. */
const share = (v: number | null) => (v === null ? null : 100 * v);
/** Code and name of a class of the reference. */
function nameOf(r: number): string {
  const code = content.value!.figures.classes[r];
  return `${code} ${content.value!.names[code]}`;
}
const shade = (r: number, c: number) => {
  const row = content.value!.figures.counts[r];
  const share =
    row[c] /
    Math.max(
      1,
      row.reduce((s, n) => s + n, 0),
    );
  if (r === c) return { background: `rgb(63 115 80 / ${0.12 + 0.4 * share})` };
  return share > 0.0005 ? { background: `rgb(168 64 46 / ${Math.min(0.6, 0.1 + 3 * share)})` } : {};
};
</script>

<template>
  <StageLayout holdings-title="Classes against a reference">
    <template #holdings>
      <DatasetCard v-for="r in results" :key="r.id" :dataset="r" :selected="r.id === chosen?.id" @choose="choose(r)" />
      <p v-if="results.length === 0" class="soft">
        Nothing is compared yet. A reference holds the same points, or some of them: cut a sample out in Clean, set its
        classes by hand, and compare. Or it is a file of areas (GeoJSON), each with the class of all its points.
      </p>
    </template>
    <div v-if="content && chosen" class="scroll">
      <FigureTable
        name="classes"
        :columns="[
          { key: 'reference', label: 'Reference', value: (r) => nameOf(r) },
          ...content.figures.classes.map((c, k) => ({
            key: `k${k}`,
            label: content!.names[c],
            right: true,
            value: (r: number) => content!.figures.counts[r][k],
          })),
          {
            key: 'found',
            label: 'found, %',
            hint: 'Of the points of this class in the reference, those that were found as it',
            right: true,
            value: (r) => share(content!.figures.recall[r]),
          },
        ]"
        :rows="content.figures.counts.map((_, r) => r)"
      >
        <template v-for="(_c, k) in content.figures.classes" #[`k${k}`]="{ row: r }" :key="k">
          <span class="cell" :style="shade(r, k)"
            ><Num v-if="content.figures.counts[r][k]" :value="content.figures.counts[r][k]"
          /></span>
        </template>
        <template #found="{ row: r }"><Num :value="share(content.figures.recall[r])" :digits="2" /></template>
        <template #after>
          <tr class="last">
            <td title="Of what is called so, what is so in the reference">correct of called so, %</td>
            <td v-for="(p, c) in content.figures.precision" :key="c" class="r">
              <Num :value="share(p)" :digits="2" />
            </td>
            <td />
          </tr>
        </template>
      </FigureTable>
    </div>
    <p v-else class="none">The table of classes appears here once a cloud is compared.</p>
    <template #sheet>
      <template v-if="content && chosen">
        <h2>How the classes agree</h2>
        <OutOfDate :dataset="chosen" />
        <p>
          <strong>{{ percent(content.figures.overall) }}</strong> of <Num :value="content.figures.matched" /> points
          that are in both are called the same<template v-if="content.leastPercent !== undefined"
            >;
            <span class="state" :class="100 * (content.figures.overall ?? 0) >= content.leastPercent ? 'ok' : 'bad'"
              >{{ content.leastPercent }} % were asked for</span
            ></template
          >.
        </p>
        <FactList>
          <Fact label="Ground called something else (type I)">{{ percent(content.figures.typeI) }}</Fact>
          <Fact label="Something else called ground (type II)"
            ><span :class="(content.figures.typeII ?? 0) > 0.05 ? 'state warn' : ''">
              {{ percent(content.figures.typeII) }}
            </span></Fact
          >
          <Fact label="Both, of all points">{{ percent(content.figures.total) }}</Fact>
          <Fact label="Of the reference, unpaired"><Num :value="content.figures.without" /></Fact>
          <Fact v-if="content.figures.ambiguous" label="Undecided: two classes in one place"
            ><Num :value="content.figures.ambiguous"
          /></Fact>
        </FactList>
        <p class="soft note">
          Rows are the reference, columns what the cloud says. Points are matched by their place to the millimetre, or
          by the area they lie in; rejected ones do not count.
        </p>
        <p>
          <a :href="`/api/projects/${store.project!.id}/datasets/${chosen.id}/export/classes`">Table, CSV</a>
        </p>
      </template>
      <h2 v-if="chosen" class="spaced">Settings</h2>
      <el-form novalidate label-position="top" class="spaced" @submit.prevent="start(!!chosen)">
        <DatasetChoice v-model="cloud" label="Cloud" :datasets="clouds" />
        <DatasetChoice v-model="reference" label="Reference" :datasets="references" none="none chosen" />
        <AgainButtons
          first="Compare classes"
          again="Compare again"
          :there="!!chosen"
          :able="!!cloud && !!reference && cloud !== reference"
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
.scroll {
  position: absolute;
  inset: 0;
  overflow: auto;
  padding: 12px;
}
th {
  white-space: normal !important;
  min-width: 64px;
  vertical-align: bottom;
}
.cell {
  display: block;
  margin: -3px -8px;
  padding: 3px 8px;
}
.last td {
  border-top: 2px solid var(--line);
  color: var(--ink-soft);
}
.none {
  color: var(--ink-soft);
  padding: 16px;
}
.note {
  margin-top: 8px;
}
</style>
