<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { factsOf, type DatasetOf } from '@longheron/contract/api';
import { useProject } from '../../../stores/project';
import AgainButtons from '../../../ui/AgainButtons.vue';
import DatasetChoice from '../../../ui/DatasetChoice.vue';
import DiscardButton from '../../../ui/DiscardButton.vue';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';
import FigureTable from '../../../ui/FigureTable.vue';
import Fold from '../../../ui/Fold.vue';
import Num from '../../../ui/Num.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import { useSettings } from '../../../ui/settings';
import SettingsForm from '../../../ui/SettingsForm.vue';
import TrailList from '../../../ui/TrailList.vue';
import { useUnits } from '../../../ui/units';
import { useMapData } from '../../mapData';
import Readiness from '../cloud/Readiness.vue';
import { sessionOf } from '../session';
import LineLength from './LineLength.vue';
import { linesOf, type Lines } from './lines';
import Outcome from './Outcome.vue';
import Parameters from './Parameters.vue';

/** What is adjusted, what for, and what came out. */
const props = defineProps<{ chosen?: DatasetOf<'adjustment'> }>();
const emit = defineEmits<{ lines: [lines: Lines | null]; trajectory: [id: number] }>();
const store = useProject();
const { small } = useUnits();
const d = computed(() => small.value.digits + 1);
const { declaration, settings } = useSettings('strips', () => props.chosen);
const form = ref({ trajectory: 0, returns: [] as number[], mounting: 0, control: 0 });
const inputs = (role: string) =>
  props.chosen?.revision.inputs.filter((i) => i.role === role).map((i) => i.datasetId) ?? [];
watch(
  () => [store.datasets.length, props.chosen?.id],
  () => {
    const returns = inputs('returns');
    const session = returns.length ? undefined : sessionOf(store);
    form.value = {
      trajectory: inputs('trajectory')[0] ?? session?.trajectory ?? 0,
      returns: returns.length ? returns : (session?.returns ?? []),
      mounting: inputs('mounting')[0] ?? session?.mounting ?? 0,
      control: inputs('control')[0] ?? 0,
    };
  },
  { immediate: true },
);
watch(
  () => form.value.trajectory,
  (id) => emit('trajectory', id),
  { immediate: true },
);
const { preview } = useMapData(() => store.ofKind('trajectory').find((t) => t.id === form.value.trajectory));
const returns = computed(() => store.ofKind('laser-returns').filter((r) => form.value.returns.includes(r.id)));
const lines = computed(() =>
  preview.value
    ? linesOf(
        preview.value,
        {
          minLengthM: (settings.value.minLengthM as number | null) ?? undefined,
          turnDegPerS: (settings.value.turnDegPerS as number | null) ?? undefined,
        },
        returns.value.flatMap((r) => factsOf(r) ?? []),
      )
    : null,
);
watch(lines, (l) => emit('lines', l), { immediate: true });
const SOUGHT = ['boresight', 'lever', 'range', 'shift', 'drift'];
const able = computed(
  () => !!(form.value.trajectory && form.value.mounting && form.value.returns.length && store.project?.reference),
);
function start(over: boolean): void {
  const { control, ...rest } = form.value;
  void store.run(
    'strips',
    { ...rest, ...(control ? { control } : {}) },
    settings.value,
    over ? props.chosen?.id : undefined,
  );
}
const figures = computed(() => props.chosen?.revision.content.figures);
const better = computed(() => (figures.value ? 1 - figures.value.after_m / figures.value.before_m : 0));
</script>

