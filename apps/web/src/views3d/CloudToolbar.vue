<script setup lang="ts">
import { useCloudLook } from '../stores/cloudLook';
import { useView } from '../stores/view';
import { COLOURING_NAMES, COLOURINGS } from './colouring';

defineProps<{ measuring: boolean; filtering: boolean; surface: boolean; tin: boolean }>();
const emit = defineEmits<{
  frame: [];
  look: [direction: [number, number, number]];
  measure: [];
  filter: [];
  clip: [];
}>();
const look = useCloudLook();
const view = useView();
const DIRECTIONS: Array<[string, [number, number, number]]> = [
  ['from above', [0, -0.001, 1]],
  ['from below', [0, -0.001, -1]],
  ['from the south', [0, -1, 0]],
  ['from the north', [0, 1, 0]],
  ['from the east', [1, 0, 0]],
  ['from the west', [-1, 0, 0]],
];
function turn(value: string): void {
  const found = DIRECTIONS.find(([name]) => name === value);
  if (found) emit('look', found[1]);
}
</script>

<template>
  <div class="bar" role="toolbar" aria-label="Cloud view">
    <label
      >Colour by
      <select v-model="look.colouring" aria-label="Colour by">
        <option v-for="c in COLOURINGS" :key="c" :value="c">{{ COLOURING_NAMES[c] }}</option>
      </select></label
    >
    <select v-model.number="look.pointPx" aria-label="Point size" title="Point size">
      <option :value="0">size by spacing</option>
      <option v-for="n in [1, 2, 3, 4, 6]" :key="n" :value="n">{{ n }} px</option>
    </select>
    <select
      aria-label="Look from"
      title="Look from a standard direction"
      @change="
        turn(($event.target as HTMLSelectElement).value);
        ($event.target as HTMLSelectElement).value = '';
      "
    >
      <option value="">look …</option>
      <option v-for="[name] in DIRECTIONS" :key="name" :value="name">{{ name }}</option>
    </select>
    <button
      :aria-pressed="look.parallel"
      title="Parallel instead of perspective"
      @click="look.parallel = !look.parallel"
    >
      Parallel
    </button>
    <button
      :aria-pressed="look.shading"
      title="Shading by depth, when the view is still"
      @click="look.shading = !look.shading"
    >
      Depth
    </button>
    <slot />
    <button
      :aria-pressed="look.clip && !!view.section"
      :title="
        view.section
          ? 'Shows only what lies in the section, as a box whose faces can be drawn'
          : 'Shows only a box about what is looked at'
      "
      @click="emit('clip')"
    >
      Box alone
    </button>
    <button title="Frame everything (f)" @click="emit('frame')">Frame</button>
    <button
      :aria-pressed="filtering || Object.keys(look.filter).length > 0"
      title="Which points are shown: echo, strip, intensity, height above ground, precision"
      @click="emit('filter')"
    >
      Filter
    </button>
    <select
      v-model.number="look.exaggeration3d"
      aria-label="Height scale"
      title="How many times taller heights are drawn"
    >
      <option v-for="n in [1, 2, 3, 5, 10, 20]" :key="n" :value="n">heights × {{ n }}</option>
    </select>
    <button
      :aria-pressed="measuring"
      title="Distance, angle, area, height above ground, distance from a plane (d)"
      @click="emit('measure')"
    >
      Measure
    </button>
    <template v-if="surface">
      <button :aria-pressed="look.showPoints" @click="look.showPoints = !look.showPoints">Points</button>
      <button :aria-pressed="look.showTerrain" @click="look.showTerrain = !look.showTerrain">Terrain</button>
      <button :aria-pressed="look.showContours" @click="look.showContours = !look.showContours">Contours</button>
      <button v-if="tin" :aria-pressed="look.showTin" @click="look.showTin = !look.showTin">TIN</button>
    </template>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  pointer-events: none;
  font-size: 12px;
}
.bar > * {
  pointer-events: auto;
}
label,
select,
.bar :slotted(select),
button {
  background: #16262de6;
  color: #e6eef0;
  border: 1px solid #3a5058;
  border-radius: 4px;
  height: 24px;
  font-size: 12px;
}
label {
  padding-left: 8px;
  display: inline-flex;
  align-items: center;
  gap: 4px;
}
label select {
  border: 0;
  background: #16262d;
}
button {
  padding: 0 8px;
  cursor: pointer;
}
button:disabled {
  color: #7f9097;
  cursor: default;
}
button[aria-pressed='true'] {
  background: #0e5e66;
  border-color: #5aa6ad;
}
:focus-visible {
  outline-color: #9fd6da;
}
</style>
