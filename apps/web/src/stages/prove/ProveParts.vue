<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core';

/** What is proved: heights and plan at marks, strips against each other, how the area is covered, or classes against a reference. */
const part = useLocalStorage<'marks' | 'plan' | 'strips' | 'coverage' | 'classes'>('longheron.provePart', 'marks');
</script>

<template>
  <el-radio-group v-model="part" size="small" class="parts" aria-label="What is proved"
    ><el-radio-button value="marks" label="Heights" /><el-radio-button value="plan" label="Plan" /><el-radio-button
      value="strips"
      label="Strips" /><el-radio-button value="coverage" label="Coverage" /><el-radio-button
      value="classes"
      label="Classes"
  /></el-radio-group>
</template>

<style scoped>
.parts {
  display: grid;
  grid-template-columns: repeat(3, auto);
  margin-bottom: 10px;
}
.parts :deep(.el-radio-button__inner) {
  width: 100%;
  padding: 5px 4px;
}
</style>