<template>
  <template v-if="chosen && figures">
    <h2>How the strips agree</h2>
    <OutOfDate :dataset="chosen" />
    <p>
      <strong
        ><Num :value="small.of(figures.before_m)" :digits="d" /> →
        <Num :value="small.of(figures.after_m)" :digits="d" :unit="small.symbol" /></strong
      >&ensp;RMS of <Num :value="figures.patches" /> differences along the normal of planes,
      <Num :value="100 * better" :digits="0" unit="%" /> less. The scatter of the points lets
      <Num :value="small.of(figures.noise_m)" :digits="d" :unit="small.symbol" /> expect.
    </p>
    <p v-if="figures.plan_before_m !== null && figures.plan_after_m !== null">
      In plan, on roofs and banks in <Num :value="figures.plan_places" /> places:
      <Num :value="small.of(figures.plan_before_m)" :digits="d" /> →
      <Num :value="small.of(figures.plan_after_m)" :digits="d" :unit="small.symbol" /> RMS.
    </p>
    <h3>Mounting</h3>
    <Parameters :content="chosen.revision.content" />
    <template v-if="figures.control.length">
      <h3>Control marks</h3>
      <FigureTable
        name="control"
        :columns="[
          { key: 'name', label: 'Mark', value: (m) => m.name },
          { key: 'was', label: `Before, ${small.symbol}`, right: true, value: (m) => m.before_m },
          { key: 'now', label: 'After', right: true, value: (m) => m.after_m },
          { key: 'used', label: '', value: (m) => (m.used ? 'used' : 'no') },
        ]"
        :rows="figures.control"
        :row-key="(m) => m.name"
      >
        <template #was="{ row: m }"
          ><Num :value="m.before_m === null ? null : small.of(m.before_m)" :digits="d" plus
        /></template>
        <template #now="{ row: m }"
          ><Num :value="m.after_m === null ? null : small.of(m.after_m)" :digits="d" plus
        /></template>
        <template #used="{ row: m }">{{ m.used ? 'used' : m.strips ? 'left out' : 'not found' }}</template>
      </FigureTable>
      <p class="soft">Points less mark. Those that were used cannot prove the cloud.</p>
    </template>
    <Outcome :chosen="chosen" :returns="form.returns" />
    <Fold heading="More figures">
      <FactList>
        <Fact label="Cells"><Num :value="figures.cell_m" :digits="1" unit="m" /></Fact>
        <Fact label="Scatter of patches beyond their points’ (1 SD)"
          ><Num :value="1000 * figures.patch_sd_m" :digits="1" unit="mm"
        /></Fact>
        <Fact label="Count for less than half"
          ><Num :value="100 * figures.down_weighted_share" :digits="1" unit="%"
        /></Fact>
        <Fact label="Too rough to be planes"><Num :value="figures.rough" /></Fact>
        <Fact label="Range, median"><Num :value="figures.range_m" :digits="0" unit="m" /></Fact>
      </FactList>
    </Fold>
  </template>
  <h2 :class="{ spaced: chosen }">{{ chosen ? 'Settings' : 'Adjust the strips' }}</h2>
  <Readiness
    :returns="returns"
    :trajectory="store.datasets.find((t) => t.id === form.trajectory)"
    :mounting="store.ofKind('mounting').find((m) => m.id === form.mounting)"
  />
  <el-form novalidate label-position="top" @submit.prevent="start(!!chosen)">
    <DatasetChoice v-model="form.trajectory" label="Trajectory" :datasets="store.ofKind('trajectory')" />
    <DatasetChoice v-model="form.returns" label="Laser returns" several :datasets="store.ofKind('laser-returns')" />
    <DatasetChoice v-model="form.mounting" label="Mounting" :datasets="store.ofKind('mounting')" />
    <DatasetChoice
      v-model="form.control"
      label="Control marks (heights enter)"
      none="none"
      :datasets="store.ofKind('marks')"
    />
    <h3>Solve for</h3>
    <SettingsForm v-model="settings" :schema="declaration.settings" :only="SOUGHT" />
    <h3>Lines</h3>
    <LineLength v-if="lines" v-model="settings.minLengthM as number | null | undefined" :lines="lines" />
    <SettingsForm
      v-model="settings"
      :schema="declaration.settings"
      :only="lines ? ['turnDegPerS'] : ['minLengthM', 'turnDegPerS']"
    />
    <AgainButtons
      first="Adjust the strips"
      again="Adjust again"
      :there="!!chosen"
      :able="able"
      @beside="start(false)"
    />
  </el-form>
  <template v-if="chosen">
    <TrailList :dataset="chosen" />
    <DiscardButton :dataset="chosen" label="Discard this adjustment" />
  </template>
</template>
