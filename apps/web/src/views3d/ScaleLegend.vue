<script setup lang="ts">
import { computed, ref } from 'vue';
import ToolButton from '../ui/ToolButton.vue';
import { gradient } from '../ui/colour';
import { type Scale } from './colouring';

const props = defineProps<{ title: string; scale: Scale; colours: string[]; factor: number; unit: string }>();
/** Limits in the unit of the column. */
const limits = defineModel<[number, number]>({ required: true });
const bar = ref<HTMLElement | null>(null);
const span = computed(() => Math.max(1e-9, props.scale.most - props.scale.least));
const place = (v: number) => Math.min(100, Math.max(0, (100 * (v - props.scale.least)) / span.value));
const text = (v: number) => (v * props.factor).toFixed(props.scale.digits);

function drag(event: PointerEvent, which: 0 | 1): void {
  const handle = event.currentTarget as HTMLElement;
  handle.setPointerCapture(event.pointerId);
  const move = (e: PointerEvent) => {
    const r = bar.value!.getBoundingClientRect();
    set(which, props.scale.least + ((e.clientX - r.left) / r.width) * span.value);
  };
  const up = () => {
    handle.removeEventListener('pointermove', move);
    handle.removeEventListener('pointerup', up);
  };
  handle.addEventListener('pointermove', move);
  handle.addEventListener('pointerup', up);
}
function set(which: 0 | 1, value: number): void {
  const gap = span.value / 200;
  const [low, high] = limits.value;
  const v = Math.min(props.scale.most, Math.max(props.scale.least, value));
  limits.value = which === 0 ? [Math.min(v, high - gap), high] : [low, Math.max(v, low + gap)];
}
const nudge = (event: KeyboardEvent, which: 0 | 1) => {
  const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
  if (!by) return;
  event.preventDefault();
  set(which, limits.value[which] + (by * span.value) / 100);
};
const reset = () => (limits.value = [props.scale.low, props.scale.high]);
</script>

<template>
  <div class="legend" role="group" :aria-label="`Colours of ${title}`">
    <span class="title"
      >{{ title }}<template v-if="unit">, {{ unit }}</template></span
    >
    <span class="end">{{ text(limits[0]) }}</span>
    <div ref="bar" class="bar">
      <div
        class="ramp"
        :style="{ left: `${place(limits[0])}%`, right: `${100 - place(limits[1])}%`, background: gradient(colours) }"
      />
      <div
        v-for="which in [0, 1] as const"
        :key="which"
        class="handle"
        role="slider"
        tabindex="0"
        :aria-label="which ? 'Upper limit' : 'Lower limit'"
        :aria-valuemin="scale.least * factor"
        :aria-valuemax="scale.most * factor"
        :aria-valuenow="limits[which] * factor"
        :aria-valuetext="`${text(limits[which])} ${unit}`"
        :style="{ left: `${place(limits[which])}%` }"
        @pointerdown="drag($event, which)"
        @keydown="nudge($event, which)"
      />
    </div>
    <span class="end">{{ text(limits[1]) }}</span>
    <ToolButton label="2–98 %" hint="limits at the 2nd and 98th percentile" @click="reset" />
  </div>
</template>

<style scoped>
.legend {
  display: flex;
  align-items: center;
  gap: 6px;
  font-size: 12px;
  white-space: nowrap;
}
.bar {
  position: relative;
  width: 110px;
  height: 12px;
  background: #ffffff22;
}
.ramp {
  position: absolute;
  top: 0;
  bottom: 0;
}
.handle {
  position: absolute;
  top: -3px;
  width: 8px;
  height: 18px;
  margin-left: -4px;
  border: 1px solid #0c1a20;
  border-radius: 2px;
  background: #fff;
  cursor: ew-resize;
  touch-action: none;
}
.end {
  font-family: var(--mono);
}
</style>
