<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import {
  planNameOf,
  systemTextOf,
  type ChangedDto,
  type DatasetOf,
  type ProjectDto,
  type ReferenceDto,
  type SystemNames,
} from '@longheron/contract/api';
import { gridNameOf, METRES_PER, UNIT_SYMBOL, type LengthUnit } from '@longheron/core/frames';
import { check, ReferenceLine } from '@longheron/contract/requests';
import { api } from '../api/client';
import { useProject } from '../stores/project';
import { useView } from '../stores/view';
import { systemHolds } from '../stages/systems';
import SystemChoice from '../ui/SystemChoice.vue';
import FigureTable from '../ui/FigureTable.vue';
import ReferenceEffect from './ReferenceEffect.vue';

const store = useProject();
const view = useView();
const form = ref<{ unit: string; time: string; epoch?: number; surfaceSdM?: number }>({ unit: 'metre', time: 'gps' });
const system = ref<SystemNames>({ horizontal: 0, vertical: 5773 });
const tolerances = ref({ toleranceM: 0.03, planToleranceM: 0.03, classTolerance: 95, surfaceToleranceM: 0.02 });
const LENGTHS = [
  ['toleranceM', 'Heights: largest RMSE at check marks'],
  ['planToleranceM', 'Plan: largest RMSE at check marks'],
  ['surfaceToleranceM', 'Delivered TIN: largest RMS off the terrain'],
] as const;
/** Tolerances are typed in the unit that is chosen. */
const unitM = computed(() => METRES_PER[form.value.unit as LengthUnit]);
const unitSymbol = computed(() => UNIT_SYMBOL[form.value.unit as LengthUnit]);
/** Name of the system that is set. */
const name = ref('');
const message = ref('');
const purpose = ref('');
interface Suggestion {
  horizontal: number;
  name: string;
  vertical: number;
  because: string;
}
const suggestions = ref<Suggestion[]>([]);
function take(s: Suggestion): void {
  name.value = s.name;
  system.value = { horizontal: s.horizontal, vertical: s.vertical === 5773 ? 5773 : 0 };
}

watch(
  () => view.drawer,
  (open) => {
    if (open !== 'reference') return;
    const r = store.project?.reference;
    if (r) {
      form.value = { unit: r.unit, time: r.time, epoch: r.epoch, surfaceSdM: r.surfaceSdM };
      const { horizontal, plan, vertical, geoid, shift, fileHeights } = r;
      system.value = { horizontal, plan: asNow(plan), vertical, geoid: asNow(geoid), shift: asNow(shift), fileHeights };
      name.value = r.horizontalName;
    }
    const proposed = store.ofKind('system').find((d) => d.id === view.proposedSystem);
    view.proposedSystem = null;
    if (proposed) system.value = withSystem(system.value, proposed);
    purpose.value = store.project?.purpose ?? '';
    void api
      .get<ProjectDto[]>('/projects')
      .then((list) => (others.value = list.filter((p) => p.reference && p.id !== store.project?.id)))
      .catch(() => undefined);
    void api
      .get<Suggestion[]>(`/projects/${store.project!.id}/suggested-reference`)
      .then((list) => (suggestions.value = list))
      .catch(() => undefined);
    if (store.project) {
      const { toleranceM, planToleranceM, classTolerance, surfaceToleranceM } = store.project;
      tolerances.value = { toleranceM, planToleranceM, classTolerance, surfaceToleranceM };
    }
    effect.value = undefined;
    message.value = '';
  },
);

/** A file of the line as its dataset holds it now: what was made again since is a change that is shown before it is set. */
function asNow<F extends SystemNames['geoid']>(file: F): F | NonNullable<SystemNames['geoid']> {
  const d = file && store.datasets.find((x) => x.id === file.dataset);
  const object = d && 'object' in d.revision.content ? d.revision.content.object : undefined;
  if (!d || !object || object.startsWith(file.sha12)) return file;
  return { dataset: d.id, ...gridNameOf(d.name, object) };
}

/** A reference line with a system of the project in it: for plan, and for heights where it has them. */
function withSystem(line: SystemNames, d: DatasetOf<'system'>): SystemNames {
  const file = { dataset: d.id, ...gridNameOf(d.name, d.revision.content.object) };
  const { plan, heights } = systemHolds(d);
  if (!plan) return { ...line, vertical: 0, geoid: file };
  const own = heights ? { vertical: 0, geoid: undefined, fileHeights: 'used' as const } : {};
  return { ...line, horizontal: 0, plan: file, ...own };
}

