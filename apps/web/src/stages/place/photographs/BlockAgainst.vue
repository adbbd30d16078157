<script setup lang="ts">
import { computed, ref } from 'vue';
import { type BlocksComparedDto } from '@longheron/contract/api';
import { api } from '../../../api/client';
import { useProject } from '../../../stores/project';
import FigureTable from '../../../ui/FigureTable.vue';
import { useLoaded } from '../../../ui/loaded';
import NotLoaded from '../../../ui/NotLoaded.vue';
import Num from '../../../ui/Num.vue';
import { useUnits } from '../../../ui/units';

/** A block against another of the project: photographs and points that both have. */
const props = defineProps<{ block: number }>();
const store = useProject();
const { small } = useUnits();
const digits = computed(() => small.value.digits + 1);
const others = computed(() =>
  store.ofKind('block').filter((d) => d.id !== props.block && d.revision.content.figures.frame === 'earth'),
);
const wanted = ref<number>();
const other = computed(() => others.value.find((d) => d.id === wanted.value) ?? others.value.at(-1));
const own = computed(() => store.ofKind('block').find((d) => d.id === props.block));
const compared = useLoaded<string, BlocksComparedDto | null>(
  () => (own.value && other.value ? `${own.value.revision.id} ${other.value.revision.id}` : undefined),
  () =>
    api.post<BlocksComparedDto>(`/projects/${store.project!.id}/datasets/${props.block}/against/${other.value!.id}`),
  null,
);
type Three = readonly [number, number, number];
const rms = (list: ReadonlyArray<{ d: Three }>, k: number) =>
  list.length ? Math.sqrt(list.reduce((s, x) => s + x.d[k] ** 2, 0) / list.length) : null;
const testOf = (x: { d: Three; sd: Three }) => Math.max(...x.d.map((v, k) => Math.abs(v) / x.sd[k]));
const rows = computed(() => {
  const c = compared.value.value;
  if (!c) return [];
  const of = (what: string, list: BlocksComparedDto['points'] | BlocksComparedDto['images']) =>
    list.map((x) => ({
      name: 'point' in x ? x.point : x.image,
      what: 'point' in x ? x.kind : what,
      d: x.d,
      turn: 'turnDeg' in x ? x.turnDeg : null,
      test: testOf(x),
    }));
  return [...of('', c.points), ...of('photograph', c.images)];
});
</script>

<template>
  <p v-if="!others.length" class="soft">
    There is no other block in the system of the project. Adjust the sessions one by one ("Sessions to take", "beside
    it") to hold them against the common block.
  </p>
  <template v-else>
    <el-select
      :model-value="other?.id"
      size="small"
      class="choice"
      aria-label="Held against"
      @change="(id: number) => (wanted = id)"
    >
      <el-option v-for="d in others" :key="d.id" :value="d.id" :label="d.name" />
    </el-select>
    <NotLoaded what="The other block" :of="compared" />
    <template v-if="compared.value.value">
      <p class="soft">
        This block less the other. {{ compared.value.value.points.length }} points in common: RMS east
        <Num :value="small.of(rms(compared.value.value.points, 0))" :digits="digits" />, north
        <Num :value="small.of(rms(compared.value.value.points, 1))" :digits="digits" />, height
        <Num :value="small.of(rms(compared.value.value.points, 2))" :digits="digits" :unit="small.symbol" />.
        {{ compared.value.value.images.length }} photographs in common<template
          v-if="compared.value.value.images.length"
          >: RMS east <Num :value="small.of(rms(compared.value.value.images, 0))" :digits="digits" />, north
          <Num :value="small.of(rms(compared.value.value.images, 1))" :digits="digits" />, height
          <Num :value="small.of(rms(compared.value.value.images, 2))" :digits="digits" :unit="small.symbol" />; blocks
          that share photographs differ by less than their deviations</template
        >.
      </p>
      <FigureTable
        v-if="rows.length"
        name="block_against"
        :columns="[
          { key: 'name', label: 'Name', value: (r) => r.name },
          { key: 'what', label: 'What', value: (r) => r.what },
          { key: 'e', label: `East, ${small.symbol}`, right: true, value: (r) => small.of(r.d[0]) },
          { key: 'n', label: 'North', right: true, value: (r) => small.of(r.d[1]) },
          { key: 'h', label: 'Height', right: true, value: (r) => small.of(r.d[2]) },
          { key: 'turn', label: 'Turned by, °', right: true, value: (r) => r.turn },
          { key: 'test', label: 'In deviations', right: true, value: (r) => r.test },
        ]"
        :rows="rows"
        :row-key="(r) => `${r.what} ${r.name}`"
      >
        <template #name="{ row: r }">{{ r.name }}</template>
        <template #what="{ row: r }">{{ r.what }}</template>
        <template #e="{ row: r }"><Num :value="small.of(r.d[0])" :digits="digits" plus /></template>
        <template #n="{ row: r }"><Num :value="small.of(r.d[1])" :digits="digits" plus /></template>
        <template #h="{ row: r }"><Num :value="small.of(r.d[2])" :digits="digits" plus /></template>
        <template #turn="{ row: r }"><Num :value="r.turn" :digits="4" /></template>
        <template #test="{ row: r }"><Num :value="r.test" :digits="1" /></template>
      </FigureTable>
      <p v-else class="soft">They have neither a photograph nor a named point in common.</p>
    </template>
  </template>
</template>

<style scoped>
.choice {
  width: 320px;
}
</style>
