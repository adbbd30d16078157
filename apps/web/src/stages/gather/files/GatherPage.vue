<script setup lang="ts">
import { computed, ref, watchEffect } from 'vue';
import { factsOf, isOf, type DatasetDto } from '@longheron/contract/api';
import { KINDS, kindName } from '@longheron/contract/kinds';
import { formatGps } from '@longheron/core/time';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import MapView from '../../../map/MapView.vue';
import { bytesText } from '../../../ui/format';
import DiscardButton from '../../../ui/DiscardButton.vue';
import FigureText from '../../../ui/FigureText.vue';
import DatasetCard from '../../../ui/DatasetCard.vue';
import StageLayout from '../../StageLayout.vue';
import TrailList from '../../../ui/TrailList.vue';
import { useMapData } from '../../mapData';
import AddMark from './AddMark.vue';
import ColumnMapping from './ColumnMapping.vue';
import PointTextColumns from './PointTextColumns.vue';
import FileIntake from './FileIntake.vue';
import MarksTable from './MarksTable.vue';
import FromLibrary from './FromLibrary.vue';
import KnownPoint from './KnownPoint.vue';
import MountingForm from './MountingForm.vue';
import SessionSheet from './SessionSheet.vue';
import { useChosen } from '../../address';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';

const store = useProject();
const view = useView();
const { path, marks } = useMapData();
const files = computed(() =>
  store.datasets.filter((d) => (d.stage === 'gather' || d.kind === 'marks') && d.kind !== 'reference'),
);
const { chosen, choose } = useChosen(
  () => files.value,
  () => files.value[0],
);
const facts = computed(() => factsOf(chosen.value));
const object = computed(() => {
  const content = chosen.value?.revision.content;
  return content && 'object' in content ? (content.object ?? '') : '';
});
const asTable = computed(() => {
  const d = chosen.value;
  return d && (isOf(d, 'table') || isOf(d, 'marks')) && d.revision.content.table ? d : undefined;
});
const asGeoid = computed(() => (chosen.value && isOf(chosen.value, 'geoid') ? chosen.value : undefined));
const asPointText = computed(() => {
  const d = chosen.value;
  return d && isOf(d, 'point-cloud') && d.revision.content.pointText ? d : undefined;
});
const adding = ref(false);
const typing = ref(false);
const library = ref(false);
/** Kinds that somebody went out to record. */
const RECORDED = ['gnss-observations', 'inertial', 'laser-returns'];
watchEffect(() => (view.active = chosen.value?.id ?? null));
const figureOf = (d: DatasetDto) => {
  if (d.kind === 'table' && d.revision.content.table)
    return `${d.revision.content.table.count} rows, ${bytesText(d.revision.content.bytes)}`;
  const f = factsOf(d);
  return f ? `${f.count} ${KINDS[d.kind].counts}, ${bytesText(f.bytes)}` : '';
};
const display = computed(() => store.project?.reference?.time ?? 'gps');
const notices = computed(() => store.notices.filter((n) => n.datasetId === chosen.value?.id));
const extents = computed(() =>
  files.value.flatMap((d) => {
    const f = factsOf(d);
    return f?.kind === 'point-cloud' && f.extent
      ? [
          {
            name: d.name,
            extent: [f.extent.min[0], f.extent.min[1], f.extent.max[0], f.extent.max[1]] as [
              number,
              number,
              number,
              number,
            ],
          },
        ]
      : [];
  }),
);
</script>

