import { ecefToGeodetic, WGS84 } from '../frames/ellipsoid';
import { solveNormal } from '../numeric/leastSquares';
import { zenithDelaysM } from './atmosphere';
import { addLean, AIR_PATTERNS, type AirSd, type AirShare } from './fixedPosition';

/** Share of the modelled difference of zenith delays, by height, that a standard atmosphere may be wrong by. */
const TROPOSPHERE_SHARE = 0.06;
/** The same by distance, and the ionosphere's gradient: metres by metre. */
const TROPOSPHERE_GRADIENT = 0.3e-6;
const IONOSPHERE_GRADIENT = 0.5e-6;
/** Vertical delay of the ionosphere on the first band on most days, metres. */
const VERTICAL_SD_M = 3.5;

/**
 * What models leave over of the air between both ends, 1 SD.
 * @param ionosphere what it leaves beyond an even gradient, metres by metre.
 */
export function airBetween(rover: ArrayLike<number>, base: ArrayLike<number>, ionosphere: number): AirSd {
  const a = ecefToGeodetic(WGS84, rover[0], rover[1], rover[2]);
  const b = ecefToGeodetic(WGS84, base[0], base[1], base[2]);
  const [za, zb] = [zenithDelaysM(a[0], a[2]), zenithDelaysM(b[0], b[2])];
  const distance = Math.hypot(rover[0] - base[0], rover[1] - base[1], rover[2] - base[2]);
  const byHeight = TROPOSPHERE_SHARE * (za.dryM + za.wetM - zb.dryM - zb.wetM);
  return {
    troposphereM: Math.hypot(byHeight, TROPOSPHERE_GRADIENT * distance) * (byHeight < 0 ? -1 : 1),
    ionosphereM: IONOSPHERE_GRADIENT * distance,
    verticalM: VERTICAL_SD_M,
    restM: ionosphere * distance,
  };
}

/** A fixed epoch as far as the air goes; place and covariance are changed in place. */
export interface LeaningEpoch {
  sow: number;
  xyzM: Float64Array;
  covariance: Float64Array;
  share: AirShare;
  sd: AirSd;
}

/**
 * Estimates what models of the air leave over between rover and base from all fixed epochs of a session, one factor for
 * each pattern, and takes it out of them. An epoch alone hardly tells the air from its position; minutes together, on
 * two bands, do.
 * @param tauS epochs within it share their multipath and count as one. @returns factors and their covariance, in the
 * deviations of the models; nothing when there are no epochs.
 */
export function takeOutAir(epochs: LeaningEpoch[], tauS: number): Float64Array | undefined {
  if (epochs.length === 0) return undefined;
  const n = AIR_PATTERNS;
  const normal = new Float64Array(n * n);
  const factors = new Float64Array(n);
  for (let a = 0; a < n; a++) normal[a * (n + 1)] = 1;
  for (let k = 0; k < epochs.length; k++) {
    const { share, sow } = epochs[k];
    const sd = deviations(epochs[k].sd);
    const step = k > 0 ? Math.min(1, sow - epochs[k - 1].sow) : 0;
    const counts = Math.min(1, step / (2 * tauS));
    for (let a = 0; a < n; a++) {
      factors[a] += counts * sd[a] * share.right[a];
      for (let b = 0; b < n; b++) normal[n * a + b] += counts * sd[a] * share.normal[n * a + b] * sd[b];
    }
  }
  const covariance = solveNormal(normal, factors, n);
  if (!covariance) return undefined;
  const change = new Float64Array(n * n);
  for (const { share, sd: stated, xyzM, covariance: own } of epochs) {
    const sd = deviations(stated);
    for (let a = 0; a < n; a++) {
      for (let k = 0; k < 3; k++) xyzM[k] -= share.lean[3 * a + k] * sd[a] * factors[a];
      // the model's own share of the covariance shrinks to what is left
      for (let b = 0; b < n; b++) change[n * a + b] = sd[a] * (covariance[n * a + b] - (a === b ? 1 : 0)) * sd[b];
    }
    addLean(own, share.lean, change);
  }
  return factors;
}

/** Deviations of the patterns in their order. */
export const deviations = (sd: AirSd) => [sd.troposphereM, sd.ionosphereM, sd.verticalM];
