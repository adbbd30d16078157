<script setup lang="ts">
/** From one of several pictures to the next: arrows, the place among all, and what it shows. */
const props = defineProps<{ count: number; label: string; before: string; next: string }>();
const at = defineModel<number>({ required: true });
const step = (by: number) => (at.value = Math.max(0, Math.min(props.count - 1, at.value + by)));
</script>

<template>
  <div
    class="stepped"
    role="group"
    tabindex="0"
    :aria-label="label"
    @keydown.left.prevent="step(-1)"
    @keydown.right.prevent="step(1)"
  >
    <div class="head">
      <el-button size="small" :disabled="at === 0" :aria-label="before" @click="step(-1)">←</el-button>
      <span class="mono">{{ at + 1 }} of {{ count }}</span>
      <el-button size="small" :disabled="at >= count - 1" :aria-label="next" @click="step(1)">→</el-button>
      <slot name="head" />
    </div>
    <slot />
  </div>
</template>

<style scoped>
.stepped {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  height: 100%;
  min-height: 0;
  outline-offset: -2px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: center;
  padding: 4px 8px;
  font-size: 12px;
}
.head :deep(.dot) {
  display: inline-block;
  width: 9px;
  height: 9px;
  border-radius: 50%;
  margin-right: 4px;
}
.head :deep(.dot.first) {
  background: #0e5e66;
}
.head :deep(.dot.second) {
  background: #c96a1b;
}
</style>
