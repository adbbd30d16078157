import { ecefToGeodetic, ecefToNed, geodeticToEcef, GRS80 } from '../frames/ellipsoid';
import { median } from '../numeric/statistics';
import { Problem } from '../shared/problem';
import { SOLUTIONS, type Trajectory } from './trajectory';

/** A time at which the antenna is said to have stood over a mark. */
export interface Occupation {
  name: string;
  week: number;
  startSow: number;
  endSow: number;
  /** Vertical, mark to antenna reference point; the general one without it. */
  antennaHeightM?: number;
}

export interface StopSettings {
  /** Standing for less than this is none, seconds. */
  shortestS: number;
  /** Still is what moves by less than this, m/s. */
  stillMps: number;
  antennaHeightM: number;
  /** How well the pole stands over the mark, 1 SD of plan and of height, metres. */
  centringSdM: number;
  heightSdM: number;
  /** Time over which multipath stays alike, seconds. */
  correlationS: number;
}

export const STOP_DEFAULTS: StopSettings = {
  shortestS: 10,
  stillMps: 0.1,
  antennaHeightM: 0,
  centringSdM: 0.004,
  heightSdM: 0.002,
  correlationS: 60,
};

/** A mark from a short stop of a moving antenna. */
export interface Stop {
  name: string;
  startSow: number;
  endSow: number;
  /** Of the mark: the antenna height is taken off. */
  latRad: number;
  lonRad: number;
  hEllM: number;
  antennaHeightM: number;
  /** North, east, down, metres: epochs, what they share over time, and centring. */
  sdM: [number, number, number];
  /** Scatter of the epochs used, north, east, down, metres. */
  scatterM: [number, number, number];
  epochs: number;
  used: number;
  fixedShare: number;
  /** What the mark was computed from. */
  solution: 'fixed' | 'float' | 'code';
}

/** Share of an epoch's variance that multipath makes: it stays alike for about a minute. */
const LASTING_SHARE = 0.8;
/** Epochs off by this many robust deviations are not used. */
const GROSS = 4;
/** Share of fixed epochs from which on a mark is made of them alone. */
const MOSTLY_FIXED = 0.6;
/** An interruption of standing still up to this is overlooked, seconds. */
const TWITCH_S = 1.5;
/** Left off at both ends of a stop found: the pole is being set down and lifted, seconds. */
const SETTLING_S = 1.5;

interface Local {
  /** North, east, down from the first epoch, metres, by epoch. */
  ned: Float64Array;
  originM: Float64Array;
  axes: Float64Array;
}

/**
 * Marks from stops of an antenna, found by themselves or where a list says. Means of the fixed epochs, or of the float
 * ones where there are not enough and then called float; deviations allow for what neighbouring epochs have in common.
 */
export function findStops(t: Trajectory, rules: StopSettings, list?: Occupation[]): Stop[] {
  if (t.point && t.point !== 'antenna')
    throw new Problem(`The trajectory is that of the ${t.point}, not of an antenna over marks.`, {
      code: 'stops-point',
      remedy: 'Compute it from GNSS alone.',
    });
  if (!t.sdNM || !t.sdEM || !t.sdDM)
    throw new Problem('The trajectory states no deviations.', {
      code: 'stops-deviations',
      remedy: 'Use one that was computed here.',
    });
  const local = localOf(t);
  if (list) return list.map((o) => stopOf(t, local, rules, indexes(t, o), o.name, o.antennaHeightM));
  return still(t, local, rules).map(([from, to], k) => stopOf(t, local, rules, [from, to], `P${k + 1}`));
}

function localOf(t: Trajectory): Local {
  const n = t.sow.length;
  const originM = geodeticToEcef(GRS80, t.latRad[0], t.lonRad[0], t.hEllM[0]);
  const axes = ecefToNed(t.latRad[0], t.lonRad[0]);
  const ned = new Float64Array(3 * n);
  const at = new Float64Array(3);
  for (let i = 0; i < n; i++) {
    geodeticToEcef(GRS80, t.latRad[i], t.lonRad[i], t.hEllM[i], at);
    for (let k = 0; k < 3; k++) for (let c = 0; c < 3; c++) ned[3 * i + k] += axes[3 * k + c] * (at[c] - originM[c]);
  }
  return { ned, originM, axes };
}

/** Epochs of an occupation, [from, to). */
function indexes(t: Trajectory, o: Occupation): [number, number] {
  const shift = (o.week - t.week) * 604800;
  let from = 0;
  while (from < t.sow.length && t.sow[from] < o.startSow + shift) from++;
  let to = from;
  while (to < t.sow.length && t.sow[to] <= o.endSow + shift) to++;
  if (to - from < 2)
    throw new Problem(`Nothing was computed while ${o.name} was occupied.`, {
      code: 'stops-outside',
      place: `second of week ${o.startSow.toFixed(1)} to ${o.endSow.toFixed(1)}`,
      remedy: 'Check the times and their system, or compute the trajectory over that time.',
    });
  return [from, to];
}

