<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { type PatchSliceFile } from '@longheron/contract/kinds/patch';
import Num from '../../../ui/Num.vue';
import StepRow from '../../../ui/StepRow.vue';
import TwoSides from '../../../ui/TwoSides.vue';
import { useUnits } from '../../../ui/units';

/** Two lines in a slice through where they differed most, as they were and as they are. */
const props = defineProps<{ file: PatchSliceFile }>();
const at = defineModel<number>({ required: true });
const { small } = useUnits();
const when = ref<'before' | 'after'>('after');
const current = computed(() => props.file.slices[at.value]);
watch(
  () => props.file,
  (f) => (at.value = Math.min(at.value, Math.max(0, f.slices.length - 1))),
  { immediate: true },
);
/** One range for both, without what stands far above. */
const range = computed(() => {
  const s = current.value;
  const heights = s
    ? [s.before, s.after].flatMap((b) => [b.first, b.second].flatMap((v) => v.filter((_, i) => i % 2)))
    : [];
  if (!heights.length) return { low: 0, high: 1 };
  heights.sort((a, b) => a - b);
  const part = (p: number) => heights[Math.min(heights.length - 1, Math.floor(p * heights.length))];
  const [low, high] = [part(0.01), part(0.99)];
  const margin = Math.max(0.1, 0.12 * (high - low));
  return { low: low - margin, high: high + margin };
});
const bearing = computed(() => ((((current.value?.bearing_rad ?? 0) * 180) / Math.PI + 360) % 360).toFixed(0));
</script>

<template>
  <p v-if="!current" class="soft" style="padding: 8px">No two lines have soundings in one slice.</p>
  <StepRow
    v-else
    v-model="at"
    :count="file.slices.length"
    label="Slice through two lines"
    before="Slice before"
    next="Next slice"
  >
    <template #head>
      <span><i class="dot first" />line {{ current.a }}</span>
      <span><i class="dot second" />line {{ current.b }}</span>
      <el-radio-group v-model="when" size="small" aria-label="Mounting">
        <el-radio-button value="before">Before</el-radio-button>
        <el-radio-button value="after">After</el-radio-button>
      </el-radio-group>
      <span class="soft">
        {{ current.way }} line {{ current.a }}; apart by
        <Num
          :value="small.factor * (when === 'before' ? current.off_before_m : current.off_after_m)"
          :digits="small.digits"
          :unit="small.symbol"
        />
      </span>
    </template>
    <TwoSides
      :first="current[when].first"
      :second="current[when].second"
      :low-m="range.low"
      :high-m="range.high"
      :half-m="current.half_m"
      :axis="`along bearing ${bearing}°`"
      label="Soundings of both lines"
    />
  </StepRow>
</template>
