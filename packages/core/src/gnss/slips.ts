import { median } from '../numeric/statistics';
import { EpochFit } from './epochFit';
import { at, type NoiseModel } from './noiseModel';
import { keyOf, roverArcOf, type Single, type SingleEpoch } from './single';

/** How a lost count was noticed. */
export type SlipSign = 'told' | 'two bands' | 'other satellites';

/** A phase that lost count. */
export interface Slip {
  /** Seconds of the rover's week. */
  sow: number;
  satellite: string;
  /** 0 the first band, 1 the second. */
  band: number;
  at: 'rover' | 'base' | 'either';
  sign: SlipSign;
}

/** A phase that moved against the others by this many deviations has slipped, and by at least this, metres. */
const SLIPPED = 5.5;
const MIN_SLIP_M = 0.05;
/** Epochs further apart are not compared, in steps and seconds. */
const MAX_STEPS = 1.6;
/** Fewer differences tell nothing of the noise. */
const FEWEST = 200;
/** The noise is learnt from epochs so far apart at least, seconds. */
const LEARN_STEP_S = 0.99;

/**
 * Finds lost counts from epoch to epoch: the change of each phase, rover less base, must agree with one displacement
 * and one clock for all (time differences between satellites; one band is enough). Arcs are numbered anew in place,
 * so that a number stands for one unbroken count.
 * @param noise its white noise of the phase is set to what the session shows.
 */
export function findSlips(epochs: SingleEpoch[], noise: NoiseModel): Slip[] {
  const maxGapS = MAX_STEPS * usualStep(epochs);
  learnPhaseNoise(epochs, noise, maxGapS);
  const slips: Slip[] = [];
  const arcs = new Map<number, { raw: number; id: number; epoch: number }>();
  let next = 1;
  for (let k = 0; k < epochs.length; k++) {
    const e = epochs[k];
    const near = k > 0 && e.sow - epochs[k - 1].sow <= maxGapS;
    const broken = near ? movedAgainst(epochs[k - 1], e, noise) : [];
    const all = broken === undefined;
    const { rows } = e;
    for (const row of rows) {
      // where the others do not show which of the two bands it was, both begin anew
      const either = row.apart && !all && ![0, 1].some((b) => broken.includes(keyOf(row.index, b)));
      for (const band of [0, 1]) {
        if (Number.isNaN(row.phaseM[band])) continue;
        const key = keyOf(row.index, band);
        const before = arcs.get(key);
        const slipped = before !== undefined && before.epoch === k - 1 && (all || either || broken.includes(key));
        if (before && before.raw === row.arc[band] && near && before.epoch === k - 1 && !slipped) {
          before.epoch = k;
          row.arc[band] = before.id;
          continue;
        }
        if (near && before?.epoch === k - 1 && (slipped || before.raw !== row.arc[band]))
          slips.push({ sow: e.sow, satellite: row.satellite, band, ...signOf(before.raw, row, band) });
        arcs.set(key, { raw: row.arc[band], id: next, epoch: k });
        row.arc[band] = next++;
      }
    }
    e.renumbered?.(rows);
  }
  return slips;
}

function signOf(before: number, row: Single, band: number): Pick<Slip, 'at' | 'sign'> {
  if (before === row.arc[band]) return { at: 'either', sign: row.apart ? 'two bands' : 'other satellites' };
  return { at: roverArcOf(before) !== roverArcOf(row.arc[band]) ? 'rover' : 'base', sign: 'told' };
}

const fit = new EpochFit();
const keys: number[] = [];
const sines: number[] = [];

/** Puts the changes of phases between two epochs into the fit. @returns how many. */
function changes(before: SingleEpoch, now: SingleEpoch, noise: NoiseModel, raw: boolean): number {
  fit.clear();
  keys.length = sines.length = 0;
  const there = new Map(before.rows.map((r) => [r.index, r]));
  for (const row of now.rows) {
    const old = there.get(row.index);
    if (!old) continue;
    for (const band of [0, 1]) {
      const change = row.phaseM[band] - old.phaseM[band];
      // the older epoch's arcs have their new numbers already
      if (Number.isNaN(change) || (raw ? row.arc[band] !== old.arc[band] : row.arc[band] !== old.rawArc[band]))
        continue;
      const b = noise.bands[row.group + noise.groups * band];
      const dt = Math.abs(now.sow - before.sow);
      const path = at(b.phasePath, row.sinEl) * (1 - Math.exp(-dt / noise.phaseTauS));
      fit.add(row.unit, 0, change, 2 * (at(b.phase, row.sinEl) + path) + 1e-8);
      keys.push(keyOf(row.index, band));
      sines.push(row.sinEl);
    }
  }
  return keys.length;
}

