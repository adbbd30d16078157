<script setup lang="ts">
import { type TrajectoryFigures } from '@longheron/contract/kinds/trajectory';
import Num from '../../../ui/Num.vue';

/** What the computation of a trajectory says of itself. */
defineProps<{ figures: TrajectoryFigures }>();
const times = (k: number, v: number | null | undefined) => (v === null || v === undefined ? null : k * v);
</script>

<template>
  <h3>How it was computed</h3>
  <table class="facts">
    <tbody>
      <tr>
        <td>Fixed, float, code alone</td>
        <td>
          <Num :value="times(100, figures.fixed_share)" :digits="1" unit="%" />,
          <Num :value="times(100, figures.float_share)" :digits="1" unit="%" />,
          <Num :value="times(100, figures.code_share)" :digits="1" unit="%" />
        </td>
      </tr>
      <tr>
        <td>Epochs without position</td>
        <td><Num :value="figures.epochs_without_position" /></td>
      </tr>
      <tr>
        <td>Satellites, mean</td>
        <td><Num :value="figures.satellites_mean" :digits="1" /></td>
      </tr>
      <tr>
        <td>Longest way to the base</td>
        <td><Num :value="figures.baseline_m" unit="m" /></td>
      </tr>
      <tr>
        <td>Forward less reverse, RMS, most</td>
        <td>
          <Num :value="times(1000, figures.separation_rms_m)" :digits="1" unit="mm" />,
          <Num :value="times(1000, figures.separation_max_m)" :digits="1" unit="mm" />
        </td>
      </tr>
      <tr>
        <td>Cycle slips</td>
        <td><Num :value="figures.cycle_slips" /></td>
      </tr>
    </tbody>
  </table>
  <template v-if="figures.session_noise">
    <h3 title="One receiver, 1 SD at 45° of elevation, as the session itself shows it">Noise of the session</h3>
    <table class="facts">
      <tbody>
        <tr>
          <td>Codes: noise, multipath</td>
          <td>
            <Num :value="figures.session_noise.code_m" :digits="2" unit="m" />,
            <Num :value="figures.session_noise.code_multipath_m" :digits="2" unit="m" />
          </td>
        </tr>
        <tr>
          <td>Phases: noise, multipath</td>
          <td>
            <Num :value="times(1000, figures.session_noise.phase_m)" :digits="1" unit="mm" />,
            <Num :value="times(1000, figures.session_noise.phase_multipath_m)" :digits="1" unit="mm" />
          </td>
        </tr>
        <tr>
          <td>Multipath lasts about</td>
          <td><Num :value="figures.session_noise.multipath_s" unit="s" /></td>
        </tr>
      </tbody>
    </table>
    <p class="soft">One receiver, 1 SD at 45° of elevation.</p>
  </template>
  <p v-if="figures.rows === undefined" class="soft">
    Of the antenna, without attitude: laser returns need a trajectory with roll, pitch and heading.
  </p>
</template>

<style scoped>
h3 {
  margin: 16px 0 4px;
}
</style>
