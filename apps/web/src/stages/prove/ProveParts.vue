<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core';

/** What is proved: heights at marks, or strips against each other. */
const part = useLocalStorage<'marks' | 'strips'>('longheron.provePart', 'marks');
</script>

<template>
  <el-radio-group v-model="part" size="small" class="parts" aria-label="What is proved"
    ><el-radio-button value="marks" label="Marks" /><el-radio-button value="strips" label="Strips"
  /></el-radio-group>
</template>

<style scoped>
.parts {
  margin-bottom: 10px;
}
</style>
