<script setup lang="ts">
/** Ways to look at the same thing, one of them chosen. */
defineProps<{ label: string; tabs: Array<{ key: string; label: string; hint?: string; disabled?: boolean }> }>();
const chosen = defineModel<string>({ required: true });
</script>

<template>
  <div role="tablist" class="row" :aria-label="label">
    <button
      v-for="t in tabs"
      :key="t.key"
      type="button"
      role="tab"
      :aria-selected="chosen === t.key"
      :disabled="t.disabled"
      :title="t.hint"
      @click="chosen = t.key"
    >
      {{ t.label }}
    </button>
  </div>
</template>

<style scoped>
.row {
  display: flex;
}
button {
  border: 0;
  background: none;
  padding: 0 9px;
  white-space: nowrap;
  height: 31px;
  cursor: pointer;
  border-bottom: 2px solid transparent;
}
button[aria-selected='true'] {
  border-color: var(--reed);
  font-weight: 600;
}
button:disabled {
  color: var(--ink-soft);
  cursor: default;
}
</style>