const UNITS: Record<string, string> = { metre: 'metre', foot: 'foot', usSurveyFoot: 'US survey foot' };
const TIMES: Record<string, string> = { gps: 'GPS time', utc: 'UTC', local: 'local time' };
const heights = ({ vertical, geoid, fileHeights, plan }: SystemNames) =>
  geoid ? geoid.name : fileHeights === 'used' ? `as in ${plan?.name}` : vertical ? 'EGM96 geoid' : 'the ellipsoid';
/** What is chosen against what is set, side by side; nothing changes before it is set. */
const changes = computed((): Array<[string, string, string]> => {
  const r = store.project?.reference;
  if (!r) return [];
  const f = form.value;
  const { horizontal, plan } = system.value;
  const chosen = suggestions.value.find((g) => g.horizontal === horizontal)?.name;
  const same = horizontal === r.horizontal && plan?.sha12 === r.plan?.sha12;
  const then = plan ? plan.name : `${chosen ?? 'EPSG'} (${horizontal})`;
  const rows: Array<[string, string, string]> = [
    ['System', planNameOf(r), same ? planNameOf(r) : then],
    ['Datum shift', r.shift?.name ?? 'none by a grid', system.value.shift?.name ?? 'none by a grid'],
    ['Heights', heights(r), heights(system.value)],
    ['Unit', UNITS[r.unit], UNITS[f.unit]],
    ['Time', TIMES[r.time], TIMES[f.time]],
    ['Epoch', String(r.epoch ?? 'undefined'), String(f.epoch ?? 'undefined')],
  ];
  return rows.filter(([, now, then]) => now !== then);
});
/** The line as it is asked for. */
const lineOf = () => {
  const { horizontal, plan, vertical, geoid, shift, fileHeights } = system.value;
  const files = { plan: plan?.dataset, geoid: geoid?.dataset, shift: shift?.dataset };
  return { ...form.value, horizontal, vertical, ...files, ownHeights: fileHeights === 'used' };
};
/** What it would do to coordinates and to what the project holds; asked for when the system changes. */
const effect = ref<ChangedDto>();
watch(
  () => (view.drawer === 'reference' && store.project?.reference ? systemTextOf(system.value) : ''),
  async (text) => {
    const id = store.project!.id;
    const now = store.project?.reference;
    effect.value = undefined;
    if (!text || !now || text === systemTextOf(now) || 'message' in check(ReferenceLine, lineOf())) return;
    const found = await api.post<ChangedDto>(`/projects/${id}/reference/preview`, lineOf()).catch(() => undefined);
    if (text === systemTextOf(system.value)) effect.value = found;
  },
);
/** Other projects whose reference line may be taken over. */
const others = ref<ProjectDto[]>([]);
const takeFrom = (id: number) =>
  store.attempt(async () => {
    const taken = await api.post<ReferenceDto>(`/projects/${store.project!.id}/reference/take`, { from: id });
    await store.refresh();
    const { horizontal, plan, vertical, geoid, shift, fileHeights, horizontalName } = taken;
    name.value = horizontalName;
    system.value = { horizontal, plan, vertical, geoid, shift, fileHeights };
    form.value = { unit: taken.unit, time: taken.time, epoch: taken.epoch, surfaceSdM: taken.surfaceSdM };
  });
async function save(): Promise<void> {
  const line = lineOf();
  const checked = check(ReferenceLine, line);
  message.value = 'message' in checked ? checked.message : '';
  if (message.value) return;
  const id = store.project!.id;
  const good = await store.attempt(async () => {
    await api.put(`/projects/${id}/reference`, line);
    await api.patch(`/projects/${id}`, { ...tolerances.value, purpose: purpose.value });
  }, 'The reference line is set.');
  if (good) view.drawer = '';
}
</script>

