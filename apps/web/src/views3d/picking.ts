import * as THREE from 'three';
import { SD_STEP_M, type PointFilter } from '@longheron/core/cloud';
import { type CloudScene } from './CloudScene';
import { type NodePoints } from './nodeStore';
import { REJECTED_BIT, SELECTED_BIT } from './selecting';

export interface Picked {
  /** Place of the point in the packs. */
  row: number;
  /** Metres in the cloud's system. */
  eastingM: number;
  northingM: number;
  heightM: number;
  cls: number;
  intensity: number;
  strip: number;
  echo: number;
  echoes: number;
  /** GPS seconds. */
  gpsS: number;
  sdHM: number;
}

const REACH_PX = 7;

/** The nearest shown point within a few pixels of the pointer; of those the one closest to the eye. */
export function pick(
  scene: CloudScene,
  x: number,
  y: number,
  width: number,
  height: number,
  filter: PointFilter,
): Picked | undefined {
  const e = scene.toPicture();
  const px = (x / width) * 2 - 1;
  const py = 1 - (y / height) * 2;
  const rx = (2 * REACH_PX) / width;
  const ry = (2 * REACH_PX) / height;
  const passes = (data: NodePoints, i: number, X: number, Y: number, Z: number) =>
    (!filter.needsAttributes ||
      filter.passesAttributes(
        scene.index.timeOrigin + data.timeSteps[i] * scene.index.timeStepS,
        ...([data.strip[i], data.intensity[i], data.codes[4 * i + 1], data.codes[4 * i + 2]] as const),
        data.sdH[i] * SD_STEP_M,
      )) &&
    filter.passesPlace(X, Y, Z);
  const { shown } = scene.material;
  const which = scene.material.uniforms.rejectedShown.value as number;
  const selected = scene.material.uniforms.selectedShown.value as number;
  const [t0, t1] = (scene.material.uniforms.timeShown.value as THREE.Vector2).toArray();
  let best: { score: number; make: () => Picked } | undefined;
  for (const { node, data } of scene.visible()) {
    const [cx, cy, cz] = node.corner;
    const n = data.intensity.length;
    for (let i = 0; i < n; i++) {
      const X = data.position[3 * i] + cx;
      const Y = data.position[3 * i + 1] + cy;
      const Z = data.position[3 * i + 2] + cz;
      const w = e[3] * X + e[7] * Y + e[11] * Z + e[15];
      if (w <= 0) continue;
      const dx = (e[0] * X + e[4] * Y + e[8] * Z + e[12]) / w - px;
      if (dx > rx || dx < -rx) continue;
      const dy = (e[1] * X + e[5] * Y + e[9] * Z + e[13]) / w - py;
      if (dy > ry || dy < -ry) continue;
      if (scene.material.cutOff(X, Y)) continue;
      const rejected = data.codes[4 * i + 3] & REJECTED_BIT;
      const chosen = (data.codes[4 * i + 3] & SELECTED_BIT) !== 0;
      if (selected > 0 && chosen !== (selected === 1)) continue;
      if (which !== 1 && rejected !== (which === 2 ? REJECTED_BIT : 0)) continue;
      if (!shown[4 * data.codes[4 * i]] || data.time[i] < t0 || data.time[i] > t1) continue;
      if (!passes(data, i, X, Y, Z)) continue;
      const depth = (e[2] * X + e[6] * Y + e[10] * Z + e[14]) / w;
      const off = (dx / rx) ** 2 + (dy / ry) ** 2;
      if (off > 1) continue;
      const score = depth + 0.002 * off;
      if (best && best.score <= score) continue;
      best = {
        score,
        make: () => ({
          row: node.first + i,
          eastingM: X + scene.index.origin[0],
          northingM: Y + scene.index.origin[1],
          heightM: Z + scene.index.origin[2],
          cls: data.codes[4 * i],
          intensity: data.intensity[i],
          strip: data.strip[i],
          echo: data.codes[4 * i + 1],
          echoes: data.codes[4 * i + 2],
          gpsS: data.timeSteps[i] * scene.index.timeStepS + scene.index.timeOrigin,
          sdHM: data.sdH[i] * SD_STEP_M,
        }),
      };
    }
  }
  return best?.make();
}
