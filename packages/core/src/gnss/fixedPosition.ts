import { solveNormal } from '../numeric/leastSquares';
import { phaseVariance, type NoiseModel } from './noiseModel';
import { keyOf, shellMapping, type Single } from './single';

/** A position from phases whose ambiguities are known. */
export interface FixedPosition {
  /** From the place where the residuals were formed, Earth-centred metres. */
  dM: Float64Array;
  /** 3 × 3 covariance, metres². */
  covariance: Float64Array;
  /** The same without the air. */
  noise: Float64Array;
  phases: number;
  /** Weighted sum of squared residuals over its degrees of freedom. */
  variance: number;
  freedom: number;
  /** Largest residual in its deviations, and whose. */
  worst: number;
  worstKey: number;
  air: AirShare;
}

/** Patterns that the air between rover and base may leave in an epoch, and how large each may be, 1 SD. */
export interface AirSd {
  /** Difference of the zenith delays of the troposphere, metres, with the sign of the modelled one. */
  troposphereM: number;
  /** Difference of the vertical delays of the ionosphere on the first band, metres. */
  ionosphereM: number;
  /** The vertical delay itself, metres: both ends see a satellite at other elevations. */
  verticalM: number;
  /** What is left in each satellite's own way through the ionosphere, as a vertical delay, metres. */
  restM: number;
}
export const AIR_PATTERNS = 3;

/** What one epoch says of the air's patterns, and what these do to its position. */
export interface AirShare {
  /** Normal matrix 3 × 3, 1/m², and right-hand side, 1/m, position and clocks eliminated. */
  normal: Float64Array;
  right: Float64Array;
  /** Metres of position by metre of each pattern, one after the other. */
  lean: Float64Array;
}

const MAX_CLOCKS = 16;
/** Columns beside the unknowns: observed, and the patterns of the air. */
const SIDES = 1 + AIR_PATTERNS;
/** Columns of a used phase: direction, observed, patterns, clock, key, variance, advance of the slant delay, and below. */
const WIDTH = 13;
const CLOCK = 7;
const KEY = 8;
const VARIANCE = 9;
const DELAY = 10;
/** What is left of the phase, metres, and its expected variance as a share of the phase's own without the air. */
const LEFT = 11;
const PART = 12;
let used = 0;
let table = new Float64Array(WIDTH * 128);
const column = new Int32Array(MAX_CLOCKS);
const zero = new Float64Array(MAX_CLOCKS);
const pair = new Float64Array(3);

/**
 * Least squares for the position alone, with one clock for each system and band. Only what this epoch's phases say goes
 * in, so that its deviations hold for every epoch by itself, whatever is correlated in time. Both bands of a satellite
 * share its slant delay, which counts with its deviation; what the air leaves over in all ways together leans all phases
 * and is added to the covariance.
 * @param integers cycles by satellite and band, relative to the group's own datum; floats do as well.
 */
export function fixedPosition(
  rows: Single[],
  noise: NoiseModel,
  integers: ReadonlyMap<number, number>,
  air?: AirSd,
): FixedPosition | undefined {
  if (table.length < WIDTH * 2 * rows.length) table = new Float64Array(WIDTH * 4 * rows.length);
  const t = table;
  const { groups } = noise;
  column.fill(-1);
  let count = 0;
  let n = 3;
  for (const row of rows) {
    const shell = shellMapping(row.sinEl);
    for (let band = 0; band < 2; band++) {
      const key = keyOf(row.index, band);
      const whole = integers.get(key);
      const phase = row.phaseM[band];
      if (whole === undefined || Number.isNaN(phase)) continue;
      const clock = row.group + groups * band;
      const advance = -((row.wavelengthM[band] / row.wavelengthM[0]) ** 2);
      const at = WIDTH * count++;
      for (let k = 0; k < 3; k++) t[at + k] = -row.unit[k];
      t[at + 3] = phase - whole * row.wavelengthM[band];
      t[at + 4] = row.wet;
      t[at + 5] = advance * shell;
      t[at + 6] = advance * row.shellDifference;
      // counted from the clock's first phase: squares of millions of metres would lose the millimetres
      if (column[clock] < 0) {
        column[clock] = n++;
        zero[clock] = t[at + 3];
      }
      t[at + 3] -= zero[clock];
      t[at + CLOCK] = column[clock];
      t[at + KEY] = key;
      t[at + VARIANCE] = phaseVariance(noise.bands[clock], row.sinEl);
      t[at + DELAY] = air ? advance * shell * air.restM : 0;
    }
  }
  const freedom = count - n;
  if (freedom < 2) return undefined;
  const normal = new Float64Array(n * n);
  const right = new Float64Array(SIDES * n);
  const squares = new Float64Array(SIDES * SIDES);
  for (let i = 0; i < count; i++) {
    const both = i + 1 < count && t[WIDTH * i + KEY] + 1 === t[WIDTH * (i + 1) + KEY] && t[WIDTH * i + KEY] % 2 === 0;
    weigh(WIDTH * i, both);
    add(normal, right, squares, n, WIDTH * i, WIDTH * i, pair[0]);
    if (!both) continue;
    const next = WIDTH * (i + 1);
    add(normal, right, squares, n, WIDTH * i, next, pair[1]);
    add(normal, right, squares, n, next, WIDTH * i, pair[1]);
    add(normal, right, squares, n, next, next, pair[2]);
    i++;
  }
  const solved = right.slice(0, n);
  const q = solveNormal(normal, solved, n);
  if (!q) return undefined;
  /** Unknowns that a side column makes. */
  const made = (side: number) => {
    const out = new Float64Array(n);
    for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) out[i] += q[i * n + j] * right[side * n + j];
    return out;
  };
  const x = [solved, made(1), made(2), made(3)];
  const less = (a: number, b: number) => {
    let v = squares[a * SIDES + b];
    for (let i = 0; i < n; i++) v -= right[a * n + i] * x[b][i];
    return v;
  };
  used = count;
  const [worst, worstKey] = worstOf(count, n, q, solved);
  const covariance = new Float64Array(9);
  for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) covariance[3 * i + j] = q[i * n + j];
  const own = covariance.slice();
  const share: AirShare = { normal: new Float64Array(9), right: new Float64Array(3), lean: new Float64Array(9) };
  for (let a = 0; a < AIR_PATTERNS; a++) {
    share.lean.set(x[1 + a].subarray(0, 3), 3 * a);
    share.right[a] = less(0, 1 + a);
    for (let b = 0; b < AIR_PATTERNS; b++) share.normal[3 * a + b] = less(1 + a, 1 + b);
  }
  if (air)
    addLean(
      covariance,
      share.lean,
      Float64Array.of(air.troposphereM ** 2, 0, 0, 0, air.ionosphereM ** 2, 0, 0, 0, air.verticalM ** 2),
    );
  return {
    dM: solved.slice(0, 3),
    covariance,
    noise: own,
    phases: count,
    variance: less(0, 0) / freedom,
    freedom,
    worst,
    worstKey,
    air: share,
  };
}

