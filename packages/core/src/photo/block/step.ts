import { multiply3 } from '../../numeric/matrix3';
import { type Layout } from './layout';
import { CAMERA_TERMS, TERMS, type Block, type BlockState } from './model';
import { type Linear, type Normals, type Weights } from './normals';
import { AT, RAY } from './ray';

/** The state after a step. @param x solution of the reduced equations; the points follow from it. */
export function stepped(
  block: Block,
  images: { camera: Int32Array },
  state: BlockState,
  normals: Normals,
  { values: j, ahead }: Linear,
  weights: Weights,
  x: Float64Array,
): BlockState {
  const { layout, inverse, own } = normals;
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
    if (kept >= 0) {
      for (let k = 0; k < 3; k++) out.points[3 * p + k] += x[kept + k];
      continue;
    }
    let [g0, g1, g2] = [own[3 * p], own[3 * p + 1], own[3 * p + 2]];
    let rays = 0;
    for (let k = layout.from[p]; k < layout.from[p + 1]; k++) {
      const r = layout.ray[k];
      const w = ahead[r] ? weights.ray[r] : 0;
      if (w === 0) continue;
      rays++;
      const at = RAY * r;
      let [du, dv] = moved(j, at, layout, block.rays.image[r], images, x);
      du *= w;
      dv *= w;
      const q = at + AT.point;
      g0 -= j[q] * du + j[q + 3] * dv;
      g1 -= j[q + 1] * du + j[q + 4] * dv;
      g2 -= j[q + 2] * du + j[q + 5] * dv;
    }
    if (!rays) continue;
    const i = 6 * p;
    out.points[3 * p] += inverse[i] * g0 + inverse[i + 1] * g1 + inverse[i + 2] * g2;
    out.points[3 * p + 1] += inverse[i + 1] * g0 + inverse[i + 3] * g1 + inverse[i + 4] * g2;
    out.points[3 * p + 2] += inverse[i + 2] * g0 + inverse[i + 4] * g1 + inverse[i + 5] * g2;
  }
  return out;
}

/** By how much the image of a still point moves with pose and camera, pixels. */
function moved(
  j: Float64Array,
  at: number,
  layout: Layout,
  image: number,
  images: { camera: Int32Array },
  x: Float64Array,
): [number, number] {
  const pose = layout.imageAt[image];
  const s = at + AT.pose;
  const c = at + AT.camera;
  let [u, v] = [0, 0];
  for (let k = 0; k < 6; k++) {
    u += j[s + k] * x[pose + k];
    v += j[s + 6 + k] * x[pose + k];
  }
  const camera = TERMS * images.camera[image];
  for (let k = 0; k < TERMS; k++) {
    const column = layout.termAt[camera + k];
    if (column < 0) continue;
    u += j[c + k] * x[column];
    v += j[c + TERMS + k] * x[column];
  }
  return [u, v];
}

/** The turn about an axis by its length, radians (Rodrigues). */
export function turnOf(x: number, y: number, z: number): Float64Array {
  const angle = Math.hypot(x, y, z);
  const a = angle > 1e-9 ? Math.sin(angle) / angle : 1;
  const b = angle > 1e-9 ? (1 - Math.cos(angle)) / angle ** 2 : 0.5;
  return Float64Array.of(
    1 - b * (y * y + z * z),
    b * x * y - a * z,
    b * x * z + a * y,
    b * x * y + a * z,
    1 - b * (x * x + z * z),
    b * y * z - a * x,
    b * x * z - a * y,
    b * y * z + a * x,
    1 - b * (x * x + y * y),
  );
}
