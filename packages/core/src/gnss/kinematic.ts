import { solveNormal } from '../numeric/leastSquares';
import { part, tick, type Watch } from '../shared/progress';
import { type KinematicEpoch } from './epoch';
import { type Orbits } from './orbits';
import { eachResidual, fixedPosition, type AirSd, type FixedPosition } from './fixedPosition';
import { FloatFilter } from './floatFilter';
import { FIX_DEFAULTS, IntegerKeeper, type FixSettings } from './integerKeeper';
import { at, GNSS_NOISE_DEFAULTS, modelOf, type GnssNoise, type NoiseModel } from './noiseModel';
import { type Observations } from './observations';
import { type Frequencies, type ReceiverCorrections } from './residuals';
import { combinePasses } from './bothWays';
import { refit } from './refit';
import { learnCodeNoise, PhaseSamples } from './sessionNoise';
import { type SkyRecorder } from './skyRecord';
import { singleDifferences, type SingleEpoch } from './single';
import { type System } from './signals';
import { findSlips } from './slips';
import { airBetween, takeOutAir, type LeaningEpoch } from './airBetween';

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
/** Each search in vain makes the next one wait longer, up to this, seconds. */
const PATIENCE_S = 0.2;
const MAX_WAIT_S = 10;
/** Seconds between epochs that the filter hears of while every integer is known, and while some are not. */
const FILTER_EVERY_S = 2;
const FILTER_FLOAT_EVERY_S = 1;
/** A phase off by this many deviations has slipped. */
const SLIPPED = 4.5;
/** Variance of unit weight above which an epoch is not called fixed. */
const MAX_VARIANCE = 2.5;
/** The same where the air's share is only a guess until all integers are known; above it they do not fit each other. */
const MAX_VARIANCE_AIR = 3;
/** An epoch is called fixed only when it is known better than this in space, 1 SD, metres. */
const MAX_FIXED_SD_M = 0.1;
/** Integers whose position is off the float one by this (square over variance, three axes) so often are given up. */
const CONTRADICTS = 60;
const MAX_CONTRADICTIONS = 2;
/** Searches in a row that contradict the float values, after which these begin anew. */
const MAX_DOUBTS = 15;
/** Epochs in a row whose integers do not fit each other, after which all begins anew. */
const MAX_UNFIT = 15;
/** From this length on the air between both ends is estimated, metres. */
const AIR_FROM_M = 3000;
/** Epochs of the first look at a session: so many at most, and no closer than this, seconds. */
const LOOK_EPOCHS = 400;
const LOOK_EVERY_S = 5;
/** What the ionosphere is taken to leave at first, and at least and at most after a look, metres by metre. */
const IONOSPHERE_FIRST = 0.75e-6;
const IONOSPHERE_RANGE = [0.2e-6, 20e-6];
/** Looks over long baselines. */
const LOOKS = 4;
/** The looks come out low, since other unknowns take up part of it. */
const LOOKS_LOW = 2;

