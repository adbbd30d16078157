<script setup lang="ts">
import { computed } from 'vue';
import Num from '../../../ui/Num.vue';
import { figuresOf, type Sky } from '../sky';

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
    <table class="figures">
      <thead>
        <tr>
          <th>Name</th>
          <th class="r">up, °</th>
          <th class="r">RMS, mm</th>
          <th class="r">most, mm</th>
          <th class="r">seen</th>
          <th class="r">slips</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="r in rows"
          :key="r.satellite"
          :class="{ chosen: r.satellite === chosen }"
          @click="chosen = chosen === r.satellite ? null : r.satellite"
        >
          <td>{{ r.satellite }}</td>
          <td class="r">{{ r.elevation[0].toFixed(0) }}–{{ r.elevation[1].toFixed(0) }}</td>
          <td class="r"><Num :value="r.rmsMm" :digits="1" /></td>
          <td class="r"><Num :value="r.mostMm" :digits="0" /></td>
          <td class="r">{{ (100 * r.seen).toFixed(0) }} %</td>
          <td class="r" :class="r.slips ? 'state warn' : ''">{{ r.slips }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
h3 {
  margin: 16px 0 4px;
}
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
  font-size: 11.5px;
}
</style>
