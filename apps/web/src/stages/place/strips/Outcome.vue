<script setup lang="ts">
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import { type DatasetDto, type DatasetOf } from '@longheron/contract/api';
import { useProject } from '../../../stores/project';
import { panelPath } from '../../address';

/** From the adjustment to its mounting, its trajectory, and the cloud made anew from both. */
const props = defineProps<{ chosen: DatasetOf<'adjustment'>; returns: number[] }>();
const store = useProject();
const made = (kind: 'mounting' | 'trajectory') =>
  store
    .ofKind(kind)
    .filter((d) => d.revision.inputs.some((i) => i.role === 'adjustment' && i.datasetId === props.chosen.id))
    .at(-1);
const corrected = computed(() => props.chosen.revision.content.corrected);
const mounting = computed(() => made('mounting'));
const trajectory = computed(() => made('trajectory'));
const given = computed(() => props.chosen.revision.inputs.find((i) => i.role === 'trajectory')?.datasetId ?? 0);
const placedWith = computed(() => (corrected.value ? (trajectory.value?.id ?? 0) : given.value));
const cloud = computed(() =>
  store
    .ofKind('point-cloud', 'place')
    .filter((d) => {
      const has = (role: string, id: number | undefined) =>
        d.revision.inputs.some((i) => i.role === role && i.datasetId === id);
      return has('mounting', mounting.value?.id) && has('trajectory', placedWith.value);
    })
    .at(-1),
);
const take = (operation: 'adjusted-mounting' | 'adjusted-trajectory', there?: DatasetDto) =>
  store.run(operation, { adjustment: props.chosen.id }, {}, there?.id);
const place = () =>
  store.run(
    'place',
    { trajectory: placedWith.value, returns: props.returns, mounting: mounting.value!.id },
    {},
    cloud.value?.id,
  );
const current = (d: DatasetDto | undefined) => !!d && !d.outOfDate;
const to = (d: DatasetDto) => panelPath(String(store.project!.id), 'place', 'cloud', d.id);
</script>

<template>
  <h3>Made of it</h3>
  <p class="soft">
    Nothing is bent: the cloud is made again from the calibrated mounting and the corrected trajectory.
  </p>
  <ol class="steps">
    <li>
      <span v-if="current(mounting)" class="state ok">{{ mounting!.name }}</span>
      <el-button v-else size="small" @click="take('adjusted-mounting', mounting)">{{
        mounting ? 'Take the calibrated mounting again' : 'Take the calibrated mounting'
      }}</el-button>
    </li>
    <li v-if="corrected">
      <span v-if="current(trajectory)" class="state ok">{{ trajectory!.name }}</span>
      <el-button v-else size="small" @click="take('adjusted-trajectory', trajectory)">{{
        trajectory ? 'Take the corrected trajectory again' : 'Take the corrected trajectory'
      }}</el-button>
    </li>
    <li>
      <RouterLink v-if="cloud && current(cloud)" :to="to(cloud)">{{ cloud.name }}</RouterLink>
      <el-button v-else size="small" :disabled="!mounting || !placedWith" @click="place">{{
        cloud ? 'Make the cloud again' : 'Make the cloud from both'
      }}</el-button>
    </li>
  </ol>
</template>

<style scoped>
.steps {
  margin: 0 0 8px;
  padding-left: 20px;
  font-size: 13px;
}
.steps li {
  margin-bottom: 4px;
}
</style>
