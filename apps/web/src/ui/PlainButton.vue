<script setup lang="ts">
/** Words, figures or icons that can be pressed, without the look of a button. */
defineProps<{ title?: string; disabled?: boolean }>();
</script>

<template>
  <button type="button" class="plain" :title="title" :disabled="disabled"><slot /></button>
</template>
