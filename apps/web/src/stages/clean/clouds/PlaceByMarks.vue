<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { type DatasetOf } from '@longheron/contract/api';
import { type Mark } from '@longheron/core/accuracy';
import { placeByPoints, type PlacingScale } from '@longheron/core/frames';
import { api } from '../../../api/client';
import { useCloudLook } from '../../../stores/cloudLook';
import { useProject } from '../../../stores/project';
import Num from '../../../ui/Num.vue';
import ToolButton from '../../../ui/ToolButton.vue';
import FigureTable from '../../../ui/FigureTable.vue';

/** A cloud in a frame of its own is placed by marks whose points are picked in it. */
const props = defineProps<{ dataset?: DatasetOf<'point-cloud'> }>();
const store = useProject();
const look = useCloudLook();
interface Pair {
  mark: string;
  x: number;
  y: number;
  z: number;
}
const pairs = ref<Pair[]>([]);
watch(
  () => props.dataset?.id,
  () => (pairs.value = []),
);
const files = computed(() => store.ofKind('marks'));
const marks = computed(() => {
  const out = new Map<string, Mark & { file: number }>();
  for (const d of files.value)
    for (const m of (d.revision.content.marks as Mark[] | undefined) ?? [])
      if (!out.has(m.name)) out.set(m.name, { ...m, file: d.id });
  return out;
});
const unused = computed(() => [...marks.value.keys()].filter((n) => !pairs.value.some((p) => p.mark === n)));
function take(): void {
  const p = look.picked;
  if (p) pairs.value.push({ mark: '', x: p.eastingM, y: p.northingM, z: p.heightM });
}
const scale = ref<'plan' | 'one' | 'free'>('plan');
const level = ref(false);
const whole = computed(() => pairs.value.filter((p) => marks.value.has(p.mark)));
const given = computed(() =>
  whole.value.map(({ mark }): [number, number, number] => {
    const m = marks.value.get(mark)!;
    return [m.eastingM, m.northingM, m.heightM];
  }),
);

// the scale of the plan belongs to the place, as the marks say it
const factor = ref<number | null>(null);
watch(
  () =>
    given.value.length ? [0, 1, 2].map((k) => given.value.reduce((s, g) => s + g[k] / given.value.length, 0)) : [],
  async (at) => {
    if (!at.length) return;
    const got = await api
      .get<{ factor: number | null }>(`/projects/${store.project!.id}/plan-factor?at=${at.join(',')}`)
      .catch(() => null);
    factor.value = got?.factor ?? null;
  },
);
const placing = computed(() => {
  const how: PlacingScale =
    scale.value === 'plan' ? { kind: 'plan', factor: factor.value ?? 1 } : { kind: scale.value };
  try {
    const from = whole.value.map(({ x, y, z }) => [x, y, z] as const);
    return { fit: placeByPoints(from, given.value, { scale: how, level: level.value }), why: '' };
  } catch (e) {
    return { fit: null, why: (e as Error).message };
  }
});
const rowOf = (p: Pair) => {
  const i = whole.value.indexOf(p);
  const fit = placing.value.fit;
  return i < 0 || !fit ? null : { ...fit.residuals[i], missM: fit.missesM[i] };
};
const start = () =>
  store.run(
    'align',
    { cloud: props.dataset!.id, marks: [...new Set(whole.value.map((p) => marks.value.get(p.mark)!.file))] },
    { pairs: whole.value, scale: scale.value, level: level.value },
  );
</script>

<template>
  <p class="soft">
    A cloud in a frame of its own, such as that of a handheld scanner. Pick a mark in the cloud view, take it, and say
    which it is. The file taken in stays as it is.
  </p>
  <p v-if="!dataset" class="soft">Choose a cloud on the left.</p>
  <p v-else-if="marks.size === 0" class="soft">Import a file of marks, or add them in Gather.</p>
  <el-form v-else novalidate label-position="top" @submit.prevent="start">
    <p>
      Points of <strong>{{ dataset.name }}</strong>
    </p>
    <FigureTable
      v-if="pairs.length"
      :columns="[
        { key: 'c0', label: 'Mark' },
        { key: 'c1', label: 'x, y, z, m', hint: 'Place in the cloud, metres', right: true },
        {
          key: 'c2',
          label: 'off, cm',
          hint: 'Placed less given: east, north, up',
          right: true,
        },
        {
          key: 'c3',
          label: 'missed, cm',
          hint: 'By how much it would be missed were it not used',
          right: true,
          value: (p) => (rowOf(p)?.missM == null ? null : 100 * rowOf(p)!.missM!),
        },
        { key: 'c4', label: '' },
      ]"
      :rows="pairs"
      ><template #c0="{ row: p, index: i }">
        <el-select v-model="p.mark" placeholder="which?" :aria-label="`Mark of point ${i + 1}`">
          <el-option v-for="n in p.mark ? [p.mark, ...unused] : unused" :key="n" :value="n" :label="n" />
        </el-select> </template
      ><template #c1="{ row: p }">
        <div v-for="k in ['x', 'y', 'z'] as const" :key="k"><Num :value="p[k]" :digits="3" /></div> </template
      ><template #c2="{ row: p }">
        <template v-if="rowOf(p)">
          <div v-for="k in ['eM', 'nM', 'hM'] as const" :key="k">
            <Num :value="100 * rowOf(p)![k]" :digits="1" />
          </div>
        </template> </template
      ><template #c3="{ row: p }">
        <Num :value="rowOf(p)?.missM == null ? null : 100 * rowOf(p)!.missM!" :digits="1" /> </template
      ><template #c4="{ index: i }">
        <ToolButton icon="close" :label="`Leave point ${i + 1} out`" @click="pairs.splice(i, 1)" /> </template
    ></FigureTable>
    <el-button :disabled="!look.picked" @click="take">Take the picked point</el-button>
    <span v-if="!look.picked" class="soft"> Click a point in the cloud view.</span>
    <el-form-item label="Lengths"
      ><el-select v-model="scale" aria-label="Lengths"
        ><el-option value="plan" label="are true: carried into the plan" /><el-option
          value="one"
          label="stay as they are" /><el-option value="free" label="follow the points" /></el-select
    ></el-form-item>
    <p v-if="scale === 'plan' && factor" class="soft">
      The plan of the project shortens them here: 100 m are {{ (100 * factor).toFixed(3) }} m.
    </p>
    <el-checkbox v-model="level" label="Its heights are plumb: turn it in plan alone" />
    <p v-if="placing.fit">
      1 SD of a coordinate
      <strong v-if="placing.fit.sdM !== null"><Num :value="100 * placing.fit.sdM" :digits="1" /> cm</strong
      ><template v-else>is not known: nothing is left over</template>; turned by
      <Num :value="placing.fit.headingDeg" :digits="3" />°<template v-if="!level"
        >, leant by <Num :value="placing.fit.tiltDeg" :digits="3" />°</template
      ><template v-if="scale === 'free'">, scale <Num :value="placing.fit.stretch[0]" :digits="6" /></template>.
    </p>
    <p v-else-if="pairs.length" class="soft">{{ placing.why }}</p>
    <el-button type="primary" native-type="submit" :disabled="!placing.fit">Place the cloud</el-button>
  </el-form>
</template>

<style scoped>
td {
  vertical-align: top;
}
.figures th,
.figures td {
  padding: 3px 4px;
}
select {
  font: inherit;
  max-width: 62px;
}
.plain {
  border: 0;
  background: none;
  cursor: pointer;
}
</style>
