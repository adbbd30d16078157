<script setup lang="ts">
/** A labelled number in one line; the label names the unit. */
defineProps<{ label: string; name: string; min?: number; max?: number; digits: number }>();
const value = defineModel<number | undefined>({ required: true });
</script>

<template>
  <label class="number"
    >{{ label
    }}<el-input-number
      v-model="value"
      :controls="false"
      :min="min ?? -Infinity"
      :max="max ?? Infinity"
      :precision="digits"
      :aria-label="name"
  /></label>
</template>

<style scoped>
.number {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
  font-size: 12px;
}
.number .el-input-number {
  flex: none;
  width: 110px;
}
</style>
