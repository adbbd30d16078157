<script setup lang="ts">
import { computed } from 'vue';
import { type PlanMark } from '@longheron/core/accuracy';
import { type DatasetDto } from '@longheron/contract/api';
import { useProject } from '../../../stores/project';
import Num from '../../../ui/Num.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import { useUnits } from '../../../ui/units';
import { type PlanFigures } from '@longheron/contract/kinds/plan-check';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';
import FigureTable from '../../../ui/FigureTable.vue';

const props = defineProps<{ dataset: DatasetDto; figures: PlanFigures; selected?: PlanMark; picked: boolean }>();
defineEmits<{ takeBack: [] }>();
const store = useProject();
const { length, small } = useUnits();
const s = computed(() => props.figures.statistics);
const d = computed(() => small.value.digits + 1);
const trend = computed(() => {
  const t = props.figures.trend;
  if (!t) return [];
  return [
    { name: 'Scale', value: t.scalePpm, sd: t.sdScalePpm, unit: 'ppm', significant: t.scaleSignificant },
    {
      name: 'Turn, counter-clockwise',
      value: t.turnArcsec,
      sd: t.sdTurnArcsec,
      unit: '″',
      significant: t.turnSignificant,
    },
  ];
});
const distances = computed(() => props.figures.distances);
</script>

<template>
  <h2>Accuracy of plan</h2>
  <OutOfDate :dataset="dataset" />
  <p v-if="s.count === 0" class="state warn">No check mark has a place in the cloud, so there is no figure.</p>
  <template v-else>
    <p>
      <strong class="state" :class="figures.within ? 'ok' : 'bad'" style="font-size: 13px">{{
        figures.within ? 'Within tolerance' : 'Out of tolerance'
      }}</strong>: RMSE <Num :value="small.of(s.rmseR)" :digits="d" :unit="small.symbol" /> of
      <Num :value="small.of(figures.toleranceM)" :digits="small.digits" :unit="small.symbol" /> at {{ s.count }} check
      marks.
    </p>
    <FactList>
      <Fact label="">East, North</Fact>
      <Fact
        v-for="[name, e, n] in [
          ['Mean', s.meanE, s.meanN],
          ['SD (1 SD)', s.sdE, s.sdN],
          ['RMSE', s.rmseE, s.rmseN],
        ] as Array<[string, number | null, number | null]>"
        :key="name"
        :label="name"
      >
        <Num :value="small.of(e)" :digits="d" :plus="name === 'Mean'" />,
        <Num :value="small.of(n)" :digits="d" :unit="small.symbol" :plus="name === 'Mean'" />
      </Fact>
      <Fact label="RMSE of both"><Num :value="small.of(s.rmseR)" :digits="d" :unit="small.symbol" /></Fact>
      <Fact label="Greatest length"><Num :value="small.of(s.maxM)" :digits="d" :unit="small.symbol" /></Fact>
      <Fact label="Bias against its SD (t)">
        <Num :value="s.biasTE" :digits="1" />, <Num :value="s.biasTN" :digits="1" />,
        <span class="state" :class="s.biasSignificant ? 'warn' : 'ok'">{{
          s.biasSignificant ? 'significant' : 'not significant'
        }}</span>
      </Fact>
      <Fact
        v-for="t in trend"
        :key="t.name"
        :label="t.name"
        hint="A turn and a scale about the middle of the check marks, 1 SD"
      >
        <Num :value="t.value" :digits="0" plus /> ± <Num :value="t.sd" :digits="0" :unit="t.unit" />,
        <span class="state" :class="t.significant ? 'warn' : 'ok'">{{
          t.significant ? 'significant' : 'not significant'
        }}</span>
      </Fact>
      <Fact label="95 %" :hint="s.p95Note"
        ><Num :value="small.of(s.p95M ?? null)" :digits="d" :unit="small.symbol"
      /></Fact>
    </FactList>
    <p class="soft">95 %: {{ s.p95Note }}.</p>
    <h3>Standards</h3>
    <div v-for="a in figures.statements" :key="a.standard" class="statement">
      <div>{{ a.standard }}: class <Num :value="a.classCm" :digits="1" unit="cm" /></div>
      <div class="soft">
        RMSE <Num :value="100 * a.rmseM" :digits="2" unit="cm" /><template v-if="a.caveat"> · {{ a.caveat }}</template>
      </div>
    </div>
  </template>
  <p>
    <a :href="`/api/projects/${store.project!.id}/datasets/${dataset.id}/export/plan`"
      >Residuals and distances as CSV</a
    >
  </p>
  <template v-if="distances.length">
    <h3>Taped and levelled on site</h3>
    <FigureTable
      class="distances"
      :columns="[
        { key: 'c0', label: 'From, to' },
        { key: 'c1', label: `Measured, ${length.symbol}`, right: true, value: (x) => length.of(x.measuredM) },
        { key: 'c2', label: `Cloud less it, ${small.symbol}`, right: true },
      ]"
      :rows="distances"
      :row-key="(x) => `${x.from} ${x.to} ${x.kind}`"
      :row-title="(x) => x.note"
      :row-class="(x) => ({ soft: x.foundM === null })"
      name="distances"
      ><template #c0="{ row: x }">{{ x.from }} {{ x.to }}{{ x.kind === 'height' ? ', height' : '' }}</template
      ><template #c1="{ row: x }"
        ><Num :value="length.of(x.measuredM)" :digits="3" :plus="x.kind === 'height'" /></template
      ><template #c2="{ row: x }">
        <span class="state" :class="x.agrees === null ? '' : x.agrees ? 'ok' : 'bad'"
          ><Num :value="small.of(x.differenceM)" :digits="d" plus
        /></span>
        <span v-if="x.expectedSdM !== null" class="soft">
          ± <Num :value="small.of(x.expectedSdM)" :digits="d"
        /></span> </template
    ></FigureTable>
    <p class="soft">
      Slope distances on the ground between the places found in the cloud. One agrees when it differs by less than 3
      times its expected SD.
    </p>
  </template>
  <template v-if="selected">
    <h3>Mark {{ selected.name }}</h3>
    <p>{{ selected.note || 'No place yet.' }}</p>
    <el-button v-if="picked" size="small" title="Delete" @click="$emit('takeBack')">Take the pick back</el-button>
    <p v-else class="soft">Click in the picture where the centre of the target is, to set its place by hand.</p>
  </template>
</template>

<style scoped>
h3 {
  margin: 14px 0 4px;
}
.statement {
  font-size: 12px;
  margin-bottom: 4px;
}
.distances :deep(td),
.distances :deep(th) {
  padding: 2px 4px;
  font-size: 12px;
}
</style>
