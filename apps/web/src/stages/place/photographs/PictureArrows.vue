<script setup lang="ts">
import { computed } from 'vue';

/** Arrows over the area of a picture, drawn longer than they are; what is alike in one part shows as a pattern. */
const props = defineProps<{
  title: string;
  widthPx: number;
  heightPx: number;
  /** From a place of the picture by so many pixels. */
  arrows: ReadonlyArray<{ x: number; y: number; dx: number; dy: number; title?: string }>;
}>();
const WIDE = 250;
const scale = computed(() => WIDE / props.widthPx);
/** The largest is drawn as long as a part of the picture is wide. */
const longer = computed(() => {
  const most = Math.max(1e-6, ...props.arrows.map((a) => Math.hypot(a.dx, a.dy)));
  const wanted = 24 / (most * scale.value);
  const power = 10 ** Math.floor(Math.log10(wanted));
  return [5, 2, 1].map((f) => f * power).find((v) => v <= wanted) ?? power;
});
const most = computed(() => Math.max(0, ...props.arrows.map((a) => Math.hypot(a.dx, a.dy))));
</script>

<template>
  <figure>
    <svg :width="WIDE" :height="heightPx * scale" role="img" :aria-label="title">
      <rect width="100%" height="100%" />
      <g v-for="(a, k) in arrows" :key="k">
        <title v-if="a.title">{{ a.title }}</title>
        <circle :cx="a.x * scale" :cy="a.y * scale" r="1.5" />
        <path :d="`M${a.x * scale} ${a.y * scale}l${a.dx * scale * longer} ${a.dy * scale * longer}`" />
      </g>
    </svg>
    <figcaption>
      {{ title }}: {{ longer }} times as long, <span class="mono">{{ most.toFixed(2) }} px</span> at most
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
rect {
  fill: var(--mist);
  stroke: var(--line);
}
circle {
  fill: var(--ink-soft);
}
path {
  fill: none;
  stroke: var(--reed);
  stroke-width: 1.5;
}
figcaption {
  font-size: 12px;
  color: var(--ink-soft);
  max-width: 250px;
}
</style>
