import { symmetricEigen } from '../numeric/eigen';
import { median } from '../numeric/statistics';
import { type MeasuredPoint } from './distance';

export interface ToPlane {
  /** Of the point along the normal, which points up; metres. */
  distanceM: number;
  sdM: number;
  /** Scatter of the plane's points about it, and how many were used of how many. */
  rmsM: number;
  used: number;
  points: number;
  /** From plumb: 0 for a level plane. */
  tiltDeg: number;
  /** Where the plane falls to, from north by east; NaN for a level plane. */
  dipDeg: number;
}

const FEWEST = 6;
/** Points farther off than so many deviations (from the median) are of something else. */
const FARTHEST = 3;

/**
 * Distance of a point from the plane through others: least squares of the distances along the normal, what lies off by
 * more than three deviations left out. @returns why not, when they make no plane.
 */
export function measureToPlane(point: MeasuredPoint, plane: ArrayLike<number>[]): ToPlane | string {
  let used = plane;
  for (let pass = 0; ; pass++) {
    if (used.length < FEWEST) return `only ${used.length} points make the plane; ${FEWEST} are needed`;
    const m = [0, 1, 2].map((k) => used.reduce((s, p) => s + p[k], 0) / used.length);
    const c = new Float64Array(9);
    for (const p of used)
      for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) c[3 * i + j] += (p[i] - m[i]) * (p[j] - m[j]);
    const { values, vectors } = symmetricEigen(c, 3);
    if (!(values[1] > 1e-4 * values[0])) return 'the points lie along a line';
    const up = vectors[2][2] < 0 ? -1 : 1;
    const normal = Array.from(vectors[2], (v) => up * v);
    const off = (p: ArrayLike<number>) => normal.reduce((s, v, k) => s + v * (p[k] - m[k]), 0);
    const limit = Math.max(1e-4, FARTHEST * 1.4826 * median(used.map((p) => Math.abs(off(p)))));
    const near = plane.filter((p) => Math.abs(off(p)) <= limit);
    if (pass < 5 && near.length !== used.length) {
      used = near;
      continue;
    }
    const n = used.length;
    const rmsM = Math.sqrt(Math.max(0, values[2]) / Math.max(1, n - 3));
    const at = [point.eastingM, point.northingM, point.heightM];
    const d = at.map((v, k) => v - m[k]);
    // how the plane's own deviation grows away from its middle
    const lever = [0, 1].reduce((s, k) => {
      const along = d.reduce((t, v, i) => t + v * vectors[k][i], 0);
      return s + along ** 2 / values[k];
    }, 0);
    const own = rmsM * Math.sqrt(1 / n + lever);
    const ofPoint = Math.hypot(normal[0] * point.sdEM, normal[1] * point.sdNM, normal[2] * point.sdHM);
    const flat = Math.hypot(normal[0], normal[1]);
    return {
      distanceM: off(at),
      sdM: Math.hypot(own, ofPoint),
      rmsM,
      used: n,
      points: plane.length,
      tiltDeg: (Math.atan2(flat, normal[2]) * 180) / Math.PI,
      dipDeg: flat > 1e-9 ? ((Math.atan2(normal[0], normal[1]) * 180) / Math.PI + 360) % 360 : Number.NaN,
    };
  }
}
