<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { type DatasetDto } from '@longheron/contract/api';
import { useProject } from '../../../stores/project';
import Num from '../../../ui/Num.vue';
import { useUnits } from '../../../ui/units';
import { type JudgedFigures, type MarkFigures } from '@longheron/contract/kinds/residuals';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';

const props = defineProps<{ dataset: DatasetDto; figures: JudgedFigures; selected?: MarkFigures; canEdit: boolean }>();
const emit = defineEmits<{ leaveOut: [mark: MarkFigures, reason: string] }>();
const store = useProject();
const { length, small } = useUnits();
const reason = ref('');
const message = ref('');
watch(
  () => props.selected?.name,
  () => {
    reason.value = '';
    message.value = '';
  },
);
function leaveOut(): void {
  if (reason.value.trim().length < 5) {
    message.value = 'Say why; the reason is printed in the report.';
    return;
  }
  message.value = '';
  emit('leaveOut', props.selected!, reason.value.trim());
}
/** The cloud that was checked. */
const cloud = computed(() => {
  const id = props.dataset.revision.inputs.find((i) => i.role === 'cloud')?.datasetId;
  return store.datasets.find((d) => d.id === id);
});
const by = ref<'control' | 'check'>('control');
const residualsOf = (role: string) =>
  props.figures.marks.flatMap((m) =>
    m.role === role && m.cover === 'hard' && m.residual_m !== null && !m.flagged && !m.left_out ? [m.residual_m] : [],
  );
const able = (role: string) => residualsOf(role).length;
const meanOf = (role: string) => {
  const r = residualsOf(role);
  return r.length ? r.reduce((a, b) => a + b, 0) / r.length : null;
};
const sdOf = (role: string) => {
  const r = residualsOf(role);
  const m = meanOf(role);
  return m === null || r.length < 2
    ? null
    : Math.sqrt(r.reduce((s, v) => s + (v - m) ** 2, 0) / (r.length - 1) / r.length);
};
const correct = () => store.run('correct', { cloud: cloud.value!.id, check: props.dataset.id }, { by: by.value });
const tolerance = computed(() => store.project?.toleranceM ?? props.figures.tolerance_m);
const within = computed(() => (props.figures.rmse_m ?? Infinity) <= tolerance.value);
</script>

