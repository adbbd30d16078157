<script setup lang="ts">
import { computed } from 'vue';
import { useView } from '../stores/view';
import ToolBar from '../ui/ToolBar.vue';
import ToolButton from '../ui/ToolButton.vue';
import ToolMenu, { type ToolItem } from '../ui/ToolMenu.vue';
import { LAYERS } from './layers';

/** Tools of a map: zoom, everything, which layers are left out, the picture below. */
const props = defineProps<{ rasters: ReadonlyArray<{ id: number; name: string }>; underlay: number }>();
defineEmits<{ everything: []; zoom: [steps: number] }>();
const view = useView();
const toggle = (name: string) =>
  (view.hiddenLayers = view.hiddenLayers.includes(name)
    ? view.hiddenLayers.filter((n) => n !== name)
    : [...view.hiddenLayers, name]);
const layers = computed<ToolItem[]>(() =>
  LAYERS.map(([name]) => ({ key: name, label: name, on: !view.hiddenLayers.includes(name) })),
);
const pictures = computed<ToolItem[]>(() => [
  { key: '0', label: 'no picture below', on: !props.underlay },
  ...props.rasters.map((r) => ({ key: String(r.id), label: r.name, on: r.id === props.underlay })),
]);
</script>

<template>
  <ToolBar label="Map">
    <ToolButton icon="plus" label="Zoom in" @click="$emit('zoom', 1)" />
    <ToolButton icon="minus" label="Zoom out" @click="$emit('zoom', -1)" />
    <ToolButton icon="frame" label="Show everything" @click="$emit('everything')" />
    <ToolMenu
      icon="layers"
      label="Layers"
      :words="view.hiddenLayers.length ? `without ${view.hiddenLayers.join(', ')}` : undefined"
      :pressed="view.hiddenLayers.length > 0"
      :items="layers"
      @choose="toggle"
    />
    <ToolMenu
      v-if="rasters.length"
      icon="picture"
      label="Picture under the map"
      :items="pictures"
      @choose="view.underlay = Number($event)"
    />
    <slot />
  </ToolBar>
</template>
