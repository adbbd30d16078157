<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { systemTextOf, type DatasetOf, type SystemNames } from '@longheron/contract/api';
import { useProject } from '../../../stores/project';
import Fold from '../../../ui/Fold.vue';
import { systemOf } from '../../systems';
import DatasetChoice from '../../../ui/DatasetChoice.vue';
import Num from '../../../ui/Num.vue';
import SystemChoice from '../../../ui/SystemChoice.vue';
import PlaceByMarks from './PlaceByMarks.vue';
import SmoothCloud from './SmoothCloud.vue';
import TileDelivery from './TileDelivery.vue';

/** What is done to clouds as a whole: several as one, and one of another system into that of the project. */
defineProps<{ dataset?: DatasetOf<'point-cloud'> }>();
const store = useProject();
const clouds = computed(() => store.ofKind('point-cloud').filter((d) => d.revision.content.las));
const chosen = ref<number[]>([]);
const pointsOf = (d: DatasetOf<'point-cloud'>) =>
  Object.values((d.revision.content.countsByClass ?? {}) as Record<string, number>).reduce((s, n) => s + n, 0);
/** Clouds that came as files, such as the tiles of a delivery. */
const taken = computed(() => clouds.value.filter((d) => d.stage === 'gather').map((d) => d.id));
const points = computed(() =>
  clouds.value.filter((d) => chosen.value.includes(d.id)).reduce((s, d) => s + pointsOf(d), 0),
);
const strips = ref<'same' | 'apart' | 'by time'>('by time');
const merge = async () => {
  await store.run('merge', { clouds: chosen.value }, { strips: strips.value });
  chosen.value = [];
};

const project = computed(() => {
  const r = store.project?.reference;
  return r ? systemTextOf(r) : '';
});
const source = ref(0);
const others = computed(() => clouds.value.filter((d) => systemOf(d) !== project.value));
watch(
  others,
  (list) => {
    if (!list.some((d) => d.id === source.value)) source.value = list[0]?.id ?? 0;
  },
  { immediate: true },
);
const from = computed(() => {
  const d = others.value.find((x) => x.id === source.value);
  return d ? systemOf(d) : '';
});
const system = ref<SystemNames>({ horizontal: 0, vertical: 5773 });
const isChosen = computed(() => !!system.value.horizontal || !!system.value.plan);
const reproject = () =>
  store.run('reproject', { cloud: source.value }, from.value ? {} : { from: systemTextOf(system.value) });
</script>

<template>
  <Fold heading="Merge clouds" open>
    <p class="soft">
      Makes one cloud of several, with what was done to them by hand. Every attribute is kept, extra bytes by their
      names; strips that clash are moved up.
    </p>
    <el-form novalidate label-position="top" @submit.prevent="merge">
      <DatasetChoice
        v-model="chosen"
        label="Clouds"
        :datasets="clouds"
        several
        collapse
        placeholder="Choose two or more"
      />
      <el-form-item label="Strips of one number are"
        ><el-select v-model="strips" aria-label="Strips of one number are"
          ><el-option value="by time" label="one when seen within two minutes" /><el-option
            value="same"
            label="always one (tiles of a delivery)" /><el-option
            value="apart"
            label="never one (other sessions)" /></el-select
      ></el-form-item>
      <p v-if="taken.length > 2" class="soft">
        <el-button link @click="chosen = taken">All {{ taken.length }} that were imported</el-button>
      </p>
      <el-button type="primary" native-type="submit" :disabled="chosen.length < 2">Merge them</el-button>
      <span v-if="chosen.length > 1" class="soft count"><Num :value="points" /> points</span>
    </el-form>
  </Fold>
  <Fold heading="Into the project's system">
    <p class="soft">
      A cloud in another system or with other heights is carried into {{ project || 'the system of the project' }}, over
      geographic coordinates. The file taken in stays as it is.
    </p>
    <p v-if="others.length === 0" class="soft">All clouds are in the system of the project.</p>
    <el-form v-else novalidate label-position="top" @submit.prevent="reproject">
      <DatasetChoice v-model="source" label="Cloud" :datasets="others" />
      <p v-if="from">It is in {{ from }}, as its file says.</p>
      <template v-else>
        <p class="state warn">Its file names no system: say which it is in.</p>
        <SystemChoice v-model="system" label="It is in" />
      </template>
      <el-button type="primary" native-type="submit" :disabled="!source || !project || (!from && !isChosen)"
        >Bring it in</el-button
      >
    </el-form>
  </Fold>
  <Fold heading="Place a cloud by marks"><PlaceByMarks :dataset="dataset" /></Fold>
  <Fold heading="Smooth surfaces"><SmoothCloud :dataset="dataset" /></Fold>
  <Fold heading="Check a delivery of tiles"><TileDelivery /></Fold>
</template>

<style scoped>
.count {
  margin-left: 10px;
}
</style>
