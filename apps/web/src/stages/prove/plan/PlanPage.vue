<script setup lang="ts">
import { computed, ref, watch, watchEffect } from 'vue';
import { useEventListener, useLocalStorage } from '@vueuse/core';
import { type PlanMark } from '@longheron/core/accuracy';
import { api } from '../../../api/client';
import { type MapMark } from '../../../map/marks';
import { type MapShape } from '../../../map/shapes';
import MapView from '../../../map/MapView.vue';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import DatasetChoice from '../../../ui/DatasetChoice.vue';
import DatasetCard from '../../../ui/DatasetCard.vue';
import { isTyping } from '../../../ui/keys';
import Num from '../../../ui/Num.vue';
import Setting from '../../../ui/Setting.vue';
import SplitBench from '../../SplitBench.vue';
import StageLayout from '../../StageLayout.vue';
import TrailList from '../../../ui/TrailList.vue';
import DiscardButton from '../../../ui/DiscardButton.vue';
import { useUnits } from '../../../ui/units';
import { useMapData } from '../../mapData';
import PickPicture from './PickPicture.vue';
import PlanSheet from './PlanSheet.vue';
import { type TargetKind } from '@longheron/contract/kinds/plan-check';
import { useChosen } from '../../address';
import { OPERATIONS } from '@longheron/contract/operations';
import SettingsForm from '../../../ui/SettingsForm.vue';
import FigureTable from '../../../ui/FigureTable.vue';

/** Where marks lie in the cloud against where they were surveyed: targets fitted, or picked in pictures. */
const store = useProject();
const view = useView();
const { small } = useUnits();
const { path } = useMapData();
const checks = computed(() => store.ofKind('plan-check'));
const { chosen, choose } = useChosen(
  () => checks.value,
  () => checks.value.at(-1),
);
const content = computed(() => chosen.value?.revision.content);
const figures = computed(() => content.value?.figures);
watchEffect(() => (view.active = chosen.value?.id ?? null));

const form = ref({
  cloud: 0,
  picture: 0,
  marks: [] as number[],
  measured: [] as number[],
  target: 'two-tone' as TargetKind,
  edgeM: 0.6,
  radiusM: 0.0725,
  searchM: 0.5,
});
const clouds = computed(() => store.ofKind('point-cloud').filter((d) => d.revision.content.las));
const inputsOf = (role: string) =>
  (chosen.value?.revision.inputs ?? []).filter((i) => i.role === role).map((i) => i.datasetId);
watch(
  () => [store.datasets.length, chosen.value?.id],
  () => {
    Object.assign(form.value, content.value?.settings ?? {});
    form.value.picture = inputsOf('picture')[0] ?? 0;
    form.value.cloud = inputsOf('cloud')[0] ?? store.latest('point-cloud', 'clean')?.id ?? clouds.value[0]?.id ?? 0;
    const first = (kind: 'marks' | 'measurements') =>
      store
        .ofKind(kind)
        .slice(0, 1)
        .map((d) => d.id);
    form.value.marks = chosen.value ? inputsOf('marks') : first('marks');
    form.value.measured = chosen.value ? inputsOf('measured') : first('measurements');
  },
  { immediate: true },
);
function start(): void {
  const { cloud, picture, marks, measured, ...settings } = form.value;
  void store.run(
    'plan-check',
    { cloud, marks, ...(picture ? { picture } : {}), ...(measured.length ? { measured } : {}) },
    settings,
    chosen.value?.id,
  );
}

