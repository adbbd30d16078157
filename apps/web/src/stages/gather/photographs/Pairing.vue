<script setup lang="ts">
import { type DatasetOf, type PhotographPairsDto } from '@longheron/contract/api';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';
import Num from '../../../ui/Num.vue';
import { useUnits } from '../../../ui/units';

/** How photographs and a list of positions fit, in words and counts. */
defineProps<{ pairs: PhotographPairsDto; list: DatasetOf<'positions'>; photographs: number }>();
const { small } = useUnits();
const BY = { name: 'their names', times: 'their times', order: 'their order alone', none: 'nothing' };
const some = (names: readonly string[]) => names.slice(0, 4).join(', ') + (names.length > 4 ? ' …' : '');
</script>

<template>
  <FactList>
    <Fact label="Paired"><Num :value="pairs.pairs.length" /> of <Num :value="photographs" /></Fact>
    <Fact label="Paired by"
      ><span :class="{ 'state warn': pairs.by === 'order', 'state bad': pairs.by === 'none' }">{{
        BY[pairs.by]
      }}</span></Fact
    >
    <Fact label="Positions are of">{{ pairs.point ?? 'no named point' }}</Fact>
    <Fact
      label="Lever arm"
      hint="A position that is the camera’s own already is never moved again; any other is, once, where it is used"
      >{{ pairs.atCamera ? 'applied already' : 'still to be applied' }}</Fact
    >
    <Fact label="Attitudes">{{ pairs.attitudes ? 'given' : 'none' }}</Fact>
    <Fact label="1 SD" hint="North, east, height: the middle of what the list states">
      <template v-if="pairs.sdM">
        <Num :value="small.of(pairs.sdM[0])" :digits="small.digits" />,
        <Num :value="small.of(pairs.sdM[1])" :digits="small.digits" />,
        <Num :value="small.of(pairs.sdM[2])" :digits="small.digits" :unit="small.symbol" />
      </template>
      <template v-else>not stated</template>
    </Fact>
  </FactList>
  <p v-if="pairs.samePlace" class="state bad">
    All have one and the same position: that of the launch, or of a receiver without a fix.
  </p>
  <p v-else-if="pairs.doubled.length" class="state warn">
    {{ pairs.doubled.length }} positions stand twice: {{ some(pairs.doubled) }}.
  </p>
  <p v-if="pairs.otherDay" class="state bad">
    {{ pairs.otherDay }} photographs were taken on another day than their positions, by the camera’s clock.
  </p>
  <p v-if="pairs.without.length" class="state warn">
    The list names {{ pairs.without.length }} without a position: {{ some(pairs.without) }}.
  </p>
  <p v-if="pairs.photosAlone.length" class="soft">
    Without a position: {{ some(pairs.photosAlone) }} ({{ pairs.photosAlone.length }}).
  </p>
  <p v-if="pairs.positionsAlone.length" class="soft">
    Positions without a photograph: {{ some(pairs.positionsAlone) }} ({{ pairs.positionsAlone.length }}).
  </p>
</template>
