import { type Camera } from '../camera';
import { TERMS } from './model';

/** Numbers kept of a ray: residual (2), and rows u, v of what a point (3), a pose (6) and a camera (8) change. */
export const RAY = 2 + 2 * (3 + 6 + TERMS);
const POINT = 2;
const POSE = POINT + 6;
const CAMERA = POSE + 12;
/** Places in the numbers of a ray. */
export const AT = { point: POINT, pose: POSE, camera: CAMERA } as const;
/** Nearer to the plane of the camera than this share of its distance, or behind it, nothing is seen. */
const LEAST_DEPTH = 1e-3;

/**
 * Residual (seen less computed, pixels) of a point in a picture, and its derivatives. A pose is changed by a shift of its
 * centre in the axes of the block and a small turn about the axes of the camera, R·exp(ω). In a panorama u is told along the
 * sphere, shortened by the cosine of the seen row's angle, so that a deviation of picks means one angle everywhere.
 * @param at where the picture's centre (3) and rotation (9) and the point (3) lie in their arrays.
 * @returns false where the point lies behind the camera; nothing is written then.
 */
export function rayOf(
  camera: Camera,
  centres: Float64Array,
  rotations: Float64Array,
  image: number,
  points: Float64Array,
  point: number,
  uPx: number,
  vPx: number,
  out: Float64Array,
  at: number,
): boolean {
  const c = 3 * image;
  const r = 9 * image;
  const p = 3 * point;
  const dx = points[p] - centres[c];
  const dy = points[p + 1] - centres[c + 1];
  const dz = points[p + 2] - centres[c + 2];
  const x = rotations[r] * dx + rotations[r + 3] * dy + rotations[r + 6] * dz;
  const y = rotations[r + 1] * dx + rotations[r + 4] * dy + rotations[r + 7] * dz;
  const z = rotations[r + 2] * dx + rotations[r + 5] * dy + rotations[r + 8] * dz;
  if (camera.model === 'sphere') return sphereRay(camera, rotations, r, x, y, z, uPx, vPx, out, at);
  if (!(z > LEAST_DEPTH * Math.sqrt(x * x + y * y))) return false;
  const { focalPx: f, cxPx, cyPx, k1, k2, k3, p1, p2 } = camera;
  const a = x / z;
  const b = y / z;
  const r2 = a * a + b * b;
  const radial = 1 + r2 * (k1 + r2 * (k2 + r2 * k3));
  const slope = 2 * (k1 + r2 * (2 * k2 + 3 * r2 * k3));
  const bentA = a * radial + 2 * p1 * a * b + p2 * (r2 + 2 * a * a);
  const bentB = b * radial + p1 * (r2 + 2 * b * b) + 2 * p2 * a * b;
  out[at] = uPx - (f * bentA + cxPx);
  out[at + 1] = vPx - (f * bentB + cyPx);
  // of a and b
  const uA = f * (radial + slope * a * a + 2 * p1 * b + 6 * p2 * a);
  const uB = f * (slope * a * b + 2 * p1 * a + 2 * p2 * b);
  const vA = f * (slope * a * b + 2 * p1 * a + 2 * p2 * b);
  const vB = f * (radial + slope * b * b + 6 * p1 * b + 2 * p2 * a);
  for (let row = 0; row < 2; row++) {
    const ga = (row ? vA : uA) / z;
    const gb = (row ? vB : uB) / z;
    changes(rotations, r, x, y, z, ga, gb, -(ga * a + gb * b), out, at, row);
  }
  const toU = at + CAMERA;
  const toV = toU + TERMS;
  out[toU] = bentA;
  out[toV] = bentB;
  out[toU + 1] = 1;
  out[toV + 1] = 0;
  out[toU + 2] = 0;
  out[toV + 2] = 1;
  let power = f * r2;
  for (let k = 3; k < 6; k++) {
    out[toU + k] = power * a;
    out[toV + k] = power * b;
    power *= r2;
  }
  out[toU + 6] = f * 2 * a * b;
  out[toV + 6] = f * (r2 + 2 * b * b);
  out[toU + 7] = f * (r2 + 2 * a * a);
  out[toV + 7] = f * 2 * a * b;
  return true;
}

/** Writes how one row changes with point and pose. @param gx, gy, gz how it changes with x, y, z in the camera. */
function changes(
  rotations: Float64Array,
  r: number,
  x: number,
  y: number,
  z: number,
  gx: number,
  gy: number,
  gz: number,
  out: Float64Array,
  at: number,
  row: number,
): void {
  const toPoint = at + POINT + 3 * row;
  const toPose = at + POSE + 6 * row;
  for (let k = 0; k < 3; k++) {
    const g = gx * rotations[r + 3 * k] + gy * rotations[r + 3 * k + 1] + gz * rotations[r + 3 * k + 2];
    out[toPoint + k] = g;
    out[toPose + k] = -g;
  }
  // the point turns the other way: c × ω
  out[toPose + 3] = gy * z - gz * y;
  out[toPose + 4] = gz * x - gx * z;
  out[toPose + 5] = gx * y - gy * x;
}

/** A ray of a full panorama, which sees all round. */
function sphereRay(
  { widthPx, focalPx: f, cxPx, cyPx }: Camera,
  rotations: Float64Array,
  r: number,
  x: number,
  y: number,
  z: number,
  uPx: number,
  vPx: number,
  out: Float64Array,
  at: number,
): boolean {
  const flat2 = x * x + z * z;
  const all2 = flat2 + y * y;
  if (!(flat2 > LEAST_DEPTH ** 4 * all2)) return false;
  const flat = Math.sqrt(flat2);
  const across = Math.cos((vPx - cyPx) / f);
  const du = uPx - (f * Math.atan2(x, z) + cxPx);
  out[at] = across * (du - widthPx * Math.round(du / widthPx));
  out[at + 1] = vPx - (f * Math.atan2(y, flat) + cyPx);
  const turn = (across * f) / flat2;
  changes(rotations, r, x, y, z, turn * z, 0, -turn * x, out, at, 0);
  const rise = f / (all2 * flat);
  changes(rotations, r, x, y, z, -rise * x * y, rise * flat2, -rise * z * y, out, at, 1);
  // nothing of it is adjusted
  out.fill(0, at + CAMERA, at + CAMERA + 2 * TERMS);
  return true;
}
