import { solveNormal } from '../../numeric/leastSquares';
import { multiply3, type Matrix3, type Vector3 } from '../../numeric/matrix3';
import { startTurns } from './relative';
import { turnOf } from '../../numeric/turn';

/** A pose found by known points, and the usual angle by which its rays miss them, radians. */
export interface Resection {
  centre: Vector3;
  rotation: Matrix3;
  missRad: number;
}

const BEST_STARTS = 12;
const ROUNDS = 30;
const NEAR_RAD = 2e-4;

/**
 * Pose of a camera by directions to known points: least squares of angles from turns all over the sphere, the centre that
 * suits each turn best first; rays that miss count less.
 * @param directions unit vectors in the camera's axes. @param points their places, three numbers each.
 * @param near a pose near by, whose turn is where the search begins. @returns undefined with less than four points.
 */
export function resect(directions: Float64Array, points: Float64Array, near: Matrix3): Resection | undefined {
  const n = directions.length / 3;
  if (n < 4) return undefined;
  const ranked = startTurns()
    .map((turn) => {
      const rotation = multiply3(near, turn);
      const centre = centreOf(directions, points, rotation);
      return centre && { rotation, centre, cost: missOf(directions, points, rotation, centre) };
    })
    .filter((s) => s !== undefined)
    .sort((a, b) => a.cost - b.cost)
    .slice(0, BEST_STARTS);
  let best: Resection | undefined;
  for (const start of ranked) {
    const found = refined(directions, points, start.rotation, start.centre);
    if (found && (!best || found.missRad < best.missRad)) best = found;
  }
  return best;
}

/** The centre from which points lie best in their directions, for a turn. */
function centreOf(d: Float64Array, p: Float64Array, r: Matrix3): Vector3 | undefined {
  const normal = new Float64Array(9);
  const right = new Float64Array(3);
  for (let i = 0; i < d.length; i += 3) {
    const v = along(r, d, i);
    for (let a = 0; a < 3; a++)
      for (let b = 0; b < 3; b++) {
        const m = (a === b ? 1 : 0) - v[a] * v[b];
        normal[3 * a + b] += m;
        right[a] += m * p[i + b];
      }
  }
  return solveNormal(normal, right, 3) ? [right[0], right[1], right[2]] : undefined;
}

const along = (r: Matrix3, d: Float64Array, i: number): Vector3 => [
  r[0] * d[i] + r[1] * d[i + 1] + r[2] * d[i + 2],
  r[3] * d[i] + r[4] * d[i + 1] + r[5] * d[i + 2],
  r[6] * d[i] + r[7] * d[i + 1] + r[8] * d[i + 2],
];

/** Middle angle between directions and points. */
function missOf(d: Float64Array, p: Float64Array, r: Matrix3, c: Vector3): number {
  const all = new Float64Array(d.length / 3);
  for (let i = 0; i < d.length; i += 3) {
    const v = along(r, d, i);
    const w = [p[i] - c[0], p[i + 1] - c[1], p[i + 2] - c[2]];
    const size = Math.hypot(w[0], w[1], w[2]);
    const cos = (v[0] * w[0] + v[1] * w[1] + v[2] * w[2]) / size;
    const cross = Math.hypot(v[1] * w[2] - v[2] * w[1], v[2] * w[0] - v[0] * w[2], v[0] * w[1] - v[1] * w[0]) / size;
    all[i / 3] = Math.atan2(cross, cos);
  }
  return all.sort()[Math.floor(0.6 * all.length)];
}

function refined(d: Float64Array, p: Float64Array, r0: Matrix3, c0: Vector3): Resection | undefined {
  let r = r0;
  let c = c0;
  for (let round = 0; round < ROUNDS; round++) {
    const normal = new Float64Array(36);
    const right = new Float64Array(6);
    for (let i = 0; i < d.length; i += 3) {
      // the point in the camera's axes, in its distance
      const w = [p[i] - c[0], p[i + 1] - c[1], p[i + 2] - c[2]];
      const x = [0, 1, 2].map((k) => r[k] * w[0] + r[3 + k] * w[1] + r[6 + k] * w[2]);
      const size = Math.hypot(x[0], x[1], x[2]);
      const u = x.map((v) => v / size);
      const off = [0, 1, 2].map((k) => d[i + k] - u[k]);
      const miss = Math.hypot(off[0], off[1], off[2]);
      const weight = round < 3 ? 1 : 1 / Math.max(NEAR_RAD, miss);
      // of u: (I − u·uᵀ)/size · (x × ω − Rᵀ·dc)
      for (let a = 0; a < 3; a++) {
        const row = new Float64Array(6);
        for (let b = 0; b < 3; b++) {
          const m = ((a === b ? 1 : 0) - u[a] * u[b]) / size;
          for (let k = 0; k < 3; k++) row[k] -= m * r[3 * k + b];
          // x × ω
          const [i1, i2] = [(b + 1) % 3, (b + 2) % 3];
          row[3 + i2] += m * x[i1];
          row[3 + i1] -= m * x[i2];
        }
        for (let s = 0; s < 6; s++) {
          right[s] += weight * row[s] * off[a];
          for (let t = 0; t < 6; t++) normal[6 * s + t] += weight * row[s] * row[t];
        }
      }
    }
    for (let s = 0; s < 6; s++) normal[7 * s] *= 1 + 1e-3 / (1 + round);
    if (!solveNormal(normal, right, 6)) return undefined;
    const angle = Math.hypot(right[3], right[4], right[5]);
    const by = angle > 0.4 ? 0.4 / angle : 1;
    c = c.map((v, k) => v + by * right[k]) as Vector3;
    r = multiply3(r, turnOf(by * right[3], by * right[4], by * right[5]));
    if (angle < 1e-10) break;
  }
  return { centre: c, rotation: r, missRad: missOf(d, p, r, c) };
}
