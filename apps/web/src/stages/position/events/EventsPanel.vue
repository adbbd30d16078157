<script setup lang="ts">
import { computed, onBeforeUnmount, ref, shallowRef, watch, watchEffect } from 'vue';
import { ElMessageBox } from 'element-plus';
import { type DatasetOf } from '@longheron/contract/api';
import { formatGps, unixFromGps } from '@longheron/core/time';
import { objectJson } from '../../../api/client';
import { uploadText } from '../../../api/upload';
import { useProject } from '../../../stores/project';
import DatasetChoice from '../../../ui/DatasetChoice.vue';
import { useView } from '../../../stores/view';
import { useUnits } from '../../../ui/units';
import Num from '../../../ui/Num.vue';
import NumberField from '../../../ui/NumberField.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import TrailList from '../../../ui/TrailList.vue';
import { type MapShape } from '../../../map/shapes';
import { useBench } from '../bench';
import { photoList } from './photos';

/** Positions of events and the photographs that belong to them. */
interface EventRow {
  event: number;
  label: string;
  gps: number;
  reason: '' | 'outside' | 'gap';
  kept: boolean;
  stray: boolean;
  photo: string | null;
  offS: number | null;
  xyz: [number, number, number] | null;
  attitudeDeg: number[] | null;
  sdM: number[] | null;
  solution: string;
  /** Corners in plan of what the photograph shows of level ground; null without. */
  footprint: Array<[number, number]> | null;
  cut: boolean;
  /** Shares with the next one and with the best of another line. */
  overlap: number | null;
  side: number | null;
}
const rows = shallowRef<EventRow[]>([]);
const { shapes, dots } = useBench();
/** What turns GPS seconds of that day into seconds from 1970. */
const GPS_TO_UNIX_S = unixFromGps(1.4e9) - 1.4e9;
const store = useProject();
const view = useView();
const { length } = useUnits();
const results = computed(() => store.ofKind('positions'));
const result = computed(() => results.value.at(-1));
const figures = computed(() => result.value?.revision.content.figures);
const lists = computed(() => store.ofKind('events'));
const photos = computed(() => store.ofKind('photos'));
const mountings = computed(() => store.ofKind('mounting'));
const trajectories = computed(() => store.ofKind('trajectory'));
const hasSensors = (d: DatasetOf<'mounting'>) => Object.keys(d.revision.content.mounting.sensors ?? {}).length > 0;
/** The map shows where the events were, and of those in the brushed span what the photographs show. */
watchEffect(() => {
  dots.value = rows.value.flatMap((r) =>
    r.xyz ? [{ eastingM: r.xyz[0], northingM: r.xyz[1], time: r.gps, counts: r.kept }] : [],
  );
  shapes.value = rows.value.flatMap((r): MapShape[] => {
    const inside = !view.brush || (r.gps >= view.brush[0] && r.gps <= view.brush[1]);
    return r.footprint && r.kept && inside
      ? [{ kind: 'area', points: r.footprint, colour: '#7a4b8c', widthPx: 1, dashed: r.cut }]
      : [];
  });
});
onBeforeUnmount(() => {
  dots.value = [];
  shapes.value = [];
});
let offered = false;
const form = ref({
  events: 0,
  photos: 0,
  trajectory: 0,
  mounting: 0,
  sensor: '',
  leaveOutStrays: true,
  groundM: undefined as number | undefined,
  farthestM: 150,
});
const ground = ref(false);
const sensors = computed(() => {
  const m = mountings.value.find((d) => d.id === form.value.mounting)?.revision.content.mounting;
  return Object.keys(m?.sensors ?? {});
});
watch(
  () => store.datasets,
  () => {
    const f = form.value;
    f.events ||= lists.value[0]?.id ?? 0;
    // proposed once: none is a choice of its own
    if (!offered && photos.value.length) f.photos = photos.value[0].id;
    offered ||= photos.value.length > 0;
    f.mounting ||= (mountings.value.find(hasSensors) ?? mountings.value[0])?.id ?? 0;
    f.trajectory ||= store.trajectory()?.id ?? 0;
  },
  { immediate: true },
);
const camera = computed(() => {
  const m = mountings.value.find((d) => d.id === form.value.mounting)?.revision.content.mounting as
    { sensors?: Record<string, { camera?: { looks: 'down' | 'forward' } }> } | undefined;
  return m?.sensors?.[form.value.sensor]?.camera;
});
/** A height of the ground to begin with: the middle of the marks. */
watch(
  () => ground.value && !!camera.value,
  (wanted) => {
    if (!wanted || form.value.groundM !== undefined) return;
    const heights = store
      .ofKind('marks')
      .flatMap((d) => (d.revision.content.marks as Array<{ heightM: number }> | undefined) ?? [])
      .map((m) => m.heightM)
      .sort((a, b) => a - b);
    if (heights.length) form.value.groundM = Number(heights[heights.length >> 1].toFixed(1));
    form.value.farthestM = camera.value!.looks === 'down' ? 2000 : 60;
  },
);
watch(
  () => sensors.value.join(),
  () => (form.value.sensor ||= sensors.value.find((s) => /cam/i.test(s)) ?? ''),
  { immediate: true },
);
const all = shallowRef<EventRow[]>([]);
watch(
  () => result.value?.revision.content.table as string | undefined,
  async (sha) => {
    all.value = sha ? await objectJson<EventRow[]>(sha).catch(() => []) : [];
    rows.value = all.value;
  },
  { immediate: true },
);
const settings = computed(() => figures.value?.settings as { sensor?: string; leave_out_strays?: boolean } | undefined);
const run = computed(() =>
  store.runs.find((r) => r.outputs.includes(result.value?.id ?? -1) && r.operation === 'events'),
);
const leftOut = computed(
  () => (run.value?.settings.leftOut as Array<{ event: number; reason: string }> | undefined) ?? [],
);
const reasonOf = (r: EventRow) => leftOut.value.find((l) => l.event === r.event)?.reason;
const only = ref<'all' | 'unpaired'>('all');
const shown = computed(() => (only.value === 'all' ? all.value : all.value.filter((r) => !r.kept || !r.photo)));
const alone = computed(() => (result.value?.revision.content.photosAlone as string[] | undefined) ?? []);
/** GPS time as the file's clock would show it is 18 s off a clock set to UTC. */
const clockWords = computed(() => {
  const offS = Number(figures.value?.camera_clock_s) - GPS_TO_UNIX_S;
  return `the camera’s clock is ${Math.abs(offS).toFixed(1)} s ${offS < 0 ? 'behind' : 'ahead of'} UTC`;
});
const display = computed(() => store.project?.reference?.time ?? 'gps');
const state = (r: EventRow) =>
  reasonOf(r)
    ? `left out: ${reasonOf(r)}`
    : r.reason === 'outside'
      ? 'outside the trajectory'
      : r.reason === 'gap'
        ? 'in a gap'
        : r.stray && !r.kept
          ? 'stray, left out'
          : (r.photo ?? (r.label || (r.kept ? '' : 'no photograph')));
