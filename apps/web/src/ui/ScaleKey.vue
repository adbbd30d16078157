<script setup lang="ts">
import { gradient } from './colour';

/** Key of a scale of colours on a map: what it is, and what its ends (and its middle) stand for. */
defineProps<{ title: string; colours: string[]; labels: string[] }>();
</script>

<template>
  <div class="key">
    <span>{{ title }}</span>
    <div class="ramp" :style="{ background: gradient(colours) }" />
    <div class="ends mono">
      <span v-for="l in labels" :key="l">{{ l }}</span>
    </div>
    <slot />
  </div>
</template>

<style scoped>
.key {
  position: absolute;
  left: 8px;
  bottom: 8px;
  background: #ffffffe8;
  border: 1px solid var(--line);
  border-radius: 4px;
  padding: 4px 8px;
  font-size: 11px;
  min-width: 190px;
}
.ramp {
  height: 8px;
  margin: 3px 0;
}
.ends {
  display: flex;
  justify-content: space-between;
}
</style>
