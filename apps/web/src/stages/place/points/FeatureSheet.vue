<script setup lang="ts">
import { computed } from 'vue';
import { type DatasetOf, type FeatureDto, type RayDto } from '@longheron/contract/api';
import { kindOf } from '@longheron/contract/kinds';
import Num from '../../../ui/Num.vue';
import PlainButton from '../../../ui/PlainButton.vue';
import { useUnits } from '../../../ui/units';

/** What is being drawn in photographs. */
export interface Drawing {
  name: string;
  shape: FeatureDto['shape'];
  code: string;
  note: string;
  corners: Array<{ seen: RayDto[] }>;
}
const drawing = defineModel<Drawing>({ required: true });
const props = defineProps<{
  features: DatasetOf<'features'> | undefined;
  current: number;
  project: number;
  met: boolean;
}>();
const emit = defineEmits<{ next: []; finish: []; again: []; remove: [name: string]; load: [feature: FeatureDto] }>();
const { length } = useUnits();
const FEWEST = { point: 1, line: 2, area: 3 };
const ready = computed(
  () =>
    drawing.value.corners.filter((c) => c.seen.length > 1).length >= FEWEST[drawing.value.shape] &&
    !!drawing.value.name.trim(),
);
const list = computed(() => props.features?.revision.content.features ?? []);
const set = (change: Partial<Drawing>) => (drawing.value = { ...drawing.value, ...change });
const files = Object.entries(kindOf('features').exports);
const sizeOf = (f: FeatureDto) =>
  f.shape === 'area'
    ? `${(f.areaM2 * length.value.factor ** 2).toFixed(2)} ${length.value.symbol}²`
    : `${(f.lengthM * length.value.factor).toFixed(3)} ${length.value.symbol}`;
</script>

<template>
  <h2>Measure</h2>
  <el-form label-position="top" size="small" @submit.prevent>
    <el-form-item label="Shape">
      <el-radio-group :model-value="drawing.shape" @update:model-value="set({ shape: $event as Drawing['shape'] })">
        <el-radio-button value="point">Point</el-radio-button>
        <el-radio-button value="line">Line</el-radio-button>
        <el-radio-button value="area">Area</el-radio-button>
      </el-radio-group>
    </el-form-item>
    <div class="two">
      <el-form-item label="Name"
        ><el-input :model-value="drawing.name" maxlength="80" @update:model-value="set({ name: $event })"
      /></el-form-item>
      <el-form-item label="Code"
        ><el-input :model-value="drawing.code" maxlength="40" @update:model-value="set({ code: $event })"
      /></el-form-item>
    </div>
    <el-form-item label="Note"
      ><el-input :model-value="drawing.note" maxlength="300" @update:model-value="set({ note: $event })"
    /></el-form-item>
  </el-form>
  <p class="soft">
    Corner {{ current + 1 }}<template v-if="drawing.corners.length > 1"> of {{ drawing.corners.length }}</template
    >: {{ met ? 'has a place.' : 'pick it in two photographs at least.' }}
  </p>
  <div class="acts">
    <el-button v-if="drawing.shape !== 'point'" size="small" :disabled="!met" title="Enter" @click="emit('next')"
      >Next corner</el-button
    >
    <el-button size="small" type="primary" :disabled="!ready" title="Shift+Enter" @click="emit('finish')"
      >Keep the {{ drawing.shape }}</el-button
    >
    <el-button size="small" :disabled="!drawing.corners.some((c) => c.seen.length)" @click="emit('again')"
      >Start anew</el-button
    >
  </div>
  <template v-if="list.length">
    <h3>Measured</h3>
    <ul>
      <li v-for="f in list" :key="f.name">
        <PlainButton class="name" :title="`Open ${f.name} to change it`" @click="emit('load', f)">{{
          f.name
        }}</PlainButton>
        <span class="soft">{{ f.shape }}{{ f.code ? `, ${f.code}` : '' }}</span>
        <span v-if="f.shape !== 'point'" class="mono">{{ sizeOf(f) }}</span>
        <template v-else>
          <span class="mono"><Num :value="length.of(f.corners[0].at[2])" :digits="3" :unit="length.symbol" /></span>
        </template>
        <PlainButton class="out" :title="`Take ${f.name} out`" @click="emit('remove', f.name)">Take out</PlainButton>
      </li>
    </ul>
    <p v-if="features" class="files">
      <template v-for="[key, e] in files" :key="key"
        ><a
          v-if="e.object?.(features.revision.content)"
          :href="`/api/projects/${project}/datasets/${features.id}/export/${key}`"
          download
          >{{ e.label.replace('Points, lines, areas, ', '') }}</a
        ></template
      >
    </p>
  </template>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-bottom: 12px;
}
.acts :deep(.el-button + .el-button) {
  margin-left: 0;
}
ul {
  list-style: none;
  margin: 4px 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto auto;
  gap: 8px;
  padding: 2px 0;
  border-bottom: 1px solid var(--line-soft);
}
.name {
  font-weight: 600;
  overflow: hidden;
  text-overflow: ellipsis;
}
.out {
  text-decoration: underline dotted;
}
.files {
  display: flex;
  gap: 12px;
}
</style>
