<script setup lang="ts">
import { computed } from 'vue';
import { type DatasetOf } from '@longheron/contract/api';
import { pointFormat } from '@longheron/contract/formats';
import { type PointsContent } from '@longheron/contract/kinds/export';
import { useProject } from '../../../stores/project';
import { bytesText } from '../../../ui/format';
import Num from '../../../ui/Num.vue';

/** Points written to a file: how many, and what was left out and why. */
const props = defineProps<{ dataset: DatasetOf<'export'>; content: PointsContent }>();
const store = useProject();
const pieces = computed(() => props.content.pieces ?? []);
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
    <table class="facts">
      <tbody>
        <tr>
          <td>Points in the cloud</td>
          <td><Num :value="f.points_in" /></td>
        </tr>
        <tr>
          <td>Left out: rejected</td>
          <td><Num :value="f.left_out_rejected" /></td>
        </tr>
        <tr>
          <td>Left out: other classes</td>
          <td><Num :value="f.left_out_class" /></td>
        </tr>
        <tr>
          <td>Left out: other strips</td>
          <td><Num :value="f.left_out_strip" /></td>
        </tr>
        <tr>
          <td>Written</td>
          <td><Num :value="f.points_out" /></td>
        </tr>
      </tbody>
    </table>
    <p>
      <a :href="`/api/projects/${store.project!.id}/datasets/${dataset.id}/export/points`"
        >{{ format }}{{ pieces.length ? `, ${pieces.length} files and their index in a ZIP` : '' }}</a
      >
      <span class="soft">, {{ bytesText(bytes) }}, {{ content.crs }}</span>
    </p>
    <p v-if="lost.length" class="soft">Not in this format: {{ lost.join(', ') }}.</p>
    <div v-if="pieces.length" class="pieces">
      <table class="figures">
        <thead>
          <tr>
            <th>{{ content.split === 'tiles' ? 'Tile' : 'Strip' }}</th>
            <th>Points</th>
            <th v-if="content.split === 'tiles'">Of neighbours</th>
            <th>Size</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="p in pieces" :key="p.name" :class="{ over: content.cap && p.own + p.neighbours > content.cap }">
            <td class="mono">{{ p.name.replaceAll('_', ' ') }}</td>
            <td><Num :value="p.own" /></td>
            <td v-if="content.split === 'tiles'"><Num :value="p.neighbours" /></td>
            <td>{{ bytesText(p.bytes) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="content.split === 'tiles'" class="soft">
      A tile is named by its lower left corner and its edge. Most points allowed: <Num :value="content.cap" />.
    </p>
  </section>
</template>

<style scoped>
h3 {
  margin: 16px 0 4px;
}
.pieces {
  max-height: 260px;
  overflow: auto;
  border: 1px solid var(--line);
}
.over td {
  color: var(--clay);
}
</style>
