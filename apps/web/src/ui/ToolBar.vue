<script setup lang="ts">
/** One row of tools above a view; what does not fit into it stands in menus. */
defineProps<{ label: string; dark?: boolean }>();
</script>

<template>
  <div class="room">
    <div class="tools" :class="{ dark }" role="toolbar" :aria-label="label"><slot /></div>
  </div>
</template>

<style scoped>
.room {
  min-width: 0;
  container-type: inline-size;
}
/* beside a second view there is room for what is chosen, not for what the choice is */
@container (max-width: 460px) {
  .tools :deep(.el-select__prefix) {
    display: none;
  }
}
.tools {
  display: flex;
  align-items: center;
  gap: 2px;
  min-width: 0;
  height: 30px;
  padding: 0 6px;
  overflow: hidden;
  background: var(--paper);
  border-bottom: 1px solid var(--line);
  font-size: 12px;
}
.tools.dark {
  background: #16262d;
  border-color: #3a5058;
  color: #e6eef0;
  --line: #3a5058;
  --ink: #e6eef0;
  --ink-soft: #b4c4c9;
  --paper: #16262d;
  --reed: #7fc3c9;
  --reed-soft: #0e4c54;
  --el-fill-color-blank: #16262d;
  --el-bg-color-overlay: #16262d;
  --el-text-color-regular: #e6eef0;
  --el-text-color-placeholder: #b4c4c9;
  --el-border-color: #3a5058;
  --el-border-color-hover: #5aa6ad;
}
.tools :deep(.el-radio-group) {
  flex: none;
}
.tools :deep(.el-select) {
  flex: 0 1 150px;
  min-width: 84px;
}
</style>
