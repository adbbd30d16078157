import { chiSquareQuantile } from '../numeric/gamma';
import { Cholesky } from '../numeric/cholesky';
import { Envelope } from '../numeric/envelope';
import { Problem } from '../shared/problem';
import { approximatePlaces } from './approximate';
import { groupsOf, type Group } from './covariance';
import { explained, type Effect, type Explained } from './explained';
import { between, covarianceOf, type Solved } from './solved';
import { ellipseOf, turned, type Ellipse } from './ellipse';
import { rowsFor, step, unknownsOf, type Row, type SetUpSd, type Unknowns } from './equations';
import { isAngle, rowsOf, type NetworkObservation, type NetworkPoint } from './observations';

/** A point as adjusted. */
export interface AdjustedPoint {
  name: string;
  held: boolean;
  /** Earth-centred metres. */
  xyzM: Float64Array;
  /** North, east, down, 3 × 3, metres². */
  covariance: Float64Array;
  /** 1 SD, north, east, down, metres. */
  sdM: [number, number, number];
  /** Of plan, 1 SD. */
  ellipse: Ellipse;
  /** Of a held point: adjusted less given, north, east, down, metres. */
  movedM?: [number, number, number];
  /** And the deviations that it was held with. */
  heldSdM?: readonly [number, number, number];
  /** Whether observations beyond the least that fix it speak for it. */
  checked: boolean;
  /** Largest share of an error that the residual of one of its observations shows, 0 to 1. */
  redundancy: number;
}

/** An observation as adjusted. */
export interface AdjustedObservation {
  observation: NetworkObservation;
  lengthM: number;
  /** Adjusted less observed: north, east, down of a vector, one value of a scalar; metres, of an angle at its target. */
  residualM: number[];
  /** Of an angle, radians. */
  residualRad?: number;
  /** Share of an error of it that its residual shows, mean of its components, 0 to 1. */
  redundancy: number;
  /** Largest standardised residual of its components (Baarda 1968); NaN when nothing checks it. */
  test: number;
}

export interface Adjustment {
  points: AdjustedPoint[];
  observations: AdjustedObservation[];
  /** Observations beyond those needed. */
  freedom: number;
  /** Weighted square sum of residuals over the freedom; NaN without freedom. */
  varianceFactor: number;
  /** Range of the variance factor in 95 of 100 networks whose deviations are right. */
  expected: [number, number];
  /** What the stated deviations were multiplied with: above 1 when the residuals are larger than they allow. */
  scale: number;
  /**
   * Logarithm of the likelihood of the residuals, whatever the unknowns (Patterson & Thompson 1971), but for a constant:
   * deviations that explain them better have a larger one.
   */
  likelihood: number;
  /** Bearing of the zero of each set-up's circle, radians from north by east, and 1 SD. */
  zeros: Map<string, { bearingRad: number; sdRad: number }>;
  /** What errors explain, all else being right; undefined where nothing would show them. */
  explained(effects: readonly Effect[]): Explained | undefined;
}

export interface NetworkOptions {
  /** How well instruments stand over their marks. */
  setUpSd?: SetUpSd;
  /** Set-ups whose instrument's height over its mark is not known. */
  looseHeights?: readonly string[];
  /** Coefficient of refraction. */
  refraction?: number;
}

/** An error of an observation counts as checked from this redundancy on. */
const CHECKED = 0.1;
/** What a held point can be known to at best, metres. */
const MIN_SD_M = 1e-4;
const MIN_PLACE_M = 1e-6;
/** And where it is not known. */
const UNKNOWN_M = 100;
const TURN = 2 * Math.PI;
const MAX_ROUNDS = 25;
const SETTLED_M = 1e-5;
/** A usual coefficient of refraction over land by day. */
export const REFRACTION = 0.13;

/**
 * Least squares of a network of vectors, directions, zenith angles, distances and height differences, with the points that
 * are held as observed with their deviations, in Earth-centred space (Leick, Rapoport & Tatarnikov 2015, 4 and 5.6).
 * @throws Problem when nothing is held, an observation names an unknown point, or a point hangs on nothing.
 */
export function adjustNetwork(
  points: NetworkPoint[],
  observations: NetworkObservation[],
  { setUpSd = { planM: 0, heightM: 0 }, looseHeights = [], refraction = REFRACTION }: NetworkOptions = {},
): Adjustment {
  const unknowns = unknownsOf(points, approximatePlaces(points, observations), observations, setUpSd, looseHeights);
  const groups = [...groupsOf(observations), ...priors(unknowns, observations, setUpSd, looseHeights)];
  const weights = groups.map(inverseOf);
  let rows: Row[] = [];
  let factor!: Envelope;
  for (let round = 0; round < MAX_ROUNDS; round++) {
    rows = [...rowsFor(unknowns, observations, refraction), ...priorRows(unknowns)];
    const { normal, right } = normalEquations(rows, groups, weights, unknowns.first);
    if (!normal.factor()) throw undetermined(points);
    factor = normal;
    if (step(unknowns, factor.solve(right)) < SETTLED_M) break;
  }
  rows = [...rowsFor(unknowns, observations, refraction), ...priorRows(unknowns)];
  const groupOf = new Int32Array(rows.length);
  groups.forEach(({ rows: own }, g) => own.forEach((r) => (groupOf[r] = g)));
  return result({ unknowns, observations, rows, groups, groupOf, weights, factor, inverse: factor.inverse() });
}