function compute(over: boolean, out = leftOut.value): void {
  const f = form.value;
  // left out by their place: that holds for the same list alone
  const same = result.value?.revision.inputs.some((i) => i.role === 'events' && i.datasetId === f.events);
  const inputs = { trajectory: f.trajectory, events: f.events, ...(f.photos ? { photos: f.photos } : {}) };
  void store.run(
    'events',
    { ...inputs, ...(f.sensor ? { mounting: f.mounting } : {}) },
    {
      ...(f.sensor ? { sensor: f.sensor } : {}),
      leaveOutStrays: f.leaveOutStrays,
      ...(ground.value && camera.value && f.groundM !== undefined
        ? { groundM: f.groundM, farthestM: f.farthestM }
        : {}),
      leftOut: over && same ? out : [],
    },
    over ? result.value?.id : undefined,
  );
}
async function leaveOut(r: EventRow): Promise<void> {
  if (reasonOf(r)) {
    compute(
      true,
      leftOut.value.filter((l) => l.event !== r.event),
    );
    return;
  }
  const answer = await ElMessageBox.prompt(
    'It keeps its place in the list, with your reason.',
    `Leave event ${r.event + 1} out`,
    {
      inputPlaceholder: 'Why it is left out',
      inputValidator: (v) => !!v?.trim() || 'Say why.',
      confirmButtonText: 'Leave it out',
      cancelButtonText: 'Keep it',
    },
  ).catch(() => undefined);
  if (answer) compute(true, [...leftOut.value, { event: r.event, reason: String(answer.value).trim() }]);
}
const picker = ref<HTMLInputElement | null>(null);
const reading = ref(false);
async function pick(files: FileList | null): Promise<void> {
  if (!files?.length) return;
  reading.value = true;
  await store.attempt(
    async () => uploadText(store.project!.id, `photographs_${files.length}.csv`, await photoList([...files])),
    `${files.length} photographs read; their list is being taken in.`,
  );
  reading.value = false;
}
</script>

