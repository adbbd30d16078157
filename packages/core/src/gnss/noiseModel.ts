/** Errors of one receiver, 1 SD, metres and seconds. */
export interface GnssNoise {
  codeM: number;
  carrierM: number;
  codeMultipathM: number;
  carrierMultipathM: number;
  multipathTauS: number;
}

/**
 * Where nothing is said and the session tells nothing: a geodetic receiver in the open as the textbooks give it
 * (Kaplan & Hegarty 2017, chapter 9; Hofmann-Wellenhof et al. 2008, section 5.1: code about a hundredth of a chip with
 * smoothing, carrier about a hundredth of a cycle; multipath of a few decimetres, and under a centimetre).
 */
export const GNSS_NOISE_DEFAULTS: GnssNoise = {
  codeM: 0.25,
  carrierM: 0.0019,
  codeMultipathM: 0.35,
  carrierMultipathM: 0.0035,
  multipathTauS: 75,
};

/** Variances of a kind of observation, rover less base, metres²: even + low / sin² of the elevation. */
export interface Variance {
  even: number;
  low: number;
}

/** What one band of one system has: noise from epoch to epoch, and multipath that stays alike for a while. */
export interface BandNoise {
  code: Variance;
  codePath: Variance;
  phase: Variance;
  phasePath: Variance;
}

/** Variances of a session's differences by system and band. */
export interface NoiseModel {
  /** By group + groups × band. */
  bands: BandNoise[];
  groups: number;
  codeTauS: number;
  phaseTauS: number;
  /** What the ionosphere leaves in a slant way beyond an even gradient, 1 SD on the first band: metres by metre. */
  ionosphere: number;
}

/** Before the session has told its own: every band alike. */
export function modelOf(noise: GnssNoise, groups: number): NoiseModel {
  const band = (): BandNoise => ({
    code: { even: 0, low: 2 * noise.codeM ** 2 },
    codePath: { even: 2 * noise.codeMultipathM ** 2, low: 0 },
    phase: { even: 0, low: 2 * noise.carrierM ** 2 },
    phasePath: { even: 2 * noise.carrierMultipathM ** 2, low: 0 },
  });
  return {
    groups,
    codeTauS: noise.multipathTauS,
    phaseTauS: noise.multipathTauS,
    ionosphere: IONOSPHERE_BEFORE,
    bands: Array.from({ length: 2 * groups }, band),
  };
}

/** What the ionosphere may leave beyond an even gradient, metres by metre, on most days; over long baselines the session tells. */
const IONOSPHERE_BEFORE = 0.5e-6;

export const at = (v: Variance, sinEl: number) => v.even + v.low / (sinEl * sinEl);

/** Variance of a phase difference of two receivers, metres²: noise and multipath. */
export function phaseVariance(b: BandNoise, sinEl: number): number {
  return b.phase.even + b.phasePath.even + (b.phase.low + b.phasePath.low) / (sinEl * sinEl);
}
