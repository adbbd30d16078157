import { tick, type Watch } from '../shared/progress';
import { type Orbits } from './orbits';
import { fixedPosition, type AirSd, type AirShare, type FixedPosition } from './fixedPosition';
import { FloatFilter, GNSS_NOISE_DEFAULTS, type GnssNoise } from './floatFilter';
import { FIX_DEFAULTS, IntegerKeeper, type FixSettings } from './integerKeeper';
import { type Observations } from './observations';
import { type Frequencies, type ReceiverCorrections } from './residuals';
import { type SkyRecorder } from './skyRecord';
import { singleDifferences, type SingleEpoch } from './single';
import { type System } from './signals';
import { airBetween, takeOutAir, type LeaningEpoch } from './airBetween';

export type Solution = 'fixed' | 'float' | 'code';

/** Position of the rover's antenna reference point at one epoch. */
export interface KinematicEpoch {
  /** GPS seconds of the rover file's week; the receiver's clock is taken out. */
  sow: number;
  /** Earth-centred metres, in the frame of the base. */
  xyzM: Float64Array;
  /** 3 × 3, metres². */
  covariance: Float64Array;
  solution: Solution;
  satellites: number;
  ratio: number;
  successRate: number;
  /** Distance of the forward and the reverse position, metres; NaN where these are not of the same kind. */
  separationM: number;
  /** Of a fixed epoch: share of the covariance that noise and multipath make, without the air; metres². */
  noise?: Float64Array;
  /** Of a fixed epoch: what it says of the air left over between rover and base. */
  air?: AirShare;
}

export interface KinematicSettings {
  systems: readonly System[];
  maskDeg: number;
  leftOut: string[];
  direction: 'both' | 'forward' | 'reverse';
  noise: GnssNoise;
  fix: FixSettings;
  dayOfYear: number;
  frequencies?: Frequencies;
  rover?: ReceiverCorrections;
  base?: ReceiverCorrections;
  /** Gathers directions, residuals and slips. */
  record?: SkyRecorder;
}

export const KINEMATIC_DEFAULTS: KinematicSettings = {
  systems: ['G', 'E'],
  maskDeg: 10,
  leftOut: [],
  direction: 'both',
  noise: GNSS_NOISE_DEFAULTS,
  fix: FIX_DEFAULTS,
  dayOfYear: 180,
};

/** Seconds between searches while integers are missing, and to confirm them when none is. */
const SEARCH_EVERY_S = 1;
const CONFIRM_EVERY_S = 5;
/** Seconds between epochs that the filter hears of while every integer is known. */
const FILTER_EVERY_S = 2;
/** A phase off by this many deviations has slipped. */
const SLIPPED = 4.5;
/** Variance of unit weight above which an epoch is not called fixed. */
const MOST_VARIANCE = 3;

/**
 * A moving receiver against a base at rest: double differences of code and phase by way of single differences with
 * clocks, ambiguities in an extended Kalman filter forward and in reverse, integers by LAMBDA with ratio and success
 * rate, positions of fixed epochs from their own phases alone.
 * @param baseM antenna reference point of the base, Earth-centred metres.
 */
export function kinematicPositions(
  rover: Observations,
  base: Observations,
  baseM: ArrayLike<number>,
  orbits: Orbits,
  settings: KinematicSettings = KINEMATIC_DEFAULTS,
  watch?: Watch,
  from = 0,
  to = rover.sow.length,
): KinematicEpoch[] {
  tick(watch, 0, 'Forming differences');
  const epochs = singleDifferences(
    rover,
    base,
    baseM,
    orbits,
    {
      systems: settings.systems,
      maskRad: (settings.maskDeg * Math.PI) / 180,
      leftOut: new Set(settings.leftOut),
      dayOfYear: settings.dayOfYear,
      frequencies: settings.frequencies,
      rover: settings.rover,
      base: settings.base,
    },
    from,
    to,
  );
  const { direction } = settings;
  settings.record?.begin(epochs);
  const airs = epochs.map((e) => airBetween(e.nearM, baseM));
  const forward = direction === 'reverse' ? undefined : pass(epochs, airs, false, settings, watch, 0.3);
  const reverse = direction === 'forward' ? undefined : pass(epochs, airs, true, settings, watch, 0.65);
  const out = forward && reverse ? forward.map((f, i) => combine(f, reverse[i])) : (forward ?? reverse)!;
  const leaning: LeaningEpoch[] = [];
  out.forEach((e, i) => {
    if (e.solution === 'fixed' && e.air) leaning.push(leaningOf(e, airs[i]));
  });
  takeOutAir(leaning, settings.noise.multipathTauS);
  tick(watch, 1);
  return out;
}

const leaningOf = (e: KinematicEpoch, sd: AirSd): LeaningEpoch => ({
  ...{ sow: e.sow, xyzM: e.xyzM, covariance: e.covariance, share: e.air!, sd },
});

