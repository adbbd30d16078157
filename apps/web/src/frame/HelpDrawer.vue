<script setup lang="ts">
import { useView } from '../stores/view';
import Fact from '../ui/Fact.vue';
import FactList from '../ui/FactList.vue';

const view = useView();
const KEYS: Array<[string, string]> = [
  ['1 – 6', 'go to a stage'],
  ['/', 'find anything in the project'],
  ['t', 'fold the time lanes'],
  [', and .', 'fold the left or the right column away, and back'],
  ['n', 'notices'],
  ['w', 'work in progress'],
  ['?', 'this list'],
  ['Esc', 'cancel the tool'],
  ['drag', 'orbit the cloud, pan the map'],
  ['right drag', 'pan the cloud'],
  ['wheel', 'zoom at the pointer'],
  ['f', 'frame everything (cloud)'],
  ['d', 'measure between points (cloud)'],
  ['Ctrl+Z, Ctrl+Shift+Z', 'undo, redo the last run or edit of what is shown'],
  ['double click', 'set the turning point (cloud)'],
  ['[ and ]', 'step the section by its width, along what leads it'],
  ['{ and }', 'turn the section by 5°'],
  ['r, l, p, b', 'rectangle, lasso, polygon, brush (Clean, by hand)'],
  ['Shift, Alt', 'add a shape to the selection, take it away'],
  ['i', 'turn the selection inside out'],
  ['Delete', 'reject what is selected'],
  ['Backspace', 'take the last shape or corner back'],
  ['↑ and ↓', 'next and previous mark (table of residuals)'],
  ['Enter', 'next mark without a place (Prove, plan)'],
  ['+ and −', 'zoom the picture of a mark (Prove, plan)'],
];
</script>

<template>
  <el-drawer
    :modal="false"
    modal-penetrable
    :model-value="view.drawer === 'help'"
    title="Keys"
    size="340px"
    @close="view.drawer = ''"
  >
    <FactList>
      <Fact v-for="[key, what] in KEYS" :key="key"
        ><template #label
          ><span class="mono">{{ key }}</span></template
        >{{ what }}</Fact
      >
    </FactList>
  </el-drawer>
</template>
