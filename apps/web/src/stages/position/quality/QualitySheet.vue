<script setup lang="ts">
import { computed, onBeforeUnmount } from 'vue';
import { type DatasetOf } from '@longheron/contract/api';
import { useProject } from '../../../stores/project';
import DiscardButton from '../../../ui/DiscardButton.vue';
import TrailList from '../../../ui/TrailList.vue';
import { useBench } from '../bench';
import CompareTrajectories from './CompareTrajectories.vue';
import GnssFigures from './GnssFigures.vue';
import InertialFigures from './InertialFigures.vue';
import QualityPanel from './QualityPanel.vue';
import SatelliteTable from './SatelliteTable.vue';

/** Everything that says how good the trajectory is. */
const props = defineProps<{ dataset?: DatasetOf<'trajectory'> }>();
const store = useProject();
const { preview, sky, span, satellite, comparison } = useBench();
const figures = computed(() => props.dataset?.revision.content.figures);
const others = computed(() => store.ofKind('trajectory').filter((d) => d.id !== props.dataset?.id));
onBeforeUnmount(() => (comparison.value = null));
</script>

<template>
  <p v-if="!dataset" class="soft">Nothing to judge yet: compute a trajectory, or take one in.</p>
  <template v-else>
    <template v-if="preview">
      <QualityPanel :dataset="dataset" :preview="preview" :sky="sky" :span="span" />
      <GnssFigures v-if="figures" :figures="figures" />
      <SatelliteTable v-if="sky" v-model:chosen="satellite" :sky="sky" :span="span" />
      <InertialFigures v-if="figures?.alignment" :figures="figures" :alignment="figures.alignment" />
    </template>
    <CompareTrajectories v-model="comparison" :dataset="dataset" :others="others" />
    <template v-if="dataset.stage === 'position'">
      <TrailList :dataset="dataset" />
      <DiscardButton :dataset="dataset" :label="`Discard ${dataset.name}`" />
    </template>
  </template>
</template>
