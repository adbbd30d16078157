<script setup lang="ts">
/** Names and their figures, one to a line. */
defineProps<{ label?: string }>();
</script>

<template>
  <dl class="facts" :aria-label="label"><slot /></dl>
</template>

<style scoped>
.facts {
  margin: 0 0 8px;
  font-size: 12px;
}
</style>
