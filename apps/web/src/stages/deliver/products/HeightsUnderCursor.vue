<script setup lang="ts">
import { computed, shallowRef, watch } from 'vue';
import { useView } from '../../../stores/view';
import Num from '../../../ui/Num.vue';
import { useUnits } from '../../../ui/units';
import { type Content as SurfaceContent } from '@longheron/contract/kinds/surface';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';

/** Heights of every surface under the cursor of the map, and their difference. */
const props = defineProps<{ content?: SurfaceContent }>();
const view = useView();
const { length } = useUnits();
const grids = shallowRef<{ terrain: Float32Array; highest: Float32Array | null } | null>(null);
const load = (sha?: string) =>
  sha
    ? fetch(`/api/objects/${sha}`)
        .then((r) => (r.ok ? r.arrayBuffer() : null))
        .then((b) => (b ? new Float32Array(b) : null))
        .catch(() => null)
    : Promise.resolve(null);
watch(
  () => [props.content?.grid, props.content?.highestGrid],
  async ([grid, highest]) => {
    grids.value = null;
    const [terrain, top] = await Promise.all([load(grid), load(highest)]);
    if (terrain) grids.value = { terrain, highest: top };
  },
  { immediate: true },
);
const here = computed(() => {
  const l = props.content?.layout;
  if (!view.cursor || !l || !grids.value) return null;
  const c = Math.floor((view.cursor[0] - l.westM) / l.cellM);
  const r = Math.floor((l.northM - view.cursor[1]) / l.cellM);
  if (c < 0 || r < 0 || c >= l.columns || r >= l.rows) return null;
  const at = r * l.columns + c;
  return { terrain: grids.value.terrain[at], highest: grids.value.highest?.[at] ?? Number.NaN };
});
</script>

<template>
  <FactList label="Heights under the cursor">
    <Fact label="Terrain under the cursor"
      ><Num :value="length.of(here?.terrain)" :digits="2" :unit="length.symbol"
    /></Fact>
    <Fact label="Highest point there"><Num :value="length.of(here?.highest)" :digits="2" :unit="length.symbol" /></Fact>
    <Fact label="Difference">
      <Num :value="here ? length.of(here.highest - here.terrain) : null" :digits="2" :unit="length.symbol" />
    </Fact>
  </FactList>
</template>