/**
 * A moving receiver against a base at rest: double differences of code and phase by way of single differences with
 * clocks, ambiguities in an extended Kalman filter forward and in reverse, integers by LAMBDA with ratio and success
 * rate, positions of fixed epochs from their own phases alone. Noise, multipath and ionosphere are what the session
 * itself shows of them: the settings are only where it begins.
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
  const noise = modelOf(settings.noise, settings.systems.length);
  tick(watch, 0.2, 'Looking for lost counts');
  const slips = findSlips(epochs, noise);
  learnCodeNoise(epochs, noise);
  const lengths = epochs.map((e) => Math.hypot(...[0, 1, 2].map((k) => e.nearM[k] - baseM[k])));
  const lengthM = lengths.reduce((most, v) => Math.max(most, v), 0);
  look(epochs, baseM, noise, settings, lengthM, watch);
  if (lengthM > AIR_FROM_M) noise.ionosphere *= LOOKS_LOW;
  settings.record?.begin(epochs, slips, noise);
  const session: Session = {
    epochs,
    airs: epochs.map((e) => airBetween(e.nearM, baseM, noise.ionosphere)),
    noise,
    settings,
    knowsAir: lengthM > AIR_FROM_M,
  };
  // one pass is enough to tell what the phases have left over
  const keep: Keep = (k, rows, fixed, held) => settings.record?.fixed(k, rows, noise, held, fixed.dM);
  const forward = direction === 'reverse' ? undefined : pass(session, false, keep, watch, 0.3);
  const reverse = direction === 'forward' ? undefined : pass(session, true, forward ? undefined : keep, watch, 0.65);
  if (session.knowsAir) for (const one of [forward, reverse]) if (one) refit(one, epochs, session.airs, noise);
  const out = forward && reverse ? forward.map((f, i) => combinePasses(f, reverse[i])) : (forward ?? reverse)!;
  const leaning: LeaningEpoch[] = [];
  out.forEach((e, i) => {
    if (e.solution === 'fixed' && e.air) leaning.push(leaningOf(e, session.airs[i]));
  });
  takeOutAir(leaning, noise.phaseTauS);
  for (const e of out) if (e.solution === 'fixed' && trace(e.covariance) > MAX_FIXED_SD_M ** 2) e.solution = 'float';
  for (const e of out) delete e.integers;
  tick(watch, 1);
  return out;
}

const leaningOf = (e: KinematicEpoch, sd: AirSd): LeaningEpoch => ({
  sow: e.sow,
  xyzM: e.xyzM,
  covariance: e.covariance,
  share: e.air!,
  sd,
});

/** What both passes share. */
interface Session {
  epochs: SingleEpoch[];
  airs: AirSd[];
  noise: NoiseModel;
  settings: KinematicSettings;
  /** Whether the filter estimates the air. */
  knowsAir: boolean;
}

type Keep = (at: number, rows: SingleEpoch['rows'], fixed: FixedPosition, held: ReadonlyMap<number, number>) => void;

/**
 * A first pass over a few hundred epochs, which tells the carrier's multipath from residuals of fixed ones and what the
 * ionosphere leaves from its estimated delays; both go into the model.
 */
function look(
  epochs: SingleEpoch[],
  baseM: ArrayLike<number>,
  noise: NoiseModel,
  settings: KinematicSettings,
  lengthM: number,
  watch?: Watch,
): void {
  const few: SingleEpoch[] = [];
  const spanS = epochs.length ? epochs[epochs.length - 1].sow - epochs[0].sow : 0;
  const everyS = Math.max(LOOK_EVERY_S, spanS / LOOK_EPOCHS);
  for (const e of epochs) if (!few.length || e.sow - few[few.length - 1].sow >= everyS - 0.01) few.push(e);
  const knowsAir = lengthM > AIR_FROM_M;
  if (knowsAir) noise.ionosphere = IONOSPHERE_FIRST;
  // each look brings the ionosphere nearer to what the session has of it
  for (let round = 0; round < (knowsAir ? LOOKS : 1); round++) {
    // over long baselines the air would be taken for multipath
    const samples = knowsAir ? undefined : new PhaseSamples(noise);
    const keep: Keep = (_, rows) => {
      const byIndex = new Map(rows.map((r) => [r.index, r]));
      eachResidual((key, leftM, share) => samples?.add(byIndex.get(key >> 1)!, (key & 1) as 0 | 1, leftM, share));
    };
    const airs = few.map((e) => airBetween(e.nearM, baseM, noise.ionosphere));
    pass(
      { epochs: few, airs, noise, settings, knowsAir },
      false,
      samples && keep,
      part(watch, 0.2, 0.3),
      0,
      (filter) => {
        const { square, count } = filter.ionosphere;
        if (count > 0) noise.ionosphere = within(IONOSPHERE_RANGE, Math.sqrt(square / count) / lengthM);
      },
    );
    samples?.learn();
  }
}

