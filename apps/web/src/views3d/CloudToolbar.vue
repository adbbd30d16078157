<script setup lang="ts">
import { computed } from 'vue';
import { useCloudLook } from '../stores/cloudLook';
import { useView } from '../stores/view';
import ToolBar from '../ui/ToolBar.vue';
import ToolButton from '../ui/ToolButton.vue';
import ToolMenu, { type ToolItem } from '../ui/ToolMenu.vue';
import { type CloudIndex } from '@longheron/contract/api';
import { COLOURING_NAMES, colouringFor, colouringsOf, type Colouring } from './colouring';

const props = defineProps<{
  index: CloudIndex | undefined;
  measuring: boolean;
  filtering: boolean;
  surface: boolean;
  tin: boolean;
}>();
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
const directions: ToolItem[] = DIRECTIONS.map(([label]) => ({ key: label, label }));
function turn(key: string): void {
  const found = DIRECTIONS.find(([name]) => name === key);
  if (found) emit('look', found[1]);
}
const SIZES = [0, 1, 2, 3, 4, 6];
const HEIGHTS = [1, 2, 3, 5, 10, 20];
/** How points and heights are drawn. */
const drawing = computed<ToolItem[]>(() => [
  ...SIZES.map((n) => ({
    key: `size ${n}`,
    label: n ? `Points of ${n} px` : 'Points as large as their spacing',
    on: look.pointPx === n,
  })),
  ...HEIGHTS.map((n, k) => ({
    key: `heights ${n}`,
    label: n === 1 ? 'Heights as they are' : `Heights × ${n}`,
    on: look.exaggeration3d === n,
    divided: k === 0,
  })),
]);
function draw(key: string): void {
  const [what, n] = key.split(' ');
  if (what === 'size') look.pointPx = Number(n);
  else look.exaggeration3d = Number(n);
}
/** What of a terrain model is shown with its cloud. */
const shown = computed<ToolItem[]>(() => [
  { key: 'showPoints', label: 'Points', on: look.showPoints },
  { key: 'showTerrain', label: 'Terrain', on: look.showTerrain },
  { key: 'showContours', label: 'Contours', on: look.showContours },
  ...(props.tin ? [{ key: 'showTin', label: 'TIN', on: look.showTin }] : []),
]);
function toggle(key: string): void {
  if (key === 'showPoints' || key === 'showTerrain' || key === 'showContours' || key === 'showTin')
    look[key] = !look[key];
}
</script>

<template>
  <ToolBar label="Cloud view" dark>
    <el-select
      :model-value="colouringFor(index, look.colouring)"
      aria-label="Colour by"
      @change="(c: Colouring) => (look.colouring = c)"
      ><template #prefix>Colour</template>
      <el-option v-for="c in colouringsOf(index)" :key="c" :value="c" :label="COLOURING_NAMES[c]" />
    </el-select>
    <ToolButton icon="frame" label="Frame everything" hint="f" @click="emit('frame')" />
    <ToolMenu icon="look" label="Look from" :items="directions" @choose="turn" />
    <ToolButton
      icon="parallel"
      label="Parallel"
      hint="instead of perspective"
      :pressed="look.parallel"
      @click="look.parallel = !look.parallel"
    />
    <ToolButton
      icon="depth"
      label="Shading by depth"
      hint="when the view is still"
      :pressed="look.shading"
      @click="look.shading = !look.shading"
    />
    <ToolButton
      icon="box"
      label="Clip to box"
      :hint="
        view.section
          ? 'only what lies in the section, as a box whose faces can be drawn'
          : 'only a box about what is looked at'
      "
      :pressed="look.clip && !!view.section"
      @click="emit('clip')"
    />
    <ToolButton
      icon="filter"
      label="Filter"
      hint="echo, strip, intensity, height above ground, precision"
      :pressed="filtering || Object.keys(look.filter).length > 0"
      @click="emit('filter')"
    />
    <ToolButton
      icon="measure"
      label="Measure"
      hint="distance, angle, area, height above ground, distance from a plane (d)"
      :pressed="measuring"
      @click="emit('measure')"
    />
    <ToolMenu
      v-if="surface"
      icon="show"
      label="Shown"
      hint="points, terrain, contours"
      :items="shown"
      @choose="toggle"
    />
    <slot />
    <ToolMenu icon="settings" label="Drawing" hint="size of points, height scale" :items="drawing" @choose="draw" />
  </ToolBar>
</template>
