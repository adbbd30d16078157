<script setup lang="ts">
import { computed } from 'vue';
import { useView } from '../../../stores/view';
import Num from '../../../ui/Num.vue';
import { useUnits } from '../../../ui/units';
import { type NetworkContent } from '@longheron/contract/kinds/parts/network';
import { TEST_LIMIT, verdict } from './network';

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
  <table class="figures">
    <thead>
      <tr>
        <th>Point</th>
        <th class="r">E, N, H, {{ length.symbol }}</th>
        <th class="r" title="1 SD">SD, mm</th>
      </tr>
    </thead>
    <tbody>
      <tr
        v-for="p in found"
        :key="p.name"
        :class="{ chosen: view.hoveredMark === p.name }"
        @pointerenter="view.hoveredMark = p.name"
        @pointerleave="view.hoveredMark = null"
      >
        <td>{{ p.name }}<br /><span v-if="!p.checked" class="state warn">unchecked</span></td>
        <td class="r">
          <Num :value="p.eastingM * length.factor" :digits="4" /><br /><Num
            :value="p.northingM * length.factor"
            :digits="4"
          /><br /><Num :value="p.heightM * length.factor" :digits="4" />
        </td>
        <td class="r mono">{{ mm(p.sdM[1]) }}<br />{{ mm(p.sdM[0]) }}<br />{{ mm(p.sdM[2]) }}</td>
      </tr>
    </tbody>
  </table>
  <p class="soft">
    Ellipses of 1 SD are drawn <Num :value="scale" /> times as large as they are; lines in red are not fixed or fail the
    test.
  </p>
  <table class="figures">
    <thead>
      <tr>
        <th>Observed</th>
        <th class="r">long</th>
        <th>kind</th>
        <th class="r" title="Adjusted less observed: north, east, down">off N E D, mm</th>
        <th class="r" title="Standardised residual">test</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(o, i) in network.observations" :key="i">
        <td :title="`A residual shows ${(100 * o.redundancy).toFixed(0)} % of an error of it`">
          {{ o.from }}–{{ o.to }}
        </td>
        <td class="r mono">{{ lengthText(o.lengthM) }}</td>
        <td :class="o.kind === 'vector' && o.solution !== 'fixed' ? 'state warn' : ''" :title="used(o)">
          {{ KINDS[o.kind] || o.solution }}
        </td>
        <td class="r mono" :title="o.sdM ? `1 SD ${o.sdM.map(mm).join(' ')} mm` : undefined">
          {{ o.residualM.map(mm).join(' ') }}
        </td>
        <td class="r mono" :class="(o.test ?? 0) > TEST_LIMIT ? 'state warn' : ''" :title="sure(o.test)">
          {{ o.test === null ? '–' : o.test.toFixed(1) }}
        </td>
      </tr>
    </tbody>
  </table>
  <template v-if="network.loops.length">
    <table class="figures">
      <thead>
        <tr>
          <th>Loop</th>
          <th class="r">long</th>
          <th class="r" title="What the vectors leave over: north, east, down">left over, mm</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(l, i) in network.loops" :key="i" :title="`${l.kind}; 1 SD ${l.sdM.map(mm).join(' ')} mm`">
          <td>{{ l.names.join(' – ') }}</td>
          <td class="r mono">{{ lengthText(l.lengthM) }}</td>
          <td class="r mono">{{ l.misclosureM.map(mm).join(' ') }}</td>
        </tr>
      </tbody>
    </table>
  </template>
  <table v-if="held.length" class="figures">
    <thead>
      <tr>
        <th>Held</th>
        <th class="r" title="Adjusted less given: north, east, down">drawn N E D, mm</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="p in held" :key="p.name">
        <td>{{ p.name }}</td>
        <td class="r mono">{{ p.movedM ? p.movedM.map(mm).join(' ') : '–' }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.figures {
  margin-bottom: 8px;
}
.figures td,
.figures th {
  padding: 2px 3px;
  font-size: 11px;
}
.mono {
  font-family: var(--mono);
}
.figures th {
  position: static;
}
</style>
