import { Problem } from '../shared/problem';
import { tick, type Watch } from '../shared/progress';
import { findGaps } from '../trajectory/trajectory';
import { innovationsOf } from './navigate';
import { type InertialData } from './inertialData';
import { GRADES, PROFILES, type Grade, type InertialNoise } from './profiles';
import { type AidingPosition, type InertialSettings } from './settings';

/** What the data say of the unit. */
export interface NoiseFromData {
  grade: Grade;
  noise: InertialNoise;
  /** Seconds of data that were asked. */
  seconds: number;
  /** Logarithm of the likelihood of each grade, less that of the likeliest; −Infinity where the filter failed. */
  grades: Array<{ grade: Grade; logLikelihood: number }>;
}

/** So many seconds, those with most changes of velocity, say what there is to say. */
const SPAN_S = 480;
/** Positions closer to each other than this say nothing more, seconds. */
const STEP_S = 0.5;
/** Samples by second that suffice. */
const ENOUGH_HZ = 100;
/** A position further off than this, squared and normalised, counts like this: it may be wrong itself. */
const MOST = 30;
/** Factors by which parts of the grade's figures are varied, and what such a factor costs: its logarithm's deviation. */
const FACTORS = [2.5, 1.5];
const FACTOR_SD = Math.log(3);

/** Three gyros say little of how their biases spread; believed too small a spread, the heading is stated too well. */
const CAUTION = 1.5;

const PARTS: Array<Array<keyof InertialNoise>> = [
  ['gyroWalkDegPerRootHour'],
  ['accelWalkMpsPerRootHour'],
  ['gyroBiasDegPerHour', 'gyroDriftDegPerHour'],
  ['accelBiasMg', 'accelDriftMg'],
  ['scalePpm', 'skewPpm'],
];

/**
 * The unit's noise as its own data and the positions say it: the grade, and factors on its figures, with which the
 * forward filter predicts the positions best (greatest likelihood of the innovations; Maybeck 1982, 10.8), each factor
 * held near one by what units of a grade differ.
 * @throws Problem of the alignment, when no grade can be aligned.
 */
export function noiseFromData(
  data: InertialData,
  positions: AidingPosition[],
  settings: InertialSettings,
  watch?: Watch,
): NoiseFromData {
  const lively = livelySpan(data, thinned(positions));
  const { aiding } = lively;
  const unit = slower(lively.unit);
  let failure: unknown;
  const likelihood = (noise: InertialNoise) => {
    try {
      let sum = 0;
      for (const { squared, logVolume } of innovationsOf(unit, aiding, { ...settings, noise }, STEP_S))
        sum -= (Math.min(squared, MOST) + logVolume) / 2;
      return sum;
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      failure = error;
      return -Infinity;
    }
  };
  const steps = 4 + 2 * FACTORS.length * PARTS.length;
  let done = 0;
  const told = () => tick(watch, Math.min(1, done++ / steps), 'Reading what the unit says of itself');
  const grades = likeliest((grade) => {
    told();
    return likelihood(PROFILES[grade].noise);
  });
  const best = grades.reduce((a, b) => (b.logLikelihood > a.logLikelihood ? b : a));
  if (best.logLikelihood === -Infinity) throw failure;
  let { noise } = PROFILES[best.grade];
  let most = best.logLikelihood;
  const exponents = PARTS.map(() => 0);
  const prior = (e: number[]) => e.reduce((s, v) => s - (v / FACTOR_SD) ** 2 / 2, 0);
  for (const factor of FACTORS)
    PARTS.forEach((part, k) => {
      for (const sign of [1, -1]) {
        told();
        const next = { ...noise };
        for (const key of part) next[key] *= factor ** sign;
        const moved = exponents.map((v, i) => (i === k ? v + sign * Math.log(factor) : v));
        const value = likelihood(next) + prior(moved);
        if (value <= most) continue;
        most = value;
        noise = next;
        exponents[k] = moved[k];
        break;
      }
    });
  for (const key of ['gyroBiasDegPerHour', 'gyroDriftDegPerHour'] as const)
    noise = { ...noise, [key]: CAUTION * noise[key] };
  return {
    grade: best.grade,
    noise,
    seconds: unit.sow[unit.sow.length - 1] - unit.sow[0],
    grades: grades.map((g) => ({ ...g, logLikelihood: g.logLikelihood - best.logLikelihood })),
  };
}

