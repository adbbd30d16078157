<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { kindName } from '@longheron/contract/kinds';
import { operationOf } from '@longheron/contract/operations';
import { api } from '../../../api/client';
import { useProject } from '../../../stores/project';
import { bytesText } from '../../../ui/format';
import DatasetChoice from '../../../ui/DatasetChoice.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';

const store = useProject();
const report = computed(() => store.latest('report'));
const surface = ref(0);
const check = ref(0);
/** Everything else that has a chapter: other proofs, and what later operations make. */
const offered = computed(() =>
  store.datasets.filter(
    (d) => d.kind !== 'residuals' && d.kind !== 'report' && operationOf(d.revision.madeBy)?.chapter !== undefined,
  ),
);
const parts = ref<number[]>([]);
watch(
  () => store.datasets.length,
  () => {
    const inputs = report.value?.revision.inputs ?? [];
    const of = (role: string) => inputs.find((i) => i.role === role)?.datasetId;
    surface.value = of('surface') ?? store.latest('surface')?.id ?? 0;
    check.value = of('check') ?? store.latest('residuals')?.id ?? 0;
    const given = inputs.filter((i) => i.role !== 'surface' && i.role !== 'check').map((i) => i.datasetId);
    const latest = new Map(offered.value.map((d) => [d.kind, d.id]));
    parts.value = report.value
      ? offered.value.map((d) => d.id).filter((id) => given.includes(id))
      : [...latest.values()];
  },
  { immediate: true },
);
const pages = computed(() => report.value?.revision.content.pages ?? 0);
interface Shot {
  id: number;
  object: string;
  caption: string;
}
const shots = ref<Shot[]>([]);
const loadShots = async () => {
  shots.value = await api.get<Shot[]>(`/projects/${store.project!.id}/report-pictures`).catch(() => []);
};
watch(() => store.project?.id, loadShots, { immediate: true });
defineExpose({ loadShots });
const removeShot = (id: number) =>
  store.attempt(() => api.del(`/projects/${store.project!.id}/report-pictures/${id}`)).then(loadShots);
const make = () =>
  store.run(
    'report',
    { surface: surface.value, check: check.value, ...(parts.value.length ? { parts: parts.value } : {}) },
    {},
    report.value?.id,
  );
</script>

<template>
  <h2>Report</h2>
  <OutOfDate v-if="report" :dataset="report" />
  <p v-if="report">
    <a :href="`/api/projects/${store.project!.id}/datasets/${report.id}/export/pdf`">Report, PDF</a>
    <span class="soft">
      · revision {{ report.revision.number }}, {{ pages }} pages, {{ bytesText(report.revision.content.bytes ?? 0) }},
      sealed by SHA-256 {{ report.revision.contentHash.slice(0, 12) }}…</span
    >
  </p>
  <p v-else class="soft">
    Reference line, inputs with their hashes, settings, figures, pictures, notices and their answers, and the trail, as
    one PDF.
  </p>
  <el-form novalidate label-position="top" @submit.prevent="make">
    <DatasetChoice v-model="surface" label="Terrain model" :datasets="store.ofKind('surface')" placeholder="none yet" />
    <DatasetChoice v-model="check" label="Height check" :datasets="store.ofKind('residuals')" placeholder="none yet" />
    <DatasetChoice
      v-if="offered.length"
      v-model="parts"
      label="With chapters on"
      :datasets="offered"
      :entry="(d) => `${kindName(d.kind)}: ${d.name}`"
      placeholder="nothing else"
      several
    />
    <div v-if="shots.length" class="shots">
      <figure v-for="s in shots" :key="s.id">
        <img :src="`/api/objects/${s.object}?type=image/png`" :alt="s.caption" />
        <figcaption>{{ s.caption }} <el-button link @click="removeShot(s.id)">Leave out</el-button></figcaption>
      </figure>
    </div>
    <p v-else class="soft">Views of the cloud join it with "Put in report" above them.</p>
    <el-button native-type="submit" :disabled="!surface || !check">{{
      report ? 'Write the report again' : 'Write the report'
    }}</el-button>
  </el-form>
</template>

<style scoped>
.shots {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px;
  margin-bottom: 8px;
}
figure {
  margin: 0;
  font-size: 12px;
}
img {
  width: 100%;
  border: 1px solid var(--line);
}
</style>
