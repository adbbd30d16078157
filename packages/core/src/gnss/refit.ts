import { median } from '../numeric/statistics';
import { deviations, takeOutAir } from './airBetween';
import { fixedPosition, type AirSd, type AirShare, type FixedPosition } from './fixedPosition';
import { type KinematicEpoch } from './epoch';
import { type NoiseModel } from './noiseModel';
import { type SingleEpoch } from './single';

/** Epochs that tell how much the air has, at most, and how few tell nothing. */
const SAMPLES = 300;
const FEWEST = 30;
/** What is left in each way is taken as this share of the model at least and at most. */
const LEAST = 0.35;
const MOST = 2;
const HALVINGS = 7;
/** With more than this left over an epoch is not called fixed. */
const MAX_VARIANCE = 2.5;
/** Noise is scaled by what residuals show within this. */
const SCALE = [0.4, 3];

/**
 * Positions of fixed epochs once more, now that integers are known: what the air leaves in each way is set to what
 * brings the residuals to the size that is expected of them, and so are the deviations. Changes the epochs in place.
 * @param airs what models leave, by epoch.
 */
export function refit(out: KinematicEpoch[], epochs: SingleEpoch[], airs: AirSd[], noise: NoiseModel): void {
  const fixed = out.map((_, k) => k).filter((k) => out[k].solution === 'fixed' && out[k].integers);
  if (fixed.length < FEWEST) return;
  const sample = fixed.filter((_, k) => k % Math.ceil(fixed.length / SAMPLES) === 0);
  const solve = (k: number, share: number) =>
    fixedPosition(epochs[k].rows, noise, out[k].integers!, { ...airs[k], restM: share * airs[k].restM });
  let factors: Float64Array | undefined;
  const variance = (share: number) => {
    const solved = sample.flatMap((k) => {
      const f = solve(k, share);
      return f ? [{ sow: epochs[k].sow, sd: airs[k], f }] : [];
    });
    // what all ways share is no residual of each: it is taken out as it will be in the end
    const leaning = solved.map(({ sow, sd, f }) => ({
      sow,
      sd,
      share: f.air,
      xyzM: f.dM.slice(),
      covariance: f.covariance.slice(),
    }));
    factors = takeOutAir(leaning, noise.phaseTauS);
    return median(solved.map(({ f, sd }) => unexplained(f, sd, factors)));
  };
  let [low, high] = [Math.log(LEAST), Math.log(MOST)];
  for (let i = 0; i < HALVINGS; i++) {
    const middle = (low + high) / 2;
    if (variance(Math.exp(middle)) > 1) low = middle;
    else high = middle;
  }
  const share = Math.exp((low + high) / 2);
  const scale = Math.min(SCALE[1], Math.max(SCALE[0], variance(share)));
  for (const k of fixed) {
    const f = solve(k, share);
    if (!f) continue;
    const e = out[k];
    e.xyzM = Float64Array.from(epochs[k].nearM, (v, i) => v + f.dM[i]);
    e.covariance = f.covariance.map((v, i) => v + (scale - 1) * f.noise[i]);
    e.noise = f.noise.map((v) => scale * v);
    e.air = f.air;
    const left = unexplained(f, airs[k], factors);
    if (left > MAX_VARIANCE) {
      // perhaps not all of its integers are right
      e.solution = 'float';
      e.covariance = e.covariance.map((v) => left ** 2 * v);
    }
  }
}

/** Variance of unit weight without what the patterns of the air make of it. */
function unexplained(f: FixedPosition, sd: AirSd, factors: Float64Array | undefined): number {
  return f.variance - (factors ? explained(f.air, sd, factors) : 0) / f.freedom;
}

/** What the patterns of the air take off an epoch's sum of squares. */
function explained(share: AirShare, sd: AirSd, factors: Float64Array): number {
  const m = deviations(sd).map((v, a) => v * factors[a]);
  let sum = 0;
  for (let a = 0; a < m.length; a++) {
    sum += 2 * m[a] * share.right[a];
    for (let b = 0; b < m.length; b++) sum -= m[a] * share.normal[m.length * a + b] * m[b];
  }
  return sum;
}
