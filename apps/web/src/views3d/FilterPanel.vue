<script setup lang="ts">
import { computed } from 'vue';
import { ECHO_KINDS, type EchoKind } from '@longheron/core/cloud';
import { type CloudIndex, type DatasetOf } from '@longheron/contract/api';
import { OPEN_M, useCloudLook, type PointFilterSettings } from '../stores/cloudLook';
import { useStrips } from '../stores/strips';
import ToolButton from '../ui/ToolButton.vue';

/** Which points are shown by their attributes; what is not shown cannot be selected either. */
const props = defineProps<{ dataset: DatasetOf<'point-cloud'>; index: CloudIndex | undefined }>();
const emit = defineEmits<{ close: [] }>();
const look = useCloudLook();
const f = computed(() => look.filter);
const set = (part: PointFilterSettings) => {
  const all = { ...look.filter, ...part };
  look.filter = Object.fromEntries(Object.entries(all).filter(([, v]) => v !== undefined));
};
const echoes = computed(() => f.value.echoes ?? ECHO_KINDS);
function toggleEcho(e: EchoKind): void {
  const now = echoes.value.includes(e) ? echoes.value.filter((x) => x !== e) : [...echoes.value, e];
  set({ echoes: now.length === ECHO_KINDS.length ? undefined : now });
}
const stripsOf = useStrips(() => props.dataset);
const strips = computed(() => [0, ...stripsOf()]);
const stripsOn = computed(() => f.value.strips ?? strips.value);
function toggleStrip(s: number): void {
  const now = stripsOn.value.includes(s)
    ? stripsOn.value.filter((x) => x !== s)
    : [...stripsOn.value, s].sort((a, b) => a - b);
  set({ strips: now.length === strips.value.length ? undefined : now });
}
/** The whole reach of intensities. */
const reach = computed<[number, number]>(() => {
  const [least, , , most] = props.index?.ranges.intensity ?? [0, 0, 65535, 65535];
  return [least, most];
});
const intensity = computed(() => f.value.intensity ?? reach.value);
function setIntensity(which: 0 | 1, text: string): void {
  const v = Number(text);
  if (text === '' || !Number.isFinite(v)) return set({ intensity: undefined });
  const next: [number, number] = which ? [intensity.value[0], v] : [v, intensity.value[1]];
  set({ intensity: next[0] <= next[1] ? next : [v, v] });
}
/** Limits of height, or of height above ground; an empty field leaves its side open. */
function setRange(key: 'heightM' | 'aboveM', which: 0 | 1, text: string): void {
  const now = f.value[key] ?? [-OPEN_M, OPEN_M];
  const v = Number(text);
  const open = text === '' || !Number.isFinite(v);
  const next: [number, number] = [...now];
  next[which] = open ? (which ? OPEN_M : -OPEN_M) : v;
  if (next[0] > next[1]) next[which ? 0 : 1] = next[which];
  set({ [key]: next[0] <= -OPEN_M && next[1] >= OPEN_M ? undefined : next });
}
const shownLimit = (key: 'heightM' | 'aboveM', which: 0 | 1) => {
  const v = f.value[key]?.[which];
  return v === undefined || Math.abs(v) >= OPEN_M ? '' : v;
};
const RANGES = [
  ['heightM', 'Height, m', 'height, m'],
  ['aboveM', 'Above ground, m', 'above ground, m'],
] as const;
function setSd(text: string): void {
  const v = Number(text) / 100;
  set({ sdMostM: text !== '' && v > 0 ? v : undefined });
}
const any = computed(() => Object.keys(f.value).length > 0);
</script>

<template>
  <section class="panel" aria-label="Which points are shown">
    <header>
      <strong>Points shown</strong>
      <ToolButton icon="close" label="Close" hint="the filter stays" @click="emit('close')" />
    </header>
    <div class="line kinds">
      <span>Echo</span>
      <label v-for="e in ECHO_KINDS" :key="e"
        ><input type="checkbox" :checked="echoes.includes(e)" @change="toggleEcho(e)" />{{ e }}</label
      >
    </div>
    <div v-if="strips.length > 1" class="line kinds">
      <span>Strip</span>
      <label v-for="s in strips" :key="s"
        ><input type="checkbox" :checked="stripsOn.includes(s)" @change="toggleStrip(s)" />{{ s || 'none' }}</label
      >
    </div>
    <div class="line">
      <span>Intensity</span>
      <input
        v-for="which in [0, 1] as const"
        :key="which"
        type="number"
        :aria-label="which ? 'Highest intensity' : 'Lowest intensity'"
        :value="intensity[which]"
        @change="setIntensity(which, ($event.target as HTMLInputElement).value)"
      />
    </div>
    <div v-for="[key, label, name] in RANGES" :key="key" class="line">
      <span>{{ label }}</span>
      <input
        v-for="which in [0, 1] as const"
        :key="which"
        type="number"
        step="0.5"
        :placeholder="which ? 'to' : 'from'"
        :aria-label="`${which ? 'Highest' : 'Lowest'} ${name}`"
        :value="shownLimit(key, which)"
        @change="setRange(key, which, ($event.target as HTMLInputElement).value)"
      />
    </div>
    <div class="line">
      <span>SD of height to, cm</span>
      <input
        type="number"
        min="0"
        step="0.5"
        placeholder="any"
        aria-label="Largest SD of height, cm"
        :value="f.sdMostM === undefined ? '' : Number((100 * f.sdMostM).toFixed(2))"
        @change="setSd(($event.target as HTMLInputElement).value)"
      />
    </div>
    <p class="soft">With "Clip to box" these heights are top and bottom of the box.</p>
    <ToolButton class="all" label="Show all" :disabled="!any" @click="look.filter = {}" />
  </section>
</template>

<style scoped>
.panel {
  width: 318px;
  max-height: 100%;
  overflow: auto;
  background: #16262df2;
  color: #e6eef0;
  border: 1px solid #3a5058;
  border-radius: 4px;
  padding: 6px 8px;
  font-size: 12px;
}
header {
  display: flex;
  justify-content: space-between;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 3px 8px;
  align-items: center;
  margin: 4px 0;
}
.kinds > span {
  flex-basis: 44px !important;
}
.line > span {
  flex: 0 0 122px;
  color: #a9bcc2;
}
label {
  display: inline-flex;
  align-items: center;
  gap: 3px;
}
input[type='number'] {
  width: 68px;
  background: #0c1a20;
  color: inherit;
  border: 1px solid #3a5058;
  border-radius: 4px;
  font: inherit;
  height: 22px;
  padding: 0 4px;
}
.soft {
  color: #a9bcc2;
  font-size: 12px;
  margin: 4px 0;
}
.all {
  border-color: #3a5058;
}
</style>
