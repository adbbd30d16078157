<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { type MeasuredDto } from '@longheron/contract/api';
import { useProject } from '../stores/project';
import { useUnits } from '../ui/units';
import { MEASURE_NAMES, type useMeasuring } from './measuring';
import RadioRow from '../ui/RadioRow.vue';
import ToolButton from '../ui/ToolButton.vue';
import FigureTable from '../ui/FigureTable.vue';

/** Over a cloud: what is measured, how precisely, and what was kept of it. */
const props = defineProps<{ measuring: ReturnType<typeof useMeasuring> }>();
const emit = defineEmits<{ close: [] }>();
const store = useProject();
const { length } = useUnits();
const m = props.measuring;
const name = ref('');
watch(m.freeName, (n) => (name.value = n), { immediate: true });
const f = computed(() => length.value.factor);
const u = computed(() => length.value.symbol);

/** Values of what was measured as text with units: [what, value, 1 SD]. */
function rowsOf({ kind, values: v, stated }: Omit<MeasuredDto, 'name'>): Array<[string, string, string]> {
  const num = (key: string) => (typeof v[key] === 'number' ? v[key] : Number.NaN);
  const metres = (key: string, digits = 3) => `${(num(key) * f.value).toFixed(digits)} ${u.value}`;
  const square = (key: string, digits = 2) => `${(num(key) * f.value ** 2).toFixed(digits)} ${u.value}²`;
  const degrees = (key: string) => (Number.isFinite(num(key)) ? `${num(key).toFixed(3)}°` : 'none');
  const sd = (key: string, text: (key: string, digits?: number) => string, digits = 3) =>
    stated ? `± ${text(key, digits)}` : 'not stated';
  if (kind === 'distance')
    return [
      ['slope', metres('slopeM'), sd('sdSlopeM', metres, 4)],
      ['plan', metres('planM'), sd('sdPlanM', metres, 4)],
      ['height', metres('heightM'), sd('sdHeightM', metres, 4)],
      ['bearing', degrees('bearingDeg'), ''],
      ['grade', Number.isFinite(num('gradePercent')) ? `${num('gradePercent').toFixed(2)} %` : 'none', ''],
    ];
  if (kind === 'angle')
    return [
      ['in space', degrees('spaceDeg'), stated ? `± ${degrees('sdSpaceDeg')}` : 'not stated'],
      ['in plan', degrees('planDeg'), stated ? `± ${degrees('sdPlanDeg')}` : 'not stated'],
    ];
  if (kind === 'area')
    return [
      ['in plan', v.crosses ? 'the outline crosses itself' : square('planM2'), sd('sdPlanM2', square, 3)],
      ['in its plane', v.crosses ? 'none' : square('surfaceM2'), ''],
      ['perimeter', metres('perimeterM'), ''],
    ];
  if (kind === 'above')
    return [
      ['above ground', metres('aboveM'), sd('sdM', metres, 4)],
      ['ground', metres('groundM'), `${v.method === 'plane' ? `plane of ${v.groundPoints} points` : 'triangle'}`],
    ];
  return [
    ['from the plane', metres('distanceM'), sd('sdM', metres, 4)],
    ['its scatter', metres('rmsM', 4), `${v.used} of ${v.points} points`],
    ['its tilt', degrees('tiltDeg'), Number.isFinite(num('dipDeg')) ? `falls to ${num('dipDeg').toFixed(1)}°` : ''],
  ];
}
const rows = computed(() => (m.result.value ? rowsOf(m.result.value) : []));
</script>

<template>
  <section class="panel" aria-label="Measure">
    <header>
      <RadioRow
        class="kinds"
        label="What is measured"
        :choices="Object.entries(MEASURE_NAMES).map(([key, label]) => ({ key, label }))"
        :model-value="m.kind.value ?? ''"
        @update:model-value="m.begin($event as keyof typeof MEASURE_NAMES)"
      />
      <ToolButton icon="close" label="Stop measuring" hint="Esc" @click="emit('close')" />
    </header>
    <label v-if="m.kind.value === 'plane'" class="line"
      >Plane of the points within
      <input v-model.number.lazy="m.radiusM.value" type="number" min="0.05" max="20" step="0.1" /> m of the first</label
    >
    <FigureTable
      v-if="rows.length"
      :columns="[
        { key: 'what', label: '' },
        { key: 'value', label: '', mono: true },
        { key: 'sd', label: '', mono: true },
      ]"
      :rows="rows"
      :row-key="([what]) => what"
    >
      <template #what="{ row }">{{ row[0] }}</template>
      <template #value="{ row }">{{ row[1] }}</template>
      <template #sd="{ row }"
        ><span class="soft">{{ row[2] }}</span></template
      >
    </FigureTable>
    <p v-if="m.failure.value" class="bad">{{ m.failure.value }}</p>
    <p v-else-if="!rows.length || m.kind.value === 'area'" class="soft">
      {{ m.busy.value ? 'measuring …' : m.hint.value }}
    </p>
    <form v-if="rows.length" class="line" @submit.prevent="m.keep(name)">
      <input v-model.trim="name" maxlength="60" aria-label="Name to keep it under" />
      <el-button native-type="submit" :disabled="!name">Keep</el-button>
    </form>
    <ul v-if="m.kept.value.length">
      <li v-for="k in m.kept.value" :key="k.name">
        <span>{{ k.name }}</span><span class="mono">{{ rowsOf(k)[0][1] }}</span>
        <ToolButton icon="close" :label="`Delete ${k.name}`" @click="m.remove(k.name)" />
      </li>
    </ul>
    <a v-if="m.kept.value.length" :href="`/api/projects/${store.project!.id}/measured.csv`">Kept ones, CSV</a>
  </section>
</template>

<style scoped>
.panel {
  width: 350px;
  max-height: 100%;
  overflow: auto;
  background: #16262df2;
  color: #e6eef0;
  border: 1px solid #ffd27d;
  --paper: #16262d;
  --line: #3a5058;
  --line-soft: #2a3d45;
  --el-fill-color-blank: #16262d;
  --el-button-bg-color: #16262d;
  --el-text-color-regular: #e6eef0;
  --el-text-color-placeholder: #b4c4c9;
  --el-border-color: #3a5058;
  border-radius: 4px;
  padding: 6px 8px;
  font-size: 12px;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
.line {
  display: flex;
  gap: 6px;
  align-items: center;
  margin: 5px 0;
}
input {
  background: #0c1a20;
  color: inherit;
  border: 1px solid #3a5058;
  border-radius: 4px;
  font: inherit;
  height: 22px;
  padding: 0 5px;
}
input[type='number'] {
  width: 58px;
}
table {
  width: 100%;
  margin-top: 4px;
}
td {
  padding: 1px 4px 1px 0;
  white-space: nowrap;
}
.soft {
  color: #a9bcc2;
}
.bad {
  color: #f0a08f;
}
p {
  margin: 5px 0;
}
ul {
  list-style: none;
  margin: 6px 0;
  padding: 4px 0 0;
  border-top: 1px solid #3a5058;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto 18px;
  gap: 8px;
}
a {
  color: #9fd6da;
}
</style>
