<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { useCloudLook } from '../stores/cloudLook';
import { useView } from '../stores/view';
import { useUnits } from '../ui/units';
import { lengthOf } from './cut';
import { type useRail } from './useRail';
import ToolButton from '../ui/ToolButton.vue';

/** What a section is and where: its line, its width, what leads it, its scale of heights. */
const props = defineProps<{ rail: ReturnType<typeof useRail>; heights: number | null }>();
const emit = defineEmits<{ step: [sign: 1 | -1] }>();
const view = useView();
const look = useCloudLook();
const { length } = useUnits();
const line = computed(() => view.section);
const led = computed(() => (props.rail.rail.value ? view.rail : null));
const text = (m: number) => (m * length.value.factor).toFixed(2);
/** What is being typed; a redraw must not take it away. */
const widthText = ref('');
const stationText = ref('');
const halfText = ref('');
const shown = (m: number | undefined) => (m === undefined ? '' : String(Number((m * length.value.factor).toFixed(2))));
watch(
  () => [line.value?.widthM, led.value?.stationM, led.value?.halfM, length.value.factor] as const,
  ([width, station, half]) => {
    widthText.value = shown(width);
    stationText.value = shown(station);
    halfText.value = shown(half);
  },
  { immediate: true },
);
const metres = (t: string) => Number(t) / length.value.factor;
function setWidth(): void {
  const value = metres(widthText.value);
  if (view.section && value > 0) view.section = { ...view.section, widthM: Math.min(100, value) };
}
</script>

<template>
  <header>
    <strong>Section</strong>
    <el-select
      v-if="rail.offered.value.length"
      aria-label="What the section is led by"
      title="Drawn freely, or led across a line"
      placeholder="drawn freely"
      :model-value="led?.key ?? ''"
      @change="rail.choose($event)"
    >
      <el-option value="" label="drawn freely" />
      <el-option v-for="o in rail.offered.value" :key="o.key" :value="o.key" :label="`across ${o.label}`" />
    </el-select>
    <template v-if="led">
      <label
        >at
        <input
          v-model="stationText"
          type="number"
          step="1"
          aria-label="Station"
          @change="rail.go(metres(stationText))"
        />
        of {{ text(rail.rail.value!.lengthM) }} {{ length.symbol }}</label
      >
      <label
        >half length
        <input v-model="halfText" type="number" step="1" min="1" @change="rail.setHalf(metres(halfText))" />
        {{ length.symbol }}</label
      >
    </template>
    <span v-else-if="line" class="mono">{{ text(lengthOf(line)) }} {{ length.symbol }} long</span>
    <label v-if="line"
      >width
      <input v-model="widthText" type="number" min="0.1" max="100" step="0.5" @change="setWidth" />
      {{ length.symbol }}</label
    >
    <span class="group">
      <ToolButton :disabled="!line" icon="left" label="Step back" hint="by one width ([)" @click="emit('step', -1)" />
      <ToolButton :disabled="!line" icon="right" label="Step on" hint="by one width (])" @click="emit('step', 1)" />
      <ToolButton :disabled="!line" icon="undo" label="Turn left" hint="by 5° (Shift+[)" @click="rail.turn(-5)" />
      <ToolButton :disabled="!line" icon="redo" label="Turn right" hint="by 5° (Shift+])" @click="rail.turn(5)" />
    </span>
    <label
      >heights
      <el-select v-model="look.exaggeration" class="short" aria-label="Scale of heights">
        <el-option :value="0" label="fill" />
        <el-option v-for="n in [1, 2, 5, 10, 20]" :key="n" :value="n" :label="`× ${n}`" /> </el-select
    ></label>
    <span v-if="heights" class="soft">× {{ heights.toFixed(1) }}</span>
    <span class="end mono"><slot /></span>
    <ToolButton class="close" icon="close" label="Close the section" @click="view.section = null" />
  </header>
</template>

<style scoped>
header {
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 3px 8px;
  padding: 3px 34px 3px 10px;
  font-size: 12px;
  white-space: nowrap;
  position: relative;
  --line: #3a5058;
}
input {
  background: #16262d;
  color: inherit;
  border: 1px solid #3a5058;
  border-radius: 4px;
  height: 22px;
  font: inherit;
}
input {
  width: 58px;
  font-family: var(--mono);
}
header .el-select {
  width: 170px;
  --el-fill-color-blank: #16262d;
  --el-text-color-regular: #e6eef0;
  --el-text-color-placeholder: #b4c4c9;
  --el-border-color: #3a5058;
}
header .el-select.short {
  width: 72px;
}
.group {
  display: inline-flex;
  gap: 3px;
}
.close {
  position: absolute;
  right: 8px;
  top: 4px;
}
.soft {
  color: #a9bcc2;
}
.end {
  margin-left: auto;
  font-size: 12px;
}
</style>