<template>
  <h2>Accuracy of heights</h2>
  <p v-if="figures.count === 0" class="state warn">No check mark was found on the ground, so there is no figure.</p>
  <p v-else>
    <strong class="state" :class="within ? 'ok' : 'bad'" style="font-size: 13px">{{
      within ? 'Within tolerance' : 'Out of tolerance'
    }}</strong>: RMSE <Num :value="small.of(figures.rmse_m)" :digits="small.digits + 1" :unit="small.symbol" /> of
    <Num :value="small.of(tolerance)" :digits="small.digits" :unit="small.symbol" /> at {{ figures.count }} check marks.
  </p>
  <FactList>
    <Fact
      v-for="[name, value] in [
        ['Mean', figures.mean_m],
        ['Median', figures.median_m],
        ['SD (1 SD)', figures.sd_m],
        ['RMSE', figures.rmse_m],
        ['Least', figures.min_m],
        ['Greatest', figures.max_m],
        ['95 % of |residual|', figures.p95_m],
        ['NMAD', figures.nmad_m],
      ] as Array<[string, number | null]>"
      :key="name"
      :label="name"
    >
      <Num
        :value="small.of(value)"
        :digits="small.digits + 1"
        :unit="small.symbol"
        :plus="name === 'Mean' || name === 'Median'"
      />
    </Fact>
    <Fact label="Bias against its own SD (t)">
      <Num :value="figures.bias_t" :digits="1" />,
      <span class="state" :class="figures.bias_significant ? 'warn' : 'ok'">{{
        figures.bias_significant ? 'significant' : 'not significant'
      }}</span>
    </Fact>
    <Fact
      v-if="figures.trend"
      label="Tilt per 100 m, to the east, to the north, 1 SD"
      hint="A plane through the residuals of check marks on hard ground, by Fisher's F at 5 %"
    >
      <Num :value="small.of(figures.trend.east_m_per_100m)" :digits="small.digits + 1" plus /> ±
      <Num :value="small.of(figures.trend.sd_east_m_per_100m)" :digits="small.digits + 1" />,
      <Num :value="small.of(figures.trend.north_m_per_100m)" :digits="small.digits + 1" plus /> ±
      <Num :value="small.of(figures.trend.sd_north_m_per_100m)" :digits="small.digits + 1" :unit="small.symbol" />,
      <span class="state" :class="figures.trend.significant ? 'warn' : 'ok'">{{
        figures.trend.significant ? 'significant' : 'not significant'
      }}</span>
    </Fact>
    <Fact label="Smallest contour interval"
      ><Num :value="length.of(figures.contour_interval_m)" :digits="2" :unit="length.symbol"
    /></Fact>
  </FactList>
  <details v-if="cloud" class="bias" :open="figures.bias_significant">
    <summary>Take the bias out</summary>
    <p class="soft">
      The mean residual of marks on hard ground that agree is taken from all heights of
      {{ cloud.name }}; the result is a cloud of its own, with what was done in its trail. The marks it is taken from
      cannot prove it.
    </p>
    <el-radio-group v-model="by" size="small" aria-label="Marks that set the height"
      ><el-radio-button value="control" :label="`control, ${able('control')}`" /><el-radio-button
        value="check"
        :label="`check, ${able('check')}`"
    /></el-radio-group>
    <p>
      Mean <Num :value="small.of(meanOf(by))" :digits="small.digits + 1" :unit="small.symbol" plus /> ±
      <Num :value="small.of(sdOf(by))" :digits="small.digits + 1" :unit="small.symbol" />
    </p>
    <el-button size="small" :disabled="able(by) < 3" @click="correct">Make the corrected cloud</el-button>
    <p v-if="by === 'check'" class="state warn wrap">
      Then no check mark is left to prove the heights, unless others are added.
    </p>
  </details>
  <template v-if="figures.statements.length">
    <h3>Standards</h3>
    <div v-for="s in figures.statements" :key="s.standard" class="statement">
      <div>{{ s.standard }}: class <Num :value="s.class_cm" :digits="1" unit="cm" /></div>
      <div class="soft">
        RMSE <Num :value="100 * s.rmse_m" :digits="2" unit="cm" /><template v-if="s.p95_m !== null"
          >, 95 % <Num :value="100 * s.p95_m" :digits="2" unit="cm" /></template
        ><template v-if="s.caveat"> · {{ s.caveat }}</template>
      </div>
    </div>
  </template>
  <p class="links">
    <a :href="`/api/projects/${store.project!.id}/datasets/${dataset.id}/export/residuals`">Residuals as CSV</a>
  </p>
  <template v-if="selected">
    <h3>Mark {{ selected.name }}</h3>
    <FactList>
      <Fact label="How found">{{ selected.method === 'none' ? 'not found' : `${selected.method}, counts` }}</Fact>
      <Fact label="By plane">
        <Num :value="length.of(selected.plane_m)" :digits="4" :unit="length.symbol" />
      </Fact>
      <Fact label="By triangle">
        <Num :value="length.of(selected.triangle_m)" :digits="4" :unit="length.symbol" />
      </Fact>
      <Fact v-if="selected.plane_m !== null && selected.triangle_m !== null" label="Their difference">
        <Num
          :value="small.of(selected.plane_m - selected.triangle_m)"
          :digits="small.digits + 1"
          :unit="small.symbol"
          plus
        />
      </Fact>
      <Fact label="Points, quadrants"><Num :value="selected.points" />, {{ selected.quadrants }}</Fact>
      <Fact label="Slope"><Num :value="selected.slope_percent" :digits="1" unit="%" /></Fact>
      <Fact label="Expected SD"
        ><Num :value="small.of(selected.expected_sd_m)" :digits="small.digits + 1" :unit="small.symbol"
      /></Fact>
    </FactList>
    <p v-if="selected.reason" :class="selected.flagged ? 'state bad wrap' : 'soft'">{{ selected.reason }}</p>
    <template v-if="canEdit">
      <template v-if="selected.left_out">
        <el-button @click="emit('leaveOut', selected, '')">Take it in again</el-button>
      </template>
      <form v-else novalidate @submit.prevent="leaveOut">
        <el-input
          v-model="reason"
          type="textarea"
          :rows="2"
          maxlength="300"
          aria-label="Reason to leave the mark out"
          placeholder="Reason to leave it out, for the report"
        />
        <el-button native-type="submit" style="margin-top: 6px">Leave the mark out</el-button>
        <p v-if="message" class="state bad">{{ message }}</p>
      </form>
    </template>
  </template>
  <p v-else class="soft">Choose a mark in the table or the map, or step with the arrow keys.</p>
</template>

<style scoped>
h3 {
  margin: 14px 0 4px;
}
.statement {
  font-size: 12px;
  margin-bottom: 4px;
}
.links {
  margin: 8px 0;
}
.wrap {
  white-space: normal;
}
.bias {
  margin: 10px 0;
}
.bias summary {
  cursor: pointer;
}
</style>
