<script setup lang="ts">
import Num from './Num.vue';

/** One setting: what it is, its unit and range, and why it has the default it has. */
defineProps<{
  label: string;
  unit: string;
  reason: string;
  min: number;
  max: number;
  step?: number;
  digits?: number;
  disabled?: boolean;
}>();
const value = defineModel<number | undefined>({ required: true });
/** Numbers of so many digits need a wider box. */
const WIDE = 1e7;
const decimalsOf = (v: number) => String(v).split('.')[1]?.length ?? 0;
</script>

<template>
  <div class="setting">
    <label
      ><span
        >{{ label }}<span v-if="unit" class="soft">, {{ unit }}</span></span
      ><el-input-number
        :model-value="value"
        :aria-label="unit ? `${label}, ${unit}` : label"
        :min="min"
        :max="max"
        :step="step ?? 1"
        :precision="digits"
        :disabled="disabled"
        :class="{ wide: Math.max(max, -min) >= WIDE }"
        controls-position="right"
        @update:model-value="value = $event ?? value"
    /></label>
    <p class="soft">
      {{ reason }} (<Num :value="min" :digits="decimalsOf(min)" /> to <Num :value="max" :digits="decimalsOf(max)" />)
    </p>
  </div>
</template>

<style scoped>
.setting {
  margin-bottom: 6px;
}
label {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
}
label :deep(.el-input-number) {
  width: 92px;
  flex: none;
}
label :deep(.el-input-number.wide) {
  width: 124px;
}
p {
  margin: 1px 0 0;
  font-size: 12px;
  line-height: 1.35;
}
</style>
