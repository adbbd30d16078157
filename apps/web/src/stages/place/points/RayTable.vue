<script setup lang="ts">
import FigureTable from '../../../ui/FigureTable.vue';
import Num from '../../../ui/Num.vue';
import PlainButton from '../../../ui/PlainButton.vue';

/** The rays of a point, with what each is off. */
export interface RayRow {
  image: string;
  xPx: number;
  yPx: number;
  dxPx: number | null;
  dyPx: number | null;
  test: number | null;
  offPx: number | null;
  bad: boolean;
}
defineProps<{ rows: readonly RayRow[]; name: string; current: string | undefined; given: boolean }>();
const emit = defineEmits<{ open: [image: string]; remove: [image: string] }>();
</script>

<template>
  <FigureTable
    v-if="rows.length"
    name="rays"
    :label="`Picks of ${name}`"
    :columns="[
      { key: 'image', label: 'Photograph', value: (r) => r.image },
      { key: 'x', label: 'x, px', right: true, value: (r) => r.xPx },
      { key: 'y', label: 'y, px', right: true, value: (r) => r.yPx },
      { key: 'dx', label: 'Off in x', right: true, hint: 'Picked less computed', value: (r) => r.dxPx },
      { key: 'dy', label: 'Off in y', right: true, hint: 'Picked less computed', value: (r) => r.dyPx },
      { key: 'test', label: 'In deviations', right: true, value: (r) => r.test },
      { key: 'off', label: 'From its given place, px', right: true, value: (r) => r.offPx },
      { key: 'flag', label: '' },
    ]"
    :rows="rows"
    :row-key="(r) => r.image"
    :row-class="(r) => ({ chosen: r.image === current })"
    pick
    @pick="(r) => emit('open', r.image)"
  >
    <template #image="{ row: r }">{{ r.image }}</template>
    <template #x="{ row: r }"><Num :value="r.xPx" :digits="2" /></template>
    <template #y="{ row: r }"><Num :value="r.yPx" :digits="2" /></template>
    <template #dx="{ row: r }"><Num :value="r.dxPx" :digits="2" plus /></template>
    <template #dy="{ row: r }"><Num :value="r.dyPx" :digits="2" plus /></template>
    <template #test="{ row: r }"><Num :value="r.test" :digits="1" /></template>
    <template #off="{ row: r }"><Num :value="given ? r.offPx : null" :digits="1" /></template>
    <template #flag="{ row: r }">
      <span v-if="r.bad" class="state bad">does not fit</span>
      <PlainButton class="out" :title="`Take the pick in ${r.image} out`" @click.stop="emit('remove', r.image)"
        >Take out</PlainButton
      >
    </template>
  </FigureTable>
  <p v-else class="soft">
    {{ name }} is picked in no photograph yet. Open one of those above and click where it is; two are needed for a
    place.
  </p>
</template>

<style scoped>
.out {
  margin-left: 8px;
  text-decoration: underline dotted;
}
</style>
