<script setup lang="ts">
import { computed, watchEffect } from 'vue';
import { useLocalStorage } from '@vueuse/core';
import { useProject } from '../../stores/project';
import { useView } from '../../stores/view';
import TimePlot from '../../charts/TimePlot.vue';
import MapView from '../../map/MapView.vue';
import { gradient, VIRIDIS } from '../../ui/colour';
import DatasetCard from '../../ui/DatasetCard.vue';
import NotLoaded from '../../ui/NotLoaded.vue';
import SplitBench from '../SplitBench.vue';
import StageLayout from '../StageLayout.vue';
import { useMapData } from '../mapData';
import { useDiagnostics } from './diagnostics';
import { SOLUTIONS, useSky } from './sky';
import SkyPlot from './SkyPlot.vue';
import TimeStrip from './TimeStrip.vue';
import { useAddress, useChosen } from '../address';
import { provideBench } from './bench';

const store = useProject();
const view = useView();
const trajectories = computed(() => store.ofKind('trajectory'));
const { chosen: dataset, choose } = useChosen(
  () => trajectories.value,
  () => store.trajectory(),
);
const { panel } = useAddress();
const { preview, path, marks, line } = useMapData(() => dataset.value);
const kept = useDiagnostics(() => dataset.value);
const skyRead = useSky(() => dataset.value);
const sky = skyRead.value;
const views = useLocalStorage<string[]>('longheron.skyViews', ['solution']);
const kinds = computed(() => [...new Set(sky.value?.solution.map((s) => s.kind) ?? [])].sort());
const span = computed<[number, number]>(
  () => view.brush ?? (preview.value ? [preview.value.startGps, preview.value.endGps] : [0, 1]),
);
const { comparison, shapes, dots, satellite } = provideBench({ preview, sky, span });
const diagnostics = computed(() => [...kept.value.value, ...(comparison.value?.series ?? [])]);
watchEffect(() => (view.active = dataset.value?.id ?? null));
const limits = useLocalStorage<[number, number]>('longheron.sdLimits', [0, 0.03]);
const shown = useLocalStorage<string[]>('longheron.plots', ['SD plan', 'SD down', 'Speed']);
const display = computed(() => store.project?.reference?.time ?? 'gps');
const maskDeg = computed(() => dataset.value?.revision.content.figures?.settings?.mask_deg);
const COLOURS = ['#0e5e66', '#c97a00', '#7a4b8c', '#3f7350', '#a8402e', '#53666d'];
const plots = computed(() =>
  shown.value.flatMap((name, i) => {
    const column = preview.value?.columns[name];
    const c = column ? { ...column, time: preview.value!.time } : diagnostics.value.find((d) => d.name === name);
    const colour = COLOURS[i % COLOURS.length];
    return c ? [{ name, unit: c.unit, time: c.time, series: [{ name, min: c.min, max: c.max, colour }] }] : [];
  }),
);
const choices = computed(() => [
  ...Object.entries(preview.value?.columns ?? {}).map(([name, c]) => ({ name, unit: c.unit })),
  ...diagnostics.value,
]);
</script>

