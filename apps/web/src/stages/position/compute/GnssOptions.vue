<script setup lang="ts">
import { computed } from 'vue';
import { formatGps } from '@longheron/core/time';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import Setting from '../../../ui/Setting.vue';

/** Which observations enter: span, elevation, systems, bands, satellites, direction. */
export interface GnssOptionsForm {
  maskDeg: number;
  systems: 'GE' | 'G' | 'E';
  frequencies: 'both' | 'first';
  direction: 'both' | 'forward' | 'reverse';
  leftOut: string[];
  span: [number, number] | null;
}
const form = defineModel<GnssOptionsForm>({ required: true });
defineProps<{ satellites: string[] }>();
const store = useProject();
const view = useView();
const display = computed(() => store.project?.reference?.time ?? 'gps');
const when = (t: number) => formatGps(t, display.value, 0).slice(11);
const differs = computed(() => view.brush && view.brush.join() !== form.value.span?.join());
</script>

<template>
  <el-form-item label="Span">
    <div class="span">
      <span class="mono">{{ form.span ? `${when(form.span[0])} to ${when(form.span[1])}` : 'the whole session' }}</span>
      <el-button v-if="differs" size="small" @click="form.span = [...view.brush!]">Take the brushed span</el-button>
      <el-button v-if="form.span" size="small" @click="form.span = null">Whole session</el-button>
    </div>
    <p v-if="!view.brush && !form.span" class="soft">Brush a span in the time lanes to compute a part.</p>
  </el-form-item>
  <Setting
    v-model="form.maskDeg"
    label="Lowest elevation"
    unit="°"
    :min="0"
    :max="45"
    :step="1"
    :digits="0"
    reason="Lower satellites steady the height but bring more noise and multipath."
  />
  <el-form-item label="Systems"
    ><el-select v-model="form.systems" aria-label="Systems"
      ><el-option value="GE" label="GPS and Galileo" /><el-option value="G" label="GPS alone" /><el-option
        value="E"
        label="Galileo alone" /></el-select
  ></el-form-item>
  <el-form-item label="Frequencies"
    ><el-select v-model="form.frequencies" aria-label="Frequencies"
      ><el-option value="both" label="both bands" /><el-option
        value="first"
        label="the first band alone: often float" /></el-select
  ></el-form-item>
  <el-form-item label="Satellites to leave out"
    ><el-select
      v-model="form.leftOut"
      multiple
      filterable
      allow-create
      default-first-option
      placeholder="none"
      aria-label="Satellites to leave out"
      ><el-option v-for="s in satellites" :key="s" :value="s" :label="s" /></el-select
  ></el-form-item>
  <el-form-item label="Direction"
    ><el-select v-model="form.direction" aria-label="Direction"
      ><el-option value="both" label="forward and reverse" /><el-option
        value="forward"
        label="forward alone" /><el-option value="reverse" label="reverse alone" /></el-select
  ></el-form-item>
</template>

<style scoped>
.span {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}
.mono {
  font: 12px var(--mono);
}
p {
  margin: 0;
  font-size: 11.5px;
}
</style>
