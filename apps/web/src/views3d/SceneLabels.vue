<script setup lang="ts">
import { type Label } from './labels';

/** Names of marks, of what is measured and of what is picked, over the 3D view. */
defineProps<{ labels: readonly Label[] }>();
</script>

<template>
  <div class="labels" aria-hidden="true">
    <span
      v-for="l in labels"
      :key="l.key"
      class="label"
      :class="l.cls"
      :style="{ transform: `translate(${l.x}px, ${l.y}px)` }"
      ><i /><b v-if="l.text">{{ l.text }}</b></span
    >
  </div>
</template>

<style scoped>
.labels {
  position: absolute;
  inset: 0;
  pointer-events: none;
  overflow: hidden;
}
.label {
  position: absolute;
  left: 0;
  top: 0;
  color: #fff;
  font-size: 12px;
}
.label i {
  position: absolute;
  left: -5px;
  top: -5px;
  width: 10px;
  height: 10px;
  border: 1.5px solid #fff;
}
.label.control i {
  border-radius: 50%;
}
.label.unused i {
  border-color: #9fb3b8;
  transform: rotate(45deg) scale(0.7);
}
.label.strong i {
  background: #ffd27d;
}
.label b {
  position: absolute;
  left: 9px;
  top: -8px;
  font-weight: 400;
  text-shadow:
    0 0 3px #000,
    0 0 2px #000;
  white-space: nowrap;
}
.label.strong b {
  font-weight: 600;
}
.label.picked i {
  border-color: #ffd27d;
  border-radius: 50%;
  width: 14px;
  height: 14px;
  left: -7px;
  top: -7px;
}
.label.end i {
  border-color: #ffd27d;
  background: #ffd27d;
  width: 6px;
  height: 6px;
  left: -3px;
  top: -3px;
}
</style>
