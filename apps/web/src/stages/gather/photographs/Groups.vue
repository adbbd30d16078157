<script setup lang="ts">
import { groupPhotographs, type TakenPhoto } from '@longheron/core/photo';
import { computed } from 'vue';
import FigureTable from '../../../ui/FigureTable.vue';
import Num from '../../../ui/Num.vue';

/** Photographs by what made them: those of one group share a calibration. */
const props = defineProps<{ photographs: readonly TakenPhoto[] }>();
const groups = computed(() => groupPhotographs(props.photographs));
const focal = (g: { focalMm: number | null; focalPx: number | null }) => g.focalMm ?? g.focalPx;
</script>

<template>
  <FigureTable
    name="groups"
    label="Cameras"
    :columns="[
      { key: 'body', label: 'Body', wrap: true, value: (g) => `${g.camera} ${g.serial}` },
      { key: 'size', label: 'Size, px', right: true, value: (g) => g.widthPx },
      { key: 'focal', label: 'Focal', right: true, value: focal },
      { key: 'n', label: 'Count', right: true, value: (g) => g.names.length },
    ]"
    :rows="groups"
    :row-key="(g) => g.key"
    :row-title="(g) => [g.lens, g.lensSerial].filter(Boolean).join(' ') || undefined"
  >
    <template #body="{ row: g }"
      >{{ g.camera || 'not said' }}<template v-if="g.serial">, {{ g.serial }}</template></template
    >
    <template #size="{ row: g }"
      ><template v-if="g.widthPx">{{ g.widthPx }}×{{ g.heightPx }}</template
      ><template v-else>–</template></template
    >
    <template #focal="{ row: g }">
      <Num v-if="g.focalMm !== null" :value="g.focalMm" :digits="1" unit="mm" />
      <Num v-else-if="g.focalPx !== null" :value="g.focalPx" :digits="0" unit="px" />
      <template v-else>not said</template>
    </template>
    <template #n="{ row: g }"><Num :value="g.names.length" /></template>
  </FigureTable>
</template>
