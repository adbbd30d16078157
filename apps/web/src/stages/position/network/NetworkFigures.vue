<script setup lang="ts">
import { computed } from 'vue';
import { useView } from '../../../stores/view';
import Num from '../../../ui/Num.vue';
import { useUnits } from '../../../ui/units';
import { type NetworkContent } from '@longheron/contract/kinds/parts/network';
import { TEST_LIMIT, verdict } from './network';
import FigureTable from '../../../ui/FigureTable.vue';

/** An adjusted network: points, observations with their residuals, loops. */
const props = defineProps<{ network: NetworkContent; scale: number }>();
const view = useView();
const { length } = useUnits();
const said = computed(() => verdict(props.network));
const found = computed(() => props.network.points.filter((p) => !p.held));
const held = computed(() => props.network.points.filter((p) => p.held));
const mm = (m: number) => String(Math.round(1000 * m) || 0);
const lengthText = (m: number) => (m < 2000 ? `${m.toFixed(0)} m` : `${(m / 1000).toFixed(1)} km`);
const KINDS = { vector: '', distance: 'tape', height: 'level' };
/** What a vector was computed from. */
const used = (o: NetworkContent['observations'][number]) =>
  o.kind === 'vector'
    ? `${o.used} of ${o.epochs} epochs over ${((o.spanS ?? 0) / 60).toFixed(0)} min, scatter ${mm(o.scatterM ?? 0)} mm`
    : '';
const sure = (test: number | null) =>
  test === null ? 'nothing checks it' : 'standardised; one in a thousand is above 3.29';
</script>

<template>
  <p>
    <strong>{{ found.map((p) => p.name).join(', ') || 'Nothing' }}</strong> found,
    <span class="state" :class="said.state">{{ said.words }}</span>.
    <template v-if="network.varianceFactor !== null && network.expected"
      >Variance factor {{ network.varianceFactor.toFixed(2) }}, expected {{ network.expected[0].toFixed(2) }} to
      {{ network.expected[1].toFixed(2) }} with {{ network.freedom }} observations to spare<template
        v-if="network.scale > 1"
        >; deviations are multiplied with {{ network.scale.toFixed(2) }}</template
      >.</template
    ><template v-else>No observation to spare: nothing is checked.</template>
  </p>
  <FigureTable
    :columns="[
      { key: 'c0', label: 'Point' },
      { key: 'c1', label: `E, N, H, ${length.symbol}`, right: true },
      { key: 'c2', label: 'SD, mm', hint: '1 SD', right: true, mono: true },
    ]"
    :rows="found"
    :row-key="(p) => p.name"
    :row-class="(p) => ({ chosen: view.hoveredMark === p.name })"
    name="network_points"
    @enter="(p) => (view.hoveredMark = p.name)"
    @leave="() => (view.hoveredMark = null)"
    ><template #c0="{ row: p }">{{ p.name }}<br /><span v-if="!p.checked" class="state warn">unchecked</span></template
    ><template #c1="{ row: p }">
      <Num :value="length.of(p.eastingM)" :digits="4" /><br /><Num
        :value="length.of(p.northingM)"
        :digits="4"
      /><br /><Num :value="length.of(p.heightM)" :digits="4" /> </template
    ><template #c2="{ row: p }"
      >{{ mm(p.sdM[1]) }}<br />{{ mm(p.sdM[0]) }}<br />{{ mm(p.sdM[2]) }}</template
    ></FigureTable
  >
  <p class="soft">
    Ellipses of 1 SD are drawn <Num :value="scale" /> times as large as they are; lines in red are not fixed or fail the
    test.
  </p>
  <FigureTable
    :columns="[
      { key: 'c0', label: 'Observed', value: (o) => `${o.from}–${o.to}` },
      { key: 'c1', label: 'long', right: true, mono: true, value: (o) => lengthText(o.lengthM) },
      { key: 'c2', label: 'kind', value: (o) => KINDS[o.kind] || o.solution },
      {
        key: 'c3',
        label: 'off N E D, mm',
        hint: 'Adjusted less observed: north, east, down',
        right: true,
        mono: true,
        value: (o) => o.residualM.map(mm).join(' '),
      },
      {
        key: 'c4',
        label: 'test',
        hint: 'Standardised residual',
        right: true,
        mono: true,
        value: (o) => o.test,
      },
    ]"
    :rows="network.observations"
    name="network_observations"
    ><template #c0="{ row: o }"
      ><span :title="`A residual shows ${(100 * o.redundancy).toFixed(0)} % of an error of it`">
        {{ o.from }}–{{ o.to }}
      </span></template
    ><template #c2="{ row: o }"
      ><span :class="o.kind === 'vector' && o.solution !== 'fixed' ? 'state warn' : ''" :title="used(o)">
        {{ KINDS[o.kind] || o.solution }}
      </span></template
    ><template #c3="{ row: o }"
      ><span :title="o.sdM ? `1 SD ${o.sdM.map(mm).join(' ')} mm` : undefined">
        {{ o.residualM.map(mm).join(' ') }}
      </span></template
    ><template #c4="{ row: o }"
      ><span :class="(o.test ?? 0) > TEST_LIMIT ? 'state warn' : ''" :title="sure(o.test)">
        {{ o.test === null ? '–' : o.test.toFixed(1) }}
      </span></template
    ></FigureTable
  >
  <template v-if="network.loops.length">
    <FigureTable
      :columns="[
        { key: 'c0', label: 'Loop', value: (l) => l.names.join(' – ') },
        { key: 'c1', label: 'long', right: true, mono: true, value: (l) => lengthText(l.lengthM) },
        {
          key: 'c2',
          label: 'left over, mm',
          hint: 'What the vectors leave over: north, east, down',
          right: true,
          mono: true,
          value: (l) => l.misclosureM.map(mm).join(' '),
        },
      ]"
      :rows="network.loops"
      :row-title="(l) => `${l.kind}; 1 SD ${l.sdM.map(mm).join(' ')} mm`"
      name="network_loops"
    />
  </template>
  <FigureTable
    v-if="held.length"
    :columns="[
      { key: 'c0', label: 'Held', value: (p) => p.name },
      {
        key: 'c1',
        label: 'drawn N E D, mm',
        hint: 'Adjusted less given: north, east, down',
        right: true,
        mono: true,
        value: (p) => (p.movedM ? p.movedM.map(mm).join(' ') : '–'),
      },
    ]"
    :rows="held"
    :row-key="(p) => p.name"
    name="network_held"
  />
</template>

<style scoped>
.figures {
  margin-bottom: 8px;
}
.figures td,
.figures th {
  padding: 2px 3px;
  font-size: 12px;
}
.mono {
  font-family: var(--mono);
}
.figures th {
  position: static;
}
</style>