const within = ([least, most]: number[], v: number) => Math.min(most, Math.max(least, v));

/** One pass over the epochs. @param keep hears of each fixed epoch; @param end of the filter when all is done. */
function pass(
  session: Session,
  backward: boolean,
  keep: Keep | undefined,
  watch: Watch | undefined,
  begin: number,
  end?: (filter: FloatFilter) => void,
): KinematicEpoch[] {
  const { epochs, airs, noise, settings } = session;
  const satellites = 1 + epochs.reduce((most, e) => e.rows.reduce((m, r) => Math.max(m, r.index), most), 0);
  const begun = () => new FloatFilter(noise.groups, satellites, noise, session.knowsAir ? airs[0] : undefined);
  let filter = begun();
  const keeper = new IntegerKeeper(noise.groups, settings.fix, noise);
  const out: KinematicEpoch[] = new Array(epochs.length);
  let searched = -Infinity;
  let heard = -Infinity;
  let contradictions = 0;
  let unfit = 0;
  for (let k = 0; k < epochs.length; k++) {
    const i = backward ? epochs.length - 1 - k : k;
    const e = epochs[i];
    if ((k & 63) === 0)
      tick(watch, begin + (0.35 * k) / epochs.length, backward ? 'Computing in reverse' : 'Computing forward');
    const since = Math.abs(e.sow - heard);
    if (since < FILTER_EVERY_S - 0.01 && filter.follows(e.rows)) {
      // with every integer known the filter need not hear of each epoch: positions come from the phases alone
      if (keeper.complete(filter, e.rows)) {
        const quick = fixedPosition(e.rows, noise, keeper.held, airs[i]);
        if (quick && isFixed(quick, session)) {
          out[i] = fixedEpoch(e, quick, keeper);
          keep?.(i, e.rows, quick, keeper.held);
          continue;
        }
      } else if (since < FILTER_FLOAT_EVERY_S - 0.01) {
        const between = floatBetween(e, airs[i], filter, keeper, session);
        if (between) {
          out[i] = between;
          continue;
        }
      }
    }
    heard = e.sow;
    const fresh = filter.step(e.sow, e.rows);
    for (const key of [...keeper.held.keys()]) if (fresh.has(key) || !filter.has(key)) keeper.forget(key);
    const tired = Math.min(MAX_WAIT_S, SEARCH_EVERY_S + keeper.failures * PATIENCE_S);
    const wait = fresh.size ? SEARCH_EVERY_S : keeper.complete(filter, e.rows) ? CONFIRM_EVERY_S : tired;
    if (Math.abs(e.sow - searched) >= wait - 0.01) {
      keeper.search(filter, e.rows, airs[i], Math.abs(e.sow - epochs[backward ? epochs.length - 1 : 0].sow));
      searched = e.sow;
      if (keeper.doubts >= MAX_DOUBTS && keeper.held.size === 0) {
        filter.forgetAll();
        keeper.doubts = 0;
      }
    }
    let fixed = fixedPosition(e.rows, noise, keeper.held, airs[i]);
    while (fixed && fixed.worst > SLIPPED) {
      keeper.forget(fixed.worstKey);
      filter.forget(fixed.worstKey);
      fixed = fixedPosition(e.rows, noise, keeper.held, airs[i]);
    }
    unfit = fixed && fixed.variance >= MAX_VARIANCE_AIR ? unfit + 1 : 0;
    if (session.knowsAir && unfit >= MAX_UNFIT && keeper.waitLonger()) {
      // what was made whole too early sits in the filter itself: the pass begins anew, and waits longer with it
      filter = begun();
      unfit = contradictions = 0;
      searched = heard = -Infinity;
      k = -1;
      continue;
    }
    if (fixed && isFixed(fixed, session)) {
      contradictions = contradicts(fixed, filter, noise) ? contradictions + 1 : 0;
      if (contradictions < MAX_CONTRADICTIONS) {
        out[i] = fixedEpoch(e, fixed, keeper);
        keep?.(i, e.rows, fixed, keeper.held);
        continue;
      }
      keeper.clear();
      contradictions = 0;
    }
    out[i] = floatEpoch(e, filter, keeper, noise);
  }
  end?.(filter);
  return out;
}

