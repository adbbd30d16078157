<script setup lang="ts">
import { computed, watch } from 'vue';
import { type DatasetOf } from '@longheron/contract/api';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';
import FigureTable from '../../../ui/FigureTable.vue';
import Num from '../../../ui/Num.vue';
import OperationForm from '../../../ui/OperationForm.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import TrailList from '../../../ui/TrailList.vue';
import { useCloudLook } from '../../../stores/cloudLook';

/** Colours of a cloud from photographs: the form, what came out, and how far edges lie apart. */
const props = defineProps<{ dataset?: DatasetOf<'point-cloud'> }>();
/** The chosen cloud where it was coloured here. */
const made = computed(() => (props.dataset?.revision.content.coloured ? props.dataset : undefined));
const figures = computed(() => made.value?.revision.content.coloured);
const told = computed(() => figures.value?.pictures.filter((p) => p.dx_px !== null).length ?? 0);
const off = (p: { dx_px: number | null; dy_px: number | null }) =>
  p.dx_px === null || p.dy_px === null ? null : Math.hypot(p.dx_px, p.dy_px);
const FAR_PX = 2;
// what came out is looked at in its colours; another choice lasts until another result is opened
const look = useCloudLook();
watch(
  () => made.value?.revision.id,
  (id) => {
    if (id) look.colouring = 'true';
  },
  { immediate: true },
);
</script>

<template>
  <template v-if="made && figures">
    <h2>Colours</h2>
    <OutOfDate :dataset="made" />
    <FactList>
      <Fact label="Coloured">
        <Num :value="figures.coloured" /> (<Num :value="100 * figures.coloured_share" :digits="1" unit="%" />)
      </Fact>
      <Fact label="Hidden from every photograph" hint="Something stands in front of them in each"
        ><Num :value="figures.hidden"
      /></Fact>
      <Fact label="Photographs disagreed" hint="Something passed by; the one that agrees with the others was taken"
        ><Num :value="figures.outvoted"
      /></Fact>
      <Fact label="Photographs"
        ><Num :value="figures.photographs" /><template v-if="figures.photos_alone"
          >, {{ figures.photos_alone }} without a position</template
        ></Fact
      >
    </FactList>
    <h3>Edges</h3>
    <p v-if="figures.shift_px !== null">
      Edges of photographs and of intensities lie
      <strong :class="figures.shift_px > FAR_PX ? 'state warn' : ''"
        ><Num :value="figures.shift_px" :digits="2" unit="px"
      /></strong>
      apart (median of {{ told }}): <Num :value="figures.shift_right_px" :digits="2" plus /> to the right,
      <Num :value="figures.shift_down_px" :digits="2" unit="px" plus /> down.
    </p>
    <p v-else class="soft">No edges that photographs and intensities share were found, or no proof was asked for.</p>
    <FigureTable
      class="pictures"
      name="photographs"
      :columns="[
        { key: 'image', label: 'Photograph', value: (p) => p.image },
        { key: 'points', label: 'Points', right: true, value: (p) => p.points },
        { key: 'hidden', label: 'Hidden', right: true, value: (p) => p.hidden },
        { key: 'off', label: 'Off, px', hint: 'Shift of its edges', right: true, value: off },
      ]"
      :rows="figures.pictures"
      :row-key="(p) => p.image"
      :row-title="
        (p) =>
          p.dx_px === null
            ? 'Its edges tell nothing'
            : `${p.dx_px.toFixed(1)} right, ${p.dy_px!.toFixed(1)} down, correlation ${p.correlation!.toFixed(2)}`
      "
    >
      <template #points="{ row: p }"><Num :value="p.points" /></template>
      <template #hidden="{ row: p }"><Num :value="p.hidden" /></template>
      <template #off="{ row: p }"><Num :value="off(p)" :digits="1" /></template>
    </FigureTable>
  </template>
  <h2 :class="{ spaced: made }">{{ made ? 'Settings' : 'Colour from photographs' }}</h2>
  <OperationForm operation="colour" :made="made" :open="dataset" />
  <TrailList v-if="made" :dataset="made" />
</template>

<style scoped>
.pictures {
  margin-bottom: 10px;
}
</style>
