<script setup lang="ts">
import Setting from '../../../ui/Setting.vue';
import { type TargetSearch } from './usePoints';

/** How targets are looked for about a click. */
const settings = defineModel<TargetSearch>({ required: true });
</script>

<template>
  <h3>Targets</h3>
  <Setting
    :model-value="settings.radiusPx"
    label="Half their size"
    reason="Of a target in the photographs, or less."
    unit="px"
    :min="2"
    :max="60"
    :step="0.5"
    :digits="1"
    @update:model-value="settings = { ...settings, radiusPx: $event ?? settings.radiusPx }"
  />
  <Setting
    :model-value="settings.reachPx"
    label="Looked for within"
    reason="Of where you click."
    unit="px"
    :min="1"
    :max="30"
    :step="1"
    :digits="0"
    @update:model-value="settings = { ...settings, reachPx: $event ?? settings.reachPx }"
  />
</template>
