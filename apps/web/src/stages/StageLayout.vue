<script setup lang="ts">
import StageTabs from './StageTabs.vue';

/** Holdings, bench and sheet of a stage; its panels are tabs above the holdings, or above the sheet they fill. */
defineProps<{ holdingsTitle: string; tabs?: 'holdings' | 'sheet' }>();
</script>

<template>
  <div class="layout">
    <aside class="holdings" :aria-label="holdingsTitle">
      <StageTabs v-if="tabs !== 'sheet'" />
      <h2>{{ holdingsTitle }}</h2>
      <slot name="holdings" />
    </aside>
    <section class="bench" aria-label="Bench"><slot /></section>
    <aside class="sheet" aria-label="Sheet"><StageTabs v-if="tabs === 'sheet'" keep /><slot name="sheet" /></aside>
  </div>
</template>

<style scoped>
.layout {
  height: 100%;
  display: grid;
  grid-template-columns: 232px minmax(0, 1fr) 308px;
}
.holdings {
  overflow: auto;
  padding: 12px;
  border-right: 1px solid var(--line);
}
.holdings h2 {
  margin-bottom: 8px;
}
.bench {
  min-width: 0;
  min-height: 0;
  position: relative;
  background: var(--paper);
  display: grid;
}
.sheet {
  overflow: auto;
  padding: 12px 16px;
  border-left: 1px solid var(--line);
  background: var(--paper);
}
@media (min-width: 1700px) {
  .layout {
    grid-template-columns: 280px minmax(0, 1fr) 380px;
  }
}
@media (max-width: 1150px) {
  .layout {
    grid-template-columns: 196px minmax(0, 1fr) 272px;
  }
}
</style>