<template>
  <h2>Events and photographs</h2>
  <p v-if="lists.length === 0" class="soft">
    No event list yet. Take one in, in the stage Gather: a CSV with gps_week, gps_sow and label.
  </p>
  <template v-else>
    <template v-if="result && figures">
      <p>
        <strong>{{ figures.positions }}</strong> of {{ figures.events }} events have a position, of
        <strong>{{ figures.point }}</strong>:
        {{
          figures.lever_arm_applied
            ? 'its lever arm is applied, once; do not apply it again.'
            : 'no lever arm is applied; the positions are of the trajectory’s own point.'
        }}
      </p>
      <p v-if="figures.photos !== undefined">
        {{ figures.photos_paired }} of {{ figures.photos }} photographs are paired with an event, by their
        {{ figures.photos_paired_by
        }}<template v-if="typeof figures.camera_clock_s === 'number'">; {{ clockWords }}</template
        >.
      </p>
      <p v-if="figures.footprints !== undefined">
        Ground at {{ figures.ground_m }} m: {{ figures.footprints }} footprints<template
          v-if="typeof figures.overlap_next_median === 'number'"
          >, {{ (100 * figures.overlap_next_median).toFixed(0) }} % shared with the next</template
        ><template v-if="typeof figures.overlap_side_median === 'number'"
          >, {{ (100 * figures.overlap_side_median).toFixed(0) }} % with another line</template
        ><template v-if="typeof figures.ground_sample_m === 'number'"
          >; a pixel is {{ (100 * figures.ground_sample_m).toFixed(1) }} cm in the middle</template
        ><template v-if="figures.footprints_cut"
          >; {{ figures.footprints_cut }} reach further than they are drawn</template
        >.
      </p>
      <p v-if="alone.length" class="state warn wrap">Without an event: {{ alone.join(', ') }}.</p>
      <OutOfDate :dataset="result" />
      <el-radio-group v-model="only" size="small" class="only"
        ><el-radio-button value="all" :label="`All ${all.length}`" /><el-radio-button
          value="unpaired"
          label="Left over"
      /></el-radio-group>
      <div class="scroll">
        <table class="figures">
          <thead>
            <tr>
              <th class="r">No.</th>
              <th>{{ display === 'gps' ? 'GPS' : display === 'utc' ? 'UTC' : 'Local' }} time</th>
              <th>Photograph</th>
              <th
                v-if="figures.footprints"
                class="r"
                title="Shared with the next photograph, and with the best of another line"
              >
                %
              </th>
              <th class="r" title="1 SD of the place, all three axes together, mm">SD</th>
              <th />
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="r in shown"
              :key="r.event"
              :class="{ out: !r.kept }"
              :title="
                r.xyz
                  ? `E ${(r.xyz[0] * length.factor).toFixed(3)} N ${(r.xyz[1] * length.factor).toFixed(3)} H ${(r.xyz[2] * length.factor).toFixed(3)} ${length.symbol}`
                  : ''
              "
              @click="view.brush = [r.gps - 5, r.gps + 5]"
            >
              <td class="r">{{ r.event + 1 }}</td>
              <td class="mono">{{ formatGps(r.gps, display, 1).slice(11) }}</td>
              <td class="state-cell">{{ state(r) }}</td>
              <td v-if="figures.footprints" class="r mono">
                {{ r.overlap === null ? '–' : Math.round(100 * r.overlap) }}
                {{ r.side ? Math.round(100 * r.side) : '' }}
              </td>
              <td class="r"><Num :value="r.sdM ? 1000 * Math.hypot(...r.sdM) : null" :digits="0" /></td>
              <td class="r">
                <el-button
                  v-if="r.reason === ''"
                  size="small"
                  text
                  :aria-label="reasonOf(r) ? 'Take in' : 'Leave out'"
                  :title="reasonOf(r) ? 'Take it in again' : 'Leave it out, with a reason'"
                  @click.stop="leaveOut(r)"
                  >{{ reasonOf(r) ? 'in' : 'out' }}</el-button
                >
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <p class="files">
        <a :href="`/api/projects/${store.project!.id}/datasets/${result.id}/export/positions`">Positions as CSV</a>
      </p>
    </template>
    <h3>{{ result ? 'Position them again' : 'Position events' }}</h3>
    <el-form novalidate label-position="top" @submit.prevent="compute(!!result)">
      <DatasetChoice v-model="form.events" label="Events" :datasets="lists" />
      <el-form-item label="Photographs, paired one to one"
        ><el-select v-model="form.photos" aria-label="Photographs"
          ><el-option :value="0" label="none: events alone" /><el-option
            v-for="d in photos"
            :key="d.id"
            :value="d.id"
            :label="d.name" /></el-select
        ><el-button size="small" :loading="reading" class="pick" @click="picker?.click()"
          >Choose photographs on this computer</el-button
        ><input
          ref="picker"
          type="file"
          accept="image/jpeg"
          multiple
          hidden
          @change="pick(($event.target as HTMLInputElement).files)"
      /></el-form-item>
      <DatasetChoice
        v-model="form.trajectory"
        label="Trajectory"
        name="Trajectory of the events"
        :datasets="trajectories"
      />
      <el-form-item label="Of which point"
        ><el-select v-model="form.sensor" aria-label="Sensor"
          ><el-option value="" label="the trajectory’s own point, no lever arm" /><el-option
            v-for="s in sensors"
            :key="s"
            :value="s"
            :label="`${s}, by its lever arm`" /></el-select
      ></el-form-item>
      <template v-if="camera">
        <el-checkbox v-model="ground" label="Footprints on level ground" />
        <template v-if="ground">
          <NumberField
            v-model="form.groundM"
            label="Height of the ground, m"
            name="Height of the ground, m"
            :digits="1"
          />
          <NumberField
            v-model="form.farthestM"
            label="Views are cut at, m"
            name="Farthest view, m"
            :min="1"
            :digits="0"
          />
        </template>
      </template>
      <el-checkbox v-model="form.leaveOutStrays" label="Leave out what seems to be none of the series" />
      <div class="row">
        <el-button type="primary" native-type="submit" :disabled="!form.events || !form.trajectory">{{
          result ? 'Position them again' : 'Position the events'
        }}</el-button>
        <el-button v-if="result" title="Keeps this result and makes another beside it" @click="compute(false)"
          >Beside it</el-button
        >
      </div>
    </el-form>
    <p v-if="settings?.sensor === null && sensors.length" class="soft">
      A camera’s own positions need its lever arm: choose it above.
    </p>
    <TrailList v-if="result" :dataset="result" />
  </template>
</template>

<style scoped>
h3 {
  margin: 16px 0 4px;
}
.only {
  margin: 4px 0;
}
.scroll {
  max-height: 260px;
  overflow: auto;
}
.figures td,
.figures th {
  padding: 2px;
  font-size: 11px;
}
.state-cell {
  white-space: normal;
}
.figures :deep(.el-button) {
  padding: 0 2px;
  height: 18px;
}
.mono {
  font-family: var(--mono);
}
tr {
  cursor: pointer;
}
tr.out td {
  color: #7f9097;
}
.row {
  display: flex;
  margin: 8px 0;
}
.pick {
  margin-top: 4px;
}
.wrap {
  white-space: normal;
}
</style>
