<script setup lang="ts">
import { computed, ref } from 'vue';
import { dayOfYear, gpsDay, gpsWeek } from '@longheron/core/time';
import { type DatasetOf, type StationDto } from '@longheron/contract/api';
import { api } from '../../../api/client';
import { useProject } from '../../../stores/project';
import Num from '../../../ui/Num.vue';
import { type GnssFacts } from '../receivers';
import FigureTable from '../../../ui/FigureTable.vue';

/** Stations near a session that the reference-station service has, and their observations for its span. */
const props = defineProps<{ session: DatasetOf<'gnss-observations'> | undefined }>();
const store = useProject();
const factsOf = (d: DatasetOf<'gnss-observations'>) => d.revision.content.facts as GnssFacts;
const coverWord = (cover: number) => (cover >= 0.999 ? 'whole' : cover > 0 ? `${Math.floor(100 * cover)} %` : 'none');
/** The session’s day in the forms in which stations file their observations. */
const day = computed(() => {
  if (!props.session) return '';
  const { startGps } = factsOf(props.session);
  const date = gpsDay(startGps);
  const { week, sow } = gpsWeek(startGps);
  return `${date}: day of year ${dayOfYear(new Date(`${date}T00:00:00Z`))}, GPS week ${week}, day ${Math.floor(sow / 86400)}`;
});

const stations = ref<StationDto[] | null>(null);
const asking = ref('');
async function ask(): Promise<void> {
  if (!props.session) return;
  const at = `/projects/${store.project!.id}/datasets/${props.session.id}/stations`;
  await store.attempt(async () => {
    stations.value = await api.get<StationDto[]>(at);
  });
}
async function fetchStation(code: string): Promise<void> {
  asking.value = code;
  const at = `/projects/${store.project!.id}/datasets/${props.session!.id}/stations`;
  await store.attempt(() => api.post(at, { code }), 'Fetched as a job; it joins the list when it is there.');
  asking.value = '';
}
</script>

<template>
  <el-button v-if="!stations" size="small" :disabled="!session" @click="ask">Ask for stations nearby</el-button>
  <template v-else>
    <p class="soft">Simulated reference-station service, {{ day }}</p>
    <FigureTable
      :columns="[
        { key: 'code', label: '' },
        { key: 'far', label: '', right: true },
        { key: 'cover', label: '', right: true },
        { key: 'act', label: '', right: true },
      ]"
      :rows="[...stations, null]"
      :row-key="(s) => s?.code ?? 'VIRTUAL'"
    >
      <template #code="{ row: s }"
        ><span :title="s ? `Antenna ${s.antenna}` : undefined">{{ s?.code ?? 'Virtual station' }}</span></template
      >
      <template #far="{ row: s }"
        ><Num v-if="s" :value="s.distanceM / 1000" :digits="1" unit="km" /><template v-else
          >beside the session</template
        ></template
      >
      <template #cover="{ row: s }"
        ><span v-if="s" :class="s.cover >= 0.999 ? '' : 'state warn'">{{ coverWord(s.cover) }}</span></template
      >
      <template #act="{ row: s }">
        <el-button
          v-if="s"
          size="small"
          :disabled="s.cover === 0"
          :loading="asking === s.code"
          :title="s.cover === 0 ? 'It has no observations for this span' : `Fetch the observations of ${s.code}`"
          @click="fetchStation(s.code)"
          >Fetch</el-button
        >
        <el-button
          v-else
          size="small"
          :loading="asking === 'VIRTUAL'"
          title="Computed for a rounded place nearby, never on a mark"
          @click="fetchStation('VIRTUAL')"
          >Make</el-button
        >
      </template>
    </FigureTable>
  </template>
</template>

<style scoped>
.figures td {
  padding: 2px 3px;
  font-size: 12px;
}
p {
  margin: 2px 0 6px;
}
</style>
