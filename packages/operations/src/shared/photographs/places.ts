import { DEG, makeLocalMap, type LocalFrame, type ReferenceSystem } from '@longheron/core/frames';
import { apply3, multiply3, transpose3, type Matrix3, type Vector3 } from '@longheron/core/numeric';

/** A block's axes as people want them: east, north, up of the project, or those of a frame of its own. */
export interface Axes {
  frame: LocalFrame;
  system: ReferenceSystem;
  /** East, north, up of the frame into easting, northing, height, with scale and convergence. */
  toGrid: Matrix3;
}

/** @param frame of the block. */
export function axesOf(frame: LocalFrame, system: ReferenceSystem): Axes {
  const [lat, lon, h] = frame.toGeodetic(0, 0, 0);
  const { c } = makeLocalMap(system, lat, lon, h);
  // columns of the map are north, east, down
  const toGrid = Float64Array.from([0, 10, 20].flatMap((b) => [c[b + 2], c[b + 1], -c[b + 3]]));
  return { frame, system, toGrid };
}

/** Easting, northing, height of a place of the block. */
export function gridOf({ frame, system }: Axes, at: ArrayLike<number>): Vector3 {
  const out = new Float64Array(3);
  system.project(...frame.toGeodetic(at[0], at[1], at[2]), out);
  return [out[0], out[1], out[2]];
}

/** A difference in the axes of the block, or variances of it, in those of the project. */
export const gridStep = ({ toGrid }: Axes, step: ArrayLike<number>): Vector3 => apply3(toGrid, step);

/** Deviations in the project's axes of what has this covariance, upper half by rows, in those of the block. */
export function gridSds(axes: Axes | undefined, c: ArrayLike<number>): Vector3 {
  const full = Float64Array.of(c[0], c[1], c[2], c[1], c[3], c[4], c[2], c[4], c[5]);
  const turned = axes ? multiply3(multiply3(axes.toGrid, full), transpose3(axes.toGrid)) : full;
  return [0, 4, 8].map((k) => Math.sqrt(Math.max(0, turned[k]))) as Vector3;
}

/** The unit quaternion of a turn: w not negative. */
export function quaternionOf(m: ArrayLike<number>): [number, number, number, number] {
  const trace = m[0] + m[4] + m[8];
  let q: number[];
  if (trace > 0) {
    const s = 2 * Math.sqrt(1 + trace);
    q = [s / 4, (m[7] - m[5]) / s, (m[2] - m[6]) / s, (m[3] - m[1]) / s];
  } else {
    const k = m[0] >= m[4] && m[0] >= m[8] ? 0 : m[4] >= m[8] ? 1 : 2;
    const [a, b] = [(k + 1) % 3, (k + 2) % 3];
    const s = 2 * Math.sqrt(Math.max(0, 1 + m[4 * k] - m[4 * a] - m[4 * b]));
    q = [0, 0, 0, 0];
    q[0] = (m[3 * b + a] - m[3 * a + b]) / s;
    q[1 + k] = s / 4;
    q[1 + a] = (m[3 * a + k] + m[3 * k + a]) / s;
    q[1 + b] = (m[3 * b + k] + m[3 * k + b]) / s;
  }
  const sign = q[0] < 0 ? -1 : 1;
  return q.map((v) => sign * v) as [number, number, number, number];
}

/**
 * Omega, phi, kappa, degrees: they turn grid axes (east, north, up) into those of the picture (x right, y up, z backwards)
 * as R3(κ)·R2(φ)·R1(ω). @param toGrid turns camera axes into grid axes; scale does not matter.
 */
export function omegaPhiKappaDeg(toGrid: ArrayLike<number>): Vector3 {
  const size = Math.hypot(toGrid[0], toGrid[3], toGrid[6]);
  const m = (row: number, column: number) => ((row === 0 ? 1 : -1) * toGrid[3 * column + row]) / size;
  return [
    Math.atan2(-m(2, 1), m(2, 2)) / DEG,
    Math.asin(Math.min(1, Math.max(-1, m(2, 0)))) / DEG,
    Math.atan2(-m(1, 0), m(0, 0)) / DEG,
  ];
}
