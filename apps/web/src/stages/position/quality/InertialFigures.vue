<script setup lang="ts">
import { ALIGNED_BY, type TrajectoryFigures } from '@longheron/contract/kinds/trajectory';
import Num from '../../../ui/Num.vue';

/** What the inertial solution says of itself, and of its instrument. */
defineProps<{ figures: TrajectoryFigures; alignment: NonNullable<TrajectoryFigures['alignment']> }>();
const times = (k: number, v: number | null | undefined) => (v === null || v === undefined ? null : k * v);
const AXES = ['forward', 'right', 'down'];
/** Two digits that count, as a data sheet has them. */
const two = (v: number) => String(Number(v.toPrecision(2)));
</script>

<template>
  <h3>Inertial unit</h3>
  <table class="facts">
    <tbody>
      <template v-if="figures.unit_noise">
        <tr :title="figures.unit_noise.source">
          <td>Grade</td>
          <td>
            {{ figures.unit_noise.grade
            }}<template v-if="figures.unit_noise.from === 'data'"
              >, as <Num :value="figures.unit_noise.seconds" :digits="0" unit="s" /> of its data tell</template
            ><template v-else>, as chosen</template>
          </td>
        </tr>
        <tr>
          <td>Gyros: walk, bias, drift</td>
          <td>
            {{ two(figures.unit_noise.gyro_walk_deg_root_h) }} °/√h, {{ two(figures.unit_noise.gyro_bias_deg_h) }},
            {{ two(figures.unit_noise.gyro_drift_deg_h) }} °/h
          </td>
        </tr>
        <tr>
          <td>Accelerometers: walk, bias, drift</td>
          <td>
            {{ two(figures.unit_noise.accel_walk_mps_root_h) }} m/s/√h, {{ two(figures.unit_noise.accel_bias_mg) }},
            {{ two(figures.unit_noise.accel_drift_mg) }} mg
          </td>
        </tr>
      </template>
      <tr>
        <td>Aligned by</td>
        <td>
          {{ ALIGNED_BY[alignment.by] }}, <Num :value="alignment.seconds" :digits="0" unit="s" />, heading to
          <Num :value="alignment.heading_sd_deg" :digits="1" unit="°" />
        </td>
      </tr>
      <tr>
        <td>Roll, pitch, heading, 1 SD (RMS)</td>
        <td>
          <Num :value="figures.sd_roll_deg" :digits="4" unit="°" />,
          <Num :value="figures.sd_pitch_deg" :digits="4" unit="°" />,
          <Num :value="figures.sd_heading_deg" :digits="4" unit="°" />
        </td>
      </tr>
      <tr v-if="figures.passes_attitude_deg">
        <td>Forward less reverse, roll, pitch, heading (RMS)</td>
        <td>
          <Num :value="figures.passes_attitude_deg[0]" :digits="4" unit="°" />,
          <Num :value="figures.passes_attitude_deg[1]" :digits="4" unit="°" />,
          <Num :value="figures.passes_attitude_deg[2]" :digits="4" unit="°" />
        </td>
      </tr>
      <tr v-if="figures.passes_ned_m">
        <td>Forward less reverse, plan, height (RMS)</td>
        <td>
          <Num :value="1000 * Math.hypot(figures.passes_ned_m[0], figures.passes_ned_m[1])" :digits="1" unit="mm" />,
          <Num :value="times(1000, figures.passes_ned_m?.[2])" :digits="1" unit="mm" />
        </td>
      </tr>
      <tr>
        <td>On the unit alone</td>
        <td><Num :value="times(100, figures.inertial_share)" :digits="1" unit="%" /></td>
      </tr>
      <tr>
        <td>Positions not believed</td>
        <td><Num :value="times(100, figures.positions_refused_share)" :digits="1" unit="%" /></td>
      </tr>
      <tr>
        <td>Innovations over what was expected</td>
        <td><Num :value="figures.innovation_normalised" :digits="2" /></td>
      </tr>
    </tbody>
  </table>
  <table class="figures">
    <thead>
      <tr>
        <th>Found, ± 1 SD</th>
        <th v-for="a in AXES" :key="a" class="r">{{ a }}</th>
      </tr>
    </thead>
    <tbody>
      <tr>
        <td>Gyro bias<span class="soft">, °/h</span></td>
        <td v-for="(a, k) in AXES" :key="a" class="r">
          <Num :value="figures.gyro_bias_deg_h?.[k]" :digits="2" /><br /><span class="soft"
            >± <Num :value="figures.gyro_bias_sd_deg_h?.[k]" :digits="2"
          /></span>
        </td>
      </tr>
      <tr>
        <td>Accelerometer bias<span class="soft">, mg</span></td>
        <td v-for="(a, k) in AXES" :key="a" class="r">
          <Num :value="figures.accel_bias_mg?.[k]" :digits="3" /><br /><span class="soft"
            >± <Num :value="figures.accel_bias_sd_mg?.[k]" :digits="3"
          /></span>
        </td>
      </tr>
      <tr>
        <td>Lever arm, estimated − entered<span class="soft">, mm</span></td>
        <td v-for="(a, k) in AXES" :key="a" class="r">
          <Num
            :value="times(1000, (figures.lever_arm_m?.[k] ?? NaN) - (figures.lever_arm_entered_m?.[k] ?? NaN))"
            :digits="1"
          /><br /><span class="soft">± <Num :value="times(1000, figures.lever_arm_sd_m?.[k])" :digits="1" /></span>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
h3 {
  margin: 16px 0 4px;
}
.figures {
  margin-top: 6px;
  table-layout: fixed;
}
.figures th:first-child {
  width: 40%;
}
.figures td,
.figures th {
  padding: 3px 4px;
  font-size: 11.5px;
  vertical-align: top;
  white-space: normal;
}
.figures th {
  position: static;
}
</style>
