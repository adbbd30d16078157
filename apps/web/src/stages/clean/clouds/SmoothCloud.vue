<script setup lang="ts">
import { type DatasetOf } from '@longheron/contract/api';
import { useProject } from '../../../stores/project';
import { useSettings } from '../../../ui/settings';
import SettingsForm from '../../../ui/SettingsForm.vue';

/** Takes the noise of surfaces out; what is no surface stays. */
const props = defineProps<{ dataset?: DatasetOf<'point-cloud'> }>();
const store = useProject();
const { declaration, settings } = useSettings('smooth');
const start = () => store.run('smooth', { cloud: props.dataset!.id }, settings.value);
</script>

<template>
  <p class="soft">
    Points of surfaces are moved onto the plane of their neighbours. Wires, poles, leaves and edges stay. The result is
    to be looked at and modelled; accuracy and clearances are proved with the cloud before.
  </p>
  <p v-if="!dataset" class="soft">Choose a cloud on the left.</p>
  <el-form v-else novalidate label-position="top" @submit.prevent="start">
    <SettingsForm v-model="settings" :schema="declaration.settings" />
    <el-button type="primary" native-type="submit">Smooth {{ dataset.name }}</el-button>
  </el-form>
</template>
