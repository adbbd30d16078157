<script setup lang="ts">
import { computed, ref } from 'vue';
import { ElMessageBox } from 'element-plus';
import { formatGps } from '@longheron/core/time';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import Num from '../../../ui/Num.vue';
import { useUnits } from '../../../ui/units';
import { stateOf, type EventRow } from './rows';

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
</script>

<template>
  <el-radio-group v-model="only" size="small" class="only"
    ><el-radio-button value="all" :label="`All ${rows.length}`" /><el-radio-button value="unpaired" label="Left over"
  /></el-radio-group>
  <div class="scroll">
    <table class="figures">
      <thead>
        <tr>
          <th class="r">No.</th>
          <th>{{ display === 'gps' ? 'GPS' : display === 'utc' ? 'UTC' : 'Local' }} time</th>
          <th>Photograph</th>
          <th v-if="footprints" class="r" title="Shared with the next photograph, and with the best of another line">
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
          :title="r.xyz ? place(r.xyz) : ''"
          @click="view.brush = [r.gps - 5, r.gps + 5]"
        >
          <td class="r">{{ r.event + 1 }}</td>
          <td class="mono">{{ formatGps(r.gps, display, 1).slice(11) }}</td>
          <td class="state-cell">{{ stateOf(r, reasonOf(r)) }}</td>
          <td v-if="footprints" class="r mono">
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
              @click.stop="leave(r)"
              >{{ reasonOf(r) ? 'in' : 'out' }}</el-button
            >
          </td>
        </tr>
      </tbody>
    </table>
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
</style>
