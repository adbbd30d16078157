import { fisherTail, studentQuantile } from './student';

/** A plane through height residuals: what tilt they show, metres on 100 m; deviations are 1 SD. */
export interface HeightTrend {
  count: number;
  east: number;
  north: number;
  sdEast: number;
  sdNorth: number;
  /** Probability that marks without a tilt show one as large. */
  chance: number;
  significant: boolean;
  /** SD of the residuals about the plane, metres, degrees of freedom n − 3. */
  sdAfterM: number;
}

/** A turn and a scale in plan residuals; deviations are 1 SD. */
export interface PlanTrend {
  count: number;
  /** Positive where the cloud is too large, parts per million. */
  scalePpm: number;
  sdScalePpm: number;
  /** Positive counter-clockwise, seconds of arc. */
  turnArcsec: number;
  sdTurnArcsec: number;
  scaleSignificant: boolean;
  turnSignificant: boolean;
}

const LEVEL = 0.05;
/** Fewer marks say nothing of a trend. */
const MIN_HEIGHT = 6;
const MIN_PLAN = 4;
/** Marks in a line, whose lesser spread is within this share of the greater, show no tilt across it. */
const MIN_SPREAD = 0.02;
const ARCSEC = (180 * 3600) / Math.PI;

const meanOf = (v: number[]) => v.reduce((s, x) => s + x, 0) / v.length;

/**
 * Fits a plane to height residuals (measured − reference, metres) at places in plan, metres; tested by Fisher's F against none.
 * @returns null for too few marks, or marks in one line.
 */
export function heightTrend(eastingM: number[], northingM: number[], residualM: number[]): HeightTrend | null {
  const count = residualM.length;
  if (count < MIN_HEIGHT) return null;
  const [e0, n0, r0] = [meanOf(eastingM), meanOf(northingM), meanOf(residualM)];
  let [xx, xy, yy, xr, yr, rr] = [0, 0, 0, 0, 0, 0];
  for (let i = 0; i < count; i++) {
    const [x, y, r] = [(eastingM[i] - e0) / 100, (northingM[i] - n0) / 100, residualM[i] - r0];
    xx += x * x;
    xy += x * y;
    yy += y * y;
    xr += x * r;
    yr += y * r;
    rr += r * r;
  }
  const det = xx * yy - xy * xy;
  // the ratio of the axes of the ellipse that the marks lie in
  const half = (xx + yy) / 2;
  const apart = Math.hypot((xx - yy) / 2, xy);
  if (!(half - apart > MIN_SPREAD ** 2 * (half + apart))) return null;
  const east = (yy * xr - xy * yr) / det;
  const north = (xx * yr - xy * xr) / det;
  const left = Math.max(0, rr - east * xr - north * yr);
  const degrees = count - 3;
  const variance = left / degrees;
  const f = variance > 0 ? (rr - left) / 2 / variance : rr > 0 ? Infinity : 0;
  const chance = fisherTail(f, 2, degrees);
  return {
    count,
    east,
    north,
    chance,
    sdEast: Math.sqrt((variance * yy) / det),
    sdNorth: Math.sqrt((variance * xx) / det),
    significant: chance < LEVEL,
    sdAfterM: Math.sqrt(variance),
  };
}

/**
 * Fits a shift, a turn and a scale to plan residuals (measured − reference, metres); turn and scale are tested by Student's t.
 * @returns null for too few marks.
 */
export function planTrend(eastingM: number[], northingM: number[], dE: number[], dN: number[]): PlanTrend | null {
  const count = dE.length;
  if (count < MIN_PLAN) return null;
  const [e0, n0, mE, mN] = [meanOf(eastingM), meanOf(northingM), meanOf(dE), meanOf(dN)];
  let [square, along, across, all] = [0, 0, 0, 0];
  for (let i = 0; i < count; i++) {
    const [x, y, u, v] = [eastingM[i] - e0, northingM[i] - n0, dE[i] - mE, dN[i] - mN];
    square += x * x + y * y;
    along += x * u + y * v;
    across += x * v - y * u;
    all += u * u + v * v;
  }
  if (!(square > 0)) return null;
  const [scale, turn] = [along / square, across / square];
  const degrees = 2 * count - 4;
  const sd = Math.sqrt(Math.max(0, all - (scale ** 2 + turn ** 2) * square) / degrees / square);
  const limit = studentQuantile(LEVEL, degrees) * sd;
  return {
    count,
    scalePpm: 1e6 * scale,
    sdScalePpm: 1e6 * sd,
    turnArcsec: ARCSEC * turn,
    sdTurnArcsec: ARCSEC * sd,
    scaleSignificant: Math.abs(scale) > limit,
    turnSignificant: Math.abs(turn) > limit,
  };
}