const rows = computed(() => figures.value?.marks ?? []);
const selected = computed(() => rows.value.find((m) => m.name === view.selectedMark) ?? rows.value[0]);
const pickOf = (name: string | undefined) => content.value?.picks.find((p) => p.name === name);
const fit = computed<[number, number] | null>(() => {
  const f = content.value?.sights.find((s) => s.mark.name === selected.value?.name)?.fit;
  return f ? [f.dE, f.dN] : null;
});
const pick = computed<[number, number] | null>(() => {
  const p = pickOf(selected.value?.name);
  const g = selected.value?.given;
  return p && g ? [p.eastingM - g[0], p.northingM - g[1]] : null;
});
const pickSdM = useLocalStorage('longheron.pickSd', 0.01);
const showGiven = useLocalStorage('longheron.pickGiven', true);
const busy = ref(false);
async function setPick(name: string, at?: [number, number]): Promise<void> {
  if (busy.value) return;
  busy.value = true;
  try {
    await store.attempt(
      () =>
        api.patch(`/projects/${store.project!.id}/datasets/${chosen.value!.id}/picks`, {
          name,
          ...(at ? { dE: at[0], dN: at[1], sdM: pickSdM.value } : {}),
        }),
      at ? '' : `The pick of ${name} is taken back.`,
    );
  } finally {
    busy.value = false;
  }
}
const done = computed(() => rows.value.filter((m) => m.how).length);
const body = ref<HTMLElement | null>(null);
function select(m: PlanMark | undefined): void {
  if (!m) return;
  view.selectedMark = m.name;
  requestAnimationFrame(() => body.value?.querySelector('tr.chosen')?.scrollIntoView({ block: 'nearest' }));
}
/** The next mark that can be seen and has no place yet; without one the next that can be seen. */
function next(): void {
  const from = rows.value.findIndex((m) => m.name === selected.value?.name);
  const order = [...rows.value.slice(from + 1), ...rows.value.slice(0, from + 1)].filter((m) => m.picture);
  select(order.find((m) => !m.how) ?? order[0]);
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (isTyping(event.target) || rows.value.length === 0) return;
  const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
  if (by) {
    event.preventDefault();
    const at = rows.value.findIndex((m) => m.name === selected.value?.name);
    select(rows.value[Math.min(rows.value.length - 1, Math.max(0, at + by))]);
  } else if (event.key === 'Enter' && !(event.target as HTMLElement).closest('button, a, .el-select')) next();
  else if (event.key === 'Delete' && pickOf(selected.value?.name)) void setPick(selected.value!.name);
});

/** Residuals are drawn so many times longer than they are: so that the middle one is seen on the whole map. */
const exaggeration = computed(() => {
  const placed = rows.value.filter((m) => m.dE !== null);
  if (placed.length < 2) return 500;
  const span = (k: 0 | 1) => Math.max(...placed.map((m) => m.given[k])) - Math.min(...placed.map((m) => m.given[k]));
  const lengths = placed.map((m) => Math.hypot(m.dE!, m.dN!)).sort((a, b) => a - b);
  const wanted = (0.06 * Math.max(span(0), span(1), 1)) / Math.max(1e-4, lengths[lengths.length >> 1]);
  const power = 10 ** Math.floor(Math.log10(wanted));
  return Math.max(1, [5, 2, 1].map((f) => f * power).find((v) => v <= wanted) ?? power);
});
const mapMarks = computed<MapMark[]>(() =>
  rows.value
    .filter((m) => m.picture)
    .map((m) => ({
      name: m.name,
      role: m.role,
      eastingM: m.given[0],
      northingM: m.given[1],
      residualM: m.dH,
      flagged: m.flagged,
      leftOut: !!m.leftOut,
    })),
);
const arrows = computed<MapShape[]>(() =>
  rows.value
    .filter((m) => m.dE !== null)
    .map((m) => ({
      kind: 'line',
      points: [
        [m.given[0], m.given[1]],
        [m.given[0] + exaggeration.value * m.dE!, m.given[1] + exaggeration.value * m.dN!],
      ],
      colour: m.flagged ? '#b3261e' : m.used ? '#8a5a00' : '#6b7a80',
      widthPx: 2,
    })),
);
const d = computed(() => small.value.digits + 1);
const length = (m: PlanMark) => (m.dE === null ? null : Math.hypot(m.dE, m.dN!));
</script>

