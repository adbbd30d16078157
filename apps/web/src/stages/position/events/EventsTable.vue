<script setup lang="ts">
import { computed, ref } from 'vue';
import { ElMessageBox } from 'element-plus';
import { formatGps } from '@longheron/core/time';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import Num from '../../../ui/Num.vue';
import { useUnits } from '../../../ui/units';
import { stateOf, type EventRow } from './rows';
import FigureTable from '../../../ui/FigureTable.vue';

/** Events one by one; a row brushes its time, and can be left out with a reason. */
const props = defineProps<{
  rows: EventRow[];
  leftOut: ReadonlyArray<{ event: number; reason: string }>;
  /** Whether photographs have footprints, whose overlap is shown. */
  footprints: boolean;
}>();
const emit = defineEmits<{ leave: [leftOut: Array<{ event: number; reason: string }>] }>();
const store = useProject();
const view = useView();
const { length } = useUnits();
const display = computed(() => store.project?.reference?.time ?? 'gps');
const only = ref<'all' | 'unpaired'>('all');
const shown = computed(() => (only.value === 'all' ? props.rows : props.rows.filter((r) => !r.kept || !r.photo)));
const reasonOf = (r: EventRow) => props.leftOut.find((l) => l.event === r.event)?.reason;
const place = (xyz: number[]) =>
  `${['E', 'N', 'H'].map((axis, k) => `${axis} ${(xyz[k] * length.value.factor).toFixed(3)}`).join(' ')} ${length.value.symbol}`;

async function leave(r: EventRow): Promise<void> {
  if (reasonOf(r)) {
    emit(
      'leave',
      props.leftOut.filter((l) => l.event !== r.event),
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
  if (answer) emit('leave', [...props.leftOut, { event: r.event, reason: String(answer.value).trim() }]);
}
type Row = (typeof props.rows)[number];
</script>

<template>
  <el-radio-group v-model="only" size="small" class="only"
    ><el-radio-button value="all" :label="`All ${rows.length}`" /><el-radio-button value="unpaired" label="Left over"
  /></el-radio-group>
  <div class="scroll">
    <FigureTable
      name="events"
      :columns="[
        { key: 'no', label: 'No.', right: true, value: (r) => r.event + 1 },
        {
          key: 'time',
          label: `${display === 'gps' ? 'GPS' : display === 'utc' ? 'UTC' : 'Local'} time`,
          mono: true,
          value: (r) => formatGps(r.gps, display, 1).slice(11),
        },
        { key: 'photo', label: 'Photograph', value: (r) => stateOf(r, reasonOf(r)) },
        ...(footprints
          ? [
              {
                key: 'overlap',
                label: '%',
                right: true,
                mono: true,
                hint: 'Shared with the next photograph, and with the best of another line',
                value: (r: Row) => (r.overlap === null ? null : Math.round(100 * r.overlap)),
              },
            ]
          : []),
        {
          key: 'sd',
          label: 'SD',
          hint: '1 SD of the place, all three axes together, mm',
          right: true,
          value: (r) => (r.sdM ? 1000 * Math.hypot(...r.sdM) : null),
        },
        { key: 'act', label: ' ', right: true },
      ]"
      :rows="shown"
      :row-key="(r) => r.event"
      :row-class="(r) => ({ out: !r.kept })"
      :row-title="(r) => (r.xyz ? place(r.xyz) : '')"
      pick
      @pick="(r) => (view.brush = [r.gps - 5, r.gps + 5])"
    >
      <template #photo="{ row: r }"
        ><span class="state-cell">{{ stateOf(r, reasonOf(r)) }}</span></template
      >
      <template #overlap="{ row: r }"
        >{{ r.overlap === null ? '–' : Math.round(100 * r.overlap) }}
        {{ r.side ? Math.round(100 * r.side) : '' }}</template
      >
      <template #sd="{ row: r }"><Num :value="r.sdM ? 1000 * Math.hypot(...r.sdM) : null" :digits="0" /></template>
      <template #act="{ row: r }">
        <el-button
          v-if="r.reason === ''"
          size="small"
          text
          :aria-label="reasonOf(r) ? 'Use again' : 'Leave out'"
          :title="reasonOf(r) ? 'Use it again' : 'Leave it out, with a reason'"
          @click.stop="leave(r)"
          >{{ reasonOf(r) ? 'in' : 'out' }}</el-button
        >
      </template>
    </FigureTable>
  </div>
</template>

<style scoped>
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
  font-size: 12px;
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
:deep(tr.out td) {
  color: var(--ink-soft);
}
</style>