<template>
  <StageLayout holdings-title="Imported files">
    <template #holdings>
      <div class="two">
        <el-button type="primary" @click="adding = true">Import files</el-button
        ><el-button @click="typing = true">Type in a mark</el-button
        ><el-button title="Take a mounting from the library of vehicles" @click="library = true"
          >Vehicles of the library</el-button
        >
      </div>
      <DatasetCard
        v-for="d in files"
        :key="d.id"
        :dataset="d"
        :selected="d.id === chosen?.id"
        :figure="figureOf(d)"
        @choose="choose(d)"
      />
      <p v-if="files.length === 0 && store.running.length === 0" class="soft">
        Nothing yet. Import trajectory, laser returns, mounting and marks; each is recognised by its content.
      </p>
      <p v-else-if="files.length === 0" class="soft">Work is in progress; files appear here as they are imported.</p>
    </template>
    <MapView :path="path" :marks="marks" :extents="extents" />
    <template #sheet>
      <template v-if="chosen && facts">
        <h2 class="wrap">{{ chosen.name }}</h2>
        <p class="soft">
          {{ kindName(chosen.kind) }}, {{ chosen.stage === 'gather' ? 'recognised by content' : 'made in Position' }}
        </p>
        <FactList>
          <Fact v-if="facts.startGps !== null" label="From"
            ><span class="mono">{{ formatGps(facts.startGps, display) }}</span></Fact
          >
          <Fact v-if="facts.endGps !== null" label="To"
            ><span class="mono">{{ formatGps(facts.endGps, display) }}</span></Fact
          >
          <Fact v-if="facts.rateHz" label="Rate"
            ><span class="mono">{{ facts.rateHz }} /s</span></Fact
          >
          <Fact v-if="facts.startGps !== null" label="Gaps"
            ><span class="mono">{{ facts.gaps.length }}</span></Fact
          >
          <Fact v-for="[k, v] in facts.details" :key="k" :label="k"
            ><span class="mono"><FigureText :text="v" /></span
          ></Fact>
          <Fact v-if="facts.extent" label="Frame"
            ><span class="mono">{{ facts.extent.crs ?? 'undefined' }}</span></Fact
          >
          <Fact label="Size"
            ><span class="mono">{{ bytesText(facts.bytes) }}</span></Fact
          >
          <Fact label="SHA-256"
            ><span class="mono" :title="object">{{ object.slice(0, 16) }}…</span></Fact
          >
        </FactList>
        <div v-for="n in notices" :key="n.id" class="finding">
          <span
            class="state"
            :class="
              n.state === 'accepted' ? 'ok' : n.severity === 'error' ? 'bad' : n.severity === 'warning' ? 'warn' : ''
            "
            >{{
              n.state === 'accepted'
                ? 'accepted'
                : { error: 'blocks', warning: 'degrades', info: 'harmless' }[n.severity]
            }}</span
          >
          {{ n.text }} <span class="soft">{{ n.remedy }}</span>
        </div>
        <el-button
          v-if="notices.some((n) => n.state === 'open' && n.severity !== 'info')"
          @click="view.drawer = 'notices'"
          >Answer notices</el-button
        >
        <SessionSheet v-if="RECORDED.includes(chosen.kind)" :dataset="chosen" />
        <ColumnMapping v-if="asTable" :dataset="asTable" />
        <PointTextColumns v-if="asPointText" :dataset="asPointText" />
        <MarksTable v-if="chosen.kind === 'marks'" :dataset="chosen" />
        <KnownPoint v-if="asGeoid" :dataset="asGeoid" />
        <MountingForm v-if="chosen.kind === 'mounting'" :dataset="chosen" />
        <TrailList :dataset="chosen" />
        <p>
          <a
            :href="`/api/projects/${store.project!.id}/datasets/${chosen.id}/export/${chosen.stage === 'gather' ? 'object' : 'marks'}`"
            >{{ chosen.stage === 'gather' ? 'Download the imported file' : 'Download as CSV' }}</a
          >
        </p>
        <DiscardButton
          :dataset="chosen"
          :label="chosen.stage === 'gather' ? 'Take this out of the project' : `Discard ${chosen.name}`"
        />
      </template>
      <p v-else class="soft">Choose a file to see its facts.</p>
    </template>
  </StageLayout>
  <FileIntake v-model="adding" />
  <AddMark v-model="typing" />
  <FromLibrary v-model="library" />
</template>

<style scoped>
.wrap {
  overflow-wrap: anywhere;
}
.finding {
  font-size: 12px;
  margin: 8px 0;
  border-left: 2px solid var(--line);
  padding-left: 8px;
}
.two {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-bottom: 8px;
}
.two .el-button {
  flex: 1;
  margin: 0;
  padding: 5px 8px;
}
</style>
