import { Cholesky } from '../../numeric/cholesky';
import { type Vector3 } from '../../numeric/matrix3';
import { meet } from '../block/meet';
import { directionOf } from '../camera';
import { type PictureRay, type PoseCovariance } from './picture';
import { seenAs, type SeenChanges } from './seen';

/** Where rays of pictures meet. */
export interface Intersection {
  /** In the axes of the block, metres. */
  at: Vector3;
  /** Covariance, upper half by rows, m²; from what picks state and what is known of the poses. */
  covM2: Float64Array;
  /** Largest angle between two rays, radians. */
  angleRad: number;
  /** Residuals (seen less computed), pixels, ray by ray, and each in deviations of its own. */
  residualsPx: Array<[number, number]>;
  tests: number[];
  rmsPx: number;
}

const ROUNDS = 12;
const SETTLED_M = 1e-7;
/** Less of an error than this share shows in a residual: nothing is said of that ray. */
const LEAST_SHOWN = 1e-3;

/**
 * Where the rays of a point meet, by least squares in the pictures; each ray counts by its pick's deviation and by how well
 * its picture's pose is known.
 * @param between covariances of poses; without them poses count as independent of each other, which makes points of a block
 *   look less certain than they are.
 * @returns undefined for fewer than two rays, or where they are as good as parallel.
 */
export function intersectRays(rays: readonly PictureRay[], between?: PoseCovariance): Intersection | undefined {
  const begin = rays.length >= 2 ? begun(rays) : undefined;
  if (!begin) return undefined;
  const at: Vector3 = [begin.x, begin.y, begin.z];
  for (let round = 0; round < ROUNDS; round++) {
    const step = stepAt(rays, at, between);
    if (!step) return undefined;
    for (let k = 0; k < 3; k++) at[k] += step.x[k];
    if (Math.hypot(step.x[0], step.x[1], step.x[2]) < SETTLED_M) break;
  }
  const last = stepAt(rays, at, between);
  if (!last) return undefined;
  const { cov, r } = last;
  const residualsPx = rays.map((_, i): [number, number] => [r[2 * i], r[2 * i + 1]]);
  const squares = r.reduce((sum, v) => sum + v * v, 0);
  return {
    at,
    covM2: Float64Array.of(cov[0], cov[1], cov[2], cov[4], cov[5], cov[8]),
    angleRad: begin.angleRad,
    residualsPx,
    tests: rays.map((_, i) => testOf(i, last)),
    rmsPx: Math.sqrt(squares / (2 * rays.length)),
  };
}

interface Step {
  /** Step of the point, its covariance (3 × 3), weights of the pixels, derivatives times weights, residuals. */
  x: Float64Array;
  cov: Float64Array;
  p: Float64Array;
  jw: readonly Float64Array[];
  r: Float64Array;
}

function stepAt(rays: readonly PictureRay[], at: Vector3, between: PoseCovariance | undefined): Step | undefined {
  const n = 2 * rays.length;
  const j = new Float64Array(3 * n);
  const s = new Float64Array(n * n);
  const r = new Float64Array(n);
  const seen: SeenChanges[] = [];
  for (const [i, { picture, uPx, vPx, sdPx }] of rays.entries()) {
    const one = seenAs(picture, at, uPx, vPx);
    if (!one) return undefined;
    seen.push(one);
    j.set(one.byPoint, 6 * i);
    r[2 * i] = one.duPx;
    r[2 * i + 1] = one.dvPx;
    for (let k = 0; k <= i; k++) addPoses(s, n, i, k, one, seen[k], between?.(picture, rays[k].picture));
    s[2 * i * n + 2 * i] += sdPx ** 2;
    s[(2 * i + 1) * n + 2 * i + 1] += sdPx ** 2;
  }
  const factor = Cholesky.of(s, n);
  if (!factor) return undefined;
  // Jᵀ·S⁻¹, row by row
  const jw = [0, 1, 2].map((k) => factor.solve(Float64Array.from({ length: n }, (_, i) => j[3 * i + k])));
  const normal = new Float64Array(9);
  const right = new Float64Array(3);
  for (let a = 0; a < 3; a++) {
    for (let i = 0; i < n; i++) {
      right[a] += jw[a][i] * r[i];
      for (let b = 0; b < 3; b++) normal[3 * a + b] += jw[a][i] * j[3 * i + b];
    }
  }
  const solved = Cholesky.of(normal, 3);
  return solved && { x: solved.solve(right), cov: solved.inverse(), p: factor.inverse(), jw, r };
}

/** Adds what the poses of two rays' pictures do to their pixels together. */
function addPoses(
  s: Float64Array,
  n: number,
  i: number,
  k: number,
  a: SeenChanges,
  b: SeenChanges,
  cov: ArrayLike<number> | undefined,
): void {
  if (!cov) {
    if (i !== k) return;
    const [uu, uv, vv] = a.byPose;
    s[2 * i * n + 2 * i] += uu;
    s[(2 * i + 1) * n + 2 * i] += uv;
    s[2 * i * n + 2 * i + 1] += uv;
    s[(2 * i + 1) * n + 2 * i + 1] += vv;
    return;
  }
  for (let p = 0; p < 2; p++)
    for (let q = 0; q < 2; q++) {
      let sum = 0;
      for (let c = 0; c < 6; c++)
        for (let d = 0; d < 6; d++) sum += a.pose[6 * p + c] * cov[6 * c + d] * b.pose[6 * q + d];
      s[(2 * i + p) * n + 2 * k + q] += sum;
      if (i !== k) s[(2 * k + q) * n + 2 * i + p] += sum;
    }
}

/**
 * What speaks for an error of one ray, in deviations: the test of correlated observations (Baarda 1968; Teunissen 2006, 4.3),
 * of both of its numbers together.
 */
function testOf(i: number, { jw, p, r, cov }: Step): number {
  const n = r.length;
  const [u, v] = [2 * i, 2 * i + 1];
  const taken = (a: number, b: number) => {
    let sum = 0;
    for (let c = 0; c < 3; c++) for (let d = 0; d < 3; d++) sum += jw[c][a] * cov[3 * c + d] * jw[d][b];
    return sum;
  };
  const [uu, uv, vv] = [p[u * n + u] - taken(u, u), p[u * n + v] - taken(u, v), p[v * n + v] - taken(v, v)];
  let [x, y] = [0, 0];
  for (let k = 0; k < n; k++) {
    x += p[u * n + k] * r[k];
    y += p[v * n + k] * r[k];
  }
  // two rays leave one of four numbers: only the direction that shows is judged
  const mean = (uu + vv) / 2;
  const half = Math.hypot((uu - vv) / 2, uv);
  const angle = half > 0 ? 0.5 * Math.atan2(2 * uv, uu - vv) : 0;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const parts: Array<[number, number]> = [
    [x * c + y * s, mean + half],
    [-x * s + y * c, mean - half],
  ];
  let sum = 0;
  for (const [value, weight] of parts)
    if (weight > LEAST_SHOWN * (p[u * n + u] + p[v * n + v])) sum += (value * value) / weight;
  return Math.sqrt(sum);
}

function begun(rays: readonly PictureRay[]) {
  const centres: number[] = [];
  const ways: number[] = [];
  for (const { picture, uPx, vPx } of rays) {
    const { camera, rotation: m, centreM } = picture;
    const [x, y, z] = directionOf(camera, uPx, vPx);
    centres.push(...centreM);
    for (let k = 0; k < 3; k++) ways.push(m[3 * k] * x + m[3 * k + 1] * y + m[3 * k + 2] * z);
  }
  return meet(centres, ways, rays.length);
}
