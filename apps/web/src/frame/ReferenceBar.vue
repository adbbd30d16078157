<script setup lang="ts">
import { computed } from 'vue';
import { planNameOf } from '@longheron/contract/api';
import { METRES_PER, UNIT_NAME, UNIT_SYMBOL } from '@longheron/core/frames';
import { useProject } from '../stores/project';
import { useView } from '../stores/view';
import Num from '../ui/Num.vue';
import PlainButton from '../ui/PlainButton.vue';

const store = useProject();
const view = useView();
const r = computed(() => store.project?.reference ?? null);
const factor = computed(() => (r.value ? 1 / METRES_PER[r.value.unit] : 1));
/** What heights count from: short, since it stands on every screen. */
const heights = computed(() => {
  const line = r.value!;
  if (line.depths) return `depths below ${line.verticalName}, shown as heights, positive up`;
  const good = line.surfaceSdM ? ` ± ${Number((1000 * line.surfaceSdM).toPrecision(3))} mm` : '';
  if (line.fileHeights === 'used') return `H ${line.verticalName}${good}`;
  if (line.geoid) return `H ${line.verticalName.replace(/^height above the geoid /, 'above ')}${good}`;
  return `H ${line.vertical ? line.verticalName.replace(' height', '') : 'ellipsoidal'}`;
});
const TIMES = { gps: 'GPS time', utc: 'UTC', local: 'local time' };
</script>

<template>
  <div class="line">
    <PlainButton class="items" title="Change the reference line" @click="view.drawer = 'reference'">
      <template v-if="r">
        <span>{{ planNameOf(r) }}</span>
        <span :title="r.statement">{{ heights }}<template v-if="r.vertical === 5773"> ± 5 mm</template></span>
        <span :title="UNIT_NAME[r.unit]">{{ r.unit === 'usSurveyFoot' ? 'US survey foot' : r.unit }}</span>
        <span>{{ TIMES[r.time] }}</span>
        <span>{{ r.epoch ? `epoch ${r.epoch}` : 'epoch undefined' }}</span>
      </template>
      <span v-else-if="store.project" class="undefined"
        >Coordinate system undefined: set it, or let the first files propose one</span
      >
    </PlainButton>
    <span v-if="view.cursor && r" class="cursor">
      <Num :value="view.cursor[0] * factor" :digits="2" :unit="`${UNIT_SYMBOL[r.unit]} E`" />
      <Num :value="view.cursor[1] * factor" :digits="2" :unit="`${UNIT_SYMBOL[r.unit]} N`" />
    </span>
  </div>
</template>

<style scoped>
.line {
  display: flex;
  justify-content: space-between;
  align-items: center;
  padding: 0 12px;
  background: var(--mist);
  border-bottom: 1px solid var(--line);
  font-size: 12px;
}
.items {
  display: flex;
  gap: 0;
  white-space: nowrap;
  overflow: hidden;
}
.items span + span {
  border-left: 1px solid var(--line);
  margin-left: 10px;
  padding-left: 10px;
}
.items:hover {
  color: var(--reed);
}
.undefined {
  color: var(--bill-text);
  font-weight: 600;
}
.cursor {
  display: flex;
  gap: 16px;
}
</style>
