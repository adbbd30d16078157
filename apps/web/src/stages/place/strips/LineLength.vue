<script setup lang="ts">
import { computed } from 'vue';
import { FLIGHT_STRIPS, STRIP_DEFAULTS } from '@longheron/core/trajectory';
import Num from '../../../ui/Num.vue';
import { type Lines } from './lines';

/** The shortest strip, with what each place of the slider does to the lines. */
const props = defineProps<{ lines: Lines }>();
const model = defineModel<number | null>();
const usual = computed(() => (props.lines.flight ? FLIGHT_STRIPS : STRIP_DEFAULTS).minLengthM);
const shown = computed({ get: () => model.value ?? usual.value, set: (v) => (model.value = v) });
const most = computed(() => {
  const all = [...props.lines.plan.strips, ...props.lines.plan.leftOut].map((s) => s.lengthM);
  return Math.max(500, Math.ceil(Math.max(0, ...all) / 100) * 100);
});
/** Time left out by reason, longest first. */
const leftOut = computed(() => {
  const by = new Map<string, number>();
  for (const s of props.lines.plan.leftOut) {
    const reason = s.leftOut ?? '';
    by.set(reason, (by.get(reason) ?? 0) + s.endSow - s.startSow);
  }
  return [...by].sort((a, b) => b[1] - a[1]);
});
const NAMES: Record<string, string> = {
  standing: 'standing',
  turning: 'turns',
  climbing: 'climb and descent',
  'too short': 'shorter pieces',
  'another height': 'at another height',
  gap: 'gaps',
};
</script>

<template>
  <div class="length">
    <label class="label">Shortest strip, m</label>
    <div class="row">
      <el-slider v-model="shown" :min="0" :max="most" :step="10" aria-label="Shortest strip, m" :show-tooltip="false" />
      <el-input-number v-model="shown" :min="0" :max="100000" :step="10" size="small" aria-label="Shortest strip, m" />
    </div>
    <p class="soft">
      <strong>{{ lines.plan.strips.length }} {{ lines.plan.strips.length === 1 ? 'strip' : 'strips' }}</strong
      ><template v-if="lines.share !== null"
        >, <Num :value="100 * lines.share" :digits="0" unit="%" /> of the recorded time</template
      >.
      <template v-if="leftOut.length"
        >Left out (grey in plan):
        <template v-for="([reason, seconds], i) in leftOut" :key="reason"
          >{{ i ? ', ' : '' }}{{ NAMES[reason] ?? reason }} <Num :value="seconds" unit="s" /></template
        >.</template
      >
      {{ lines.flight ? 'Rules for aircraft.' : 'Rules for vehicles and boats.' }}
      <el-button v-if="model !== null && model !== undefined" link size="small" @click="model = null"
        >Usual length</el-button
      >
    </p>
  </div>
</template>

<style scoped>
.label {
  font-size: 12px;
  color: var(--ink-soft);
}
.row {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 110px;
  gap: 14px;
  align-items: center;
  padding-left: 8px;
}
.row :deep(.el-input-number) {
  width: 110px;
}
</style>
