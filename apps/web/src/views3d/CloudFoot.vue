<script setup lang="ts">
import { computed } from 'vue';
import { METRES_PER, UNIT_SYMBOL } from '@longheron/core/frames';
import { type CloudIndex, type DatasetOf } from '@longheron/contract/api';
import { useCloudLook } from '../stores/cloudLook';
import { useProject } from '../stores/project';
import { useStrips } from '../stores/strips';
import { STRIP_COLOURS } from '../ui/colour';
import Num from '../ui/Num.vue';
import ToolMenu, { type ToolItem } from '../ui/ToolMenu.vue';
import { classColour, className, COLOURING_NAMES, SCALED, type Colouring, type Scale } from './colouring';
import { scaleColours } from './pointMaterial';
import ScaleLegend from './ScaleLegend.vue';

/** Below a cloud: the key of its colours, its classes, how much is drawn, what is not shown. */
const props = defineProps<{
  dataset: DatasetOf<'point-cloud'>;
  index: CloudIndex | undefined;
  colouring: Colouring;
  scale: Scale | null;
  status: { points: number; finished: boolean; loading: boolean };
  hidden: string[];
  failure: string;
}>();
const limits = defineModel<[number, number]>({ required: true });
const store = useProject();
const look = useCloudLook();
const unit = computed(() => store.project?.reference?.unit ?? 'metre');
const scaled = computed(() => SCALED.includes(props.colouring));
/** Heights are shown in the unit of the project. */
const isHeight = computed(() => props.colouring === 'height' || props.colouring === 'above');
const counts = computed(() => (props.dataset.revision.content.countsByClass ?? {}) as Record<string, number>);
const classes = computed<ToolItem[]>(() =>
  Object.entries(counts.value).map(([c, n]) => ({
    key: c,
    label: `${className(Number(c))}, ${n.toLocaleString('en').replaceAll(',', ' ')} points`,
    on: !look.hidden.has(Number(c)),
  })),
);
const toggle = (key: string) => look.toggleClass(Number(key));
const shown = computed(() =>
  Object.keys(counts.value)
    .map(Number)
    .filter((c) => !look.hidden.has(c)),
);
const stripsOf = useStrips(() => props.dataset);
const strips = computed(stripsOf);
</script>

<template>
  <div class="foot">
    <div class="key">
      <ScaleLegend
        v-if="scaled && scale"
        v-model="limits"
        :title="COLOURING_NAMES[colouring]"
        :scale="scale"
        :colours="scaleColours(colouring)"
        :factor="isHeight ? 1 / METRES_PER[unit] : scale.factor"
        :unit="isHeight ? UNIT_SYMBOL[unit] : scale.unit"
      />
      <template v-else-if="colouring === 'strip'">
        <span v-for="s in [0, ...strips]" :key="s" class="swatch"
          ><i :style="{ background: STRIP_COLOURS[s % 9] }" />{{ s ? `strip ${s}` : 'in no strip' }}</span
        >
      </template>
      <template v-else-if="colouring === 'echo'">
        <span class="swatch"><i style="background: #9eadb3" />single</span>
        <span class="swatch"><i style="background: #5ca6db" />first</span>
        <span class="swatch"><i style="background: #e0a13d" />between</span>
        <span class="swatch"><i style="background: #b880d4" />last</span>
      </template>
      <template v-else-if="colouring === 'class'">
        <span v-for="c in shown" :key="c" class="swatch"
          ><i :style="{ background: classColour(c) }" />{{ className(c) }}</span
        >
      </template>
      <ToolMenu icon="classes" label="Classes" hint="which are shown" :items="classes" @choose="toggle" />
    </div>
    <div class="status">
      <span v-if="failure" class="bad">{{ failure }}</span>
      <span v-if="hidden.length" class="filter" :title="`Filter: ${hidden.join('; ')}`"
        >Filter: {{ hidden.join('; ') }}</span
      >
      <span v-if="look.exaggeration3d !== 1" class="filter">heights × {{ look.exaggeration3d }}</span>
      <span
        ><Num :value="status.points" /> of <Num :value="index?.count ?? 0" /> points,
        {{ status.finished ? 'enough for this view' : status.loading ? 'loading' : 'drawing' }}</span
      >
    </div>
  </div>
</template>

<style scoped>
.foot {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: center;
  gap: 0 12px;
  min-height: 34px;
  padding: 2px 8px;
  background: #16262d;
  border-top: 1px solid #3a5058;
  color: #e6eef0;
  font-size: 12px;
  --line: #3a5058;
}
.key {
  display: flex;
  flex: none;
  flex-wrap: wrap;
  align-items: center;
  gap: 0 8px;
  max-width: 100%;
}
.status {
  flex: 1 1 160px;
  min-width: 0;
  text-align: right;
  font-variant-numeric: tabular-nums;
  line-height: 1.25;
}
.status > span {
  display: block;
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
}
.status .bad {
  color: #f0a08f;
}
.status .filter {
  color: #ffd27d;
}
.swatch {
  display: inline-flex;
  align-items: center;
  gap: 4px;
}
.swatch i {
  width: 9px;
  height: 9px;
}
:focus-visible {
  outline-color: #9fd6da;
}
</style>
