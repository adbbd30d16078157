<script setup lang="ts">
import { computed } from 'vue';
import { type DatasetOf } from '@longheron/contract/api';
import { pointFormat } from '@longheron/contract/formats';
import { type PointsContent } from '@longheron/contract/kinds/export';
import { useProject } from '../../../stores/project';
import { bytesText } from '../../../ui/format';
import Num from '../../../ui/Num.vue';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';
import FigureTable from '../../../ui/FigureTable.vue';

/** Points written to a file: how many, and what was left out and why. */
const props = defineProps<{ dataset: DatasetOf<'export'>; content: PointsContent }>();
const store = useProject();
const pieces = computed(() => props.content.pieces ?? []);
type Piece = (typeof pieces.value)[number];
const bytes = computed(() =>
  pieces.value.length ? pieces.value.reduce((sum, p) => sum + p.bytes, 0) : (props.content.bytes ?? 0),
);
const format = computed(() => pointFormat(props.content.format ?? 'las').label);
const lost = computed(() => props.content.lost ?? []);
const f = computed(() => props.content.figures);
</script>

<template>
  <section>
    <h3>{{ dataset.name }}</h3>
    <FactList>
      <Fact label="Points in the cloud"><Num :value="f.points_in" /></Fact>
      <Fact label="Left out: rejected"><Num :value="f.left_out_rejected" /></Fact>
      <Fact label="Left out: other classes"><Num :value="f.left_out_class" /></Fact>
      <Fact label="Left out: other strips"><Num :value="f.left_out_strip" /></Fact>
      <Fact label="Written"><Num :value="f.points_out" /></Fact>
    </FactList>
    <p>
      <a :href="`/api/projects/${store.project!.id}/datasets/${dataset.id}/export/points`"
        >{{ format }}{{ pieces.length ? `, ${pieces.length} files and their index in a ZIP` : '' }}</a
      >
      <span class="soft">, {{ bytesText(bytes) }}, {{ content.crs }}</span>
    </p>
    <p v-if="lost.length" class="soft">Not in this format: {{ lost.join(', ') }}.</p>
    <div v-if="pieces.length" class="pieces">
      <FigureTable
        name="files"
        :columns="[
          {
            key: 'name',
            label: content.split === 'tiles' ? 'Tile' : 'Strip',
            mono: true,
            value: (p) => p.name.replaceAll('_', ' '),
          },
          { key: 'own', label: 'Points', right: true, value: (p) => p.own },
          ...(content.split === 'tiles'
            ? [{ key: 'neighbours', label: 'Of neighbours', right: true, value: (p: Piece) => p.neighbours }]
            : []),
          { key: 'bytes', label: 'Size', right: true, value: (p) => p.bytes },
        ]"
        :rows="pieces"
        :row-key="(p) => p.name"
        :row-class="(p) => ({ over: content.cap && p.own + p.neighbours > content.cap })"
      >
        <template #own="{ row: p }"><Num :value="p.own" /></template>
        <template #neighbours="{ row: p }"><Num :value="p.neighbours" /></template>
        <template #bytes="{ row: p }">{{ bytesText(p.bytes) }}</template>
      </FigureTable>
    </div>
    <p v-if="content.split === 'tiles'" class="soft">
      A tile is named by its lower left corner and its edge. Most points allowed: <Num :value="content.cap" />.
    </p>
  </section>
</template>

<style scoped>
.pieces {
  max-height: 260px;
  overflow: auto;
  border: 1px solid var(--line);
}
:deep(.over td) {
  color: var(--clay);
}
</style>
