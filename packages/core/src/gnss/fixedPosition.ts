import { type Single } from './single';

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

/** Variance of a phase difference of two receivers, metres²: noise by elevation and multipath. */
export function phaseVariance(sinEl: number, noiseM: number, multipathM: number): number {
  return 2 * ((noiseM / sinEl) ** 2 + multipathM * multipathM);
}

export const keyOf = (index: number, band: number) => 2 * index + band;

/** Columns of a used phase: direction, observed, three patterns of the air; weight, clock, key. */
const WIDTH = 10;
const MEANS = 7;
const MOST_CLOCKS = 16;
let table = new Float64Array(WIDTH * 128);
/** By clock: weighted sums of the first seven columns, and the weight. */
const sums = new Float64Array((MEANS + 1) * MOST_CLOCKS);
/** Normal matrix of position, observation and patterns, 7 × 7, upper triangle. */
const cross = new Float64Array(MEANS * MEANS);

/** How often the vertical delay of a thin shell at 350 km lies on the way. */
export function shellMapping(sinEl: number): number {
  const cosShell2 = SHELL * SHELL * (1 - sinEl * sinEl);
  return 1 / Math.sqrt(1 - cosShell2);
}
const SHELL = 6371 / (6371 + 350);

/**
 * Least squares for the position alone, with one clock for each system and band, which fall out as weighted means.
 * Only what this epoch's phases say goes in, so that its deviations hold for every epoch by itself, whatever is
 * correlated in time; what the air leaves over leans all phases together and is added to the covariance.
 * @param integers cycles by satellite and band, relative to the group's own datum.
 */
export function fixedPosition(
  rows: Single[],
  groups: number,
  integers: ReadonlyMap<number, number>,
  noiseM: number,
  multipathM: number,
  air?: AirSd,
): FixedPosition | undefined {
  if (table.length < WIDTH * 2 * rows.length) table = new Float64Array(WIDTH * 4 * rows.length);
  const t = table;
  sums.fill(0);
  let count = 0;
  let clocks = 0;
  for (const row of rows) {
    const wet = 1.001 / Math.sqrt(0.002001 + row.sinEl * row.sinEl);
    const shell = shellMapping(row.sinEl);
    for (let band = 0; band < 2; band++) {
      const key = keyOf(row.index, band);
      const n = integers.get(key);
      const phase = row.phaseM[band];
      if (n === undefined || Number.isNaN(phase)) continue;
      const clock = row.group + groups * band;
      const w = 1 / phaseVariance(row.sinEl, noiseM, multipathM);
      const advance = -((row.wavelengthM[band] / row.wavelengthM[0]) ** 2);
      const at = WIDTH * count++;
      t[at] = -row.unit[0];
      t[at + 1] = -row.unit[1];
      t[at + 2] = -row.unit[2];
      t[at + 3] = phase - n * row.wavelengthM[band];
      t[at + 4] = wet;
      t[at + 5] = advance * shell;
      t[at + 6] = advance * row.shellDifference;
      t[at + 7] = w;
      t[at + 8] = clock;
      t[at + 9] = key;
      const s = (MEANS + 1) * clock;
      if (sums[s + MEANS] === 0) clocks++;
      for (let k = 0; k < MEANS; k++) sums[s + k] += w * t[at + k];
      sums[s + MEANS] += w;
    }
  }
  const freedom = count - 3 - clocks;
  if (freedom < 2) return undefined;
  // an unknown clock takes the weighted mean out of every column
  cross.fill(0);
  for (let at = 0; at < WIDTH * count; at += WIDTH) {
    const s = (MEANS + 1) * t[at + 8];
    const inverse = 1 / sums[s + MEANS];
    for (let k = 0; k < MEANS; k++) t[at + k] -= sums[s + k] * inverse;
    const w = t[at + 7];
    for (let i = 0; i < MEANS; i++) {
      const v = w * t[at + i];
      for (let j = i; j < MEANS; j++) cross[MEANS * i + j] += v * t[at + j];
    }
  }
  const [n00, n01, n02] = [cross[0], cross[1], cross[2]];
  const [n11, n12, n22] = [cross[MEANS + 1], cross[MEANS + 2], cross[2 * MEANS + 2]];
  // inverse of the 3 × 3 normal matrix by cofactors
  const c00 = n11 * n22 - n12 * n12;
  const c01 = n02 * n12 - n01 * n22;
  const c02 = n01 * n12 - n02 * n11;
  const det = n00 * c00 + n01 * c01 + n02 * c02;
  if (!(det > 1e-12 * n00 * n11 * n22)) return undefined;
  const d = 1 / det;
  const q00 = c00 * d,
    q01 = c01 * d,
    q02 = c02 * d,
    q11 = (n00 * n22 - n02 * n02) * d,
    q12 = (n01 * n02 - n00 * n12) * d,
    q22 = (n00 * n11 - n01 * n01) * d;
  const q = Float64Array.of(q00, q01, q02, q01, q11, q12, q02, q12, q22);
  /** Position that a column makes. */
  const solved = (c: number): [number, number, number] => {
    const [b0, b1, b2] = [cross[c], cross[MEANS + c], cross[2 * MEANS + c]];
    return [q00 * b0 + q01 * b1 + q02 * b2, q01 * b0 + q11 * b1 + q12 * b2, q02 * b0 + q12 * b1 + q22 * b2];
  };
  const dM = Float64Array.from(solved(3));
  let sum = 0;
  let worst = 0;
  let worstKey = -1;
  for (let at = 0; at < WIDTH * count; at += WIDTH) {
    const [x, y, z, w] = [t[at], t[at + 1], t[at + 2], t[at + 7]];
    const v = t[at + 3] - x * dM[0] - y * dM[1] - z * dM[2];
    sum += v * v * w;
    const spread =
      1 / sums[(MEANS + 1) * t[at + 8] + MEANS] +
      x * (q00 * x + 2 * q01 * y + 2 * q02 * z) +
      y * (q11 * y + 2 * q12 * z) +
      q22 * z * z;
    const part = 1 - spread * w;
    const size = part > 0.02 ? Math.abs(v) * Math.sqrt(w / part) : 0;
    if (size > worst) {
      worst = size;
      worstKey = t[at + 9];
    }
  }
  const share = airShare(solved);
  const covariance = q.slice();
  if (air)
    addLean(
      covariance,
      share.lean,
      Float64Array.of(air.troposphereM ** 2, 0, 0, 0, air.ionosphereM ** 2, 0, 0, 0, air.verticalM ** 2),
    );
  return { dM, covariance, noise: q, phases: count, variance: sum / freedom, worst, worstKey, air: share };
}

/** Reduces the cross sums of the patterns by the position. */
function airShare(solved: (column: number) => [number, number, number]): AirShare {
  const share = { normal: new Float64Array(9), right: new Float64Array(3), lean: new Float64Array(9) };
  for (let a = 0; a < AIR_PATTERNS; a++) {
    const x = solved(4 + a);
    share.lean.set(x, 3 * a);
    const less = (c: number) => cross[c] * x[0] + cross[MEANS + c] * x[1] + cross[2 * MEANS + c] * x[2];
    share.right[a] = cross[3 * MEANS + 4 + a] - less(3);
    for (let b = a; b < AIR_PATTERNS; b++)
      share.normal[3 * a + b] = share.normal[3 * b + a] = cross[MEANS * (4 + a) + 4 + b] - less(4 + b);
  }
  return share;
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
