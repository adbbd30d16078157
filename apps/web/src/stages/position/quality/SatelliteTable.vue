<script setup lang="ts">
import { computed } from 'vue';
import Num from '../../../ui/Num.vue';
import { figuresOf, type Sky } from '../sky';
import FigureTable from '../../../ui/FigureTable.vue';

/** Each satellite in the brushed span: how high, how well it fits, how often it lost count; worst first. */
const chosen = defineModel<string | null>('chosen', { default: null });
const props = defineProps<{ sky: Sky; span: [number, number] }>();
const rows = computed(() => figuresOf(props.sky, props.span).sort((a, b) => (b.rmsMm ?? 0) - (a.rmsMm ?? 0)));
const slips = computed(() => rows.value.reduce((n, r) => n + r.slips, 0));
</script>

<template>
  <h3>Satellites</h3>
  <p class="soft">
    {{ rows.length }} used in the span shown, {{ slips }} {{ slips === 1 ? 'slip' : 'slips' }}. Residuals of phases, the
    worse of both bands; a satellite that stands out can be left out below.
  </p>
  <div class="scroll">
    <FigureTable
      :columns="[
        { key: 'c0', label: 'Name', value: (r) => r.satellite },
        { key: 'c1', label: 'up, °', right: true },
        { key: 'c2', label: 'RMS, mm', right: true, value: (r) => r.rmsMm },
        { key: 'c3', label: 'most, mm', right: true, value: (r) => r.maxMm },
        { key: 'c4', label: 'seen', right: true, value: (r) => 100 * r.seen },
        { key: 'c5', label: 'slips', right: true, value: (r) => r.slips },
      ]"
      :rows="rows"
      :row-key="(r) => r.satellite"
      :row-class="(r) => ({ chosen: r.satellite === chosen })"
      pick
      name="satellites"
      @pick="(r) => (chosen = chosen === r.satellite ? null : r.satellite)"
      ><template #c1="{ row: r }">{{ r.elevation[0].toFixed(0) }}–{{ r.elevation[1].toFixed(0) }}</template
      ><template #c2="{ row: r }"><Num :value="r.rmsMm" :digits="1" /></template
      ><template #c3="{ row: r }"><Num :value="r.maxMm" :digits="0" /></template
      ><template #c4="{ row: r }">{{ (100 * r.seen).toFixed(0) }} %</template
      ><template #c5="{ row: r }"
        ><span :class="r.slips ? 'state warn' : ''">{{ r.slips }}</span></template
      ></FigureTable
    >
  </div>
</template>

<style scoped>
.scroll {
  max-height: 220px;
  overflow: auto;
}
tr {
  cursor: pointer;
}
.figures td,
.figures th {
  padding: 2px 4px;
  font-size: 12px;
}
</style>
