<script setup lang="ts">
import { computed } from 'vue';
import { type InPhotographsDto } from '@longheron/contract/api';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';
import Num from '../../../ui/Num.vue';
import { useUnits } from '../../../ui/units';

/** Where the rays of a point meet, and how far that is from where it was surveyed. */
const props = defineProps<{
  name: string;
  role: string;
  answer: InPhotographsDto | null;
  given: readonly [number, number, number] | undefined;
  rays: number;
  waiting: boolean;
  local: boolean;
  note?: string;
}>();
const { length, small } = useUnits();
const met = computed(() => props.answer?.met ?? null);
const labels = computed(() => (props.local ? ['x', 'y', 'z'] : ['E', 'N', 'H']));
const d = computed(() => small.value.digits + 1);
/** Found less surveyed. */
const off = computed(() => (met.value && props.given ? met.value.at.map((v, k) => v - props.given![k]) : null));
</script>

<template>
  <h2>{{ name }}</h2>
  <FactList>
    <Fact label="Role">{{ role }}</Fact>
    <Fact v-if="note" label="Note">{{ note }}</Fact>
    <Fact label="Picked in"><Num :value="rays" /> {{ rays === 1 ? 'photograph' : 'photographs' }}</Fact>
    <template v-if="met">
      <Fact v-for="(l, k) in labels" :key="l" :label="l" hint="Where its rays meet, and 1 SD"
        ><Num :value="length.of(met.at[k])" :digits="3" :unit="length.symbol" /> ±
        <Num :value="small.of(met.sd[k])" :digits="d" :unit="small.symbol"
      /></Fact>
      <Fact label="Rays meet at" hint="The largest angle between two rays; a small one leaves depth uncertain"
        ><Num :value="met.angleDeg" :digits="1" unit="°" />
        <span v-if="met.angleDeg < 5" class="state warn">narrow</span></Fact
      >
      <Fact label="Residuals, RMS"><Num :value="met.rmsPx" :digits="2" unit="px" /></Fact>
      <Fact v-if="off" label="Less surveyed" hint="East, north, height: found less surveyed"
        ><Num :value="small.of(off[0])" :digits="d" plus />, <Num :value="small.of(off[1])" :digits="d" plus />,
        <Num :value="small.of(off[2])" :digits="d" plus :unit="small.symbol"
      /></Fact>
    </template>
  </FactList>
  <p v-if="!met && rays === 1 && !waiting" class="soft">
    One more photograph gives it a place. It lies on the line that is drawn in the others.
  </p>
  <p v-else-if="!met && rays > 1 && !waiting" class="state warn">
    Its rays are as good as parallel: pick it from another side.
  </p>
</template>
