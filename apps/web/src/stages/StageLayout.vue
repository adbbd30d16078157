<script setup lang="ts">
import { useEventListener, useLocalStorage } from '@vueuse/core';
import { isTyping } from '../ui/keys';
import ToolButton from '../ui/ToolButton.vue';
import EmptyStage from './EmptyStage.vue';
import StageTabs from './StageTabs.vue';

/**
 * Holdings, bench and sheet of a stage; its panels are tabs above the holdings, or above the sheet they fill. Left is
 * what there is, right what can be done with it; either column folds away.
 */
defineProps<{
  holdingsTitle: string;
  tabs?: 'holdings' | 'sheet';
  /** The panel says itself what it needs. */
  ownNeeds?: boolean;
}>();
const folded = useLocalStorage('longheron.columns', { left: false, right: false });
useEventListener(window, 'keydown', (event) => {
  if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.key === ',') folded.value.left = !folded.value.left;
  if (event.key === '.') folded.value.right = !folded.value.right;
});
</script>

<template>
  <div class="layout" :class="{ left: folded.left, right: folded.right }">
    <aside v-show="!folded.left" class="holdings" :aria-label="holdingsTitle">
      <div class="fold">
        <ToolButton icon="left" label="Fold this column away" hint="," @click="folded.left = true" />
      </div>
      <StageTabs v-if="tabs !== 'sheet'" />
      <h2>{{ holdingsTitle }}</h2>
      <slot name="holdings" />
    </aside>
    <div v-if="folded.left" class="rail">
      <ToolButton icon="right" :label="`Show ${holdingsTitle}`" hint="," @click="folded.left = false" />
    </div>
    <section class="bench" aria-label="Bench"><slot /><EmptyStage v-if="!ownNeeds" /></section>
    <aside v-show="!folded.right" class="sheet" aria-label="Sheet">
      <div class="fold">
        <ToolButton icon="right" label="Fold this column away" hint="." @click="folded.right = true" />
      </div>
      <StageTabs v-if="tabs === 'sheet'" keep /><slot name="sheet" />
    </aside>
    <div v-if="folded.right" class="rail right">
      <ToolButton icon="left" label="Show the sheet" hint="." @click="folded.right = false" />
    </div>
  </div>
</template>

<style scoped>
.layout {
  --left: 214px;
  --right: 294px;
  height: 100%;
  display: grid;
  grid-template-columns: var(--left) minmax(0, 1fr) var(--right);
}
.layout.left {
  --left: 28px !important;
}
.layout.right {
  --right: 28px !important;
}
.holdings,
.sheet {
  position: relative;
  overflow: auto;
}
.holdings {
  padding: 12px;
  border-right: 1px solid var(--line);
}
.holdings h2 {
  margin-bottom: 8px;
}
.fold {
  float: right;
  margin: -6px -8px 0 4px;
}
.rail {
  padding: 6px 0;
  text-align: center;
  border-right: 1px solid var(--line);
}
.rail.right {
  border-right: 0;
  border-left: 1px solid var(--line);
  background: var(--paper);
}
.bench {
  min-width: 0;
  min-height: 0;
  position: relative;
  background: var(--paper);
  display: grid;
}
.sheet {
  padding: 12px;
  border-left: 1px solid var(--line);
  background: var(--paper);
}
@media (min-width: 1700px) {
  .layout {
    --left: 280px;
    --right: 380px;
  }
}
@media (max-width: 1150px) {
  .layout {
    --left: 196px;
    --right: 272px;
  }
}
</style>
