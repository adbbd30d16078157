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
  <table class="facts">
    <tbody>
      <tr>
        <td>Area</td>
        <td><Num :value="area(f.areaM2)" :digits="0" :unit="unit2" /></td>
      </tr>
      <tr>
        <td>Covered</td>
        <td><Num :value="area(f.coveredM2)" :digits="0" :unit="unit2" /></td>
      </tr>
      <tr>
        <td>Voids together</td>
        <td><Num :value="area(f.voidM2)" :digits="0" :unit="unit2" /> in <Num :value="f.voidCount" /></td>
      </tr>
      <tr>
        <td>Density, median</td>
        <td><Num :value="density(f.median)" :digits="digits(density(f.median))" :unit="`/${unit2}`" /></td>
      </tr>
      <tr>
        <td>95 of 100 cells above</td>
        <td><Num :value="density(f.p5)" :digits="digits(density(f.p5))" :unit="`/${unit2}`" /></td>
      </tr>
      <tr>
        <td>Slopes beyond 20°, median</td>
        <td>
          <Num :value="density(f.steep.median)" :digits="digits(density(f.steep.median))" :unit="`/${unit2}`" />
        </td>
      </tr>
      <tr>
        <td>of them below wanted</td>
        <td>{{ percent(f.steep.belowShare) }} of <Num :value="area(f.steep.areaM2)" :digits="0" :unit="unit2" /></td>
      </tr>
      <tr>
        <td title="In space, of sampled points">Distance to the nearest, median</td>
        <td>
          <Num
            :value="f.spacing.medianM === null ? null : f.spacing.medianM * small.factor"
            :digits="small.digits"
            :unit="small.symbol"
          />
        </td>
      </tr>
      <tr>
        <td>95 of 100 below</td>
        <td>
          <Num
            :value="f.spacing.p95M === null ? null : f.spacing.p95M * small.factor"
            :digits="small.digits"
            :unit="small.symbol"
          />
        </td>
      </tr>
      <tr>
        <td>Stated SD of height, median</td>
        <td>
          <Num
            :value="f.precision.median === null ? null : f.precision.median * small.factor"
            :digits="small.digits + 1"
            :unit="small.symbol"
          />
        </td>
      </tr>
      <tr>
        <td>95 of 100 cells below</td>
        <td :class="(f.precision.p95 ?? 0) > content.toleranceM ? 'state warn' : ''">
          <Num
            :value="f.precision.p95 === null ? null : f.precision.p95 * small.factor"
            :digits="small.digits + 1"
            :unit="small.symbol"
          />
        </td>
      </tr>
    </tbody>
  </table>
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
