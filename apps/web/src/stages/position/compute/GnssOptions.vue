<script setup lang="ts">
import { computed } from 'vue';
import { type Given } from '@longheron/contract/declare';
import { OPERATIONS } from '@longheron/contract/operations';
import { formatGps } from '@longheron/core/time';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import SettingsForm from '../../../ui/SettingsForm.vue';

/** Which observations enter: span, elevation, systems, bands, satellites, direction. */
const settings = defineModel<Given>({ required: true });
defineProps<{ satellites: string[] }>();
const store = useProject();
const view = useView();
const { settings: schema } = OPERATIONS.position;
const display = computed(() => store.project?.reference?.time ?? 'gps');
const when = (t: number) => formatGps(t, display.value, 0).slice(11);
const span = computed<[number, number] | null>({
  get: (): [number, number] | null => {
    const { startGps, endGps } = settings.value;
    return typeof startGps === 'number' && typeof endGps === 'number' ? [startGps, endGps] : null;
  },
  set: (s) => (settings.value = { ...settings.value, startGps: s?.[0], endGps: s?.[1] }),
});
const differs = computed(() => view.brush && view.brush.join() !== span.value?.join());
const leftOut = computed({
  get: () => (Array.isArray(settings.value.leftOut) ? settings.value.leftOut.map(String) : []),
  set: (names: string[]) => (settings.value = { ...settings.value, leftOut: names }),
});
</script>

<template>
  <el-form-item label="Span">
    <div class="span">
      <span class="mono">{{ span ? `${when(span[0])} to ${when(span[1])}` : 'the whole session' }}</span>
      <el-button v-if="differs" size="small" @click="span = [...view.brush!]">Take the brushed span</el-button>
      <el-button v-if="span" size="small" @click="span = null">Whole session</el-button>
    </div>
    <p v-if="!view.brush && !span" class="soft">Brush a span in the time lanes to compute a part.</p>
  </el-form-item>
  <SettingsForm
    v-model="settings"
    :schema="schema"
    :only="['maskDeg', 'systems', 'frequencies', 'leftOut', 'direction']"
  >
    <template #leftOut="{ setting }">
      <el-form-item :label="setting.label"
        ><el-select
          v-model="leftOut"
          multiple
          filterable
          allow-create
          default-first-option
          placeholder="none"
          :aria-label="setting.label"
          ><el-option v-for="s in satellites" :key="s" :value="s" :label="s" /></el-select
      ></el-form-item>
    </template>
  </SettingsForm>
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
  font-size: 12px;
}
</style>