function pass(
  epochs: SingleEpoch[],
  airs: AirSd[],
  backward: boolean,
  settings: KinematicSettings,
  watch: Watch | undefined,
  begin: number,
): KinematicEpoch[] {
  const groups = settings.systems.length;
  const satellites = 1 + epochs.reduce((most, e) => e.rows.reduce((m, r) => Math.max(m, r.index), most), 0);
  const { noise, fix } = settings;
  const filter = new FloatFilter(groups, satellites, noise);
  const keeper = new IntegerKeeper(groups, fix, noise.carrierMultipathM);
  const out: KinematicEpoch[] = new Array(epochs.length);
  // one pass is enough to tell what the phases have left over
  const recorder = backward && settings.direction === 'both' ? undefined : settings.record;
  const keep = (at: number, rows: SingleEpoch['rows'], f: FixedPosition) =>
    recorder?.fixed(at, rows, groups, keeper.held, f.dM, noise.carrierM, noise.carrierMultipathM);
  let searched = -Infinity;
  let heard = -Infinity;
  for (let k = 0; k < epochs.length; k++) {
    const at = backward ? epochs.length - 1 - k : k;
    const e = epochs[at];
    if ((k & 63) === 0)
      tick(watch, begin + (0.35 * k) / epochs.length, backward ? 'Computing in reverse' : 'Computing forward');
    // with every integer known the filter need not hear of each epoch: positions come from the phases alone
    if (Math.abs(e.sow - heard) < FILTER_EVERY_S - 0.01 && filter.follows(e.rows) && keeper.complete(filter, e.rows)) {
      const quick = fixedPosition(e.rows, groups, keeper.held, noise.carrierM, noise.carrierMultipathM, airs[at]);
      if (quick && quick.worst <= SLIPPED && quick.variance < MOST_VARIANCE) {
        out[at] = fixedEpoch(e, quick, keeper);
        keep(at, e.rows, quick);
        continue;
      }
    }
    heard = e.sow;
    const fresh = filter.step(e.sow, e.rows);
    for (const key of [...keeper.held.keys()]) if (fresh.has(key) || !filter.has(key)) keeper.forget(key);
    const wait = keeper.complete(filter, e.rows) ? CONFIRM_EVERY_S : SEARCH_EVERY_S;
    if (Math.abs(e.sow - searched) >= wait - 0.01) {
      keeper.search(filter, e.rows);
      searched = e.sow;
    }
    out[at] = solve(e, airs[at], filter, keeper, settings, groups, (fixed) => keep(at, e.rows, fixed));
  }
  return out;
}

function solve(
  e: SingleEpoch,
  air: AirSd,
  filter: FloatFilter,
  keeper: IntegerKeeper,
  settings: KinematicSettings,
  groups: number,
  keep: (fixed: FixedPosition) => void,
): KinematicEpoch {
  const { carrierM, carrierMultipathM } = settings.noise;
  let fixed = fixedPosition(e.rows, groups, keeper.held, carrierM, carrierMultipathM, air);
  while (fixed && fixed.worst > SLIPPED) {
    keeper.forget(fixed.worstKey);
    filter.forget(fixed.worstKey);
    fixed = fixedPosition(e.rows, groups, keeper.held, carrierM, carrierMultipathM, air);
  }
  if (fixed && fixed.variance < MOST_VARIANCE) {
    keep(fixed);
    return fixedEpoch(e, fixed, keeper);
  }
  const made = { sow: e.sow, satellites: e.rows.length, ratio: keeper.ratio, successRate: keeper.successRate };
  const place = (d: ArrayLike<number>) => Float64Array.from(e.nearM, (v, k) => v + d[k]);
  const covariance = new Float64Array(9);
  for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) covariance[3 * i + j] = filter.variance(i, j);
  // the carrier's multipath is in every epoch, however long the filter has run
  const path = 2 * carrierMultipathM ** 2;
  for (let i = 0; i < 3; i++) covariance[4 * i] += path;
  if (e.rows.length >= 4)
    return { ...made, xyzM: place(filter.x), covariance, solution: 'float', separationM: Number.NaN };
  const code = Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1).map((v) => v * e.codeSdM ** 2);
  return { ...made, xyzM: place([0, 0, 0]), covariance: code, solution: 'code', separationM: Number.NaN };
}

function fixedEpoch(e: SingleEpoch, fixed: FixedPosition, keeper: IntegerKeeper): KinematicEpoch {
  return {
    ...{ sow: e.sow, satellites: e.rows.length, ratio: keeper.ratio, successRate: keeper.successRate },
    xyzM: Float64Array.from(e.nearM, (v, k) => v + fixed.dM[k]),
    ...{ covariance: fixed.covariance, noise: fixed.noise, solution: 'fixed', separationM: Number.NaN, air: fixed.air },
  };
}

/** Better of two passes, or their weighted mean; what contradicts each other is called float. */
function combine(f: KinematicEpoch, r: KinematicEpoch): KinematicEpoch {
  const separationM = Math.hypot(f.xyzM[0] - r.xyzM[0], f.xyzM[1] - r.xyzM[1], f.xyzM[2] - r.xyzM[2]);
  if (f.solution !== r.solution)
    return f.solution === 'fixed' || (f.solution === 'float' && r.solution === 'code') ? f : r;
  const mean = Float64Array.from(f.xyzM, (v, k) => (v + r.xyzM[k]) / 2);
  if (f.solution === 'fixed') {
    const sd = Math.sqrt(f.covariance[0] + f.covariance[4] + f.covariance[8]);
    if (separationM < Math.max(0.02, 2 * sd)) return { ...f, xyzM: mean, separationM };
    // two sets of integers: neither is to be trusted
    const covariance = f.covariance.map((v, k) => v + (k % 4 === 0 ? separationM ** 2 : 0));
    return { ...f, xyzM: mean, covariance, solution: 'float', separationM };
  }
  const covariance = f.covariance.map((v, k) => (v + r.covariance[k]) / 4);
  // ambiguities of both passes come from the same codes: no better than their separation shows
  for (let i = 0; i < 3; i++) covariance[4 * i] = Math.max(covariance[4 * i], separationM ** 2 / 12);
  return { ...f, xyzM: mean, covariance, separationM };
}