function undetermined(points: NetworkPoint[]): Problem {
  return new Problem('The observations do not determine the network.', {
    code: 'network-loose',
    place: points.map((p) => p.name).join(', '),
    remedy: 'Hold one more point, or add observations to those that only distances or heights reach.',
  });
}

function inverseOf({ rows, covariance }: Group): Float64Array {
  if (rows.length === 1) return Float64Array.of(1 / covariance[0]);
  const inverse = Cholesky.of(covariance, rows.length)?.inverse();
  if (!inverse)
    throw new Problem('The deviations of the observations contradict each other.', {
      code: 'network-covariance',
      remedy: 'Leave out vectors that follow from others of the same session.',
    });
  return inverse;
}

/** What is known beforehand: held points, and instruments over their marks. Rows follow those of the observations. */
function priors(
  { points, axes, setUps }: Unknowns,
  observations: NetworkObservation[],
  sd: SetUpSd,
  looseHeights: readonly string[],
): Group[] {
  let row = observations.reduce((n, o) => n + rowsOf(o), 0);
  const out: Group[] = [];
  points.forEach((p, i) => {
    if (!p.heldM) return;
    const own = (p.heldSdM ?? [0, 0, 0]).map((v) => Math.max(v, MIN_SD_M));
    const covariance = new Float64Array(9);
    for (let a = 0; a < 3; a++)
      for (let b = 0; b < 3; b++)
        for (let k = 0; k < 3; k++) covariance[3 * a + b] += axes[i][3 * k + a] * axes[i][3 * k + b] * own[k] ** 2;
    out.push({ rows: [row, row + 1, row + 2], covariance });
    row += 3;
  });
  for (const [name, { placeAt }] of setUps) {
    if (placeAt < 0) continue;
    const heightM = looseHeights.includes(name) ? UNKNOWN_M : sd.heightM;
    for (let k = 0; k < 3; k++)
      out.push({ rows: [row++], covariance: Float64Array.of(Math.max(k < 2 ? sd.planM : heightM, MIN_PLACE_M) ** 2) });
  }
  return out;
}

function priorRows({ points, places, pointAt, setUps }: Unknowns): Row[] {
  const out: Row[] = [];
  points.forEach((p, i) => {
    if (!p.heldM) return;
    for (let k = 0; k < 3; k++) out.push({ columns: [pointAt[i] + k], values: [1], misfit: p.heldM[k] - places[i][k] });
  });
  for (const { placeAt, offM } of setUps.values())
    if (placeAt >= 0) for (let k = 0; k < 3; k++) out.push({ columns: [placeAt + k], values: [1], misfit: -offM[k] });
  return out;
}

function normalEquations(rows: Row[], groups: Group[], weights: Float64Array[], first: Int32Array) {
  const normal = new Envelope(first);
  const right = new Float64Array(first.length);
  groups.forEach(({ rows: own }, g) => {
    const size = own.length;
    for (let p = 0; p < size; p++)
      for (let q = 0; q < size; q++) {
        const w = weights[g][p * size + q];
        if (w === 0) continue;
        const [a, b] = [rows[own[p]], rows[own[q]]];
        for (let i = 0; i < a.columns.length; i++) {
          const v = w * a.values[i];
          const row = a.columns[i];
          const base = normal.base(row);
          right[row] += v * b.misfit;
          for (let j = 0; j < b.columns.length; j++)
            if (b.columns[j] <= row) normal.values[base + b.columns[j]] += v * b.values[j];
        }
      }
  });
  return { normal, right };
}

/** Of each row: weighted residual, redundancy, and variance of the weighted residual. */
function residuals({ rows, groups, weights, inverse }: Solved) {
  const weighted = new Float64Array(rows.length);
  const shown = new Float64Array(rows.length);
  const ofWeighted = new Float64Array(rows.length);
  let [sum, logSigma] = [0, 0];
  groups.forEach(({ rows: own, covariance }, g) => {
    const size = own.length;
    const p = weights[g];
    // covariance of the residuals within the group
    const q = covariance.slice();
    for (let i = 0; i < size; i++)
      for (let j = 0; j < size; j++) q[i * size + j] -= between(rows[own[i]], rows[own[j]], inverse);
    logSigma += size === 1 ? Math.log(covariance[0]) : Cholesky.of(covariance, size)!.log();
    for (let i = 0; i < size; i++) {
      const r = own[i];
      for (let j = 0; j < size; j++) {
        weighted[r] -= p[i * size + j] * rows[own[j]].misfit;
        shown[r] += q[i * size + j] * p[j * size + i];
        for (let k = 0; k < size; k++) ofWeighted[r] += p[i * size + j] * q[j * size + k] * p[k * size + i];
      }
      sum -= weighted[r] * rows[r].misfit;
    }
  });
  return { weighted, shown, ofWeighted, sum, logSigma };
}

