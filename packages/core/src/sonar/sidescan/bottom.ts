import { tick, type Watch } from '../../shared/progress';
import { type BottomTrack, type SidescanRows } from './recording';

export interface BottomSettings {
  /** The pulse itself, and what hangs under the hull: not looked at, metres of range. */
  blankM: number;
  /** The bed rises or falls by at most this from ping to ping, metres. */
  stepM: number;
  /** Thinner things in the water are not the bed, metres. */
  thickM: number;
}
export const BOTTOM_DEFAULTS: BottomSettings = { blankM: 0.8, stepM: 0.25, thickM: 2 };

/** A pair of pings alike in the speed of sound is enough for widths, m/s. */
const ABOUT_MPS = 1490;
/** Ahead of the bed this much water is looked at, metres. */
const WATER_M = 0.6;
const PARTS = 4;
/** Scores are capped: louder is no more the bed. */
const MOST = 3.5;
/** Weight of a step of the bed against scores. */
const STEP_COST = 0.02;
/** Doubtful below this, with so many pings to either side. */
const SURE = 0.35;
const BESIDE = 2;

/**
 * Finds the first return from the bed: each sample is scored by how much louder it stays after it than it was before (each of
 * four parts of a thickness that fish do not have), and the best way through all pings is taken (Viterbi 1967), with small
 * steps. Then it is moved to where the echo rises.
 * @param given what was drawn by hand is kept as it is. @returns samples, confidence, and where somebody should look.
 */
export function trackBottom(
  rows: SidescanRows,
  settings: BottomSettings = BOTTOM_DEFAULTS,
  given?: Pick<BottomTrack, 'sample' | 'edited'>,
  watch?: Watch,
): BottomTrack {
  const { samples, sampleS, firstS, sow } = rows;
  const n = sow.length;
  const perM = 2 / (ABOUT_MPS * sampleS);
  const blank = Math.max(1, Math.round(settings.blankM * perM - firstS / sampleS));
  const water = Math.max(3, Math.round(WATER_M * perM));
  const part = Math.max(3, Math.round((settings.thickM / PARTS) * perM));
  const step = Math.max(1, Math.round(settings.stepM * perM));
  const last = samples - PARTS * part - 1;
  const out: BottomTrack = {
    sample: new Float64Array(n).fill(Number.NaN),
    confidence: new Float32Array(n),
    flagged: new Uint8Array(n).fill(1),
    edited: new Uint8Array(n),
  };
  if (last <= blank || n === 0) return out;
  const width = last - blank + 1;
  const best = new Float32Array(width);
  const before = new Float32Array(width);
  const from = new Int16Array(n * width);
  const scores = new Float32Array(width);
  const sums = new Float64Array(samples + 1);
  const keptScores = new Float32Array(n * width);
  for (let i = 0; i < n; i++) {
    if (i % 64 === 0) tick(watch, (0.8 * i) / n);
    score(rows, i, sums, blank, width, water, part, scores);
    const fixed = given?.edited[i] ? Math.round(given.sample[i]) - blank : -1;
    if (fixed >= 0) for (let k = 0; k < width; k++) scores[k] = Math.abs(k - fixed) <= 1 ? MOST : -MOST;
    keptScores.set(scores, i * width);
    before.set(best);
    for (let k = 0; k < width; k++) {
      let top = -Infinity;
      let at = k;
      if (i === 0) top = 0;
      else
        for (let j = Math.max(0, k - step); j <= Math.min(width - 1, k + step); j++) {
          const v = before[j] - STEP_COST * Math.abs(j - k);
          if (v > top) {
            top = v;
            at = j;
          }
        }
      best[k] = top + scores[k];
      from[i * width + k] = at - k;
    }
  }
  // back along the best way
  let k = 0;
  for (let j = 1; j < width; j++) if (best[j] > best[k]) k = j;
  for (let i = n - 1; i >= 0; i--) {
    const mine = keptScores.subarray(i * width, (i + 1) * width);
    if (given?.edited[i]) {
      out.sample[i] = given.sample[i];
      out.confidence[i] = 1;
      out.flagged[i] = 0;
      out.edited[i] = 1;
    } else {
      out.sample[i] = rise(rows, i, k + blank, water, part);
      out.confidence[i] = confidenceOf(mine, k, part);
    }
    k += from[i * width + k];
  }
  flag(out, perM);
  return out;
}

