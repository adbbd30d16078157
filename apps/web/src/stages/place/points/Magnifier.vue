<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue';

/** A few pixels about the pointer, or about the pick when the pointer is elsewhere. */
const props = defineProps<{
  picture: ImageBitmap | null;
  at: [number, number] | null;
  pick: [number, number] | null;
}>();
const CELLS = 21;
const EDGE = 168;
const canvas = ref<HTMLCanvasElement | null>(null);
const about = computed(() => props.at ?? props.pick);
function draw(): void {
  const context = canvas.value?.getContext('2d');
  if (!context) return;
  context.fillStyle = '#0c1a20';
  context.fillRect(0, 0, EDGE, EDGE);
  const at = about.value;
  if (!at || !props.picture) return;
  const cell = EDGE / CELLS;
  context.imageSmoothingEnabled = false;
  // pixel (0, 0) is the centre of the first one
  const [left, top] = [at[0] + 0.5 - CELLS / 2, at[1] + 0.5 - CELLS / 2];
  context.drawImage(props.picture, -left * cell, -top * cell, props.picture.width * cell, props.picture.height * cell);
  const cross = (u: number, v: number, colour: string, gap: number) => {
    const [x, y] = [(u + 0.5 - left) * cell, (v + 0.5 - top) * cell];
    context.strokeStyle = colour;
    context.lineWidth = 1.5;
    context.beginPath();
    for (const s of [-1, 1]) {
      context.moveTo(x + s * gap, y);
      context.lineTo(x + s * (gap + 10), y);
      context.moveTo(x, y + s * gap);
      context.lineTo(x, y + s * (gap + 10));
    }
    context.stroke();
  };
  if (props.pick) cross(props.pick[0], props.pick[1], '#ffb13d', 4);
  if (props.at) cross(props.at[0], props.at[1], '#7fd3da', 2);
}
onMounted(draw);
watch(() => [props.picture, about.value?.join(), props.pick?.join()], draw);
</script>

<template>
  <div>
    <canvas ref="canvas" :width="EDGE" :height="EDGE" aria-label="Magnified, 8 times" />
    <p class="mono soft">
      <template v-if="about">x {{ about[0].toFixed(1) }}, y {{ about[1].toFixed(1) }} px</template
      ><template v-else>8 times magnified</template>
    </p>
  </div>
</template>

<style scoped>
canvas {
  display: block;
  border: 1px solid var(--line);
}
p {
  font-size: 12px;
  margin: 2px 0 8px;
}
</style>
