<script setup lang="ts">
import { computed } from 'vue';
import { type DatasetDto } from '@longheron/contract/api';
import { useProject } from '../../stores/project';
import { bytesText } from '../../ui/format';
import Num from '../../ui/Num.vue';

/** Points written to a file: how many, and what was left out and why. */
const props = defineProps<{ dataset: DatasetDto }>();
const store = useProject();
const f = computed(() => props.dataset.revision.content.figures as Record<string, number>);
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
      <a :href="`/api/projects/${store.project!.id}/datasets/${dataset.id}/export/las`">LAS 1.4</a>
      <span class="soft"
        >, {{ bytesText(Number(dataset.revision.content.bytes)) }}, {{ dataset.revision.content.crs }}</span
      >
    </p>
  </section>
</template>

<style scoped>
h3 {
  margin: 16px 0 4px;
}
</style>
