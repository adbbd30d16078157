import { quaternionFromAngles, rotationFromQuaternion, slerp, anglesFromRotation } from '../frames/attitude';
import { ecefToNed, geodeticToEcef, GRS80 } from '../frames/ellipsoid';
import { Problem } from '../shared/problem';
import { intervalAt, type Trajectory } from './trajectory';

/** One difference over time, with its statistics; metres or degrees. */
export interface DifferenceColumn {
  name: string;
  unit: 'm' | '°';
  values: Float64Array;
  mean: number;
  sd: number;
  rms: number;
  /** Largest size. */
  max: number;
}

/** Differences of two trajectories at the epochs of the first that lie within the second. */
export interface TrajectoryDifference {
  /** Seconds of the first one's GPS week. */
  sow: Float64Array;
  columns: DifferenceColumn[];
  /** Epochs of the first outside the second, or in a gap of it. */
  without: number;
}

/** Between epochs further apart than this nothing is interpolated, seconds. */
const LONGEST_STEP_S = 2.1;
const DEGREES = 180 / Math.PI;

/**
 * The first trajectory less the second: north, east, down at the second's place, and roll, pitch and heading when both
 * have attitude. The second is interpolated to the first's epochs, places straight, attitudes as rotations.
 */
export function compareTrajectories(a: Trajectory, b: Trajectory): TrajectoryDifference {
  const shift = (a.week - b.week) * 604800;
  const attitude = a.rollRad !== undefined && b.rollRad !== undefined;
  const names = ['north', 'east', 'down', ...(attitude ? ['roll', 'pitch', 'heading'] : [])];
  const n = a.sow.length;
  const values = names.map(() => new Float64Array(n));
  const sow = new Float64Array(n);
  const [p, q, r] = [new Float64Array(3), new Float64Array(3), new Float64Array(3)];
  const quaternions = new Float64Array(12);
  const matrix = new Float64Array(9);
  let used = 0;
  let at = 0;
  for (let i = 0; i < n; i++) {
    const t = a.sow[i] + shift;
    if (!(at < b.sow.length - 1 && t >= b.sow[at] && t < b.sow[at + 1])) {
      // the next interval is the usual one
      at = at + 2 < b.sow.length && t >= b.sow[at + 1] && t < b.sow[at + 2] ? at + 1 : intervalAt(b.sow, t);
    }
    if (at < 0 || b.sow[at + 1] - b.sow[at] > LONGEST_STEP_S) {
      at = Math.max(0, at);
      continue;
    }
    const u = (t - b.sow[at]) / (b.sow[at + 1] - b.sow[at]);
    geodeticToEcef(GRS80, b.latRad[at], b.lonRad[at], b.hEllM[at], p);
    geodeticToEcef(GRS80, b.latRad[at + 1], b.lonRad[at + 1], b.hEllM[at + 1], q);
    geodeticToEcef(GRS80, a.latRad[i], a.lonRad[i], a.hEllM[i], r);
    const axes = ecefToNed(b.latRad[at], b.lonRad[at]);
    for (let k = 0; k < 3; k++) {
      let d = 0;
      for (let c = 0; c < 3; c++) d += axes[3 * k + c] * (r[c] - p[c] - u * (q[c] - p[c]));
      values[k][used] = d;
    }
    if (attitude) {
      for (let j = 0; j < 2; j++)
        quaternionFromAngles(b.rollRad![at + j], b.pitchRad![at + j], b.headingRad![at + j], quaternions, 4 * j);
      slerp(quaternions, 0, 4, u, quaternions, 8);
      rotationFromQuaternion(quaternions, 8, matrix);
      const there = anglesFromRotation(matrix);
      values[3][used] = DEGREES * turn(a.rollRad![i] - there.rollRad);
      values[4][used] = DEGREES * turn(a.pitchRad![i] - there.pitchRad);
      values[5][used] = DEGREES * turn(a.headingRad![i] - there.headingRad);
    }
    sow[used++] = a.sow[i];
  }
  if (used === 0)
    throw new Problem('The two trajectories share no time.', {
      code: 'compare-overlap',
      remedy: 'Choose one of the same session.',
    });
  const columns = names.map((name, k) => column(name, k < 3 ? 'm' : '°', values[k].slice(0, used)));
  return { sow: sow.slice(0, used), columns, without: n - used };
}

function column(name: string, unit: 'm' | '°', values: Float64Array): DifferenceColumn {
  let sum = 0;
  let squares = 0;
  let max = 0;
  for (const v of values) {
    sum += v;
    squares += v * v;
    max = Math.max(max, Math.abs(v));
  }
  const n = values.length;
  const mean = sum / n;
  const sd = n > 1 ? Math.sqrt(Math.max(0, squares - n * mean * mean) / (n - 1)) : NaN;
  return { name, unit, values, mean, sd, rms: Math.sqrt(squares / n), max };
}

const turn = (rad: number) => Math.atan2(Math.sin(rad), Math.cos(rad));
