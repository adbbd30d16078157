import { intervalAt, type Trajectory } from '../../trajectory/trajectory';

/** Components of a trajectory's error at a knot: north, east, down in metres; roll, pitch, heading in milliradians. */
export const KNOT_SIZE = 6;
/** Largest number of knots: more lines, wider apart. */
const MAX_KNOTS = 150;

/** Taken of a trajectory that states no deviations: metres, milliradians. */
const UNSTATED_SD = [0.02, 0.02, 0.03, 0.15, 0.15, 0.35];
/** No trajectory is better than this. */
const LEAST_SD = [0.001, 0.001, 0.001, 0.002, 0.002, 0.004];

export interface KnotRules {
  /** Wanted distance of knots, seconds. */
  spacingS: number;
  /** Correlation times of the errors of a trajectory, seconds. */
  positionTauS: number;
  attitudeTauS: number;
}

/**
 * Smoothed positions and attitudes of GNSS with inertial data err slowly: residual multipath and troposphere over half a
 * minute to minutes, attitude with the manoeuvres of the flight (Skaloud & Lichti 2006 hold them constant along a line).
 */
export const KNOT_RULES: KnotRules = { spacingS: 1, positionTauS: 40, attitudeTauS: 85 };

/** Moments in the lines between which a trajectory's error runs straight. In time order. */
export interface Knots {
  count: number;
  timeS: Float64Array;
  /** Line of each knot, from 1. */
  line: Int32Array;
  /** First knot of line l at l − 1, and the number of knots behind the last. */
  first: Int32Array;
  /** Stated deviation of each component at each knot, in the units of the components. */
  sd: Float64Array;
  /** What the deviation of heights is multiplied by, line by line: above 1 where a line drifts. */
  loose: Float64Array;
  /** What the stated deviations of each component were multiplied by, since the lines show that it errs by more. */
  worse: Float64Array;
  rules: KnotRules;
}

/** @param spans first and last moment of each line that holds points, in time order. */
export function makeKnots(
  trajectory: Trajectory,
  spans: ReadonlyArray<{ startS: number; endS: number }>,
  rules: KnotRules = KNOT_RULES,
): Knots {
  const seconds = spans.reduce((s, l) => s + l.endS - l.startS, 0);
  const spacing = Math.max(rules.spacingS, seconds / Math.max(1, MAX_KNOTS - spans.length));
  const times: number[] = [];
  const lines: number[] = [];
  const first = new Int32Array(spans.length + 1);
  spans.forEach(({ startS, endS }, l) => {
    first[l] = times.length;
    const pieces = Math.max(1, Math.round((endS - startS) / spacing));
    for (let k = 0; k <= pieces; k++) {
      times.push(startS + ((endS - startS) * k) / pieces);
      lines.push(l + 1);
    }
  });
  first[spans.length] = times.length;
  const sd = new Float64Array(KNOT_SIZE * times.length);
  times.forEach((t, k) => statedSd(trajectory, t, sd, KNOT_SIZE * k));
  return {
    count: times.length,
    timeS: Float64Array.from(times),
    line: Int32Array.from(lines),
    first,
    sd,
    loose: new Float64Array(spans.length).fill(1),
    worse: new Float64Array(KNOT_SIZE).fill(1),
    rules,
  };
}

function statedSd(trajectory: Trajectory, t: number, out: Float64Array, at: number): void {
  const { sow, sdNM, sdEM, sdDM, sdRollRad, sdPitchRad, sdHeadingRad } = trajectory;
  const i = Math.max(0, intervalAt(sow, Math.max(sow[0], Math.min(sow[sow.length - 1], t))));
  const columns = [sdNM, sdEM, sdDM, sdRollRad, sdPitchRad, sdHeadingRad];
  columns.forEach((column, k) => {
    const value = column ? column[i] * (k < 3 ? 1 : 1000) : UNSTATED_SD[k];
    out[at + k] = Math.max(value, LEAST_SD[k]);
  });
}

/** Deviation of a component at a knot as it enters: the stated one, multiplied where strips show that it is more. */
export const knotSd = ({ sd, worse, loose, line }: Knots, knot: number, c: number): number =>
  worse[c] * sd[KNOT_SIZE * knot + c] * (c === 2 ? loose[line[knot] - 1] : 1);

/** The knot before a moment of a line, and the share of the one after it. */
export function knotBefore(knots: Knots, line: number, t: number): { knot: number; share: number } {
  const from = knots.first[line - 1];
  const to = knots.first[line] - 1;
  let k = from;
  while (k < to - 1 && knots.timeS[k + 1] <= t) k++;
  const span = knots.timeS[k + 1] - knots.timeS[k];
  return { knot: k, share: span > 0 ? Math.min(1, Math.max(0, (t - knots.timeS[k]) / span)) : 0 };
}

/**
 * Adds to normal equations that errors at knots are a first-order Gauss–Markov series of the stated deviations (Gelb 1974,
 * 2.2): the first with its deviation, each further one against what is left of the one before.
 * @param normal n × n, lower half. @param at index of the first unknown of the first knot.
 */
export function addSlowness(normal: Float64Array, n: number, at: number, knots: Knots): void {
  const { rules } = knots;
  const sd = (k: number, c: number) => knotSd(knots, k, c);
  for (let c = 0; c < KNOT_SIZE; c++) {
    const tau = c < 3 ? rules.positionTauS : rules.attitudeTauS;
    for (let k = 0; k < knots.count; k++) {
      const j = at + KNOT_SIZE * k + c;
      const own = 1 / sd(k, c);
      if (k === 0) {
        normal[j * n + j] += own * own;
        continue;
      }
      // a line that drifts has nothing to do with the one before
      const apart = c === 2 && knots.loose[knots.line[k] - 1] !== knots.loose[knots.line[k - 1] - 1];
      const keep = apart ? 0 : Math.exp(-Math.max(0.01, knots.timeS[k] - knots.timeS[k - 1]) / tau);
      const weight = 1 / (1 - keep * keep);
      const i = j - KNOT_SIZE;
      const before = keep / sd(k - 1, c);
      normal[j * n + j] += weight * own * own;
      normal[i * n + i] += weight * before * before;
      normal[j * n + i] -= weight * own * before;
    }
  }
}
