<script setup lang="ts">
import { computed } from 'vue';
import { type DatasetDto } from '@longheron/contract/api';
import { useProject } from '../../../stores/project';
import { bytesText } from '../../../ui/format';
import surface, { SURFACE_FILES, type Content as SurfaceContent } from '@longheron/contract/kinds/surface';

const props = defineProps<{ dataset: DatasetDto; content: SurfaceContent }>();
const store = useProject();
const rows = computed(() =>
  SURFACE_FILES.flatMap((key) => {
    const e = props.content.exports[key];
    return e ? [{ key, name: surface.exports[key].label, bytes: e.bytes }] : [];
  }),
);
</script>

<template>
  <h3>Files</h3>
  <table class="facts">
    <tbody>
      <tr v-for="r in rows" :key="r.key">
        <td>
          <a :href="`/api/projects/${store.project!.id}/datasets/${dataset.id}/export/${r.key}`">{{ r.name }}</a>
        </td>
        <td class="mono">{{ bytesText(r.bytes) }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
h3 {
  margin: 12px 0 2px;
}
td.mono {
  white-space: nowrap;
}
</style>
