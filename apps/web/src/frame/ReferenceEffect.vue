<script setup lang="ts">
import { computed } from 'vue';
import { type ChangedDto } from '@longheron/contract/api';
import FigureTable from '../ui/FigureTable.vue';
import Num from '../ui/Num.vue';

/** What another reference line does: how coordinates of a typical place move, and what becomes of what the project holds. */
const props = defineProps<{ effect: ChangedDto; unitM: number; symbol: string }>();
interface Row {
  name: string;
  now: number;
  then: number;
}
const rows = computed((): Row[] => {
  const m = props.effect.moved;
  if (!m) return [];
  const of = (name: string, [now, then]: [number, number]) => ({
    name,
    now: now / props.unitM,
    then: then / props.unitM,
  });
  return [of('Easting', m.eastingM), of('Northing', m.northingM), of('Height', m.heightM)];
});
const HEADINGS = [
  ['carried', 'Carried along, and can be taken back'],
  ['stays', 'Stay as they are: in that system, or in a local one'],
  ['made anew', 'Out of date, until their operations run again'],
] as const;
const groups = computed(() =>
  HEADINGS.flatMap(([what, heading]) => {
    const names = props.effect.items
      .filter((i) => i.what === what)
      .map((i) => (i.count ? `${i.name} (${i.count})` : i.name));
    return names.length ? [{ heading, names: names.join(', ') }] : [];
  }),
);
const byHand = computed(() => props.effect.items.filter((i) => i.what === 'by hand'));
</script>

<template>
  <section class="effect">
    <template v-if="effect.moved">
      <h3>What it does to coordinates</h3>
      <p class="soft">
        At {{ effect.moved.latDeg.toFixed(4) }}°, {{ effect.moved.lonDeg.toFixed(4) }}° ({{ effect.moved.of }}), in
        {{ symbol }}.
      </p>
      <FigureTable
        label="What it does to coordinates"
        :columns="[
          { key: 'name', label: ' ' },
          { key: 'now', label: 'Now', right: true },
          { key: 'then', label: 'Then', right: true },
          { key: 'by', label: 'Difference', right: true },
        ]"
        :rows="rows"
        :row-key="(r) => r.name"
      >
        <template #name="{ row }">{{ row.name }}</template>
        <template #now="{ row }"><Num :value="row.now" :digits="3" /></template>
        <template #then="{ row }"><Num :value="row.then" :digits="3" /></template>
        <template #by="{ row }"
          ><strong><Num :value="row.then - row.now" :digits="3" plus /></strong
        ></template>
      </FigureTable>
    </template>
    <template v-if="effect.items.length">
      <h3>What becomes of what is here</h3>
      <p v-for="g in groups" :key="g.heading">
        <strong>{{ g.heading }}:</strong> {{ g.names }}.
      </p>
      <p v-for="i in byHand" :key="i.name" class="warn">
        <strong>{{ i.name }}</strong> {{ i.words }}.
      </p>
    </template>
  </section>
</template>

<style scoped>
.effect {
  font-size: 13px;
  margin-bottom: 12px;
}
.effect p {
  margin: 4px 0;
  overflow-wrap: anywhere;
}
.warn {
  color: var(--bill-text);
}
</style>
