import { symmetricEigen } from '../numeric/eigen';
import { Problem } from '../shared/problem';
import { type ReferenceSystem } from './referenceSystem';

type Place = readonly [number, number, number];

/** How lengths are carried: as they are, shortened in plan by a known factor (that of a projection), or as the points say. */
export type PlacingScale = { kind: 'one' } | { kind: 'plan'; factor: number } | { kind: 'free' };

export interface PlacingSettings {
  scale: PlacingScale;
  /** The frame's third axis is the plumb line: it is turned about it alone. */
  level: boolean;
}

/** How a frame of its own lies in another: to = toM + stretch · rotation · (from − fromM). */
export interface Placing {
  fromM: Place;
  toM: Place;
  /** Rows one after the other, 3 × 3. */
  rotation: Float64Array;
  /** In plan and in height. */
  stretch: [number, number];
  /** Placed less given, metres: east, north, up, and the whole. */
  residuals: Array<{ eM: number; nM: number; hM: number; allM: number }>;
  /** Where each point would be missed by were it not used itself, metres; null where the others are too few. */
  missesM: Array<number | null>;
  /** 1 SD of a coordinate of the points, by what is left over; null where nothing is. */
  sdM: number | null;
  /** Coordinates beyond those needed. */
  redundancy: number;
  /** Turn about the plumb line, clockwise seen from above, and how far the third axis leans, degrees. */
  headingDeg: number;
  tiltDeg: number;
}

/** In line within this share of their reach points say nothing of a turn about it. */
const MIN_SPREAD = 1e-3;

/**
 * Places a frame by points known in both, by least squares over all coordinates alike: a turn (Horn 1987, closed form by
 * the unit quaternion), a shift, and a scale as asked for.
 * @param from places in the frame of its own. @param to the same in the other, easting, northing, height; metres.
 * @throws Problem when the points are too few, or lie in one line.
 */
export function placeByPoints(from: readonly Place[], to: readonly Place[], settings: PlacingSettings): Placing {
  const fit = fitPlacing(from, to, settings);
  const at = new Float64Array(3);
  const residuals = from.map((p, i) => {
    carryPlaced(fit, p[0], p[1], p[2], at);
    const [eM, nM, hM] = [at[0] - to[i][0], at[1] - to[i][1], at[2] - to[i][2]];
    return { eM, nM, hM, allM: Math.hypot(eM, nM, hM) };
  });
  const missesM = from.map((p, i) => {
    const others = <T>(list: readonly T[]) => list.filter((_, k) => k !== i);
    try {
      carryPlaced(fitPlacing(others(from), others(to), settings), p[0], p[1], p[2], at);
    } catch {
      return null;
    }
    return Math.hypot(at[0] - to[i][0], at[1] - to[i][1], at[2] - to[i][2]);
  });
  const unknowns = 3 + (settings.level ? 1 : 3) + (settings.scale.kind === 'free' ? 1 : 0);
  const redundancy = 3 * from.length - unknowns;
  const sum = residuals.reduce((s, r) => s + r.allM ** 2, 0);
  const r = fit.rotation;
  return {
    ...fit,
    residuals,
    missesM,
    redundancy,
    sdM: redundancy > 0 ? Math.sqrt(sum / redundancy) : null,
    headingDeg: (Math.atan2(r[1], r[4]) * 180) / Math.PI,
    tiltDeg: (Math.acos(Math.max(-1, Math.min(1, r[8]))) * 180) / Math.PI,
  };
}

type Fit = Pick<Placing, 'fromM' | 'toM' | 'rotation' | 'stretch'>;

/** Carries a place into the other frame. @param out easting, northing, height. */
export function carryPlaced(
  { fromM, toM, rotation: r, stretch }: Fit,
  x: number,
  y: number,
  z: number,
  out: Float64Array,
): void {
  const [dx, dy, dz] = [x - fromM[0], y - fromM[1], z - fromM[2]];
  out[0] = toM[0] + stretch[0] * (r[0] * dx + r[1] * dy + r[2] * dz);
  out[1] = toM[1] + stretch[0] * (r[3] * dx + r[4] * dy + r[5] * dz);
  out[2] = toM[2] + stretch[1] * (r[6] * dx + r[7] * dy + r[8] * dz);
}

const meanOf = (list: readonly Place[]): Place => {
  const sum = [0, 0, 0];
  for (const p of list) for (let k = 0; k < 3; k++) sum[k] += p[k] / list.length;
  return [sum[0], sum[1], sum[2]];
};

