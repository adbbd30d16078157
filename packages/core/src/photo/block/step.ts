import { multiply3 } from '../../numeric/matrix3';
import { turnOf } from '../../numeric/turn';
import { CAMERA_TERMS, TERMS, type Block, type BlockState } from './model';
import { type Linear, type Normals, type Weights } from './normals';
import { AT, RAY } from './ray';

/** The state after a step. @param x solution of the reduced equations; the points follow from it. */
export function stepped(
  block: Block,
  images: { camera: Int32Array },
  state: BlockState,
  normals: Normals,
  linear: Linear,
  weights: Weights,
  x: Float64Array,
): BlockState {
  const { layout } = normals;
  const out: BlockState = {
    cameras: state.cameras.map((c) => ({ ...c })),
    centres: state.centres.slice(),
    rotations: state.rotations.slice(),
    points: state.points.slice(),
    shifts: state.shifts.slice(),
  };
  block.images.forEach((_, i) => {
    const at = layout.imageAt[i];
    for (let k = 0; k < 3; k++) out.centres[3 * i + k] += x[at + k];
    const r = state.rotations.subarray(9 * i, 9 * i + 9);
    out.rotations.set(multiply3(r, turnOf(x[at + 3], x[at + 4], x[at + 5])), 9 * i);
  });
  layout.shiftAt.forEach((at, s) => {
    for (let k = 0; k < 3; k++) out.shifts[3 * s + k] += x[at + k];
  });
  layout.termAt.forEach((column, k) => {
    if (column >= 0) out.cameras[Math.floor(k / TERMS)][CAMERA_TERMS[k % TERMS]] += x[column];
  });
  for (let p = 0; p < block.points.length; p++) {
    const kept = layout.pointAt[p];
    if (kept >= 0) for (let k = 0; k < 3; k++) out.points[3 * p + k] += x[kept + k];
  }
  movePoints(out.points, layout.points, block, images, normals, linear, weights, x);
  return out;
}

/**
 * Moves points that were eliminated to where their rays leave least.
 * @param which points. @param x what poses and cameras are changed by; nothing: they stay.
 */
export function movePoints(
  points: Float64Array,
  which: Int32Array,
  { rays }: Block,
  images: { camera: Int32Array },
  { layout, inverse, own }: Normals,
  { values: j, ahead }: Linear,
  weights: Weights,
  x?: Float64Array,
): void {
  for (const p of which) {
    if (layout.pointAt[p] >= 0) continue;
    let g0 = own[3 * p];
    let g1 = own[3 * p + 1];
    let g2 = own[3 * p + 2];
    let seen = 0;
    for (let k = layout.from[p]; k < layout.from[p + 1]; k++) {
      const r = layout.ray[k];
      const w = ahead[r] ? weights.ray[r] : 0;
      if (w === 0) continue;
      seen++;
      if (!x) continue;
      const at = (RAY * r) | 0;
      // by how much the image of a still point moves with pose and camera, pixels
      let du = 0;
      let dv = 0;
      const pose = layout.imageAt[rays.image[r]];
      const s = (at + AT.pose) | 0;
      for (let i = 0; i < 6; i++) {
        du += j[s + i] * x[pose + i];
        dv += j[s + 6 + i] * x[pose + i];
      }
      const camera = TERMS * images.camera[rays.image[r]];
      const c = (at + AT.camera) | 0;
      for (let i = 0; i < TERMS; i++) {
        const column = layout.termAt[camera + i];
        if (column < 0) continue;
        du += j[c + i] * x[column];
        dv += j[c + TERMS + i] * x[column];
      }
      du *= w;
      dv *= w;
      const q = (at + AT.point) | 0;
      g0 -= j[q] * du + j[q + 3] * dv;
      g1 -= j[q + 1] * du + j[q + 4] * dv;
      g2 -= j[q + 2] * du + j[q + 5] * dv;
    }
    if (!seen) continue;
    const i = 6 * p;
    points[3 * p] += inverse[i] * g0 + inverse[i + 1] * g1 + inverse[i + 2] * g2;
    points[3 * p + 1] += inverse[i + 1] * g0 + inverse[i + 3] * g1 + inverse[i + 4] * g2;
    points[3 * p + 2] += inverse[i + 2] * g0 + inverse[i + 4] * g1 + inverse[i + 5] * g2;
  }
}
