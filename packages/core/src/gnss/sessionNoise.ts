import { median } from '../numeric/statistics';
import { at, type NoiseModel, type Variance } from './noiseModel';
import { elevationVariance, MEDIAN_SQUARE } from './slips';
import { keyOf, type Single, type SingleEpoch } from './single';

/** Fewer values tell nothing. */
const FEWEST = 400;
/** Satellites of a band that an epoch needs so that their clock falls out. */
const MIN_AT_ONCE = 4;
/** Differences over these times tell noise from multipath, and how fast this fades, seconds. */
const SOON_S = 1;
const LATER_S = 15;
const LAST_S = 60;
const MIN_TAU_S = 5;
const MAX_TAU_S = 150;
/** From a session of this length half of the answer comes, seconds. */
const TRUSTED_S = 600;
const ROUNDS = 4;

interface Value {
  epoch: number;
  sow: number;
  sinEl: number;
  /** Code less phase, metres, and what is left of it. */
  raw: number;
  left: number;
  /** Share of its variance that is left; NaN when it says nothing. */
  share: number;
}

/**
 * Noise and multipath of the codes from the session itself: code less phase is constant over an arc but for these, the
 * clocks of code and phase, which all satellites of a band share, and the ionosphere, which hardly differs between both
 * receivers (variance components by differences in time; cf. Teunissen & Amiri-Simkooei 2008). Sets code, codePath and
 * codeTauS of the model where there is enough to tell them.
 */
export function learnCodeNoise(epochs: SingleEpoch[], noise: NoiseModel): void {
  const taus: number[] = [];
  for (let c = 0; c < noise.bands.length; c++) {
    const arcs = arcsOf(epochs, c % noise.groups, c < noise.groups ? 0 : 1);
    if (arcs.reduce((n, a) => n + a.length, 0) < FEWEST) continue;
    takeOutClocks(epochs.length, arcs);
    const [soon, later, last] = [SOON_S, LATER_S, LAST_S].map((lag) => differences(arcs, lag));
    if (last.square.length < FEWEST || soon.square.length < FEWEST) continue;
    const b = noise.bands[c];
    b.code = elevationVariance(soon.sinEl, soon.square);
    const grown = spread(later) - spread(soon);
    const tauS = fadingTime(grown, spread(last) - spread(soon));
    // what the longest differences show is not yet all of it
    const whole = 1 / (Math.exp(-SOON_S / tauS) - Math.exp(-LAST_S / tauS));
    const rest = lessThan(elevationVariance(last.sinEl, last.square), b.code);
    b.codePath = { even: whole * rest.even, low: whole * rest.low };
    if (grown > 0) taus.push(tauS);
  }
  if (taus.length === 0) return;
  // a short session says little of how long multipath lasts
  const spanS = epochs[epochs.length - 1].sow - epochs[0].sow;
  const share = spanS / (spanS + TRUSTED_S);
  noise.codeTauS = Math.exp(share * Math.log(median(taus)) + (1 - share) * Math.log(noise.codeTauS));
}

