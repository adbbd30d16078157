<script setup lang="ts">
import { computed } from 'vue';
import { type BlockCameraFigures } from '@longheron/contract/kinds/block';
import { CAMERA_TERMS, Projector, undistorted, type Camera } from '@longheron/core/photo';
import PictureArrows from './PictureArrows.vue';

/** A camera over its picture: by what adjusted differs from nominal, and what residuals are left where. */
const props = defineProps<{ camera: BlockCameraFigures }>();
const STEPS = { x: 9, y: 6 };
/** Nominal principal points lie in the middle; the picture is as wide as that says. */
const sized = computed(() => {
  const value = (name: string, key: 'nominal' | 'value') => props.camera.terms.find((t) => t.name === name)?.[key] ?? 0;
  const names = ['focal_px', 'cx_px', 'cy_px', 'k1', 'k2', 'k3', 'p1', 'p2'];
  const size = { widthPx: 2 * value('cx_px', 'nominal') + 1, heightPx: 2 * value('cy_px', 'nominal') + 1 };
  const of = (key: 'nominal' | 'value') =>
    ({ ...size, ...Object.fromEntries(CAMERA_TERMS.map((t, k) => [t, value(names[k], key)])) }) as Camera;
  return { ...size, nominal: of('nominal'), adjusted: of('value') };
});
const change = computed(() => {
  const { widthPx, heightPx, nominal, adjusted } = sized.value;
  const projector = new Projector(adjusted);
  const at = new Float64Array(2);
  return Array.from({ length: STEPS.x * STEPS.y }, (_, k) => {
    const x = (((k % STEPS.x) + 0.5) / STEPS.x) * widthPx;
    const y = ((Math.floor(k / STEPS.x) + 0.5) / STEPS.y) * heightPx;
    const [a, b] = undistorted(nominal, (x - nominal.cxPx) / nominal.focalPx, (y - nominal.cyPx) / nominal.focalPx);
    projector.project(a, b, 1, at);
    return { x, y, dx: at[0] - x, dy: at[1] - y };
  });
});
const left = computed(() => {
  const area = props.camera.area;
  if (!area) return [];
  const { widthPx, heightPx } = sized.value;
  return area.parts.flatMap((p, k) =>
    p.rays
      ? [
          {
            x: (((k % area.columns) + 0.5) / area.columns) * widthPx,
            y: ((Math.floor(k / area.columns) + 0.5) / area.rows) * heightPx,
            dx: p.du_px,
            dy: p.dv_px,
            title: `${p.rays} rays, RMS ${p.rms_px.toFixed(2)} px`,
          },
        ]
      : [],
  );
});
</script>

<template>
  <div class="both">
    <PictureArrows
      title="Adjusted less nominal"
      :width-px="sized.widthPx"
      :height-px="sized.heightPx"
      :arrows="change"
    />
    <PictureArrows
      v-if="left.length"
      title="Residuals, middle of each part"
      :width-px="sized.widthPx"
      :height-px="sized.heightPx"
      :arrows="left"
    />
  </div>
</template>

<style scoped>
.both {
  display: flex;
  flex-wrap: wrap;
  gap: 16px;
  margin: 4px 0 12px;
}
</style>
