<script setup lang="ts">
import { computed } from 'vue';
import { type Looked } from '@longheron/core/cloud';
import { useUnits } from '../ui/units';
import { LOOKED_COLOURS } from './lookedMap';

/** Key of the looked-at map, with the areas. */
const props = defineProps<{ looked: Looked | null; failure: string }>();
const { length } = useUnits();
const rows = computed(() => {
  const l = props.looked;
  if (!l) return [];
  const area = (m2: number) =>
    `${(m2 * length.value.factor ** 2).toFixed(0)} ${length.value.symbol}², ${((100 * m2) / Math.max(1, l.coveredM2)).toFixed(0)} %`;
  return [
    ['close, 5 cm a pixel or finer', LOOKED_COLOURS.close, area(l.closeM2)],
    ['in a section', LOOKED_COLOURS.section, area(l.sectionM2)],
    ['never', LOOKED_COLOURS.never, area(l.neverM2)],
    ['changed by hand', LOOKED_COLOURS.changed, `${l.changedPoints} points`],
  ] as const;
});
</script>

<template>
  <div class="key" aria-live="polite">
    <strong>Looked at</strong>
    <p v-if="failure" class="state bad">{{ failure }}</p>
    <p v-for="[what, colour, area] in rows" :key="what">
      <i :style="{ background: colour }" /><span>{{ what }}</span
      ><span class="mono">{{ area }}</span>
    </p>
    <p v-if="!rows.length && !failure" class="soft">reading …</p>
  </div>
</template>

<style scoped>
.key {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
}
p {
  display: inline-flex;
  gap: 5px;
  align-items: center;
  margin: 0;
}
i {
  width: 10px;
  height: 10px;
}
</style>
