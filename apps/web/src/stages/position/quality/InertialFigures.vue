<script setup lang="ts">
import { computed } from 'vue';
import { ALIGNED_BY, type TrajectoryFigures } from '@longheron/contract/kinds/trajectory';
import Num from '../../../ui/Num.vue';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';
import FigureTable from '../../../ui/FigureTable.vue';

/** What the inertial solution says of itself, and of its instrument. */
const props = defineProps<{ figures: TrajectoryFigures; alignment: NonNullable<TrajectoryFigures['alignment']> }>();
const times = (k: number, v: number | null | undefined) => (v === null || v === undefined ? null : k * v);
const AXES = ['forward', 'right', 'down'];
/** Two digits that count, as a data sheet has them. */
const two = (v: number) => String(Number(v.toPrecision(2)));
/** What was estimated of the unit and its lever arm, by axis. */
const estimates = computed(() => {
  const f = props.figures;
  const three = (of: (k: number) => number | null | undefined) => [0, 1, 2].map(of);
  return [
    {
      name: 'Gyro bias',
      unit: '°/h',
      digits: 2,
      value: three((k) => f.gyro_bias_deg_h?.[k]),
      sd: three((k) => f.gyro_bias_sd_deg_h?.[k]),
    },
    {
      name: 'Accelerometer bias',
      unit: 'mg',
      digits: 3,
      value: three((k) => f.accel_bias_mg?.[k]),
      sd: three((k) => f.accel_bias_sd_mg?.[k]),
    },
    {
      name: 'Lever arm, estimated − entered',
      unit: 'mm',
      digits: 1,
      value: three((k) => times(1000, (f.lever_arm_m?.[k] ?? NaN) - (f.lever_arm_entered_m?.[k] ?? NaN))),
      sd: three((k) => times(1000, f.lever_arm_sd_m?.[k])),
    },
  ];
});
</script>

<template>
  <h3>Inertial unit</h3>
  <FactList>
    <template v-if="figures.unit_noise">
      <Fact label="Grade" :hint="figures.unit_noise.source">
        {{ figures.unit_noise.grade
        }}<template v-if="figures.unit_noise.from === 'data'"
          >, as <Num :value="figures.unit_noise.seconds" :digits="0" unit="s" /> of its data tell</template
        ><template v-else>, as chosen</template>
      </Fact>
      <Fact label="Gyros: walk, bias, drift">
        {{ two(figures.unit_noise.gyro_walk_deg_root_h) }} °/√h, {{ two(figures.unit_noise.gyro_bias_deg_h) }},
        {{ two(figures.unit_noise.gyro_drift_deg_h) }} °/h
      </Fact>
      <Fact label="Accelerometers: walk, bias, drift">
        {{ two(figures.unit_noise.accel_walk_mps_root_h) }} m/s/√h, {{ two(figures.unit_noise.accel_bias_mg) }},
        {{ two(figures.unit_noise.accel_drift_mg) }} mg
      </Fact>
    </template>
    <Fact label="Aligned by">
      {{ ALIGNED_BY[alignment.by] }}, <Num :value="alignment.seconds" :digits="0" unit="s" />, heading to
      <Num :value="alignment.heading_sd_deg" :digits="1" unit="°" />
    </Fact>
    <Fact label="Roll, pitch, heading, 1 SD (RMS)">
      <Num :value="figures.sd_roll_deg" :digits="4" unit="°" />,
      <Num :value="figures.sd_pitch_deg" :digits="4" unit="°" />,
      <Num :value="figures.sd_heading_deg" :digits="4" unit="°" />
    </Fact>
    <Fact v-if="figures.passes_attitude_deg" label="Forward less reverse, roll, pitch, heading (RMS)">
      <Num :value="figures.passes_attitude_deg[0]" :digits="4" unit="°" />,
      <Num :value="figures.passes_attitude_deg[1]" :digits="4" unit="°" />,
      <Num :value="figures.passes_attitude_deg[2]" :digits="4" unit="°" />
    </Fact>
    <Fact v-if="figures.passes_ned_m" label="Forward less reverse, plan, height (RMS)">
      <Num :value="1000 * Math.hypot(figures.passes_ned_m[0], figures.passes_ned_m[1])" :digits="1" unit="mm" />,
      <Num :value="times(1000, figures.passes_ned_m?.[2])" :digits="1" unit="mm" />
    </Fact>
    <Fact label="On the unit alone"><Num :value="times(100, figures.inertial_share)" :digits="1" unit="%" /></Fact>
    <Fact label="Positions not believed"
      ><Num :value="times(100, figures.positions_refused_share)" :digits="1" unit="%"
    /></Fact>
    <Fact label="Innovations over what was expected"><Num :value="figures.innovation_normalised" :digits="2" /></Fact>
  </FactList>
  <FigureTable
    :columns="[
      { key: 'what', label: 'Estimated, ± 1 SD' },
      ...AXES.map((a, k) => ({ key: `a${k}`, label: a, right: true })),
    ]"
    :rows="estimates"
    :row-key="(e) => e.name"
  >
    <template #what="{ row: e }"
      >{{ e.name }}<span class="soft">, {{ e.unit }}</span></template
    >
    <template v-for="(_a, k) in AXES" #[`a${k}`]="{ row: e }" :key="k">
      <Num :value="e.value[k]" :digits="e.digits" /><br /><span class="soft"
        >± <Num :value="e.sd[k]" :digits="e.digits"
      /></span>
    </template>
  </FigureTable>
</template>

<style scoped>
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
  font-size: 12px;
  vertical-align: top;
  white-space: normal;
}
.figures th {
  position: static;
}
</style>
