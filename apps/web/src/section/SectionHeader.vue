<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { useCloudLook } from '../stores/cloudLook';
import { useView } from '../stores/view';
import Icon from '../ui/Icon.vue';
import { useUnits } from '../ui/units';
import { lengthOf } from './cut';
import { type useRail } from './useRail';

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
    <select
      v-if="rail.offered.value.length"
      aria-label="What the section is led by"
      title="Drawn freely, or led across a line"
      :value="led?.key ?? ''"
      @change="rail.choose(($event.target as HTMLSelectElement).value)"
    >
      <option value="">drawn freely</option>
      <option v-for="o in rail.offered.value" :key="o.key" :value="o.key">across {{ o.label }}</option>
    </select>
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
      <button :disabled="!line" title="Step back by one width ([)" @click="emit('step', -1)">[ back</button>
      <button :disabled="!line" title="Step on by one width (])" @click="emit('step', 1)">on ]</button>
      <button :disabled="!line" title="Turn by 5° to the left (Shift+[)" @click="rail.turn(-5)">turn ↺</button>
      <button :disabled="!line" title="Turn by 5° to the right (Shift+])" @click="rail.turn(5)">↻</button>
    </span>
    <label
      >heights
      <select v-model.number="look.exaggeration" aria-label="Scale of heights">
        <option :value="0">fill</option>
        <option v-for="n in [1, 2, 5, 10, 20]" :key="n" :value="n">× {{ n }}</option>
      </select></label
    >
    <span v-if="heights" class="soft">× {{ heights.toFixed(1) }}</span>
    <span class="end mono"><slot /></span>
    <button class="plain close" title="Close the section" @click="view.section = null"><Icon name="close" /></button>
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
}
header button,
select,
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
select {
  max-width: 170px;
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
.plain {
  border: 0;
  background: none;
}
.soft {
  color: #a9bcc2;
}
.end {
  margin-left: auto;
  font-size: 11px;
}
</style>
