<script setup lang="ts">
import { computed } from 'vue';
import { type DatasetDto } from '@longheron/contract/api';
import { useProject } from '../../../stores/project';
import DiscardButton from '../../../ui/DiscardButton.vue';
import Num from '../../../ui/Num.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import TrailList from '../../../ui/TrailList.vue';
import { useUnits } from '../../../ui/units';
import { type Content as CoverageContent } from '@longheron/contract/kinds/coverage';
import { percent } from './coverage';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';

/** Figures of a measured coverage. */
const props = defineProps<{ dataset: DatasetDto; content: CoverageContent }>();
const store = useProject();
const { length, small } = useUnits();
const f = computed(() => props.content.figures);
const unit2 = computed(() => `${length.value.symbol}²`);
const area = (v: number | null) => (v === null ? null : v * length.value.factor ** 2);
const density = (v: number | null) => (v === null ? null : v / length.value.factor ** 2);
const covered = computed(() => (f.value.areaM2 ? (f.value.coveredM2 ?? 0) / f.value.areaM2 : null));
const digits = (v: number | null) => (v !== null && v < 10 ? 1 : 0);
</script>

<template>
  <h2>How the area is covered</h2>
  <OutOfDate :dataset="dataset" />
  <p>
    <strong>{{ percent(covered) }}</strong> of
    {{ content.ordered ? 'the ordered area' : 'the area where points are' }} has points;
    <span :class="(f.belowShare ?? 0) > 0.05 ? 'state warn' : 'state ok'"
      >{{ percent(f.belowShare) }} is below the wanted density</span
    >.
  </p>
  <FactList>
    <Fact label="Area"><Num :value="area(f.areaM2)" :digits="0" :unit="unit2" /></Fact>
    <Fact label="Covered"><Num :value="area(f.coveredM2)" :digits="0" :unit="unit2" /></Fact>
    <Fact label="Voids together"
      ><Num :value="area(f.voidM2)" :digits="0" :unit="unit2" /> in <Num :value="f.voidCount"
    /></Fact>
    <Fact label="Density, median"
      ><Num :value="density(f.median)" :digits="digits(density(f.median))" :unit="`/${unit2}`"
    /></Fact>
    <Fact label="95 of 100 cells above"
      ><Num :value="density(f.p5)" :digits="digits(density(f.p5))" :unit="`/${unit2}`"
    /></Fact>
    <Fact label="Slopes beyond 20°, median">
      <Num :value="density(f.steep.median)" :digits="digits(density(f.steep.median))" :unit="`/${unit2}`" />
    </Fact>
    <Fact label="of them below wanted"
      >{{ percent(f.steep.belowShare) }} of <Num :value="area(f.steep.areaM2)" :digits="0" :unit="unit2"
    /></Fact>
    <Fact label="Distance to the nearest, median" hint="In space, of sampled points">
      <Num :value="small.of(f.spacing.medianM)" :digits="small.digits" :unit="small.symbol" />
    </Fact>
    <Fact label="95 of 100 below">
      <Num :value="small.of(f.spacing.p95M)" :digits="small.digits" :unit="small.symbol" />
    </Fact>
    <Fact label="Stated SD of height, median">
      <Num :value="small.of(f.precision.median)" :digits="small.digits + 1" :unit="small.symbol" />
    </Fact>
    <Fact label="95 of 100 cells below"
      ><span :class="(f.precision.p95 ?? 0) > content.toleranceM ? 'state warn' : ''">
        <Num :value="small.of(f.precision.p95)" :digits="small.digits + 1" :unit="small.symbol" /> </span
    ></Fact>
  </FactList>
  <p class="soft note">
    Densities are of the surface: a cell on a slope has more surface than its plan. Rejected points and noise do not
    count.
  </p>
  <p>
    <a :href="`/api/projects/${store.project!.id}/datasets/${dataset.id}/export/voids`">Voids, CSV</a>
    <span class="soft"> · arrow keys go through them</span>
  </p>
  <TrailList :dataset="dataset" />
  <DiscardButton :dataset="dataset" label="Discard this measurement" />
</template>

<style scoped>
.note {
  margin-top: 8px;
}
</style>