function fitPlacing(from: readonly Place[], to: readonly Place[], { scale, level }: PlacingSettings): Fit {
  const fewest = level ? 2 : 3;
  if (from.length < fewest || from.length !== to.length)
    throw new Problem(`It takes ${fewest} points that are known in both frames.`, {
      code: 'placing-points',
      remedy: 'Pick more of them.',
    });
  const [fromM, toM] = [meanOf(from), meanOf(to)];
  const plan = scale.kind === 'plan' ? scale.factor : 1;
  const a = from.map((p) => p.map((v, k) => v - fromM[k]));
  // lengths of the plan as they are on the ground
  const b = to.map((p) => p.map((v, k) => (v - toM[k]) / (k < 2 ? plan : 1)));
  refuseInLine(a, level);
  refuseInLine(b, level);
  const rotation = level ? turnInPlan(a, b) : turnInSpace(a, b);
  let k = 1;
  if (scale.kind === 'free') {
    let [over, under] = [0, 0];
    a.forEach((p, i) => {
      for (let row = 0; row < 3; row++) {
        const turned = rotation[3 * row] * p[0] + rotation[3 * row + 1] * p[1] + rotation[3 * row + 2] * p[2];
        over += turned * b[i][row];
        under += p[row] ** 2;
      }
    });
    k = over / under;
    if (!(k > 0.01 && k < 100))
      throw new Problem('The points do not lie alike in both frames.', {
        code: 'placing-scale',
        remedy: 'Check which point is which, and the unit of the cloud.',
      });
  }
  return { fromM, toM, rotation, stretch: [k * plan, k] };
}

function refuseInLine(points: number[][], level: boolean): void {
  const m = new Float64Array(9);
  for (const p of points)
    for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) m[3 * i + j] += level && (i > 1 || j > 1) ? 0 : p[i] * p[j];
  const { values } = symmetricEigen(m, 3);
  const need = level ? values[0] > 1e-6 : values[1] > MIN_SPREAD ** 2 * values[0] && values[0] > 1e-6;
  if (!need)
    throw new Problem(level ? 'The points lie at one place in plan.' : 'The points lie in one line.', {
      code: 'placing-line',
      remedy: level ? 'Pick some farther apart.' : 'Pick one beside the line, or say that the cloud is level.',
    });
}

/** The turn about the third axis. */
function turnInPlan(a: number[][], b: number[][]): Float64Array {
  let [cos, sin] = [0, 0];
  a.forEach((p, i) => {
    cos += p[0] * b[i][0] + p[1] * b[i][1];
    sin += p[0] * b[i][1] - p[1] * b[i][0];
  });
  const t = Math.atan2(sin, cos);
  return Float64Array.of(Math.cos(t), -Math.sin(t), 0, Math.sin(t), Math.cos(t), 0, 0, 0, 1);
}

/** The turn in space, by the unit quaternion that belongs to the largest eigenvalue. */
function turnInSpace(a: number[][], b: number[][]): Float64Array {
  const s = (i: number, j: number) => a.reduce((sum, p, k) => sum + p[i] * b[k][j], 0);
  const [xx, xy, xz, yx, yy, yz, zx, zy, zz] = [
    s(0, 0),
    s(0, 1),
    s(0, 2),
    s(1, 0),
    s(1, 1),
    s(1, 2),
    s(2, 0),
    s(2, 1),
    s(2, 2),
  ];
  const rows = [
    [xx + yy + zz, yz - zy, zx - xz, xy - yx],
    [yz - zy, xx - yy - zz, xy + yx, zx + xz],
    [zx - xz, xy + yx, yy - xx - zz, yz + zy],
    [xy - yx, zx + xz, yz + zy, zz - xx - yy],
  ];
  const n = Float64Array.from(rows.flat());
  const [w, x, y, z] = symmetricEigen(n, 4).vectors[0];
  const turned = [
    [w * w + x * x - y * y - z * z, 2 * (x * y - w * z), 2 * (x * z + w * y)],
    [2 * (x * y + w * z), w * w - x * x + y * y - z * z, 2 * (y * z - w * x)],
    [2 * (x * z - w * y), 2 * (y * z + w * x), w * w - x * x - y * y + z * z],
  ];
  return Float64Array.from(turned.flat());
}

/**
 * What a length measured level on the ground is multiplied with in the plan of a system, at a place and its height (a
 * little less than 1 in the middle of a zone of UTM): the scale of the projection, and the way down to the ellipsoid by
 * the mean radius of curvature.
 * @param at easting, northing, height in metres of the system.
 */
export function planFactor(system: ReferenceSystem, at: Place): number {
  const geo = new Float64Array(3);
  system.unproject(at[0], at[1], at[2], geo);
  const [latRad, lonRad, hM] = geo;
  const { a, f } = system.ellipsoid;
  const e2 = f * (2 - f);
  const radiusM = (a * Math.sqrt(1 - e2)) / (1 - e2 * Math.sin(latRad) ** 2);
  return (system.convergenceAndScale(latRad, lonRad).scale * radiusM) / (radiusM + hM);
}
