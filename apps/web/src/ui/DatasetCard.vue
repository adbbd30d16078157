<script setup lang="ts">
import { computed } from 'vue';
import { cardOf, type DatasetDto } from '@longheron/contract/api';
import { useProject } from '../stores/project';
import FigureText from './FigureText.vue';
import { kindName } from '@longheron/contract/kinds';
import { useUnits } from './units';

const props = defineProps<{ dataset: DatasetDto; selected?: boolean; figure?: string }>();
defineEmits<{ choose: [] }>();
const store = useProject();
const { small } = useUnits();
/** One line of figures: of its kind, unless the stage says more. */
const line = computed(() => props.figure ?? cardOf(props.dataset, small.value));
const worst = computed(() => {
  const own = store.openNotices.filter((n) => n.datasetId === props.dataset.id);
  return own.some((n) => n.severity === 'error') ? 'error' : own.length ? 'warning' : '';
});
</script>

<template>
  <button class="card" :class="{ selected }" :aria-pressed="selected" @click="$emit('choose')">
    <span class="kind"
      >{{ kindName(dataset.kind)
      }}<template v-if="dataset.revisions > 1"> · revision {{ dataset.revision.number }}</template></span
    >
    <span class="name" :title="dataset.name">{{ dataset.name }}</span>
    <span v-if="line" class="mono figure"><FigureText :text="line" /></span>
    <span v-if="dataset.outOfDate" class="state warn" :title="dataset.outOfDateBecause ?? ''">out of date</span>
    <span v-else-if="worst === 'error'" class="state bad">blocking notice</span>
    <span v-else-if="worst" class="state warn">needs attention</span>
  </button>
</template>

<style scoped>
.card {
  display: grid;
  gap: 1px;
  width: 100%;
  text-align: left;
  background: var(--paper);
  border: 1px solid var(--line);
  border-left: 3px solid var(--line);
  border-radius: 4px;
  padding: 6px 8px;
  margin-bottom: 6px;
  cursor: pointer;
  color: inherit;
}
.card:hover {
  border-color: var(--reed);
}
.card.selected {
  border-color: var(--reed);
  background: var(--reed-soft);
}
.kind {
  font-size: 12px;
  color: var(--ink-soft);
}
.name {
  font-weight: 600;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.figure {
  font-size: 12px;
  color: var(--ink-soft);
}
</style>