<template>
  <el-drawer
    :modal="false"
    modal-penetrable
    :model-value="view.drawer === 'reference'"
    title="Reference line"
    size="400px"
    @close="view.drawer = ''"
  >
    <p class="soft">
      Everything is shown and delivered in this system. Nothing is assumed: what a file does not say is asked for.
    </p>
    <el-form novalidate label-position="top" @submit.prevent="save">
      <el-form-item v-if="others.length" label="Take it over from another project">
        <el-select :model-value="undefined" aria-label="Another project" placeholder="Choose" @change="takeFrom">
          <el-option
            v-for="p in others"
            :key="p.id"
            :value="p.id"
            :label="`${p.name}: ${planNameOf(p.reference!)}, ${p.reference!.verticalName}`"
          />
        </el-select>
      </el-form-item>
      <SystemChoice v-model="system" :name="name">
        <div v-if="suggestions.length" class="suggestions">
          <span class="soft">The files speak for:</span>
          <p v-for="g in suggestions" :key="`${g.horizontal} ${g.vertical}`">
            <el-button link @click="take(g)">{{ g.name }} ({{ g.horizontal }})</el-button>
            <span class="soft">{{ g.because }}</span>
            <span
              v-if="store.project?.reference && g.horizontal !== store.project.reference.horizontal"
              class="state warn"
            >
              differs from what is set</span
            >
          </p>
        </div>
      </SystemChoice>
      <el-form-item label="Length unit">
        <el-select v-model="form.unit"
          ><el-option value="metre" label="metre" /><el-option
            value="foot"
            label="foot (international, 0.3048 m)" /><el-option
            value="usSurveyFoot"
            label="US survey foot (1200/3937 m)"
        /></el-select>
      </el-form-item>
      <el-form-item label="Time is shown as">
        <el-select v-model="form.time"
          ><el-option value="gps" label="GPS time" /><el-option value="utc" label="UTC" /><el-option
            value="local"
            label="local time of this computer"
        /></el-select>
      </el-form-item>
      <el-form-item label="Epoch of the coordinates (year with decimals)"
        ><el-input-number v-model="form.epoch" :min="1980" :max="2100" :step="0.01" :precision="2"
      /></el-form-item>
      <el-form-item
        v-if="system.geoid || system.fileHeights === 'used'"
        :label="`Accuracy of that surface, 1 SD as its makers state it, ${unitSymbol}`"
        ><el-input-number
          :model-value="form.surfaceSdM === undefined ? undefined : form.surfaceSdM / unitM"
          aria-label="Accuracy of the surface"
          :min="0"
          :max="10 / unitM"
          :step="0.005"
          :precision="unitM === 1 ? 3 : 4"
          @update:model-value="form.surfaceSdM = typeof $event === 'number' ? $event * unitM : undefined"
      /></el-form-item>
      <h3>Tolerances</h3>
      <el-form-item v-for="[key, label] in LENGTHS" :key="key" :label="`${label}, ${unitSymbol}`"
        ><el-input-number
          :model-value="tolerances[key] / unitM"
          :aria-label="label"
          :min="0.001 / unitM"
          :max="10 / unitM"
          :step="0.005"
          :precision="unitM === 1 ? 3 : 4"
          @update:model-value="tolerances[key] = ($event ?? 0.03 / unitM) * unitM"
      /></el-form-item>
      <el-form-item label="Classes: smallest share that agrees with a reference, %"
        ><el-input-number v-model="tolerances.classTolerance" :min="1" :max="100" :step="0.5" :precision="1"
      /></el-form-item>
      <p class="soft">Another tolerance makes every verdict that used it out of date.</p>
      <el-form-item label="Purpose of the survey (printed in the report)"
        ><el-input v-model="purpose" type="textarea" :rows="2" maxlength="500"
      /></el-form-item>
      <FigureTable
        v-if="changes.length"
        label="What would change"
        :columns="[
          { key: 'what', label: ' ' },
          { key: 'now', label: 'Now' },
          { key: 'then', label: 'Then' },
        ]"
        :rows="changes"
        :row-key="([what]) => what"
      >
        <template #what="{ row }">{{ row[0] }}</template>
        <template #now="{ row }">{{ row[1] }}</template>
        <template #then="{ row }"
          ><strong>{{ row[2] }}</strong></template
        >
      </FigureTable>
      <p v-if="changes.length" class="soft">
        Files stay as they are. What is made in the system of the project goes out of date; another unit or time only
        changes what is shown and the report.
      </p>
      <ReferenceEffect v-if="effect" :effect="effect" :unit-m="unitM" :symbol="unitSymbol" />
      <p v-if="message" class="state bad">{{ message }}</p>
      <el-button type="primary" native-type="submit">Set the reference line</el-button>
    </el-form>
  </el-drawer>
</template>

<style scoped>
.suggestions {
  font-size: 12px;
  margin: -8px 0 12px;
}
.suggestions p {
  margin: 2px 0;
}
</style>