/** Runs of epochs at which the antenna stands still. */
function still(t: Trajectory, local: Local, s: StopSettings): Array<[number, number]> {
  const n = t.sow.length;
  const quiet = new Uint8Array(n);
  let a = 0;
  let b = 0;
  for (let i = 0; i < n; i++) {
    while (t.sow[a] < t.sow[i] - 1.01) a++;
    while (b + 1 < n && t.sow[b + 1] <= t.sow[i] + 1.01) b++;
    const dt = t.sow[b] - t.sow[a];
    if (!(dt > 0.5 && dt < 2.6)) continue;
    const d = Math.hypot(...[0, 1, 2].map((k) => local.ned[3 * b + k] - local.ned[3 * a + k]));
    // what positions scatter by looks like speed
    const noise = Math.SQRT2 * Math.hypot(t.sdNM![i], t.sdEM![i], t.sdDM![i]);
    quiet[i] = d / dt < Math.max(s.stillMps, (2 * noise) / dt) ? 1 : 0;
  }
  const out: Array<[number, number]> = [];
  let from = -1;
  let last = -1;
  for (let i = 0; i <= n; i++) {
    if (i < n && quiet[i] && (last < 0 || t.sow[i] - t.sow[last] <= TWITCH_S)) {
      if (from < 0) from = i;
      last = i;
      continue;
    }
    if (i < n && !quiet[i] && from >= 0 && t.sow[i] - t.sow[last] <= TWITCH_S) continue;
    if (from >= 0) out.push([from, last + 1]);
    [from, last] = i < n && quiet[i] ? [i, i] : [-1, -1];
  }
  return out
    .map(([f, e]): [number, number] => {
      let [x, y] = [f, e];
      while (x < y && t.sow[x] < t.sow[f] + SETTLING_S) x++;
      while (y > x && t.sow[y - 1] > t.sow[e - 1] - SETTLING_S) y--;
      return [x, y];
    })
    .filter(([f, e]) => e - f > 2 && t.sow[e - 1] - t.sow[f] >= s.shortestS);
}

function stopOf(
  t: Trajectory,
  { ned, originM, axes }: Local,
  s: StopSettings,
  [from, to]: [number, number],
  name: string,
  antennaHeightM = s.antennaHeightM,
): Stop {
  const all = Array.from({ length: to - from }, (_, k) => from + k);
  const kindOf = (i: number) => SOLUTIONS[t.solution?.[i] ?? 0];
  const fixed = all.filter((i) => kindOf(i) === 'fixed');
  const fixedShare = fixed.length / all.length;
  const solution = fixedShare >= MOSTLY_FIXED ? 'fixed' : all.some((i) => kindOf(i) === 'float') ? 'float' : 'code';
  const candidates = solution === 'fixed' ? fixed : all;
  const middle = [0, 1, 2].map((k) => median(candidates.map((i) => ned[3 * i + k])));
  const spread = [0, 1, 2].map((k) => 1.4826 * median(candidates.map((i) => Math.abs(ned[3 * i + k] - middle[k]))));
  const used = candidates.filter((i) =>
    [0, 1, 2].every((k) => Math.abs(ned[3 * i + k] - middle[k]) <= GROSS * Math.max(spread[k], 0.003)),
  );
  const n = used.length;
  const mean = [0, 1, 2].map((k) => used.reduce((sum, i) => sum + ned[3 * i + k], 0) / n);
  const scatterM = [0, 1, 2].map((k) =>
    n > 1 ? Math.sqrt(used.reduce((sum, i) => sum + (ned[3 * i + k] - mean[k]) ** 2, 0) / (n - 1)) : 0,
  ) as [number, number, number];
  const stated = [t.sdNM!, t.sdEM!, t.sdDM!].map((c) => used.reduce((sum, i) => sum + c[i] ** 2, 0) / n);
  const length = t.sow[used[n - 1]] - t.sow[used[0]];
  // a float position stays wrong by the same ambiguities for as long as it is float
  const lasting = solution === 'fixed' ? lastingShare(length, s.correlationS) : 1;
  const centring = [s.centringSdM, s.centringSdM, s.heightSdM];
  const sdM = stated.map((v, k) => {
    const epochs = Math.max(v, scatterM[k] ** 2);
    return Math.sqrt(epochs * (LASTING_SHARE * lasting + (1 - LASTING_SHARE) / n) + centring[k] ** 2);
  }) as [number, number, number];
  const xyz = [0, 1, 2].map((c) => originM[c] + [0, 1, 2].reduce((sum, k) => sum + axes[3 * k + c] * mean[k], 0));
  const [latRad, lonRad, h] = ecefToGeodetic(GRS80, xyz[0], xyz[1], xyz[2]);
  return {
    name,
    startSow: t.sow[from],
    endSow: t.sow[to - 1],
    latRad,
    lonRad,
    hEllM: h - antennaHeightM,
    antennaHeightM,
    sdM,
    scatterM,
    epochs: all.length,
    used: n,
    fixedShare,
    solution,
  };
}

/** Variance of the mean over a time against that of one value, for errors that fade as e^(−t/τ). */
export function lastingShare(lengthS: number, tauS: number): number {
  const u = lengthS / tauS;
  return u < 1e-6 ? 1 : (2 / u) * (1 - (1 - Math.exp(-u)) / u);
}
