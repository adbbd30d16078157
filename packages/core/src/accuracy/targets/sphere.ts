import { solveNormal } from '../../numeric/leastSquares';

/** A fitted sphere, metres in the frame of the points. */
export interface FoundSphere {
  center: [number, number, number];
  /** 1 SD of each coordinate of the centre. */
  sd: [number, number, number];
  radiusM: number;
  rmsM: number;
  points: number;
}

const ROUNDS = 30;
const FEWEST = 12;

/**
 * Fits a sphere of known radius to points on it (least squares of the distances, far points weighing less).
 * @param start a place nearer to the centre than the radius.
 * @returns the sphere, or why there is none.
 */
export function fitSphere(
  x: Float64Array,
  y: Float64Array,
  z: Float64Array,
  radiusM: number,
  start: [number, number, number],
): FoundSphere | string {
  const at = [...start] as [number, number, number];
  let scale = radiusM / 4;
  for (let round = 0; round < ROUNDS; round++) {
    const normal = new Float64Array(9);
    const right = new Float64Array(3);
    const residuals: number[] = [];
    for (let i = 0; i < x.length; i++) {
      const d = [x[i] - at[0], y[i] - at[1], z[i] - at[2]];
      const r = Math.hypot(d[0], d[1], d[2]);
      const e = r - radiusM;
      // what is far off the surface is of something else
      if (r < 1e-6 || Math.abs(e) > Math.max(4 * scale, 0.004)) continue;
      const weight = Math.abs(e) <= 2 * scale ? 1 : (2 * scale) / Math.abs(e);
      for (let p = 0; p < 3; p++) {
        right[p] += (weight * d[p] * e) / r;
        for (let q = 0; q < 3; q++) normal[3 * p + q] += (weight * d[p] * d[q]) / (r * r);
      }
      residuals.push(Math.abs(e));
    }
    if (residuals.length < FEWEST) return `only ${residuals.length} points on a sphere of ${radiusM} m radius`;
    const inverse = solveNormal(normal, right, 3);
    const step = right;
    if (!inverse) return 'the points lie too much on one side to tell the centre';
    for (let k = 0; k < 3; k++) at[k] += step[k];
    residuals.sort((p, q) => p - q);
    scale = Math.max(0.0005, 1.4826 * residuals[residuals.length >> 1]);
    if (Math.hypot(step[0], step[1], step[2]) > 1e-6 && round < ROUNDS - 1) continue;
    const rms = Math.sqrt(residuals.reduce((sum, e) => sum + e * e, 0) / Math.max(1, residuals.length - 3));
    const sd = [0, 1, 2].map((k) => rms * Math.sqrt(inverse[4 * k])) as FoundSphere['sd'];
    return { center: at, sd, radiusM, rmsM: rms, points: residuals.length };
  }
  return 'the fit does not settle';
}