const isFixed = (f: FixedPosition, session: Session) =>
  f.worst <= SLIPPED &&
  f.variance < (session.knowsAir ? MAX_VARIANCE_AIR : MAX_VARIANCE) &&
  trace(f.noise) < MAX_FIXED_SD_M ** 2;

const trace = (c: Float64Array) => c[0] + c[4] + c[8];

/** Whether a fixed position lies where the float solution says it cannot. */
function contradicts(fixed: FixedPosition, filter: FloatFilter, noise: NoiseModel): boolean {
  const c = new Float64Array(9);
  for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) c[3 * i + j] = filter.variance(i, j);
  for (let i = 0; i < 3; i++) c[4 * i] += pathOf(noise);
  const d = Float64Array.from([0, 1, 2], (k) => fixed.dM[k] - filter.x[k]);
  const solved = d.slice();
  return solveNormal(c, solved, 3) !== undefined && d.reduce((s, v, k) => s + v * solved[k], 0) > CONTRADICTS;
}

/** Variance of the carrier's multipath in an epoch, however long the filter has run, metres². */
function pathOf(noise: NoiseModel): number {
  return noise.bands.reduce((s, b) => s + at(b.phasePath, 0.7), 0) / noise.bands.length;
}

function floatEpoch(e: SingleEpoch, filter: FloatFilter, keeper: IntegerKeeper, noise: NoiseModel): KinematicEpoch {
  const made = { sow: e.sow, satellites: e.rows.length, ratio: keeper.ratio, successRate: keeper.successRate };
  const place = (d: ArrayLike<number>) => Float64Array.from(e.nearM, (v, k) => v + d[k]);
  const covariance = new Float64Array(9);
  for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) covariance[3 * i + j] = filter.variance(i, j);
  for (let i = 0; i < 3; i++) covariance[4 * i] += pathOf(noise);
  if (e.rows.length >= 4)
    return { ...made, xyzM: place(filter.x), covariance, solution: 'float', separationM: Number.NaN };
  const code = Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1).map((v) => v * e.codeSdM ** 2);
  return { ...made, xyzM: place([0, 0, 0]), covariance: code, solution: 'code', separationM: Number.NaN };
}

/** An epoch that the filter need not hear of: its own phases with the ambiguities as they are known. */
function floatBetween(
  e: SingleEpoch,
  air: AirSd,
  filter: FloatFilter,
  keeper: IntegerKeeper,
  session: Session,
): KinematicEpoch | undefined {
  const { noise } = session;
  const held = keeper.held.size ? fixedPosition(e.rows, noise, keeper.held, air) : undefined;
  if (held) return isFixed(held, session) ? fixedEpoch(e, held, keeper) : undefined;
  const f = fixedPosition(e.rows, noise, filter.floats(e.rows), air);
  if (!f || f.worst > SLIPPED) return undefined;
  const out = floatEpoch(e, filter, keeper, noise);
  out.xyzM = Float64Array.from(e.nearM, (v, k) => v + f.dM[k]);
  return out;
}

function fixedEpoch(e: SingleEpoch, fixed: FixedPosition, keeper: IntegerKeeper): KinematicEpoch {
  return {
    sow: e.sow,
    satellites: e.rows.length,
    ratio: keeper.ratio,
    successRate: keeper.successRate,
    xyzM: Float64Array.from(e.nearM, (v, k) => v + fixed.dM[k]),
    covariance: fixed.covariance,
    noise: fixed.noise,
    solution: 'fixed',
    separationM: Number.NaN,
    air: fixed.air,
    integers: keeper.snapshot(),
  };
}
