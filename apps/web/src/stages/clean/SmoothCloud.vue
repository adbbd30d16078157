<script setup lang="ts">
import { ref } from 'vue';
import { type DatasetOf } from '@longheron/contract/api';
import { SMOOTH_DEFAULTS } from '@longheron/core/cloud';
import { useProject } from '../../stores/project';
import Setting from '../../ui/Setting.vue';

/** Takes the noise of surfaces out; what is no surface stays. */
const props = defineProps<{ dataset?: DatasetOf<'point-cloud'> }>();
const store = useProject();
const settings = ref({ ...SMOOTH_DEFAULTS });
const start = () => store.run('smooth', { cloud: props.dataset!.id }, { ...settings.value });
</script>

<template>
  <p class="soft">
    Points of surfaces are moved onto the plane of their neighbours. Wires, poles, leaves and edges stay. The result is
    to be looked at and modelled; accuracy and clearances are proved with the cloud before.
  </p>
  <p v-if="!dataset" class="soft">Choose a cloud on the left.</p>
  <el-form v-else novalidate label-position="top" @submit.prevent="start">
    <Setting
      v-model="settings.radiusM"
      label="Neighbours within"
      unit="m"
      :min="0.02"
      :max="5"
      :step="0.05"
      reason="Larger takes more noise out, and rounds finer steps."
    />
    <Setting
      v-model="settings.thickM"
      label="A surface is no thicker than"
      unit="m"
      :min="0.001"
      :max="1"
      :step="0.005"
      :digits="3"
      reason="1 SD across it: about twice the noise of the points."
    />
    <Setting
      v-model="settings.mostM"
      label="Moved at most by"
      unit="m"
      :min="0.001"
      :max="1"
      :step="0.01"
      :digits="3"
      reason="What stands off farther is something else, and stays."
    />
    <el-button type="primary" native-type="submit">Smooth {{ dataset.name }}</el-button>
  </el-form>
</template>
