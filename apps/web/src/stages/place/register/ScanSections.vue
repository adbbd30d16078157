<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { type SectionFile } from '@longheron/contract/kinds/parts/register';
import Num from '../../../ui/Num.vue';
import StepRow from '../../../ui/StepRow.vue';
import TwoSides from '../../../ui/TwoSides.vue';
import { useUnits } from '../../../ui/units';

/** Two scans in an upright slice through where they differ most, in two colours; worst pair first. */
const props = defineProps<{ file: SectionFile }>();
const at = defineModel<number>({ required: true });
const { length } = useUnits();
const current = computed(() => props.file.sections[at.value]);
watch(
  () => props.file,
  (f) => (at.value = Math.min(at.value, Math.max(0, f.sections.length - 1))),
  { immediate: true },
);
/** Half the lengths that may be shown: all of it, or near where the scans differ. */
const HALVES = [4, 1, 0.25];
const zoom = ref(0);
const half = computed(() => (zoom.value ? HALVES[zoom.value] : (current.value?.half_m ?? 4)));
/** Heights: all of both and some air; near by, those about the middle. */
const range = computed(() => {
  const s = current.value;
  if (!s) return { low: 0, high: 1 };
  if (zoom.value) return { low: s.height_m - 0.4 * half.value, high: s.height_m + 0.4 * half.value };
  let [low, high] = [Infinity, -Infinity];
  for (const side of [s.first, s.second])
    for (let i = 1; i < side.length; i += 2) {
      low = Math.min(low, side[i]);
      high = Math.max(high, side[i]);
    }
  const margin = Math.max(0.1, 0.05 * (high - low));
  return { low: low - margin, high: high + margin };
});
const bearing = computed(() => ((((current.value?.bearing_rad ?? 0) * 180) / Math.PI + 360) % 360).toFixed(0));
</script>

<template>
  <p v-if="!current" class="soft" style="padding: 8px">No two scans show anything in one slice.</p>
  <StepRow
    v-else
    v-model="at"
    :count="file.sections.length"
    label="Section of two scans"
    before="Pair before"
    next="Next pair"
  >
    <template #head>
      <span><i class="dot first" />{{ current.a }}</span>
      <span><i class="dot second" />{{ current.b }}</span>
      <span class="soft">
        <template v-if="current.off_m !== null">
          through where they differ most:
          <Num :value="1000 * current.off_m" :digits="1" unit="mm" />
        </template>
        <template v-else>midway between the scanners</template>
      </span>
      <el-radio-group v-model="zoom" size="small" aria-label="Length shown">
        <el-radio-button v-for="(h, k) in HALVES" :key="h" :value="k">
          {{ length.of(2 * h).toFixed(1) }} {{ length.symbol }}
        </el-radio-button>
      </el-radio-group>
    </template>
    <TwoSides
      :first="current.first"
      :second="current.second"
      :low-m="range.low"
      :high-m="range.high"
      :half-m="half"
      :axis="`along bearing ${bearing}°`"
      label="Points of both scans"
    />
  </StepRow>
</template>
