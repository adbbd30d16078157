import { ecefToGeodetic, WGS84 } from '../frames/ellipsoid';
import { zenithDelaysM } from './atmosphere';
import { addLean, type AirSd, type TroposphereShare } from './fixedPosition';

/** Share of the modelled difference of zenith delays, by height, that a standard atmosphere may be wrong by. */
const TROPOSPHERE_SHARE = 0.06;
/** The same by distance, and the ionosphere's gradient: metres by metre. */
const TROPOSPHERE_GRADIENT = 0.3e-6;
const IONOSPHERE_GRADIENT = 1e-6;

/** What models leave over of the air between both ends, 1 SD. */
export function airBetween(rover: ArrayLike<number>, base: ArrayLike<number>): AirSd {
  const a = ecefToGeodetic(WGS84, rover[0], rover[1], rover[2]);
  const b = ecefToGeodetic(WGS84, base[0], base[1], base[2]);
  const [za, zb] = [zenithDelaysM(a[0], a[2]), zenithDelaysM(b[0], b[2])];
  const distance = Math.hypot(rover[0] - base[0], rover[1] - base[1], rover[2] - base[2]);
  const byHeight = TROPOSPHERE_SHARE * (za.dryM + za.wetM - zb.dryM - zb.wetM);
  return {
    troposphereM: Math.hypot(byHeight, TROPOSPHERE_GRADIENT * distance) * (byHeight < 0 ? -1 : 1),
    ionosphereM: IONOSPHERE_GRADIENT * distance,
  };
}

/** A fixed epoch as far as the troposphere goes; changed in place. */
export interface LeaningEpoch {
  sow: number;
  xyzM: Float64Array;
  covariance: Float64Array;
  share: TroposphereShare;
  /** What the model may be wrong by there, metres, with the sign of the modelled difference. */
  sdM: number;
}

/**
 * Estimates one factor of what the model of the troposphere leaves over between rover and base from all fixed epochs of
 * a session, and takes it out of them. An epoch alone hardly tells it from its height; minutes together do.
 * @param tauS epochs within it share their multipath and count as one. @returns the factor and its deviation, in the
 * deviations of the model; nothing when there are no epochs.
 */
export function takeOutTroposphere(epochs: LeaningEpoch[], tauS: number): { factor: number; sd: number } | undefined {
  if (epochs.length === 0) return undefined;
  let weight = 1;
  let weighted = 0;
  for (let k = 0; k < epochs.length; k++) {
    const { share, sdM, sow } = epochs[k];
    const step = k > 0 ? Math.min(1, sow - epochs[k - 1].sow) : 0;
    const counts = Math.min(1, step / (2 * tauS));
    weight += counts * share.weight * sdM * sdM;
    weighted += counts * share.weighted * sdM;
  }
  const factor = weighted / weight;
  const variance = 1 / weight;
  for (const { share, sdM, xyzM, covariance } of epochs) {
    for (let k = 0; k < 3; k++) xyzM[k] -= share.lean[k] * sdM * factor;
    // the model's own share of the covariance shrinks to what is left
    addLean(covariance, share.lean, sdM * sdM * (variance - 1));
  }
  return { factor, sd: Math.sqrt(variance) };
}
