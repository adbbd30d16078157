<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { useProject } from '../../../stores/project';
import DatasetChoice from '../../../ui/DatasetChoice.vue';
import { useView } from '../../../stores/view';
import { useUnits } from '../../../ui/units';
import Num from '../../../ui/Num.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import TrailList from '../../../ui/TrailList.vue';
import DiscardButton from '../../../ui/DiscardButton.vue';
import { type StopContent } from '@longheron/contract/kinds/marks';
import { OPERATIONS } from '@longheron/contract/operations';
import SettingsForm from '../../../ui/SettingsForm.vue';
import FigureTable from '../../../ui/FigureTable.vue';

/** Marks from the stops of an antenna: found by themselves or by the field book. */
type Stop = StopContent;
const store = useProject();
const view = useView();
const { length } = useUnits();
const results = computed(() => store.ofKind('marks', 'position').filter((d) => d.revision.content.stops));
const result = computed(() => results.value.at(-1));
const stops = computed(() => result.value?.revision.content.stops ?? []);
const marks = computed(() => result.value?.revision.content.marks ?? []);
const antennas = computed(() =>
  store.ofKind('trajectory').filter((d) => d.revision.content.point === 'antenna' || d.stage === 'gather'),
);
const lists = computed(() => store.ofKind('occupations'));
const known = computed(() => store.ofKind('marks', 'gather'));
let offered = false;
const form = ref({ trajectory: 0, occupations: 0, antennaHeightM: 0, shortestS: 10 });
watch(
  () => store.datasets,
  () => {
    form.value.trajectory ||= antennas.value.findLast((d) => d.stage === 'position')?.id ?? 0;
    // proposed once: none is a choice of its own
    if (!offered && lists.value.length) form.value.occupations = lists.value[0].id;
    offered ||= lists.value.length > 0;
  },
  { immediate: true },
);
function compute(over: boolean): void {
  const { trajectory, occupations, ...settings } = form.value;
  void store.run(
    'stops',
    { trajectory, known: known.value.map((d) => d.id), ...(occupations ? { occupations } : {}) },
    settings,
    over ? result.value?.id : undefined,
  );
}
const mm = (m: number) => String(Math.round(1000 * m) || 0);
/** Found less given, with the name of the mark meant where it has another. */
const offGiven = (s: Stop, near: NonNullable<Stop['near']>) =>
  [...(near.name === s.name ? [] : [`${near.name}:`]), ...near.differenceM.map(mm)].join(' ');
const at = (name: string) => marks.value.find((m) => m.name === name);
const title = (s: Stop) => {
  const m = at(s.name);
  const f = length.value.factor;
  return m
    ? `E ${(m.eastingM * f).toFixed(4)} N ${(m.northingM * f).toFixed(4)} H ${(m.heightM * f).toFixed(4)} ${length.value.symbol}; ${s.used} of ${s.epochs} epochs`
    : '';
};
const loose = computed(() => stops.value.filter((s) => s.solution !== 'fixed').length);
</script>

<template>
  <h2>Marks from stops</h2>
  <p v-if="antennas.length === 0" class="soft">
    No trajectory of an antenna alone yet: compute one from GNSS without inertial data, of a receiver carried from mark
    to mark.
  </p>
  <template v-else>
    <template v-if="result">
      <p>
        <strong>{{ stops.length }}</strong> marks<template v-if="loose"
          >, <span class="state warn">{{ loose }} not fixed</span></template
        ><template v-else>, all fixed</template>. They stand among the marks of the project as unused; give them roles
        in Gather.
      </p>
      <OutOfDate :dataset="result" />
      <div class="scroll">
        <FigureTable
          :columns="[
            { key: 'c0', label: 'Mark', value: (s) => s.name },
            { key: 'c1', label: 's', right: true, value: (s) => s.endSow - s.startSow },
            { key: 'c2', label: 'kind', value: (s) => s.solution },
            {
              key: 'c3',
              label: 'SD plan, H, mm',
              hint: '1 SD of plan, the larger axis, and of height',
              right: true,
              mono: true,
            },
            {
              key: 'c4',
              label: 'off given E N H, mm',
              hint: 'Measured − reference: easting, northing, height',
              right: true,
              mono: true,
              value: (s) => (s.near ? offGiven(s, s.near) : '–'),
            },
          ]"
          :rows="stops"
          :row-key="(s) => s.name"
          :row-class="(s) => ({ chosen: view.hoveredMark === s.name })"
          :row-title="(s) => title(s)"
          name="stops"
          @enter="(s) => (view.hoveredMark = s.name)"
          @leave="() => (view.hoveredMark = null)"
          ><template #c1="{ row: s }"><Num :value="s.endSow - s.startSow" :digits="0" /></template
          ><template #c2="{ row: s }"
            ><span :class="s.solution === 'fixed' ? '' : 'state warn'">{{ s.solution }}</span></template
          ><template #c3="{ row: s }">{{ mm(Math.max(s.sdM[0], s.sdM[1])) }}, {{ mm(s.sdM[2]) }}</template></FigureTable
        >
      </div>
      <p class="soft">
        Deviations are 1 SD, in mm; they allow for what neighbouring epochs have in common, and for centring (4 mm plan,
        2 mm height).
      </p>
      <p>
        <a :href="`/api/projects/${store.project!.id}/datasets/${result.id}/export/marks`">Marks as CSV</a>
      </p>
    </template>
    <h3>{{ result ? 'Make them again' : 'Make marks of stops' }}</h3>
    <el-form novalidate label-position="top" @submit.prevent="compute(!!result)">
      <DatasetChoice v-model="form.trajectory" label="Trajectory of the antenna" :datasets="antennas" />
      <DatasetChoice
        v-model="form.occupations"
        label="Where it stood"
        name="Occupations"
        :datasets="lists"
        none="found by themselves"
        :entry="(d) => `as in ${d.name}`"
      />
      <SettingsForm
        v-model="form"
        :schema="OPERATIONS.stops.settings"
        :only="['antennaHeightM', 'shortestS']"
        :chosen="{ occupations: !!form.occupations }"
      />
      <div class="row">
        <el-button type="primary" native-type="submit" :disabled="!form.trajectory">{{
          result ? 'Make them again' : 'Make the marks'
        }}</el-button>
        <el-button v-if="result" title="Keeps these and makes others beside them" @click="compute(false)"
          >Beside them</el-button
        >
      </div>
    </el-form>
    <TrailList v-if="result" :dataset="result" />
    <DiscardButton v-if="result" :dataset="result" :label="`Discard ${result.name}`" />
  </template>
</template>

<style scoped>
.scroll {
  max-height: 260px;
  overflow: auto;
}
.figures td,
.figures th {
  padding: 2px 3px;
  font-size: 12px;
}
.mono {
  font-family: var(--mono);
}
.row {
  display: flex;
  margin: 8px 0;
}
</style>
