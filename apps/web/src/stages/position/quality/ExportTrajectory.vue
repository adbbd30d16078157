<script setup lang="ts">
import { isPoints } from '@longheron/contract/kinds/export';
import { computed, ref, watch } from 'vue';
import { isAboveGeoidIn, systemTextOf, type DatasetDto } from '@longheron/contract/api';
import { useProject } from '../../../stores/project';
import Num from '../../../ui/Num.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import { useUnits } from '../../../ui/units';

/** The trajectory as a file for others: as computed, or in the system, kind of height and rate asked for. */
const { length } = useUnits();
const props = defineProps<{ dataset: DatasetDto }>();
const store = useProject();
const geoids = computed(() => store.ofKind('geoid'));
const reference = computed(() => store.project?.reference);
const form = ref({ plan: 'grid', heights: 'project', geoid: 0, rateHz: 0 });
watch(geoids, (now) => (form.value.geoid ||= now[0]?.id ?? 0), { immediate: true });
watch(
  () => !!reference.value && !isAboveGeoidIn(reference.value),
  (ellipsoidal) => ellipsoidal && (form.value.heights = 'ellipsoidal'),
  { immediate: true },
);
const files = computed(() =>
  store
    .ofKind('export', 'position')
    .filter((d) => d.revision.inputs.some((i) => i.role === 'trajectory' && i.datasetId === props.dataset.id))
    .flatMap((d) => {
      const c = d.revision.content;
      return isPoints(c) ? [] : [{ d, c }];
    }),
);
const crsNow = computed(() => {
  const r = reference.value;
  return r ? systemTextOf(r) : '';
});
const busy = computed(() => store.running.some((r) => r.operation === 'handover'));
function write(): void {
  const { plan, heights, geoid, rateHz } = form.value;
  // one file of each kind: written again it gets a new revision
  const same = files.value.find(({ c }) => {
    const alike = c.plan === plan && c.kindOfHeight === heights && (c.rateHz ?? 0) === rateHz;
    return alike && c.crs === crsNow.value;
  });
  void store.run(
    'handover',
    { trajectory: props.dataset.id, ...(heights === 'geoid' ? { geoid } : {}) },
    { plan, heights, ...(rateHz ? { rateHz } : {}) },
    same?.d.id,
  );
}
</script>

<template>
  <h3>Trajectory as a file</h3>
  <p>
    <a :href="`/api/projects/${store.project!.id}/datasets/${dataset.id}/export/trajectory`"
      >As computed, CSV: geographic, ellipsoidal heights</a
    >
  </p>
  <div class="rows">
    <el-select v-model="form.plan" size="small" aria-label="Plan of the file"
      ><el-option value="grid" :label="reference?.horizontalName ?? 'easting, northing'" /><el-option
        value="geographic"
        label="latitude, longitude" /></el-select
    ><el-select v-model="form.heights" size="small" aria-label="Heights of the file"
      ><el-option
        value="project"
        :label="`heights: ${reference?.verticalName ?? 'of the project'}`"
        :disabled="!!reference && !isAboveGeoidIn(reference)" /><el-option
        value="ellipsoidal"
        label="heights: ellipsoidal" /><el-option
        value="geoid"
        label="heights: by a geoid grid"
        :disabled="geoids.length === 0" /></el-select
    ><el-select v-if="form.heights === 'geoid'" v-model="form.geoid" size="small" aria-label="Geoid grid"
      ><el-option v-for="g in geoids" :key="g.id" :value="g.id" :label="g.name" /></el-select
    ><el-select v-model="form.rateHz" size="small" aria-label="Rows a second"
      ><el-option :value="0" label="every epoch" /><el-option :value="10" label="10 a second" /><el-option
        :value="1"
        label="1 a second" /></el-select
    ><el-button size="small" :loading="busy" @click="write">Write it</el-button>
  </div>
  <p v-if="geoids.length === 0" class="soft">For another geoid take a grid in, GTX or GeoTIFF, in the stage Gather.</p>
  <template v-for="{ d, c } in files" :key="d.id">
    <p class="file">
      <a :href="`/api/projects/${store.project!.id}/datasets/${d.id}/export/trajectory`">{{ d.name }}, CSV</a>
      <Num :value="c.rows" unit="rows" /><br />
      <span class="soft"
        >{{ c.plan === 'grid' ? 'easting, northing' : 'latitude, longitude' }}; heights {{ c.heights
        }}<template v-if="c.undulationM"
          >, N = <Num :value="length.of(c.undulationM)" :digits="3" :unit="length.symbol" /></template
      ></span>
    </p>
    <OutOfDate :dataset="d" />
  </template>
</template>

<style scoped>
.rows {
  display: grid;
  gap: 4px;
}
.file {
  margin: 6px 0;
  font-size: 12px;
}
</style>
