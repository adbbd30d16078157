import { median } from '../numeric/statistics';
import { lastingShare } from '../trajectory/stops';
import { type KinematicEpoch, type Solution } from './epoch';

/** Place of a receiver at rest from the positions of its epochs. */
export interface StaticMean {
  /** Antenna reference point, Earth-centred metres. */
  xyzM: Float64Array;
  /** 3 × 3, metres². */
  covariance: Float64Array;
  solution: Solution;
  fixedShare: number;
  epochs: number;
  used: number;
  /** From the first epoch used to the last, seconds. */
  spanS: number;
  /** Scatter of the epochs used about the mean, in space, 1 SD, metres. */
  scatterM: number;
}

/** Share of fixed epochs from which on they alone count. */
const MOSTLY_FIXED = 0.6;
/** Epochs off by this many robust deviations are not used. */
const GROSS = 4;
const MIN_SATELLITES = 4;
const MIN_SPREAD_M = 0.003;
/**
 * What gradients and changes of the air leave in a mean of minutes to an hour, however many epochs it has, by length of
 * the vector: measured as the RMS over sessions of a quarter of an hour at 8 km, less what the epochs explain.
 */
const LASTING_PLAN = 0.3e-6;
const LASTING_HEIGHT = 1.2e-6;

/**
 * Mean of a static receiver's epochs. Noise and multipath average out as far as they fade in time, and count for no
 * less than the epochs scatter; what the air between both ends leaves over stays, and so does what a float solution
 * has wrong in its ambiguities.
 * @param tauS time over which multipath stays alike. @param baseM antenna of the base, Earth-centred metres. @returns undefined without epochs.
 */
export function staticMean(all: KinematicEpoch[], tauS: number, baseM: ArrayLike<number>): StaticMean | undefined {
  // while the base is silent nothing is known of the vector
  const epochs = all.filter((e) => e.satellites >= MIN_SATELLITES);
  if (epochs.length === 0) return undefined;
  const fixed = epochs.filter((e) => e.solution === 'fixed');
  const fixedShare = fixed.length / epochs.length;
  const floating = epochs.filter((e) => e.solution !== 'code');
  const solution: Solution = fixedShare >= MOSTLY_FIXED ? 'fixed' : floating.length ? 'float' : 'code';
  const candidates = solution === 'fixed' ? fixed : solution === 'float' ? floating : epochs;
  const axes = [0, 1, 2];
  const middle = axes.map((k) => median(candidates.map((e) => e.xyzM[k])));
  const spread = axes.map((k) => 1.4826 * median(candidates.map((e) => Math.abs(e.xyzM[k] - middle[k]))));
  const used = candidates.filter((e) =>
    axes.every((k) => Math.abs(e.xyzM[k] - middle[k]) <= GROSS * Math.max(spread[k], MIN_SPREAD_M)),
  );
  const n = used.length;
  if (n === 0) return undefined;
  // sums from the middle: squares of millions of metres would lose the millimetres
  const off = axes.map((k) => used.reduce((s, e) => s + e.xyzM[k] - middle[k], 0) / n);
  const scatter = used.reduce((s, e) => s + axes.reduce((t, k) => t + (e.xyzM[k] - middle[k] - off[k]) ** 2, 0), 0);
  const spanS = used[n - 1].sow - used[0].sow;
  const noise = new Float64Array(9);
  const rest = new Float64Array(9);
  for (const e of used)
    for (let k = 0; k < 9; k++) {
      const own = solution === 'fixed' ? (e.noise?.[k] ?? e.covariance[k]) : 0;
      noise[k] += own / n;
      rest[k] += (e.covariance[k] - own) / n;
    }
  const stated = noise[0] + noise[4] + noise[8];
  const more = stated > 0 ? Math.max(1, scatter / n / stated) : 1;
  const share = more * lastingShare(spanS, tauS);
  const xyzM = Float64Array.from(middle, (v, k) => v + off[k]);
  const covariance = noise.map((v, k) => v * share + rest[k]);
  const lengthM = Math.hypot(...axes.map((k) => xyzM[k] - baseM[k]));
  const outward = Math.hypot(xyzM[0], xyzM[1], xyzM[2]);
  for (let i = 0; i < 3; i++)
    for (let j = 0; j < 3; j++) {
      const up = (xyzM[i] * xyzM[j]) / outward ** 2;
      const flat = (i === j ? 1 : 0) - up;
      covariance[3 * i + j] += (LASTING_PLAN * lengthM) ** 2 * flat + (LASTING_HEIGHT * lengthM) ** 2 * up;
    }
  return {
    xyzM,
    covariance,
    solution,
    fixedShare,
    epochs: epochs.length,
    used: n,
    spanS,
    scatterM: Math.sqrt(scatter / n),
  };
}
