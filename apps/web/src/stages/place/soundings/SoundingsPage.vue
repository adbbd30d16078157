<script setup lang="ts">
import { computed, ref, watchEffect } from 'vue';
import { DEPTH_COLOURS } from '@longheron/contract/kinds/parts/soundings';
import { aroundPlaces } from '../../../map/around';
import MapView from '../../../map/MapView.vue';
import { pictureOf } from '../../../map/picture';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import DatasetCard from '../../../ui/DatasetCard.vue';
import DiscardButton from '../../../ui/DiscardButton.vue';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';
import Num from '../../../ui/Num.vue';
import OperationForm from '../../../ui/OperationForm.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import ScaleKey from '../../../ui/ScaleKey.vue';
import TrailList from '../../../ui/TrailList.vue';
import { useUnits } from '../../../ui/units';
import { useChosen } from '../../address';
import SplitBench from '../../SplitBench.vue';
import StageLayout from '../../StageLayout.vue';
import SoundingTables from './SoundingTables.vue';
import { heightsSaid, placesOf, soundingShapes } from './shapes';
import { usualInputs } from './usual';

/** Soundings reduced from sonar recordings: the bed at a first look, lines, casts, and what they are worth. */
const store = useProject();
const view = useView();
const { length, small } = useUnits();
const all = computed(() => store.ofKind('point-cloud').filter((d) => d.revision.content.sounded));
const { chosen, choose } = useChosen(
  () => all.value,
  () => all.value.at(-1),
);
watchEffect(() => (view.active = chosen.value?.id ?? null));
const f = computed(() => chosen.value?.revision.content.sounded);
const plan = computed(() => chosen.value?.revision.content.plan);
const said = computed(() => f.value && heightsSaid(f.value));
const hovered = ref<number | null>(null);
const shapes = computed(() => (f.value ? soundingShapes(f.value, hovered.value) : []));
const around = computed(() =>
  f.value
    ? aroundPlaces(
        f.value.lines.flatMap((l) => placesOf(l.path)),
        15,
      )
    : undefined,
);
const usual = computed(() =>
  usualInputs({
    sonar: store.ofKind('sonar'),
    mountings: store.ofKind('mounting'),
    trajectories: store.ofKind('trajectory'),
    casts: store.ofKind('casts'),
  }),
);
</script>

<template>
  <StageLayout holdings-title="Soundings" own-needs>
    <template #holdings>
      <DatasetCard v-for="d in all" :key="d.id" :dataset="d" :selected="d.id === chosen?.id" @choose="choose(d)" />
      <p v-if="all.length === 0" class="soft">
        No soundings yet. It takes recordings of an echo sounder, the mounting of the vessel, casts of the speed of
        sound, and a trajectory, or else water levels.
      </p>
    </template>
    <SplitBench storage-key="soundings" :upper-percent="58">
      <template #upper>
        <MapView :shapes="shapes" :around="around" :picture="plan ? pictureOf(plan.picture, plan.layout) : null">
          <template v-if="plan" #key>
            <ScaleKey
              title="Mean height in squares of a metre"
              :colours="DEPTH_COLOURS"
              :labels="[plan.lowM, plan.highM].map((v) => `${length.of(v).toFixed(1)} ${length.symbol}`)"
            />
          </template>
        </MapView>
      </template>
      <SoundingTables v-if="f" v-model:hovered="hovered" :figures="f" />
      <p v-else class="soft empty">Lines, casts and uncertainties stand here once soundings are reduced.</p>
    </SplitBench>
    <template #sheet>
      <template v-if="chosen && f && said">
        <h2>{{ chosen.name }}</h2>
        <OutOfDate :dataset="chosen" />
        <p class="state" :class="said.state">{{ said.words }}</p>
        <FactList>
          <Fact label="Soundings"><Num :value="f.soundings" /></Fact>
          <Fact v-if="f.doubtful" label="Graded low, rejected"><Num :value="f.doubtful" /></Fact>
          <Fact v-if="f.outside" label="Pings outside the trajectory"><Num :value="f.outside" /></Fact>
          <Fact v-if="f.without_level" label="Pings without a water level"><Num :value="f.without_level" /></Fact>
          <Fact label="Height, 1 SD" hint="Root mean square of what is stated"
            ><Num :value="small.factor * f.sd_h_m" :digits="small.digits" :unit="small.symbol"
          /></Fact>
          <Fact label="Plan, 1 SD" hint="Of easting and of northing"
            ><Num :value="small.factor * f.sd_plan_m" :digits="small.digits" :unit="small.symbol"
          /></Fact>
          <Fact label="Latency"><Num :value="1000 * f.latency_s" :digits="1" unit="ms" /></Fact>
          <Fact
            v-if="f.navigation"
            label="Navigation apart, RMS"
            hint="Real-time navigation less the trajectory, in plan"
            ><Num :value="length.of(f.navigation.plan_rms_m)" :digits="2" :unit="length.symbol"
          /></Fact>
        </FactList>
        <p class="soft">They are among the clouds of Clean; the number of each line is its strip.</p>
        <DiscardButton :dataset="chosen" label="Discard the soundings" />
      </template>
      <h2 :class="{ spaced: chosen }">{{ chosen ? 'Reduce again' : 'Reduce soundings' }}</h2>
      <OperationForm operation="soundings" :made="chosen" :usual-inputs="usual" />
      <TrailList v-if="chosen" :dataset="chosen" />
    </template>
  </StageLayout>
</template>

<style scoped>
.spaced {
  margin-top: 16px;
}
.empty {
  padding: 12px;
}
</style>
