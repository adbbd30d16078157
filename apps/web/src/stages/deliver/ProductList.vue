<script setup lang="ts">
import { computed } from 'vue';
import { type DatasetDto } from '@longheron/contract/api';
import { useProject } from '../../stores/project';
import { bytesText } from '../../ui/format';
import { type SurfaceContent } from './content';

const props = defineProps<{ dataset: DatasetDto; content: SurfaceContent }>();
const store = useProject();
const NAMES: Array<[string, string]> = [
  ['geotiff', 'Terrain grid, GeoTIFF'],
  ['asciiGrid', 'Terrain grid, ASCII grid'],
  ['highestTiff', 'Surface grid (highest point), GeoTIFF'],
  ['aboveTiff', 'Height above ground, GeoTIFF'],
  ['landXml', 'TIN, LandXML 1.2'],
  ['landXmlPoints', 'TIN with source points, LandXML 1.2'],
  ['contoursGeoJson', 'Contours, GeoJSON'],
  ['contoursDxf', 'Contours, DXF'],
];
const rows = computed(() =>
  NAMES.flatMap(([key, name]) => {
    const e = props.content.exports[key];
    return e ? [{ key, name, bytes: e.bytes }] : [];
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
