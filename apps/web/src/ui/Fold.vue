<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core';

/** A part of a sheet under its heading, folded away until it is wanted; whether it is open is kept. */
const props = defineProps<{ heading: string; open?: boolean }>();
const open = useLocalStorage(`longheron.fold.${props.heading}`, props.open ?? false);
</script>

<template>
  <section class="fold">
    <h2>
      <button type="button" :aria-expanded="open" @click="open = !open">
        <span class="turn" :class="{ open }" aria-hidden="true" />{{ heading }}
      </button>
    </h2>
    <div v-if="open"><slot /></div>
  </section>
</template>

<style scoped>
.fold {
  border-bottom: 1px solid var(--line);
  padding-bottom: 8px;
  margin-bottom: 8px;
}
h2 {
  margin: 4px 0;
}
button {
  all: unset;
  cursor: pointer;
  width: 100%;
  display: flex;
  align-items: center;
  gap: 8px;
}
button:focus-visible {
  outline: 2px solid var(--reed);
}
.turn {
  width: 0;
  height: 0;
  border: 4px solid transparent;
  border-left-color: var(--ink-soft);
  transform: translateX(2px);
}
.turn.open {
  transform: translate(-1px, 2px) rotate(90deg);
}
</style>
