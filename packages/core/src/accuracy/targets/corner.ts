import { symmetricEigen } from '../../numeric/eigen';
import { Random } from '../../numeric/random';

/** The corner where three planes meet. */
export interface FoundCorner {
  at: [number, number, number];
  /** 1 SD of each coordinate. */
  sd: [number, number, number];
  /** RMS of the points off their planes, metres. */
  rmsM: number;
  /** Points on each plane. */
  points: [number, number, number];
}

interface Plane {
  n: [number, number, number];
  d: number;
  /** SD of the plane's distance at the corner is taken from its scatter and number of points. */
  rms: number;
  count: number;
}

const TRIES = 300;
const FEWEST = 20;
/** Planes nearer to parallel than this make no corner (determinant of their normals). */
const MIN_SPREAD = 0.2;

/**
 * Finds the corner of three planes among points: the plane with most points within the tolerance, by trying triples
 * of points, is taken out, three times; each is then fitted by least squares and the three are intersected.
 * @param toleranceM how far off a plane its points may lie.
 * @returns the corner, or why there is none.
 */
export function fitCorner(x: Float64Array, y: Float64Array, z: Float64Array, toleranceM: number): FoundCorner | string {
  const left = Array.from({ length: x.length }, (_, i) => i);
  const random = new Random(7, 'corner');
  const planes: Plane[] = [];
  for (let k = 0; k < 3; k++) {
    const on = bestPlane(x, y, z, left, toleranceM, random);
    if (on.length < FEWEST) return `only ${k} planes with ${FEWEST} points or more`;
    const plane = planeThrough(x, y, z, on);
    const chosen = new Set(on);
    planes.push(plane);
    left.splice(0, left.length, ...left.filter((i) => !chosen.has(i)));
  }
  const N = planes.map((p) => p.n);
  const det = determinant(N[0], N[1], N[2]);
  if (Math.abs(det) < MIN_SPREAD) return 'the planes meet at angles too flat for a corner';
  const inverse = [cross(N[1], N[2]), cross(N[2], N[0]), cross(N[0], N[1])].map((c) => c.map((v) => v / det));
  const at = [0, 1, 2].map((k) => planes.reduce((sum, p, j) => sum + inverse[j][k] * p.d, 0)) as FoundCorner['at'];
  // the corner lies at the edge of each plane: its SD there is about twice that in the middle
  const sd = [0, 1, 2].map((k) =>
    Math.sqrt(planes.reduce((sum, p, j) => sum + ((2 * inverse[j][k] * p.rms) / Math.sqrt(p.count)) ** 2, 0)),
  ) as FoundCorner['sd'];
  const total = planes.reduce((sum, p) => sum + p.count, 0);
  return {
    at,
    sd,
    rmsM: Math.sqrt(planes.reduce((sum, p) => sum + p.count * p.rms ** 2, 0) / total),
    points: planes.map((p) => p.count) as FoundCorner['points'],
  };
}

function bestPlane(
  x: Float64Array,
  y: Float64Array,
  z: Float64Array,
  among: number[],
  toleranceM: number,
  random: Random,
): number[] {
  let best: number[] = [];
  if (among.length < 3) return best;
  for (let t = 0; t < TRIES; t++) {
    const [i, j, k] = [0, 1, 2].map(() => among[Math.floor(random.uniform() * among.length)]);
    const n = cross([x[j] - x[i], y[j] - y[i], z[j] - z[i]], [x[k] - x[i], y[k] - y[i], z[k] - z[i]]);
    const length = Math.hypot(...n);
    if (length < 1e-4) continue;
    const on = among.filter(
      (p) => Math.abs(n[0] * (x[p] - x[i]) + n[1] * (y[p] - y[i]) + n[2] * (z[p] - z[i])) <= toleranceM * length,
    );
    if (on.length > best.length) best = on;
  }
  return best;
}

function planeThrough(x: Float64Array, y: Float64Array, z: Float64Array, on: number[]): Plane {
  const mean = [x, y, z].map((a) => on.reduce((sum, i) => sum + a[i], 0) / on.length);
  const c = new Float64Array(9);
  for (const i of on) {
    const d = [x[i] - mean[0], y[i] - mean[1], z[i] - mean[2]];
    for (let p = 0; p < 3; p++) for (let q = 0; q < 3; q++) c[3 * p + q] += d[p] * d[q];
  }
  const { values, vectors } = symmetricEigen(c, 3);
  let least = 0;
  for (let k = 1; k < 3; k++) if (values[k] < values[least]) least = k;
  const n = Array.from(vectors[least]) as Plane['n'];
  return {
    n,
    d: n[0] * mean[0] + n[1] * mean[1] + n[2] * mean[2],
    rms: Math.sqrt(Math.max(0, values[least]) / Math.max(1, on.length - 3)),
    count: on.length,
  };
}

type V = [number, number, number];
const cross = (a: V, b: V): V => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
const determinant = (a: V, b: V, c: V) => {
  const k = cross(b, c);
  return a[0] * k[0] + a[1] * k[1] + a[2] * k[2];
};