/** Keys of phases whose change does not agree with the rest; undefined when it cannot be told which. */
function movedAgainst(before: SingleEpoch, now: SingleEpoch, noise: NoiseModel): number[] | undefined {
  if (changes(before, now, noise, false) < 5) return [];
  return fit.reject(SLIPPED, MIN_SLIP_M)?.map((k) => keys[k]);
}

/** White noise of the phases by band from the changes of a few hundred epochs: even and by elevation. */
function learnPhaseNoise(epochs: SingleEpoch[], noise: NoiseModel, maxGapS: number): void {
  // a base that records more seldom lies between its epochs on a line: only whole steps show its noise
  const pairs: Array<[number, number]> = [];
  let first = 0;
  for (let k = 1; k < epochs.length; k++) {
    while (first + 1 < k && epochs[k].sow - epochs[first + 1].sow >= LEARN_STEP_S) first++;
    const dt = epochs[k].sow - epochs[first].sow;
    if (dt >= LEARN_STEP_S && dt <= maxGapS) pairs.push([first, k]);
  }
  const step = Math.max(1, Math.floor(pairs.length / 400));
  // twice: the first time the weights are those of a usual receiver
  for (let round = 0; round < 2; round++) {
    const samples = noise.bands.map(() => ({ sinEl: [] as number[], square: [] as number[] }));
    for (let i = 0; i < pairs.length; i += step) {
      const now = epochs[pairs[i][1]];
      const n = changes(epochs[pairs[i][0]], now, noise, true);
      if (n < 7 || !fit.reject(3 * SLIPPED, 3 * MIN_SLIP_M)) continue;
      const groups = new Map(now.rows.map((r) => [r.index, r.group]));
      for (let k = 0; k < n; k++) {
        const part = fit.redundancy(k);
        const v = fit.residual.values[k];
        if (Number.isNaN(fit.normalised(k)) || part < 0.1) continue;
        const to = samples[groups.get(keys[k] >> 1)! + noise.groups * (keys[k] & 1)];
        to.sinEl.push(sines[k]);
        to.square.push((v * v) / part / 2);
      }
    }
    samples.forEach((s, b) => {
      if (s.square.length < FEWEST) return;
      noise.bands[b].phase = elevationVariance(s.sinEl, s.square);
    });
  }
}

/** Edges of classes of the sine of the elevation. */
const CLASSES = [0, 0.26, 0.34, 0.45, 0.6, 0.8, 1.01];
/** Median of the square of a normal deviate. */
export const MEDIAN_SQUARE = 0.4549;

/** Even part and part by elevation of a variance, from squares of deviations; robust against single large ones. */
export function elevationVariance(sinEl: number[], square: number[]): { even: number; low: number } {
  let [n, sx, sxx, sy, sxy] = [0, 0, 0, 0, 0];
  for (let c = 0; c + 1 < CLASSES.length; c++) {
    const within: number[] = [];
    let inverse = 0;
    for (let k = 0; k < sinEl.length; k++)
      if (sinEl[k] >= CLASSES[c] && sinEl[k] < CLASSES[c + 1]) {
        within.push(square[k]);
        inverse += 1 / (sinEl[k] * sinEl[k]);
      }
    if (within.length < 20) continue;
    const y = median(within) / MEDIAN_SQUARE;
    const x = inverse / within.length;
    // relative deviations count alike in every class
    const w = within.length / (y * y);
    n += w;
    sx += w * x;
    sxx += w * x * x;
    sy += w * y;
    sxy += w * x * y;
  }
  if (n === 0) return { even: 0, low: median(square.map((v, k) => v * sinEl[k] ** 2)) / MEDIAN_SQUARE };
  const determinant = n * sxx - sx * sx;
  let low = determinant > 1e-9 * n * sxx ? (n * sxy - sx * sy) / determinant : 0;
  let even = (sy - low * sx) / n;
  if (low < 0) {
    low = 0;
    even = sy / n;
  } else if (even < 0) {
    even = 0;
    low = sxy / sxx;
  }
  return { even, low };
}

function usualStep(epochs: SingleEpoch[]): number {
  const steps = epochs.slice(1, 60).map((e, k) => e.sow - epochs[k].sow);
  return Math.max(1, steps.length ? median(steps) : 1);
}
