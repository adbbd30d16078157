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
  position: absolute;
  left: 8px;
  bottom: 8px;
  background: #ffffffee;
  border: 1px solid var(--line);
  border-radius: 4px;
  padding: 4px 8px;
  font-size: 11px;
}
p {
  display: grid;
  grid-template-columns: 12px minmax(0, 1fr) auto;
  gap: 6px;
  align-items: center;
  margin: 1px 0;
}
i {
  width: 10px;
  height: 10px;
}
</style>
