<script setup lang="ts">
import { useView } from '../stores/view';
import { LAYERS } from './layers';

/** What lies over a map: which layers are left out, the picture below, showing everything. */
defineProps<{ rasters: ReadonlyArray<{ id: number; name: string }>; underlay: number }>();
defineEmits<{ everything: [] }>();
const view = useView();
const toggle = (name: string) =>
  (view.hiddenLayers = view.hiddenLayers.includes(name)
    ? view.hiddenLayers.filter((n) => n !== name)
    : [...view.hiddenLayers, name]);
</script>

<template>
  <details class="layers">
    <summary :class="{ some: view.hiddenLayers.length }">
      {{ view.hiddenLayers.length ? `hidden: ${view.hiddenLayers.join(', ')}` : 'Layers' }}
    </summary>
    <label v-for="[name] in LAYERS" :key="name"
      ><input type="checkbox" :checked="!view.hiddenLayers.includes(name)" @change="toggle(name)" />{{ name }}</label
    >
  </details>
  <select
    v-if="rasters.length"
    class="under"
    aria-label="Picture under the map"
    :value="underlay"
    @change="view.underlay = Number(($event.target as HTMLSelectElement).value)"
  >
    <option :value="0">no picture below</option>
    <option v-for="r in rasters" :key="r.id" :value="r.id">{{ r.name }}</option>
  </select>
  <button class="fit" title="Show everything" @click="$emit('everything')">Show everything</button>
</template>

<style scoped>
.fit,
.layers,
.under {
  position: absolute;
  z-index: 2;
  background: var(--paper);
  border: 1px solid var(--line);
  border-radius: 4px;
  font-size: 12px;
}
.fit {
  right: 8px;
  top: 8px;
  padding: 3px 8px;
  cursor: pointer;
}
.layers {
  left: 40px;
  top: 8px;
  padding: 3px 8px;
}
.layers summary {
  cursor: pointer;
}
.layers .some {
  color: var(--bill);
  font-weight: 600;
}
.layers label {
  display: flex;
  align-items: center;
  gap: 4px;
}
.under {
  right: 8px;
  top: 40px;
  max-width: 60%;
  height: 24px;
}
</style>
