<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core';

/** What is proved: heights and plan at marks, or strips against each other. */
const part = useLocalStorage<'marks' | 'plan' | 'strips'>('longheron.provePart', 'marks');
</script>

<template>
  <el-radio-group v-model="part" size="small" class="parts" aria-label="What is proved"
    ><el-radio-button value="marks" label="Heights" /><el-radio-button value="plan" label="Plan" /><el-radio-button
      value="strips"
      label="Strips"
  /></el-radio-group>
</template>

<style scoped>
.parts {
  margin-bottom: 10px;
}
</style>