<template>
  <StageLayout holdings-title="Checks of plan">
    <template #holdings>
      <DatasetCard v-for="c in checks" :key="c.id" :dataset="c" :selected="c.id === chosen?.id" @choose="choose(c)" />
      <p v-if="checks.length === 0" class="soft">
        Nothing is checked yet. Targets at the marks are looked for in the cloud's brightness; what is not found can be
        picked in pictures.
      </p>
    </template>
    <SplitBench v-if="content && figures && selected" storage-key="plan" :upper-percent="54">
      <template #upper>
        <div class="top">
          <div class="picture">
            <div class="bar">
              <strong>{{ selected.name }}</strong>
              <span class="soft">{{ done }} of all {{ rows.length }} marks have a place</span>
              <el-button size="small" title="Enter" @click="next">Next</el-button>
            </div>
            <PickPicture
              :picture="selected.picture"
              :edge-m="content.patch.edgeM"
              :fit="fit"
              :pick="pick"
              :show-given="showGiven"
              class="view"
              @pick="(e, n) => setPick(selected!.name, [e, n])"
            />
          </div>
          <div class="mapbox">
            <MapView :path="path" :marks="mapMarks" :shapes="arrows">
              <template #key>Residuals in plan, {{ exaggeration }} times their length</template>
            </MapView>
          </div>
        </div>
      </template>
      <div ref="body" class="rows">
        <FigureTable
          :columns="[
            { key: 'c0', label: 'Mark', value: (m) => m.name },
            { key: 'c1', label: 'Role', value: (m) => m.role },
            { key: 'c2', label: 'Place by', value: (m) => m.how ?? '–' },
            { key: 'c3', label: `East, ${small.symbol}`, right: true, value: (m) => small.of(m.dE) },
            { key: 'c4', label: `North, ${small.symbol}`, right: true, value: (m) => small.of(m.dN) },
            { key: 'c5', label: `Length, ${small.symbol}`, right: true, value: (m) => small.of(length(m)) },
            {
              key: 'c6',
              label: `±, ${small.symbol}`,
              hint: '1 SD of the place in the cloud',
              right: true,
              value: (m) => (m.sdE === null ? null : small.of(Math.max(m.sdE, m.sdN!))),
            },
            {
              key: 'c7',
              label: `Up, ${small.symbol}`,
              hint: 'Height there, measured − reference',
              right: true,
              value: (m) => small.of(m.dH),
            },
            {
              key: 'c8',
              label: 't',
              hint: 'Length off the median of the check marks over what is expected',
              right: true,
              value: (m) => m.testT,
            },
            { key: 'c9', label: 'State' },
            { key: 'c10', label: 'How', value: (m) => m.note },
          ]"
          :rows="rows"
          :row-key="(m) => m.name"
          :row-class="(m) => ({ hover: view.hoveredMark === m.name, chosen: selected.name === m.name })"
          pick
          name="plan_residuals"
          @enter="(m) => (view.hoveredMark = m.name)"
          @leave="() => (view.hoveredMark = null)"
          @pick="(m) => select(m)"
          ><template #c2="{ row: m }">{{ m.how ?? '–' }}</template
          ><template #c3="{ row: m }"><Num :value="small.of(m.dE)" :digits="d" plus /></template
          ><template #c4="{ row: m }"><Num :value="small.of(m.dN)" :digits="d" plus /></template
          ><template #c5="{ row: m }"><Num :value="small.of(length(m))" :digits="d" /></template
          ><template #c6="{ row: m }">
            <Num :value="m.sdE === null ? null : small.of(Math.max(m.sdE, m.sdN!))" :digits="d" /> </template
          ><template #c7="{ row: m }"><Num :value="small.of(m.dH)" :digits="d" plus /></template
          ><template #c8="{ row: m }"><Num :value="m.testT" :digits="1" /></template
          ><template #c9="{ row: m }">
            <span v-if="m.apart === 'left out'" class="state">left out</span>
            <span v-else-if="m.flagged" class="state bad">does not agree</span>
            <span v-else-if="m.used" class="state ok">in statistics</span>
            <span v-else-if="m.apart === 'too weak'" class="state warn">too weak</span>
            <span v-else-if="m.apart === 'not independent'" class="state warn">not independent</span>
            <span v-else-if="!m.how" class="state">no place</span>
            <span v-else class="state">apart</span> </template
          ><template #c10="{ row: m }"
            ><span class="how" :title="m.note">{{ m.note }}</span></template
          ></FigureTable
        >
      </div>
    </SplitBench>
    <p v-else class="soft" style="padding: 24px">
      Pictures of the marks and their residuals appear here once plan is checked. Marks must be painted two-tone
      targets, spheres or corners to be found by themselves.
    </p>
    <template #sheet>
      <PlanSheet
        v-if="chosen && figures"
        :dataset="chosen"
        :figures="figures"
        :picked="!!pickOf(selected?.name)"
        :selected="selected"
        @take-back="selected && setPick(selected.name)"
      />
      <h2 v-if="chosen" class="spaced">Settings</h2>
      <el-form novalidate label-position="top" class="spaced" @submit.prevent="start">
        <DatasetChoice v-model="form.cloud" label="Cloud" :datasets="clouds" />
        <DatasetChoice
          v-model="form.picture"
          label="Orthophoto"
          none="brightness of the cloud"
          :datasets="store.ofKind('orthophoto')"
        />
        <DatasetChoice v-model="form.marks" label="Marks" several :datasets="store.ofKind('marks')" />
        <DatasetChoice
          v-if="store.ofKind('measurements').length"
          v-model="form.measured"
          label="Taped and levelled (if any)"
          name="Taped and levelled"
          placeholder="none"
          several
          :datasets="store.ofKind('measurements')"
        />
        <SettingsForm
          v-model="form"
          :schema="OPERATIONS['plan-check'].settings"
          :only="['target', 'edgeM', 'radiusM', 'searchM']"
        />
        <div class="settings">
          <el-checkbox v-model="showGiven" label="Given place in the picture" />
        </div>
        <Setting
          v-model="pickSdM"
          label="Pointing SD"
          unit="m"
          :min="0.001"
          :max="1"
          :step="0.005"
          :digits="3"
          reason="1 SD of the picks made from now on."
        />
        <el-button type="primary" native-type="submit" :disabled="!form.cloud || form.marks.length === 0">{{
          chosen ? 'Check again' : 'Check plan'
        }}</el-button>
        <p v-if="content?.picks.length" class="soft">
          Checking again begins without the {{ content.picks.length }} picks; they stay in the earlier revision.
        </p>
      </el-form>
      <template v-if="chosen">
        <TrailList :dataset="chosen" />
        <DiscardButton :dataset="chosen" label="Discard this check" />
      </template>
    </template>
  </StageLayout>
</template>

<style scoped>
.top {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  border-bottom: 1px solid var(--line);
  min-height: 0;
}
.picture {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  border-right: 1px solid var(--line);
  min-height: 0;
}
.bar {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 2px 8px;
  font-size: 12px;
  border-bottom: 1px solid var(--line);
  white-space: nowrap;
  overflow: hidden;
}
.bar .el-button {
  margin-left: auto;
}
.mapbox {
  position: relative;
}
.rows {
  overflow: auto;
}
.rows :deep(td),
.rows :deep(th) {
  padding-left: 5px;
  padding-right: 5px;
}
.how {
  max-width: 220px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  color: var(--soft, #5c6b70);
}
tr {
  cursor: pointer;
}
tr.chosen td {
  background: var(--reed-soft);
}
</style>