/** Weights of a phase, or of both bands of a satellite, which share a slant delay: inverse of their covariance. */
function weigh(at: number, both: boolean): void {
  const t = table;
  const a = t[at + VARIANCE] + t[at + DELAY] ** 2;
  if (!both) {
    pair[0] = 1 / a;
    return;
  }
  const c = t[at + WIDTH + VARIANCE] + t[at + WIDTH + DELAY] ** 2;
  const b = t[at + DELAY] * t[at + WIDTH + DELAY];
  const d = 1 / (a * c - b * b);
  pair[0] = c * d;
  pair[1] = -b * d;
  pair[2] = a * d;
}

/** Adds w·iᵀ·j of two phases to the normal equations. */
function add(
  normal: Float64Array,
  right: Float64Array,
  squares: Float64Array,
  n: number,
  i: number,
  j: number,
  w: number,
): void {
  const t = table;
  const ci = t[i + CLOCK];
  const cj = t[j + CLOCK];
  for (let k = 0; k < 3; k++) {
    const v = w * t[i + k];
    for (let l = 0; l < 3; l++) normal[k * n + l] += v * t[j + l];
    normal[k * n + cj] += v;
    normal[ci * n + k] += w * t[j + k];
    for (let s = 0; s < SIDES; s++) right[s * n + k] += v * t[j + 3 + s];
  }
  normal[ci * n + cj] += w;
  for (let s = 0; s < SIDES; s++) {
    right[s * n + ci] += w * t[j + 3 + s];
    for (let u = 0; u < SIDES; u++) squares[s * SIDES + u] += w * t[i + 3 + s] * t[j + 3 + u];
  }
}

/** Largest residual in its deviations, and its key. */
function worstOf(count: number, n: number, q: Float64Array, x: Float64Array): [number, number] {
  const t = table;
  let worst = 0;
  let key = -1;
  for (let at = 0; at < WIDTH * count; at += WIDTH) {
    const c = t[at + CLOCK];
    let v = t[at + 3] - x[c];
    let h = q[c * n + c];
    for (let i = 0; i < 3; i++) {
      v -= t[at + i] * x[i];
      h += 2 * t[at + i] * q[i * n + c];
      for (let j = 0; j < 3; j++) h += t[at + i] * q[i * n + j] * t[at + j];
    }
    const own = t[at + VARIANCE] + t[at + DELAY] ** 2;
    const part = own - h;
    const size = part > 0.02 * own ? Math.abs(v) / Math.sqrt(part) : 0;
    t[at + LEFT] = v;
    t[at + PART] = part / t[at + VARIANCE];
    if (size > worst) [worst, key] = [size, t[at + KEY]];
  }
  return [worst, key];
}

/**
 * Goes through what the phases of the last position have left over.
 * @param each hears of key, residual in metres, and its expected variance as a share of the phase's own without the air.
 */
export function eachResidual(each: (key: number, leftM: number, share: number) => void): void {
  for (let at = 0; at < WIDTH * used; at += WIDTH) each(table[at + KEY], table[at + LEFT], table[at + PART]);
}

/** Adds to a position's covariance what patterns of a covariance (3 × 3, metres²) do to it. */
export function addLean(covariance: Float64Array, lean: Float64Array, air: Float64Array): void {
  for (let a = 0; a < 3; a++)
    for (let b = 0; b < 3; b++) {
      const v = air[3 * a + b];
      if (v === 0) continue;
      for (let i = 0; i < 3; i++)
        for (let j = 0; j < 3; j++) covariance[3 * i + j] += v * lean[3 * a + i] * lean[3 * b + j];
    }
}
