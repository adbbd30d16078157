<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { useDebounceFn } from '@vueuse/core';
import { factsOf, type DatasetDto } from '@longheron/contract/api';
import { api } from '../../../api/client';
import { useProject } from '../../../stores/project';

/** What is noted of a session beside its recording; saved while it is typed. It holds nothing up. */
const props = defineProps<{ dataset: DatasetDto }>();
const store = useProject();
const EMPTY = { crew: '', vehicle: '', instruments: '', weather: '', remarks: '' };
const LABELS = { crew: 'Crew', vehicle: 'Vehicle', instruments: 'Instruments', weather: 'Weather', remarks: 'Remarks' };
const sheet = ref({ ...EMPTY });
const savedAt = ref<string | null>(null);
const loaded = ref(0);
const at = () => `/projects/${store.project!.id}/datasets/${props.dataset.id}/sheet`;
/** What the file's header says already. */
function fromHeader(): typeof EMPTY {
  const details = factsOf(props.dataset)?.details ?? [];
  const said = (key: string) => {
    const text = details.find(([k]) => k === key)?.[1].trim() ?? '';
    return /^not (named|said)$/.test(text) ? '' : text.replace(/ +/g, ' ');
  };
  const instruments = [said('Receiver'), said('Antenna'), [said('Sensor'), said('Serial')].filter(Boolean).join(' ')];
  return {
    ...EMPTY,
    crew: said('Observer'),
    vehicle: said('Marker'),
    instruments: instruments.filter(Boolean).join('; '),
  };
}
watch(
  () => props.dataset.id,
  async (id) => {
    loaded.value = 0;
    const got = await api.get<{ sheet: typeof EMPTY | null; savedAt: string | null }>(at()).catch(() => null);
    if (!got || id !== props.dataset.id) return;
    sheet.value = { ...EMPTY, ...(got.sheet ?? fromHeader()) };
    savedAt.value = got.savedAt;
    loaded.value = id;
  },
  { immediate: true },
);
const save = useDebounceFn(async (id: number, path: string, body: typeof EMPTY) => {
  if (await store.attempt(() => api.put(path, body))) if (loaded.value === id) savedAt.value = new Date().toISOString();
}, 600);
const changed = () => loaded.value && void save(loaded.value, at(), { ...sheet.value });
const missing = computed(() =>
  (Object.keys(LABELS) as Array<keyof typeof EMPTY>).filter((k) => k !== 'remarks' && !sheet.value[k].trim()),
);
</script>

<template>
  <details class="sheet" open>
    <summary>
      Session sheet
      <span v-if="missing.length" class="soft"
        >{{ missing.map((k) => LABELS[k].toLowerCase()).join(', ') }} missing</span
      ><span v-else class="state ok">filled</span>
    </summary>
    <label v-for="(label, key) in LABELS" :key="key"
      ><span>{{ label }}</span
      ><el-input
        v-model="sheet[key]"
        size="small"
        :type="key === 'remarks' ? 'textarea' : 'text'"
        :autosize="{ minRows: 2, maxRows: 6 }"
        :aria-label="label"
        :maxlength="key === 'remarks' ? 2000 : 300"
        :disabled="!loaded"
        @input="changed"
    /></label>
    <p class="soft">
      {{
        savedAt
          ? `Saved ${savedAt.slice(0, 16).replace('T', ' ')} UTC.`
          : 'Filled in from the header; saved with the first change.'
      }}
      It goes into the trajectory’s report, and holds nothing up.
    </p>
  </details>
</template>

<style scoped>
.sheet {
  margin: 10px 0;
  font-size: 12.5px;
}
summary {
  cursor: pointer;
  font-weight: 600;
  margin-bottom: 4px;
}
summary .soft,
summary .state {
  font-weight: 400;
}
label {
  display: grid;
  grid-template-columns: 84px 1fr;
  align-items: center;
  gap: 4px;
  margin-bottom: 3px;
}
</style>