<template>
  <StageLayout holdings-title="Trajectories" tabs="sheet">
    <template #holdings>
      <DatasetCard
        v-for="d in trajectories"
        :key="d.id"
        :dataset="d"
        :selected="d.id === dataset?.id"
        :figure="d.id === dataset?.id && preview ? `${preview.epochs} epochs` : ''"
        @choose="choose(d)"
      />
      <p v-if="!dataset" class="soft">
        No trajectory yet. Take one in, in the stage Gather, or compute one from GNSS observations in the sheet.
      </p>
      <template v-else>
        <NotLoaded what="The path" :of="line" />
        <NotLoaded what="The satellites" :of="skyRead" />
        <NotLoaded what="What the computation kept for plotting" :of="kept" />
        <template v-if="sky">
          <h3 style="margin-top: 16px">Satellites</h3>
          <el-checkbox-group v-model="views" class="choices"
            ><el-checkbox value="sky" label="Sky above the receiver" /><el-checkbox
              value="solution"
              label="Fixed and float against time" /><el-checkbox
              value="satellites"
              label="Residuals and slips by satellite"
          /></el-checkbox-group>
        </template>
        <h3 style="margin-top: 16px">Plots</h3>
        <el-checkbox-group v-model="shown" class="choices"
          ><el-checkbox
            v-for="c in choices"
            :key="c.name"
            :value="c.name"
            :label="`${c.name}${c.unit ? `, ${c.unit}` : ''}`"
        /></el-checkbox-group>
      </template>
    </template>
    <SplitBench storage-key="position" :upper-percent="46">
      <template #upper>
        <div class="upper" :class="{ split: sky && views.includes('sky') }">
          <div class="mapbox">
            <MapView :path="path" :path-limits="limits" :marks="marks" :dots="dots" :shapes="shapes">
              <template v-if="panel !== 'network'" #key>
                <span>SD plan, worst in each piece, m</span>
                <span class="ends">
                  <el-input-number
                    v-model="limits[0]"
                    aria-label="Lower limit, metres"
                    :min="0"
                    :max="limits[1]"
                    :step="0.005"
                    :precision="3"
                    :controls="false"
                  /><span class="ramp" :style="{ background: gradient(VIRIDIS) }" /><el-input-number
                    v-model="limits[1]"
                    aria-label="Upper limit, metres"
                    :min="limits[0]"
                    :step="0.005"
                    :precision="3"
                    :controls="false"
                  />
                </span>
              </template>
            </MapView>
          </div>
          <div v-if="sky && views.includes('sky')" class="skybox">
            <SkyPlot v-model:chosen="satellite" :sky="sky" :span="span" :mask-deg="maskDeg" />
          </div>
        </div>
      </template>
      <div class="plots" tabindex="0" role="group" aria-label="Plots">
        <figure v-if="sky && views.includes('solution')" class="low">
          <figcaption>
            Solution
            <span v-for="k in kinds" :key="k" class="soft kind"
              ><i :style="{ background: SOLUTIONS[k].colour }" />{{ SOLUTIONS[k].word }}</span
            >
          </figcaption>
          <TimeStrip :sky="sky" :span="span" rows="solution" :display="display" />
        </figure>
        <figure v-if="sky && views.includes('satellites')" class="tall">
          <figcaption>
            Residuals by satellite<span class="soft">, the paler the larger, to 20 mm; slips in red</span>
          </figcaption>
          <TimeStrip :sky="sky" :span="span" rows="satellites" :display="display" :chosen="satellite" />
        </figure>
        <figure v-for="p in plots" :key="p.name">
          <figcaption>
            {{ p.name }}<span v-if="p.unit" class="soft">, {{ p.unit }}</span>
          </figcaption>
          <TimePlot
            :time="p.time"
            :series="p.series"
            :unit="p.unit"
            :span="span"
            :display="display"
            :limit="/^SD (plan|down)$/.test(p.name) ? store.project?.toleranceM : undefined"
          />
        </figure>
        <p v-if="preview && plots.length === 0" class="soft pad">Choose what to plot on the left.</p>
      </div>
    </SplitBench>
    <template #sheet>
      <RouterView v-slot="{ Component }"><component :is="Component" :dataset="dataset" /></RouterView>
    </template>
  </StageLayout>
</template>

<style scoped>
.upper {
  position: relative;
  display: grid;
  border-bottom: 1px solid var(--line);
}
.upper.split {
  grid-template-columns: minmax(0, 1fr) minmax(220px, 0.62fr);
}
.skybox {
  position: relative;
  border-left: 1px solid var(--line);
}
.mapbox {
  position: relative;
}
.plots {
  display: flex;
  flex-direction: column;
  overflow: auto;
  padding: 4px 8px;
  min-height: 0;
}
figure {
  margin: 0;
  flex: 1 0 88px;
  display: grid;
  grid-template-rows: 16px minmax(0, 1fr);
  min-height: 0;
}
figure.low {
  flex: 0 0 34px;
}
figure.tall {
  flex: 0 0 170px;
}
.kind i {
  display: inline-block;
  width: 10px;
  height: 8px;
  margin: 0 3px 0 8px;
}
figcaption {
  font-size: 12px;
  font-weight: 600;
}
.ramp {
  width: 120px;
  height: 10px;
}
.ends {
  display: inline-flex;
  align-items: center;
  gap: 6px;
}
.ends :deep(.el-input-number) {
  width: 58px;
}
.ends :deep(.el-input__wrapper) {
  padding: 0 4px;
}
.ends :deep(input) {
  font: 12px var(--mono);
}
.choices {
  display: grid;
}
.pad {
  padding: 12px;
}
</style>