/** How much louder it stays after each sample than it was before; both sides together. */
function score(
  { samples, port, starboard }: SidescanRows,
  i: number,
  sums: Float64Array,
  blank: number,
  width: number,
  water: number,
  part: number,
  out: Float32Array,
): void {
  const o = i * samples;
  for (let k = 0; k < samples; k++) sums[k + 1] = sums[k] + port[o + k] + starboard[o + k];
  const floor = 1 + 0.002 * (sums[samples] / samples);
  for (let k = 0; k < width; k++) {
    const at = k + blank;
    const from = Math.max(0, at - water);
    const dark = (sums[at] - sums[from]) / (at - from) + floor;
    let least = Infinity;
    for (let p = 0; p < PARTS; p++) {
      const mean = (sums[at + (p + 1) * part] - sums[at + p * part]) / part;
      if (mean < least) least = mean;
    }
    out[k] = Math.min(MOST, Math.log((least + floor) / dark));
  }
}

/** Where the echo rises near a sample: the first that reaches half way from the water to the bed and stays there. */
function rise(
  { samples, port, starboard }: SidescanRows,
  i: number,
  near: number,
  water: number,
  part: number,
): number {
  const o = i * samples;
  const both = (k: number) => port[o + k] + starboard[o + k];
  const mean = (a: number, b: number) => {
    let sum = 0;
    for (let k = a; k < b; k++) sum += both(k);
    return sum / Math.max(1, b - a);
  };
  const reach = Math.max(2, Math.round(part / 2));
  const from = Math.max(1, near - reach);
  const dark = mean(Math.max(0, from - water), from);
  const light = mean(near + 1, Math.min(samples, near + 1 + part));
  const half = dark + 0.35 * (light - dark);
  for (let k = from; k <= Math.min(samples - 3, near + reach); k++)
    if (both(k) > half && (both(k + 1) > half || both(k + 2) > half)) return k;
  return near;
}

/** How far the way chosen stands out: by its own score, and from the best that lies elsewhere. */
function confidenceOf(scores: Float32Array, k: number, part: number): number {
  let [own, other] = [-Infinity, -Infinity];
  for (let j = 0; j < scores.length; j++) {
    if (Math.abs(j - k) <= part / 2) own = Math.max(own, scores[j]);
    else if (Math.abs(j - k) > part) other = Math.max(other, scores[j]);
  }
  const loud = Math.min(1, Math.max(0, own / 1.2));
  const apart = Math.min(1, Math.max(0, (own - other) / 0.8));
  return loud * (0.35 + 0.65 * apart);
}

/** Flags pings that are unsure, and those that leave the middle of their neighbours. */
function flag(t: BottomTrack, perM: number): void {
  const n = t.sample.length;
  const near: number[] = [];
  for (let i = 0; i < n; i++) {
    near.length = 0;
    for (let j = Math.max(0, i - 7); j <= Math.min(n - 1, i + 7); j++) near.push(t.sample[j]);
    near.sort((a, b) => a - b);
    const off = Math.abs(t.sample[i] - near[near.length >> 1]);
    if (t.edited[i]) continue;
    if (off > 0.5 * perM) t.confidence[i] *= 0.4;
    t.flagged[i] = t.confidence[i] < SURE ? 1 : 0;
  }
  // what lies beside a doubtful ping is looked at with it
  const sure = t.flagged.slice();
  for (let i = 0; i < n; i++)
    if (sure[i])
      for (let j = Math.max(0, i - BESIDE); j <= Math.min(n - 1, i + BESIDE); j++) if (!t.edited[j]) t.flagged[j] = 1;
}

/** Stretches of flagged pings with those between them, worst first. */
export function doubtfulStretches(t: BottomTrack, gap = 10): Array<{ from: number; to: number; confidence: number }> {
  const out: Array<{ from: number; to: number; confidence: number }> = [];
  for (let i = 0; i < t.flagged.length; i++) {
    if (!t.flagged[i]) continue;
    const open = out.at(-1);
    if (open && i - open.to <= gap) open.to = i;
    else out.push({ from: i, to: i, confidence: 1 });
  }
  for (const s of out) {
    let sum = 0;
    for (let i = s.from; i <= s.to; i++) sum += t.confidence[i];
    s.confidence = sum / (s.to - s.from + 1);
  }
  return out.sort((a, b) => a.confidence - b.confidence);
}
