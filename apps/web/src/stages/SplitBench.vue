<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core';

/** A bench of two parts above each other; the bar between them is drawn up or down, and stays where it was put. */
const props = defineProps<{ storageKey: string; upperPercent?: number }>();
const size = useLocalStorage<string | number>(`longheron.split.${props.storageKey}`, `${props.upperPercent ?? 64}%`);
</script>

<template>
  <el-splitter layout="vertical" class="split">
    <el-splitter-panel v-model:size="size" :min="120">
      <div class="part"><slot name="upper" /></div>
    </el-splitter-panel>
    <el-splitter-panel :min="80">
      <div class="part"><slot /></div>
    </el-splitter-panel>
  </el-splitter>
</template>

<style scoped>
.split {
  position: absolute;
  inset: 0;
}
.split :deep(.el-splitter-bar__dragger) {
  z-index: 3;
}
.split :deep(.el-splitter-panel) {
  overflow: hidden;
}
.part {
  position: relative;
  height: 100%;
  min-height: 0;
  display: grid;
}
</style>
