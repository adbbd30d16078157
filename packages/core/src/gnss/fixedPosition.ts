import { type Single } from './single';

/** A position from phases whose ambiguities are known. */
export interface FixedPosition {
  /** From the place where the residuals were formed, Earth-centred metres. */
  dM: Float64Array;
  /** 3 × 3 covariance, metres². */
  covariance: Float64Array;
  phases: number;
  /** Weighted sum of squared residuals over its degrees of freedom. */
  variance: number;
  /** Largest residual in its deviations, and whose. */
  worst: number;
  worstKey: number;
  troposphere: TroposphereShare;
}

/** What one epoch says of a zenith delay left over between rover and base, and what that does to its position. */
export interface TroposphereShare {
  /** Weight and weighted value, 1/m² and 1/m, position and clocks eliminated. */
  weight: number;
  weighted: number;
  /** Metres of position by metre of delay. */
  lean: [number, number, number];
}

/** What the air between rover and base leaves over, 1 SD at the zenith, metres; ionosphere on the first band. */
export interface AirSd {
  troposphereM: number;
  ionosphereM: number;
}

/** Variance of a phase difference of two receivers, metres²: noise by elevation and multipath. */
export function phaseVariance(sinEl: number, noiseM: number, multipathM: number): number {
  return 2 * ((noiseM / sinEl) ** 2 + multipathM * multipathM);
}

export const keyOf = (index: number, band: number) => 2 * index + band;

/** Columns of a used phase: direction, observed, weight, clock, key, slant delays of troposphere and ionosphere. */
const WIDTH = 9;
const MOST_CLOCKS = 16;
let table = new Float64Array(WIDTH * 128);
/** By clock: weight, and the weighted sums of direction, observation and delays. */
const sums = new Float64Array(7 * MOST_CLOCKS);

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
  for (const row of rows)
    for (let band = 0; band < 2; band++) {
      const key = keyOf(row.index, band);
      const n = integers.get(key);
      const phase = row.phaseM[band];
      if (n === undefined || Number.isNaN(phase)) continue;
      const clock = row.group + groups * band;
      const w = 1 / phaseVariance(row.sinEl, noiseM, multipathM);
      const at = WIDTH * count++;
      t[at] = -row.unit[0];
      t[at + 1] = -row.unit[1];
      t[at + 2] = -row.unit[2];
      t[at + 3] = phase - n * row.wavelengthM[band];
      t[at + 4] = w;
      t[at + 5] = clock;
      t[at + 6] = key;
      t[at + 7] = 1.001 / Math.sqrt(0.002001 + row.sinEl * row.sinEl);
      t[at + 8] =
        -((row.wavelengthM[band] / row.wavelengthM[0]) ** 2) / Math.sqrt(0.0975 + 0.9025 * row.sinEl * row.sinEl);
      const s = 7 * clock;
      if (sums[s] === 0) clocks++;
      sums[s] += w;
      for (let k = 0; k < 4; k++) sums[s + 1 + k] += w * t[at + k];
      sums[s + 5] += w * t[at + 7];
      sums[s + 6] += w * t[at + 8];
    }
  const freedom = count - 3 - clocks;
  if (freedom < 2) return undefined;
  let [n00, n01, n02, n11, n12, n22] = [0, 0, 0, 0, 0, 0];
  let [b0, b1, b2, t0, t1, t2, i0, i1, i2, tt, to] = [0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0];
  for (let at = 0; at < WIDTH * count; at += WIDTH) {
    const s = 7 * t[at + 5];
    const mean = 1 / sums[s];
    const w = t[at + 4];
    const x = (t[at] -= sums[s + 1] * mean);
    const y = (t[at + 1] -= sums[s + 2] * mean);
    const z = (t[at + 2] -= sums[s + 3] * mean);
    const o = w * (t[at + 3] -= sums[s + 4] * mean);
    const slant = t[at + 7] - sums[s + 5] * mean;
    const dry = w * slant;
    tt += slant * dry;
    to += slant * o;
    const ion = w * (t[at + 8] - sums[s + 6] * mean);
    n00 += w * x * x;
    n01 += w * x * y;
    n02 += w * x * z;
    n11 += w * y * y;
    n12 += w * y * z;
    n22 += w * z * z;
    b0 += x * o;
    b1 += y * o;
    b2 += z * o;
    t0 += x * dry;
    t1 += y * dry;
    t2 += z * dry;
    i0 += x * ion;
    i1 += y * ion;
    i2 += z * ion;
  }
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
  const dM = Float64Array.of(
    q00 * b0 + q01 * b1 + q02 * b2,
    q01 * b0 + q11 * b1 + q12 * b2,
    q02 * b0 + q12 * b1 + q22 * b2,
  );
  let sum = 0;
  let worst = 0;
  let worstKey = -1;
  for (let at = 0; at < WIDTH * count; at += WIDTH) {
    const [x, y, z, w] = [t[at], t[at + 1], t[at + 2], t[at + 4]];
    const v = t[at + 3] - x * dM[0] - y * dM[1] - z * dM[2];
    sum += v * v * w;
    const q =
      1 / sums[7 * t[at + 5]] + x * (q00 * x + 2 * q01 * y + 2 * q02 * z) + y * (q11 * y + 2 * q12 * z) + q22 * z * z;
    const part = 1 - q * w;
    const size = part > 0.02 ? Math.abs(v) * Math.sqrt(w / part) : 0;
    if (size > worst) {
      worst = size;
      worstKey = t[at + 6];
    }
  }
  const lean: [number, number, number] = [
    q00 * t0 + q01 * t1 + q02 * t2,
    q01 * t0 + q11 * t1 + q12 * t2,
    q02 * t0 + q12 * t1 + q22 * t2,
  ];
  const troposphere = {
    weight: tt - t0 * lean[0] - t1 * lean[1] - t2 * lean[2],
    weighted: to - t0 * dM[0] - t1 * dM[1] - t2 * dM[2],
    lean,
  };
  const covariance = Float64Array.of(q00, q01, q02, q01, q11, q12, q02, q12, q22);
  if (air) {
    const ion: [number, number, number] = [
      q00 * i0 + q01 * i1 + q02 * i2,
      q01 * i0 + q11 * i1 + q12 * i2,
      q02 * i0 + q12 * i1 + q22 * i2,
    ];
    addLean(covariance, lean, air.troposphereM ** 2);
    addLean(covariance, ion, air.ionosphereM ** 2);
  }
  return { dM, covariance, phases: count, variance: sum / freedom, worst, worstKey, troposphere };
}

/** Adds to a covariance what one common delay of a variance does to the position. */
export function addLean(covariance: Float64Array, lean: [number, number, number], variance: number): void {
  for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) covariance[3 * i + j] += variance * lean[i] * lean[j];
}