/** Time over which multipath fades, seconds, from how much differences over two lags exceed those over a second. */
function fadingTime(later: number, last: number): number {
  if (!(later > 0)) return MIN_TAU_S;
  const ratio = (tauS: number) => {
    const [a, b, c] = [SOON_S, LATER_S, LAST_S].map((lag) => Math.exp(-lag / tauS));
    return (a - c) / (a - b);
  };
  let [low, high] = [MIN_TAU_S, MAX_TAU_S];
  if (last / later <= ratio(low)) return low;
  if (last / later >= ratio(high)) return high;
  for (let k = 0; k < 40; k++) {
    const middle = (low + high) / 2;
    if (ratio(middle) < last / later) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** What a variance has beyond another, each part at least a little of it. */
export function lessThan(all: Variance, part: Variance): Variance {
  // compared where most satellites stand, and shared out like the whole
  const [low, high] = [0.35, 0.85];
  const share = Math.max(
    0.05,
    0.5 * (2 - at(part, low) / Math.max(1e-12, at(all, low)) - at(part, high) / Math.max(1e-12, at(all, high))),
  );
  return { even: share * all.even, low: share * all.low };
}

function arcsOf(epochs: SingleEpoch[], group: number, band: number): Value[][] {
  const open = new Map<number, { arc: number; values: Value[] }>();
  const out: Value[][] = [];
  epochs.forEach((e, epoch) => {
    for (const row of e.rows) {
      const raw = row.codeM[band] - row.phaseM[band];
      if (row.group !== group || Number.isNaN(raw)) continue;
      let a = open.get(row.index);
      if (a?.arc !== row.arc[band]) {
        a = { arc: row.arc[band], values: [] };
        open.set(row.index, a);
        out.push(a.values);
      }
      a.values.push({ epoch, sow: e.sow, sinEl: row.sinEl, raw, left: 0, share: Number.NaN });
    }
  });
  return out;
}

/** Takes what all satellites of an epoch share, and the constant of each arc, out of the values. */
function takeOutClocks(epochs: number, arcs: Value[][]): void {
  const at: Value[][] = Array.from({ length: epochs }, () => []);
  const changes: number[][] = Array.from({ length: epochs }, () => []);
  for (const a of arcs)
    a.forEach((v, k) => {
      at[v.epoch].push(v);
      if (k > 0 && a[k - 1].epoch === v.epoch - 1) changes[v.epoch].push(v.raw - a[k - 1].raw);
    });
  // clocks of code and phase drift and jump: first their changes, then what is left of them
  let clock = 0;
  for (let k = 0; k < epochs; k++) {
    if (changes[k].length) clock += median(changes[k]);
    for (const v of at[k]) v.left = v.raw - clock;
  }
  for (let round = 0; round < ROUNDS; round++) {
    for (const a of arcs) {
      const middle = median(a.map((v) => v.left));
      for (const v of a) v.left -= middle;
    }
    for (let k = 0; k < epochs; k++) if (at[k].length >= MIN_AT_ONCE) takeOutMean(at[k]);
  }
}

/** Takes the mean by elevation out of an epoch's values, without what lies far from the middle. */
function takeOutMean(values: Value[]): void {
  const middle = median(values.map((v) => v.left));
  const usual = median(values.map((v) => Math.abs(v.left - middle) * v.sinEl));
  let sum = 0;
  let weight = 0;
  for (const v of values) {
    v.share = 0;
    if (Math.abs(v.left - middle) * v.sinEl > 6 * usual) continue;
    const w = v.sinEl * v.sinEl;
    sum += w * v.left;
    weight += w;
    v.share = w;
  }
  for (const v of values) {
    v.left -= sum / weight;
    v.share = v.share ? 1 - v.share / weight : Number.NaN;
  }
}

interface Squares {
  sinEl: number[];
  square: number[];
}

const spread = (s: Squares) => median(s.square) / MEDIAN_SQUARE;

/** Half the squares of differences over a time, seconds. */
function differences(arcs: Value[][], lagS: number): Squares {
  const out: Squares = { sinEl: [], square: [] };
  const [fromS, toS] = [lagS - 0.01, 1.1 * lagS + 0.5];
  for (const a of arcs) {
    let j = 0;
    for (const v of a) {
      while (j < a.length && a[j].sow - v.sow < fromS) j++;
      if (j === a.length) break;
      const share = (v.share + a[j].share) / 2;
      if (a[j].sow - v.sow > toS || !(share > 0.1)) continue;
      out.sinEl.push(v.sinEl);
      out.square.push((a[j].left - v.left) ** 2 / 2 / share);
    }
  }
  return out;
}

/** Residuals of fixed epochs by band, for {@link learnPhasePath}. */
export class PhaseSamples {
  readonly bands: Squares[];
  private readonly seen: number[][];

  constructor(private readonly noise: NoiseModel) {
    this.bands = noise.bands.map(() => ({ sinEl: [], square: [] }));
    this.seen = noise.bands.map(() => []);
  }

  /** @param leftM residual; @param share of the phase's variance that it is expected to have. */
  add(row: Single, band: 0 | 1, leftM: number, share: number): void {
    if (share < 0.15) return;
    const c = row.group + this.noise.groups * band;
    this.bands[c].sinEl.push(row.sinEl);
    this.bands[c].square.push((leftM * leftM) / share);
    this.seen[c].push(keyOf(row.index, band));
  }

  /** Sets phasePath of the model where enough epochs were fixed. */
  learn(): void {
    this.bands.forEach((s, c) => {
      if (s.square.length < FEWEST || new Set(this.seen[c]).size < MIN_AT_ONCE) return;
      const b = this.noise.bands[c];
      b.phasePath = lessThan(elevationVariance(s.sinEl, s.square), b.phase);
    });
  }
}