function result(solved: Solved): Adjustment {
  const { unknowns, observations, rows, inverse } = solved;
  const { points, places, axes, at, columns } = unknowns;
  const { weighted, shown, ofWeighted, sum, logSigma } = residuals(solved);
  const freedom = rows.length - columns;
  const varianceFactor = freedom > 0 ? sum / freedom : Number.NaN;
  const expected: [number, number] =
    freedom > 0
      ? [chiSquareQuantile(0.025, freedom) / freedom, chiSquareQuantile(0.975, freedom) / freedom]
      : [Number.NaN, Number.NaN];
  const scale = varianceFactor > expected[1] ? Math.sqrt(varianceFactor) : 1;
  const checks = points.map(() => 0);
  const firstRow: number[] = [];
  let row = 0;
  const adjusted = observations.map((observation): AdjustedObservation => {
    const [f, t] = [at.get(observation.from)!, at.get(observation.to)!];
    firstRow.push(row);
    const all = Array.from({ length: rowsOf(observation) }, (_, k) => row + k);
    row += all.length;
    const redundancy = all.reduce((s, r) => s + shown[r], 0) / all.length;
    for (const i of [f, t]) checks[i] = Math.max(checks[i], redundancy);
    const tests = all
      .filter((r) => shown[r] > 1e-6)
      .map((r) => Math.abs(weighted[r]) / Math.sqrt(Math.max(1e-30, ofWeighted[r])));
    const own = all.map((r) => -rows[r].misfit);
    const lengthM = Math.hypot(...[0, 1, 2].map((k) => places[t][k] - places[f][k]));
    const angle = isAngle(observation);
    return {
      observation,
      lengthM,
      residualM: angle ? [own[0] * lengthM] : own.length === 3 ? apply(axes[f], own) : own,
      ...(angle ? { residualRad: own[0] } : {}),
      redundancy,
      test: tests.length && redundancy > 1e-3 ? Math.max(...tests) : Number.NaN,
    };
  });
  const zeros: Adjustment['zeros'] = new Map();
  for (const [name, { zeroAt, zeroRad }] of unknowns.setUps)
    if (zeroAt >= 0)
      zeros.set(name, {
        bearingRad: ((zeroRad % TURN) + TURN) % TURN,
        sdRad: scale * Math.sqrt(covarianceOf(inverse, zeroAt, zeroAt)),
      });
  return {
    points: points.map((p, i) => adjustedPoint(solved, p, i, scale, checks[i])),
    observations: adjusted,
    freedom,
    varianceFactor,
    expected,
    scale,
    likelihood: -(logSigma + solved.factor.log() + sum) / 2,
    zeros,
    explained: (effects) => explained(solved, weighted, firstRow, effects),
  };
}

function adjustedPoint(
  { unknowns: { axes, places, pointAt }, inverse }: Solved,
  p: NetworkPoint,
  i: number,
  scale: number,
  redundancy: number,
): AdjustedPoint {
  const own = new Float64Array(9);
  for (let r = 0; r < 3; r++)
    for (let c = 0; c < 3; c++) own[3 * r + c] = scale ** 2 * covarianceOf(inverse, pointAt[i] + r, pointAt[i] + c);
  const covariance = turned(axes[i], own);
  const { heldM } = p;
  return {
    name: p.name,
    held: heldM !== undefined,
    xyzM: places[i],
    covariance,
    sdM: [0, 4, 8].map((k) => Math.sqrt(Math.max(0, covariance[k]))) as [number, number, number],
    ellipse: ellipseOf(covariance),
    movedM: heldM
      ? apply(
          axes[i],
          [0, 1, 2].map((k) => places[i][k] - heldM[k]),
        )
      : undefined,
    heldSdM: heldM ? (p.heldSdM ?? [0, 0, 0]) : undefined,
    checked: heldM !== undefined || redundancy > CHECKED,
    redundancy,
  };
}

const apply = (axes: ArrayLike<number>, v: ArrayLike<number>): [number, number, number] => {
  const along = (r: number) => axes[3 * r] * v[0] + axes[3 * r + 1] * v[1] + axes[3 * r + 2] * v[2];
  return [along(0), along(1), along(2)];
};
