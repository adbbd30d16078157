<script setup lang="ts">
import { computed } from 'vue';
import { type DatasetOf } from '@longheron/contract/api';
import DiscardButton from '../../../ui/DiscardButton.vue';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';
import Num from '../../../ui/Num.vue';
import OperationForm from '../../../ui/OperationForm.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import TrailList from '../../../ui/TrailList.vue';
import { useUnits } from '../../../ui/units';

/** What came out of a block in a few figures, and what it is made of. */
const props = defineProps<{ chosen?: DatasetOf<'block'> }>();
const { small } = useUnits();
const f = computed(() => props.chosen?.revision.content.figures);
const expected = computed(() => props.chosen?.revision.content.expected);
const digits = computed(() => small.value.digits + 1);
</script>

<template>
  <template v-if="chosen && f">
    <h2>{{ chosen.name }}</h2>
    <OutOfDate :dataset="chosen" />
    <FactList>
      <Fact label="Photographs oriented"><Num :value="f.oriented" /> of <Num :value="f.images" /></Fact>
      <Fact :label="f.ties ? 'Rays that count' : 'Picks that count'" hint="Places of points in photographs"
        ><Num :value="f.rays" />, <Num :value="f.picks_rejected + f.ties_rejected" /> left out</Fact
      >
      <Fact label="Points"><Num :value="f.points" /></Fact>
      <Fact
        v-if="f.ties"
        label="Ties found"
        hint="Points that two or more photographs show; as many are used as are needed"
        ><Num :value="f.ties.used" /> of <Num :value="f.ties.found" />, in <Num :value="f.ties.pairs" /> pairs</Fact
      >
      <Fact label="Sigma nought" hint="Residuals against what picks, positions and control state; 1 when they agree"
        ><Num :value="f.sigma0" :digits="2" /> (ties alone <Num :value="f.sigma0_ties" :digits="2" />)</Fact
      >
      <Fact v-if="f.pick_sd_factor !== 1" label="Picks scatter" hint="Against what they state; deviations follow it"
        ><Num :value="f.pick_sd_factor" :digits="2" /> times as stated</Fact
      >
      <Fact
        v-if="f.ties && f.tie_sd_factor !== 1"
        label="Ties scatter"
        hint="Against the SD of ties in the settings; deviations follow it"
        ><Num :value="f.tie_sd_factor" :digits="2" /> times as stated</Fact
      >
      <Fact v-if="f.control_rmse_m !== null" label="Control, RMSE in space"
        ><Num :value="small.of(f.control_rmse_m)" :digits="digits" :unit="small.symbol"
      /></Fact>
      <Fact v-if="f.check_rmse_e_m !== null" label="Check, RMSE east, north"
        ><Num :value="small.of(f.check_rmse_e_m)" :digits="digits" />,
        <Num :value="small.of(f.check_rmse_n_m)" :digits="digits" :unit="small.symbol"
      /></Fact>
      <Fact v-if="f.check_rmse_h_m !== null" label="Check, RMSE of heights"
        ><Num :value="small.of(f.check_rmse_h_m)" :digits="digits" :unit="small.symbol"
      /></Fact>
      <Fact
        v-for="s in f.shifts"
        :key="s.session"
        :label="`Positions of ${s.session} are off by`"
        hint="East, north, height; the tilt of pictures and their middle are much alike, so that it is less well known than the block"
        ><Num :value="small.of(s.de_m)" :digits="small.digits" plus />,
        <Num :value="small.of(s.dn_m)" :digits="small.digits" plus />,
        <Num :value="small.of(s.dh_m)" :digits="small.digits" plus :unit="small.symbol"
      /></Fact>
    </FactList>
    <FactList v-if="expected">
      <Fact
        label="Expected on the ground"
        hint="1 SD of a point that is measured in all photographs that see it, plan and height: the middle over the block"
        ><Num :value="small.of(expected.medianPlanM)" :digits="digits" />,
        <Num :value="small.of(expected.medianHeightM)" :digits="digits" :unit="small.symbol"
      /></Fact>
      <Fact label="Seen in two alone" hint="There a wrong ray is not found: two rays nearly always meet"
        ><Num :value="100 * expected.onlyTwo" :digits="0" unit="%" />
        <span v-if="expected.onlyTwo > 0.25" class="state warn">weak</span></Fact
      >
    </FactList>
    <DiscardButton :dataset="chosen" label="Discard the block" />
  </template>
  <h2 :class="{ spaced: chosen }">{{ chosen ? 'Settings' : 'Adjust the photographs' }}</h2>
  <OperationForm operation="block" :made="chosen" />
  <TrailList v-if="chosen" :dataset="chosen" />
</template>

<style scoped>
.spaced {
  margin-top: 16px;
}
</style>
