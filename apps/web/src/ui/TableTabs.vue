<script setup lang="ts">
import TabRow from './TabRow.vue';

/** Tables of one result, one of them shown at a time below a view of it. */
defineProps<{ label: string; tabs: Array<{ key: string; label: string }> }>();
const chosen = defineModel<string>({ required: true });
</script>

<template>
  <div class="tables">
    <TabRow v-model="chosen" :label="label" :tabs="tabs" />
    <div class="scroll" tabindex="0" role="group" aria-label="Table"><slot /></div>
  </div>
</template>

<style scoped>
.tables {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  background: var(--paper);
  min-width: 0;
}
.scroll {
  overflow: auto;
  padding: 0 10px 10px;
}
</style>