/** Grades uphill from the middle, until the next is less likely on either side. */
function likeliest(likelihood: (grade: Grade) => number): NoiseFromData['grades'] {
  const found = new Map<number, number>();
  const of = (k: number) => {
    if (k < 0 || k >= GRADES.length) return -Infinity;
    if (!found.has(k)) found.set(k, likelihood(GRADES[k]));
    return found.get(k)!;
  };
  let best = GRADES.indexOf('tactical');
  for (;;) {
    const next = of(best + 1) > of(best) ? best + 1 : of(best - 1) > of(best) ? best - 1 : best;
    if (next === best) break;
    best = next;
  }
  return [...found].sort((a, b) => a[0] - b[0]).map(([k, logLikelihood]) => ({ grade: GRADES[k], logLikelihood }));
}

function thinned(positions: AidingPosition[]): AidingPosition[] {
  let last = -Infinity;
  return positions.filter((p) => {
    if (p.sow - last < STEP_S - 0.05) return false;
    last = p.sow;
    return true;
  });
}

/** Means of samples that follow each other, where the unit is faster than need be and has no gaps. */
function slower(data: InertialData): InertialData {
  const every = Math.floor(data.rateHz / ENOUGH_HZ);
  if (every < 2 || findGaps(data.sow, 1.5, 0).length > 0) return data;
  const n = Math.floor(data.sow.length / every);
  const mean = (v: Float64Array) => {
    const out = new Float64Array(3 * n);
    for (let k = 0; k < 3 * every * n; k++) out[3 * Math.floor(k / (3 * every)) + (k % 3)] += v[k] / every;
    return out;
  };
  return {
    week: data.week,
    rateHz: data.rateHz / every,
    sow: Float64Array.from({ length: n }, (_, k) => data.sow[every * (k + 1) - 1]),
    gyroRadps: mean(data.gyroRadps),
    accelMps2: mean(data.accelMps2),
  };
}

/** The span in which the velocity of the antenna changes most. */
function livelySpan(data: InertialData, positions: AidingPosition[]): { unit: InertialData; aiding: AidingPosition[] } {
  const first = data.sow[0];
  const aiding = positions.filter((a) => a.sow >= first && a.sow <= data.sow[data.sow.length - 1]);
  if (aiding.length === 0 || aiding[aiding.length - 1].sow - aiding[0].sow <= SPAN_S) return { unit: data, aiding };
  // changes of velocity summed up by position
  const sums = new Float64Array(aiding.length);
  for (let k = 2; k < aiding.length; k++) {
    const [a, b, c] = [aiding[k - 2], aiding[k - 1], aiding[k]];
    const change = [0, 1, 2].map(
      (i) => (c.xyzM[i] - b.xyzM[i]) / (c.sow - b.sow) - (b.xyzM[i] - a.xyzM[i]) / (b.sow - a.sow),
    );
    const calm = c.sow - a.sow < 5 && a.solution === 'fixed' && c.solution === 'fixed';
    sums[k] = sums[k - 1] + (calm ? Math.min(3, Math.hypot(...change)) : 0);
  }
  let [from, liveliest] = [0, -1];
  for (let a = 0, b = 0; b < aiding.length; b++) {
    while (aiding[b].sow - aiding[a].sow > SPAN_S) a++;
    if (sums[b] - sums[a] > liveliest) [from, liveliest] = [a, sums[b] - sums[a]];
  }
  const [start, end] = [aiding[from].sow, aiding[from].sow + SPAN_S];
  const low = data.sow.findIndex((s) => s > start - 1.5 / data.rateHz);
  let high = data.sow.findIndex((s) => s > end);
  if (high < 0) high = data.sow.length;
  return {
    unit: {
      ...data,
      sow: data.sow.subarray(low, high),
      gyroRadps: data.gyroRadps.subarray(3 * low, 3 * high),
      accelMps2: data.accelMps2.subarray(3 * low, 3 * high),
    },
    aiding: aiding.filter((a) => a.sow >= start && a.sow <= end),
  };
}
