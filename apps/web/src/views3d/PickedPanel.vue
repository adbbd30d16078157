<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { formatGps } from '@longheron/core/time';
import { type DatasetOf } from '@longheron/contract/api';
import { api } from '../api/client';
import { useProject } from '../stores/project';
import { useCloudLook } from '../stores/cloudLook';
import { panelPath } from '../stages/address';
import Num from '../ui/Num.vue';
import { useUnits } from '../ui/units';
import { className } from './colouring';
import PlainButton from '../ui/PlainButton.vue';
import ToolButton from '../ui/ToolButton.vue';
import Fact from '../ui/Fact.vue';
import FactList from '../ui/FactList.vue';

const props = defineProps<{ dataset: DatasetOf<'point-cloud'> }>();
const store = useProject();
const look = useCloudLook();
const { length, small } = useUnits();
const p = computed(() => look.picked);
const open = ref(false);
/** All attributes of the point as the cloud's file holds them. */
const attributes = ref<Array<[string, string]>>([]);
watch(
  () => [p.value?.row, props.dataset.id] as const,
  async ([row]) => {
    attributes.value = [];
    if (row === undefined) return;
    const path = `/projects/${store.project!.id}/datasets/${props.dataset.id}/points/${row}`;
    attributes.value = await api.get<Array<[string, string]>>(path).catch(() => []);
  },
  { immediate: true },
);
/** The inputs of the cloud, theirs, and so on, up to raw files. */
const trail = computed(() => {
  const out: Array<{ depth: number; text: string }> = [];
  const seen = new Set<number>();
  const walk = (id: number, depth: number) => {
    const d = store.datasets.find((x) => x.id === id);
    if (!d || seen.has(id) || depth > 8) return;
    seen.add(id);
    out.push({ depth, text: `${d.name}, revision ${d.revision.number}` });
    for (const i of d.revision.inputs) walk(i.datasetId, depth + 1);
  };
  walk(props.dataset.id, 0);
  return out;
});
/** The photographs of an adjusted block at this place. */
const pictured = computed(() => {
  const block = store
    .ofKind('block')
    .find((b) => b.revision.content.oriented && b.revision.content.figures.frame === 'earth');
  if (!block || !p.value) return undefined;
  const { eastingM, northingM, heightM } = p.value;
  const at = [eastingM, northingM, heightM].map((v) => v.toFixed(3)).join(',');
  return `${panelPath(String(store.project!.id), 'place', 'points', block.id)}?at=${at}&cloud=${props.dataset.id}`;
});
const display = computed(() => store.project?.reference?.time ?? 'gps');
</script>

<template>
  <div v-if="p" class="panel" aria-label="Picked point">
    <ToolButton class="close" icon="close" label="Clear point" hint="Esc" @click="look.picked = null" />
    <FactList>
      <Fact label="E"><Num :value="length.of(p.eastingM)" :digits="3" :unit="length.symbol" /></Fact>
      <Fact label="N"><Num :value="length.of(p.northingM)" :digits="3" :unit="length.symbol" /></Fact>
      <Fact label="H"><Num :value="length.of(p.heightM)" :digits="3" :unit="length.symbol" /></Fact>
      <Fact label="SD H (1 SD)"><Num :value="small.of(p.sdHM)" :digits="small.digits + 1" :unit="small.symbol" /></Fact>
      <Fact label="Class">{{ className(p.cls) }} ({{ p.cls }}), echo {{ p.echo }} of {{ p.echoes }}</Fact>
    </FactList>
    <RouterLink v-if="pictured" class="show" :to="pictured">Show in photographs</RouterLink>
    <PlainButton class="more" :aria-expanded="open" @click="open = !open">
      {{ open ? 'Fewer' : 'Every attribute and trail' }}
    </PlainButton>
    <template v-if="open">
      <FactList>
        <Fact label="Strip">{{ p.strip || 'in no strip' }}</Fact>
        <Fact label="Intensity">{{ p.intensity }}</Fact>
        <Fact label="Time">{{ formatGps(p.gpsS, display, 3) }}</Fact>
        <Fact v-for="[k, v] in attributes" :key="k" :label="k">{{ v }}</Fact>
      </FactList>
      <ul>
        <li v-for="t in trail" :key="t.text" :style="{ paddingLeft: `${8 * t.depth}px` }">
          {{ t.depth ? 'from ' : '' }}{{ t.text }}
        </li>
      </ul>
    </template>
  </div>
</template>

<style scoped>
.panel {
  --line-soft: #2a3d45;
  --ink-soft: #b4c4c9;
  position: relative;
  max-height: 100%;
  overflow: auto;
  width: 216px;
  background: #16262df2;
  color: #e6eef0;
  border: 1px solid #3a5058;
  border-radius: 4px;
  padding: 8px 10px;
  font-size: 12px;
}
.close {
  position: absolute;
  right: 6px;
  top: 6px;
}
table {
  width: 100%;
  border-collapse: collapse;
}
td {
  padding: 1px 0;
  vertical-align: top;
}
td:first-child {
  color: #a9bcc2;
  padding-right: 8px;
  white-space: nowrap;
}
td:last-child {
  font-family: var(--mono);
  overflow-wrap: anywhere;
}
.panel :deep(.num .u) {
  color: #a9bcc2;
}
.show {
  display: block;
  margin-top: 4px;
  color: #7fc3c9;
}
.more {
  text-decoration: underline dotted;
  margin: 4px 0;
}
ul {
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
  overflow-wrap: anywhere;
}
</style>
