<script setup lang="ts">
/** Where north is on the screen, degrees clockwise from up. */
defineProps<{ northDeg: number }>();
</script>

<template>
  <svg class="north" viewBox="-14 -14 28 28" role="img" :aria-label="`North is ${Math.round(northDeg)}° from up`">
    <g :transform="`rotate(${northDeg})`">
      <path d="M0 -12L4 3 0 1 -4 3z" />
      <text y="12">N</text>
    </g>
  </svg>
</template>

<style scoped>
.north {
  width: 34px;
  margin-left: auto;
  pointer-events: none !important;
}
.north path {
  fill: #ffd27d;
}
.north text {
  font: 600 8px var(--sans);
  fill: #ffd27d;
  text-anchor: middle;
}
</style>
