<script setup lang="ts">
import { computed } from 'vue';
import { useEventListener } from '@vueuse/core';
import { type DatasetOf } from '@longheron/contract/api';
import { useOwnClasses } from '../../../stores/ownClasses';
import { useCloudLook } from '../../../stores/cloudLook';
import { useProject } from '../../../stores/project';
import { useOutlines } from '../../outlines';
import { useView } from '../../../stores/view';
import { useSelection, type SelectionMode, type SelectionTool } from '../../../stores/selection';
import { planOf } from '../../../views3d/clipBox';
import { className } from '../../../views3d/colouring';
import { isTyping } from '../../../ui/keys';
import OwnClasses from './OwnClasses.vue';
import SelectionActs from './SelectionActs.vue';
import RadioRow from '../../../ui/RadioRow.vue';

/** Selecting points by drawing over the views. */
defineProps<{ dataset: DatasetOf<'point-cloud'> }>();
const selection = useSelection();
const look = useCloudLook();
const store = useProject();
const view = useView();
const TOOLS: Array<[SelectionTool, string, string]> = [
  ['rectangle', 'Rectangle', 'r'],
  ['lasso', 'Lasso', 'l'],
  ['polygon', 'Polygon', 'p'],
  ['brush', 'Brush', 'b'],
];
const MODES: Array<[SelectionMode, string, string]> = [
  ['replace', 'Anew', 'A shape begins a new selection'],
  ['add', 'Add', 'Shift does so for one shape'],
  ['subtract', 'Take away', 'Alt does so for one shape'],
  ['within', 'Within', 'Keeps only what lies in the shape too'],
];
// areas of a file: outer rings are added, holes taken away
const files = computed(() => store.ofKind('outlines'));
const { areas } = useOutlines(() => files.value);
function selectArea(index: number): void {
  const area = areas.value[index];
  if (!area) return;
  const [outer, ...holes] = area.parts;
  selection.add({ kind: 'plan', polygon: outer });
  for (const polygon of holes) selection.add({ kind: 'plan', polygon }, 'subtract');
}
/** What lies in the box of the cloud view, between its heights as far as these are set. */
function selectBox(): void {
  if (!view.section) return;
  const heightM = look.filter.heightM;
  const polygon = planOf({ ...view.section, heightM: heightM ?? [0, 0] });
  selection.add({ kind: 'plan', polygon, ...(heightM ? { heightM } : {}) });
}
const own = useOwnClasses();
const classes = computed(() => own.codes);
const hints: Record<SelectionTool, string> = {
  none: 'Choose a tool, and draw over the cloud, the plan or a section.',
  rectangle: 'Drag over the cloud, the plan or a section.',
  lasso: 'Drag round the points, in the cloud, in plan or a section.',
  polygon: 'Click the corners; double click or Enter closes, Backspace takes one back.',
  brush: 'Paint over the points in a section.',
};
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
  const tool = TOOLS.find(([, , key]) => key === event.key);
  if (tool) selection.tool = selection.tool === tool[0] ? 'none' : tool[0];
  else if (event.key === 'Escape' && selection.tool !== 'none') {
    selection.tool = 'none';
    // letting go of the tool does not let go of the selection
    event.stopImmediatePropagation();
  } else return;
  event.preventDefault();
});
</script>

<template>
  <h2>Select and change points</h2>
  <RadioRow
    class="tools"
    label="Tool"
    none="none"
    :choices="TOOLS.map(([key, label, short]) => ({ key, label, hint: `${label} (${short})` }))"
    :model-value="selection.tool"
    @update:model-value="selection.tool = $event as SelectionTool"
  />
  <el-radio-group v-model="selection.mode" size="small" class="modes" aria-label="What a shape does"
    ><el-radio-button v-for="[value, label, why] in MODES" :key="value" :value="value" :title="why">{{
      label
    }}</el-radio-button></el-radio-group
  >
  <p class="soft">{{ hints[selection.tool] }}</p>
  <p v-if="look.clip && view.section" class="soft">
    <el-button size="small" @click="selectBox">Select the box</el-button>
    With "Clip to box" off, it can be turned inside out.
  </p>
  <label v-if="areas.length" class="line"
    >Within an area<el-select
      aria-label="Select within an area"
      placeholder="choose …"
      :model-value="''"
      @change="selectArea"
    >
      <el-option v-for="(a, i) in areas" :key="a.name" :value="i" :label="a.name" /> </el-select
  ></label>
  <label v-if="selection.tool === 'brush'" class="line"
    >Brush, pixels<el-input-number
      v-model="selection.brushPx"
      size="small"
      :min="2"
      :max="60"
      :step="2"
      aria-label="Half the width of the brush, pixels"
  /></label>
  <label v-if="selection.tool === 'brush'" class="line"
    >A stroke<el-select v-model="selection.paint" size="small" filterable aria-label="What a stroke of the brush does"
      ><el-option value="" label="selects" /><el-option value="reject" label="rejects" /><el-option
        v-for="c in classes"
        :key="c"
        :value="`class ${c}`"
        :label="`paints ${c} ${className(c)}`" /></el-select
  ></label>
  <label class="line"
    >Selected points<el-select v-model="look.selected" size="small" aria-label="Selected points"
      ><el-option value="marked" label="marked" /><el-option value="only" label="alone" /><el-option
        value="hidden"
        label="as if gone" /></el-select
  ></label>
  <label class="line"
    >Rejected points<el-select v-model="look.rejected" size="small" aria-label="Rejected points"
      ><el-option value="hidden" label="hidden" /><el-option value="shown" label="shown" /><el-option
        value="only"
        label="alone" /></el-select
  ></label>

  <SelectionActs :dataset="dataset" />
  <OwnClasses />
</template>

<style scoped>
.tools {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: 4px;
  margin-bottom: 6px;
}
.modes {
  display: grid;
  grid-template-columns: repeat(4, auto);
  margin-bottom: 4px;
}
.modes :deep(.el-radio-button__inner) {
  width: 100%;
  padding: 5px 2px;
}
.line {
  display: flex;
  justify-content: space-between;
  align-items: center;
  font-size: 12.5px;
  margin: 4px 0;
}
.line .el-select,
.line .el-input-number {
  width: 130px;
}
</style>
