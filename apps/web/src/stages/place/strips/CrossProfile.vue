<script setup lang="ts">
import { computed, watch } from 'vue';
import Num from '../../../ui/Num.vue';
import StepRow from '../../../ui/StepRow.vue';
import TwoSides from '../../../ui/TwoSides.vue';
import { useUnits } from '../../../ui/units';
import { type Profile, type ProfileFile } from '@longheron/contract/kinds/adjustment';
import { headsOf } from './between';

/** Two strips in a narrow slice across an overlap, in two colours; one steps from overlap to overlap, worst first. */
const props = defineProps<{ file: ProfileFile; stage: 'before' | 'after' }>();
const at = defineModel<number>({ required: true });
const { small } = useUnits();
const current = computed<Profile | undefined>(() => props.file.profiles[at.value]);
watch(
  () => props.file,
  (f) => (at.value = Math.min(at.value, Math.max(0, f.profiles.length - 1))),
);
const several = computed(() => headsOf(props.file.pieces).length > 1);
const nameOf = (piece: number) => {
  const p = props.file.pieces[piece];
  return p ? `strip ${p.strip}${several.value ? `, ${p.head}` : ''}` : '';
};
const middleOf = (v: number[], share: number) => {
  const sorted = v.filter((_, i) => i % 2).sort((a, b) => a - b);
  return sorted[Math.floor(share * (sorted.length - 1))] ?? 0;
};
/** Heights shown: most of both, before and after alike, so that nothing jumps when one looks from one to the other. */
const range = computed(() => {
  const p = current.value;
  if (!p) return { low: 0, high: 1, half: 1 };
  const all = [...p.before.first, ...p.before.second, ...p.after.first, ...p.after.second];
  const [low, high] = [middleOf(all, 0.02), middleOf(all, 0.98)];
  const margin = Math.max(0.05, 0.15 * (high - low));
  const half = Math.max(...p.before.first.filter((_, i) => i % 2 === 0).map(Math.abs), 1);
  return { low: low - margin, high: high + margin, half };
});
</script>

<template>
  <StepRow v-model="at" :count="file.profiles.length" label="Cross-profile" before="Overlap before" next="Next overlap">
    <template v-if="current" #head>
      <span><i class="dot first" />{{ nameOf(current.first) }}</span>
      <span><i class="dot second" />{{ nameOf(current.second) }}</span>
      <span class="soft">
        RMS here <Num :value="small.of(current.beforeRmsM)" :digits="small.digits + 1" /> before,
        <Num :value="small.of(current.afterRmsM)" :digits="small.digits + 1" :unit="small.symbol" /> after
      </span>
    </template>
    <TwoSides
      v-if="current"
      :first="current[stage].first"
      :second="current[stage].second"
      :low-m="range.low"
      :high-m="range.high"
      :half-m="range.half"
      :axis="`across strip ${file.pieces[current.first].strip}`"
      label="Heights of both strips"
    />
  </StepRow>
</template>
