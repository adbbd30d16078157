<script setup lang="ts">
/** What a figure is, and the figure. */
defineProps<{ label?: string; hint?: string }>();
</script>

<template>
  <div class="fact" :title="hint">
    <dt>
      <slot name="label">{{ label }}</slot>
    </dt>
    <dd><slot /></dd>
  </div>
</template>

<style scoped>
.fact {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 3px 0;
  border-bottom: 1px solid var(--line-soft);
}
dt {
  color: var(--ink-soft);
}
dd {
  margin: 0;
  text-align: right;
  overflow-wrap: anywhere;
}
</style>
