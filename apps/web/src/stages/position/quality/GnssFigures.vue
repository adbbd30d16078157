<script setup lang="ts">
import { type TrajectoryFigures } from '@longheron/contract/kinds/trajectory';
import Num from '../../../ui/Num.vue';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';
import { useUnits } from '../../../ui/units';

/** What the computation of a trajectory says of itself. */
defineProps<{ figures: TrajectoryFigures }>();
const { length, small } = useUnits();
const times = (k: number, v: number | null | undefined) => (v === null || v === undefined ? null : k * v);
</script>

<template>
  <h3>How it was computed</h3>
  <FactList>
    <Fact label="Fixed, float, code alone">
      <Num :value="times(100, figures.fixed_share)" :digits="1" unit="%" />,
      <Num :value="times(100, figures.float_share)" :digits="1" unit="%" />,
      <Num :value="times(100, figures.code_share)" :digits="1" unit="%" />
    </Fact>
    <Fact label="Epochs without position"><Num :value="figures.epochs_without_position" /></Fact>
    <Fact label="Satellites, mean"><Num :value="figures.satellites_mean" :digits="1" /></Fact>
    <Fact label="Longest way to the base"><Num :value="length.of(figures.baseline_m)" :unit="length.symbol" /></Fact>
    <Fact label="Forward less reverse, RMS, most">
      <Num :value="small.of(figures.separation_rms_m)" :digits="small.digits + 1" :unit="small.symbol" />,
      <Num :value="small.of(figures.separation_max_m)" :digits="small.digits + 1" :unit="small.symbol" />
    </Fact>
    <Fact label="Cycle slips"><Num :value="figures.cycle_slips" /></Fact>
  </FactList>
  <template v-if="figures.session_noise">
    <h3 title="One receiver, 1 SD at 45° of elevation, as the session itself shows it">Noise of the session</h3>
    <FactList>
      <Fact label="Codes: noise, multipath">
        <Num :value="figures.session_noise.code_m" :digits="2" unit="m" />,
        <Num :value="figures.session_noise.code_multipath_m" :digits="2" unit="m" />
      </Fact>
      <Fact label="Phases: noise, multipath">
        <Num :value="times(1000, figures.session_noise.phase_m)" :digits="1" unit="mm" />,
        <Num :value="times(1000, figures.session_noise.phase_multipath_m)" :digits="1" unit="mm" />
      </Fact>
      <Fact label="Multipath lasts about"><Num :value="figures.session_noise.multipath_s" unit="s" /></Fact>
    </FactList>
    <p class="soft">One receiver, 1 SD at 45° of elevation.</p>
  </template>
  <p v-if="figures.rows === undefined" class="soft">
    Of the antenna, without attitude: laser returns need a trajectory with roll, pitch and heading.
  </p>
</template>
