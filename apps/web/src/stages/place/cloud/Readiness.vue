<script setup lang="ts">
import { computed } from 'vue';
import { calibrationFindings, parseMounting } from '@longheron/core/frames';
import { unixFromGps } from '@longheron/core/time';
import { factsOf, type DatasetDto, type DatasetOf } from '@longheron/contract/api';

/** Whether each recording can be placed: ready, to be looked at, or missing something. */
const props = defineProps<{ returns: DatasetDto[]; trajectory?: DatasetDto; mounting?: DatasetOf<'mounting'> }>();
const mounted = computed(() => {
  const m = props.mounting?.revision.content.mounting;
  return m ? parseMounting(m).sensors : {};
});
const rows = computed(() =>
  props.returns.map((d) => {
    const f = factsOf(d);
    const t = factsOf(props.trajectory);
    const sensor = f?.details.find(([k]) => k === 'Sensor')?.[1] ?? '';
    const serial = f?.details.find(([k]) => k === 'Serial')?.[1] ?? '';
    const sensors = mounted.value;
    if (!t) return { id: d.id, name: d.name, state: 'missing', why: 'no trajectory chosen' };
    if (!sensors[sensor])
      return { id: d.id, name: d.name, state: 'missing', why: `the mounting knows no ${sensor || 'such sensor'}` };
    const [a, b] = [f?.startGps ?? 0, f?.endGps ?? 0];
    const covered = Math.max(0, Math.min(b, t.endGps ?? 0) - Math.max(a, t.startGps ?? 0)) / Math.max(1e-3, b - a);
    if (covered <= 0) return { id: d.id, name: d.name, state: 'missing', why: 'the trajectory is of another time' };
    if (covered < 0.9999)
      return { id: d.id, name: d.name, state: 'look', why: `${(100 * covered).toFixed(1)} % of its time covered` };
    const [against] = calibrationFindings(
      sensor,
      sensors[sensor],
      serial === 'not said' ? '' : serial,
      unixFromGps(a),
    ).filter((n) => n.severity !== 'info');
    if (against)
      return { id: d.id, name: d.name, state: against.severity === 'error' ? 'wrong' : 'look', why: against.text };
    return { id: d.id, name: d.name, state: 'ready', why: `${sensor}, whole time covered` };
  }),
);
const CLASS: Record<string, string> = { ready: 'ok', look: 'warn', missing: 'bad', wrong: 'bad' };
</script>

<template>
  <ul v-if="rows.length" class="ready">
    <li v-for="r in rows" :key="r.id">
      <span class="state" :class="CLASS[r.state]">{{ r.state }}</span> {{ r.name
      }}<span class="soft">: {{ r.why }}</span>
    </li>
  </ul>
</template>

<style scoped>
.ready {
  list-style: none;
  padding: 0;
  margin: 0 0 8px;
  font-size: 12px;
  overflow-wrap: anywhere;
}
</style>
