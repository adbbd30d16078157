<script setup lang="ts">
import { computed } from 'vue';
import { type Content, type ParameterFigures } from '@longheron/contract/kinds/adjustment';
import FigureTable from '../../../ui/FigureTable.vue';
import Num from '../../../ui/Num.vue';

/** What was found of the mounting, with deviations; what was held, with the reason. */
const props = defineProps<{ content: Content }>();
const ANGLES = ['roll', 'pitch', 'heading'];
const isAngle = (p: ParameterFigures) => ANGLES.includes(p.name);
const rows = computed(() => props.content.figures.parameters.filter((p) => p.held !== 'not asked'));
const several = computed(() => new Set(rows.value.map((p) => p.head)).size > 1);
const solved = computed(() => props.content.figures.parameters.filter((p) => p.solved));
const title = (p: ParameterFigures) => (several.value ? `${p.name}, ${p.head}` : p.name);
/** With which other parameter each is tied most. */
function tied(p: ParameterFigures): { value: number; to: string } | null {
  const i = solved.value.indexOf(p);
  if (i < 0) return null;
  let best = { value: 0, to: '' };
  props.content.figures.correlation[i].forEach((value, j) => {
    if (j !== i && Math.abs(value) > Math.abs(best.value)) best = { value, to: title(solved.value[j]) };
  });
  return best.to ? best : null;
}
</script>

<template>
  <FigureTable
    name="parameters"
    :columns="[
      { key: 'name', label: 'Parameter', value: (p) => `${title(p)}, ${isAngle(p) ? '°' : 'm'}` },
      { key: 'was', label: 'Before', right: true, value: (p) => p.before },
      { key: 'now', label: 'After', right: true, value: (p) => p.after },
      { key: 'sd', label: '1 SD', right: true, value: (p) => p.sd },
    ]"
    :rows="rows"
    :row-key="(p) => `${p.head} ${p.name}`"
    :row-class="(p) => ({ held: !p.solved })"
    :row-title="(p) => (p.solved ? 'With its largest correlation' : 'Held: these lines do not determine it')"
  >
    <template #name="{ row: p }"
      >{{ title(p) }}, {{ isAngle(p) ? '°' : 'm'
      }}<small v-if="tied(p)" class="soft tied"
        ><Num :value="tied(p)!.value" :digits="2" plus /> with {{ tied(p)!.to }}</small
      ></template
    >
    <template #was="{ row: p }"><Num :value="p.before" :digits="isAngle(p) ? 4 : 3" /></template>
    <template #now="{ row: p }"
      ><template v-if="p.solved"><Num :value="p.after" :digits="isAngle(p) ? 4 : 3" /></template
      ><template v-else>held</template></template
    >
    <template #sd="{ row: p }"><Num :value="p.sd" :digits="4" /></template>
  </FigureTable>
  <ul class="held">
    <li v-for="h in content.figures.held" :key="h.what" class="soft">
      <strong>Held: {{ h.what }}</strong> – {{ h.reason
      }}<template v-if="h.sd !== null"
        >; lines alone would tell it to <Num :value="h.sd" :digits="h.unit === '°' ? 3 : 3" :unit="h.unit" /></template
      >.
    </li>
  </ul>
</template>

<style scoped>
.tied {
  display: block;
  max-width: 92px;
  white-space: normal;
  font-size: 12px;
}
.held {
  list-style: none;
  padding: 0;
  margin: 6px 0;
  font-size: 12px;
}
.held li {
  margin-bottom: 3px;
}
:deep(.held td) {
  color: var(--ink-soft);
}
</style>
