<script setup lang="ts">
import { computed, watchEffect } from 'vue';
import { type SectionFile } from '@longheron/contract/kinds/parts/register';
import { objectJson } from '../../../api/client';
import { aroundPlaces } from '../../../map/around';
import MapView from '../../../map/MapView.vue';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import DatasetCard from '../../../ui/DatasetCard.vue';
import DiscardButton from '../../../ui/DiscardButton.vue';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';
import { useLoaded } from '../../../ui/loaded';
import Num from '../../../ui/Num.vue';
import OperationForm from '../../../ui/OperationForm.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import TrailList from '../../../ui/TrailList.vue';
import { useChosen } from '../../address';
import { useMapData } from '../../mapData';
import SplitBench from '../../SplitBench.vue';
import StageLayout from '../../StageLayout.vue';
import { networkShapes, verdict } from './network';
import ScanTables from './ScanTables.vue';
import { usualInputs } from './usual';

/** Scans placed as one cloud: where each stood, what joins them, how they agree. */
const store = useProject();
const view = useView();
const { marks } = useMapData();
const all = computed(() => store.ofKind('point-cloud').filter((d) => d.revision.content.registered));
const { chosen, choose } = useChosen(
  () => all.value,
  () => all.value.at(-1),
);
watchEffect(() => (view.active = chosen.value?.id ?? null));
const f = computed(() => chosen.value?.revision.content.registered);
const sections = useLoaded<string, SectionFile | null>(
  () => chosen.value?.revision.content.sections ?? undefined,
  objectJson<SectionFile>,
  null,
);
const said = computed(() => f.value && verdict(f.value));
const found = computed(() => [
  ...(f.value?.unplaced ?? []).map((u) => u.says),
  ...(f.value?.rejected ?? []).map((r) => r.says),
  ...(f.value?.unlike ?? []).map((u) => `The surfaces of ${u.a} and ${u.b} overlap and do not agree.`),
]);
const shapes = computed(() => (f.value && !f.value.local ? networkShapes(f.value, view.hoveredMark) : []));
const around = computed(() =>
  f.value && !f.value.local
    ? aroundPlaces(
        f.value.scans.map((s) => [s.x_m, s.y_m]),
        15,
      )
    : undefined,
);
const usual = computed(() =>
  usualInputs({
    clouds: store.ofKind('point-cloud', 'gather'),
    lists: store.ofKind('scan-targets'),
    imported: store.ofKind('marks', 'gather'),
    adjusted: store.ofKind('marks').filter((d) => d.revision.content.traverse),
  }),
);
/** Marks that have a part in it: others would hide the names of the stands. */
const shown = computed(() =>
  f.value ? marks.value.filter((m) => f.value!.targets.some((t) => t.name === m.name)) : marks.value,
);
</script>

<template>
  <StageLayout holdings-title="Placed scans" own-needs>
    <template #holdings>
      <DatasetCard v-for="d in all" :key="d.id" :dataset="d" :selected="d.id === chosen?.id" @choose="choose(d)" />
      <p v-if="all.length === 0" class="soft">
        No scans were placed yet. It takes one cloud a set-up, in the scanner’s own frame, and what joins them: targets
        that two or more see, surfaces that both show, or stations with their bearings.
      </p>
    </template>
    <SplitBench storage-key="register" :upper-percent="58">
      <template #upper>
        <MapView :marks="shown" :shapes="shapes" :around="around">
          <template v-if="f" #key>
            <span
              >Lines join scans with targets or surfaces in common, the thicker the more; red where they differ by over
              5 mm</span
            >
          </template>
        </MapView>
      </template>
      <ScanTables v-if="f" :figures="f" :sections="sections.value.value" />
      <p v-else class="soft empty">Scans, pairs and residuals stand here once scans are placed.</p>
    </SplitBench>
    <template #sheet>
      <template v-if="chosen && f && said">
        <h2>{{ chosen.name }}</h2>
        <OutOfDate :dataset="chosen" />
        <p class="state" :class="said.state">{{ said.words }}</p>
        <ul v-if="found.length" class="found">
          <li v-for="text in found" :key="text">{{ text }}</li>
        </ul>
        <FactList>
          <Fact label="Points"><Num :value="f.points" /></Fact>
          <Fact label="Sigma nought"><Num :value="f.sigma0" :digits="2" /></Fact>
          <Fact label="Observations to spare"><Num :value="f.redundancy" /></Fact>
          <Fact v-if="f.pairs.length" label="Worst pair, RMS" hint="Of common targets, in space, or of surfaces"
            ><Num :value="1000 * f.pairs[0].rms_m" :digits="1" unit="mm"
          /></Fact>
          <Fact
            v-if="(f.surface_factor ?? null) !== null"
            label="Surfaces, factor"
            hint="How far pieces of surfaces differ, in what the scatter of their points makes of it"
            ><Num :value="f.surface_factor" :digits="2"
          /></Fact>
          <Fact v-if="f.scans[0]?.grid_factor" label="Scale of the grid" hint="Applied once, when points are placed"
            ><Num :value="f.scans[0].grid_factor" :digits="6"
          /></Fact>
        </FactList>
        <p class="soft">
          It is among the clouds of Clean; the number of each set-up is its strip.
          <a :href="`/api/projects/${store.project!.id}/datasets/${chosen.id}/export/poses`">Poses as CSV</a>
        </p>
        <DiscardButton :dataset="chosen" label="Discard the cloud" />
      </template>
      <h2 :class="{ spaced: chosen }">{{ chosen ? 'Place them again' : 'Place scans' }}</h2>
      <OperationForm operation="register" :made="chosen" :usual-inputs="usual" />
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
.found {
  margin: 4px 0 8px;
  padding-left: 16px;
}
</style>
