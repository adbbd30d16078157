<script setup lang="ts">
import { computed } from 'vue';
import { type DatasetDto } from '@longheron/contract/api';
import { useProject } from '../../../stores/project';
import { bytesText } from '../../../ui/format';
import surface, { SURFACE_FILES, type Content as SurfaceContent } from '@longheron/contract/kinds/surface';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';

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
  <FactList>
    <Fact v-for="r in rows" :key="r.key"
      ><template #label
        ><a :href="`/api/projects/${store.project!.id}/datasets/${dataset.id}/export/${r.key}`">{{
          r.name
        }}</a></template
      ><span class="mono">{{ bytesText(r.bytes) }}</span></Fact
    >
  </FactList>
</template>

<style scoped>
h3 {
  margin: 12px 0 2px;
}
td.mono {
  white-space: nowrap;
}
</style>
