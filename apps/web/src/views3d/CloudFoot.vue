<script setup lang="ts">
import { computed } from 'vue';
import { METRES_PER, UNIT_SYMBOL } from '@longheron/core/frames';
import { type CloudIndex, type DatasetOf } from '@longheron/contract/api';
import { useCloudLook } from '../stores/cloudLook';
import { useProject } from '../stores/project';
import { useStrips } from '../stores/strips';
import { STRIP_COLOURS } from '../ui/colour';
import Num from '../ui/Num.vue';
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
  /** Without the classes, where there is little room. */
  narrow?: boolean;
}>();
const limits = defineModel<[number, number]>({ required: true });
const store = useProject();
const look = useCloudLook();
const unit = computed(() => store.project?.reference?.unit ?? 'metre');
const scaled = computed(() => SCALED.includes(props.colouring));
/** Heights are shown in the unit of the project. */
const isHeight = computed(() => props.colouring === 'height' || props.colouring === 'above');
const counts = computed(() => (props.dataset.revision.content.countsByClass ?? {}) as Record<string, number>);
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
      <div v-if="!narrow || colouring === 'class'" class="classes">
        <button
          v-for="(n, c) in counts"
          :key="c"
          class="swatch"
          :aria-pressed="!look.hidden.has(Number(c))"
          :title="`${n} points; click to ${look.hidden.has(Number(c)) ? 'show' : 'hide'}`"
          @click="look.toggleClass(Number(c))"
        >
          <i v-if="colouring === 'class'" :style="{ background: classColour(Number(c)) }" />{{ className(Number(c)) }}
        </button>
      </div>
    </div>
    <div class="status">
      <span v-if="failure" class="bad">{{ failure }}</span>
      <span v-if="hidden.length" class="filter">Filter: {{ hidden.join('; ') }}</span>
      <span v-if="look.exaggeration3d !== 1" class="filter">heights × {{ look.exaggeration3d }}</span>
      <span
        ><Num :value="status.points" /> of <Num :value="index?.count ?? 0" /> points,
        {{ status.finished ? 'full detail for this view' : status.loading ? 'loading' : 'drawing' }}</span
      >
    </div>
  </div>
</template>

<style scoped>
.foot {
  display: flex;
  flex: none;
  justify-content: space-between;
  align-items: flex-end;
  flex-wrap: wrap;
  gap: 6px 12px;
  color: #e6eef0;
  font-size: 11px;
  pointer-events: none;
}
.key,
.status {
  background: #16262de6;
  border-radius: 4px;
  padding: 5px 8px;
  pointer-events: auto;
}
.status {
  display: grid;
  justify-items: end;
  text-align: right;
  margin-left: auto;
  font-variant-numeric: tabular-nums;
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
  margin-right: 8px;
  background: none;
  border: 0;
  padding: 0;
  color: inherit;
  font-size: 11px;
}
button.swatch {
  cursor: pointer;
}
.swatch[aria-pressed='false'] {
  text-decoration: line-through;
  opacity: 0.6;
}
.swatch i {
  width: 9px;
  height: 9px;
}
.classes {
  margin-top: 3px;
}
:focus-visible {
  outline-color: #9fd6da;
}
</style>
