import { median, quantileOfSorted, sortedCopy } from '../../numeric/statistics';
import { type Piece } from './equations';
import { type Patches } from './patches';

/** Where two pieces lie over each other: the second less the first, along the normal of the patch. */
export interface Differences {
  count: number;
  eastingM: Float64Array;
  northingM: Float64Array;
  /** Pieces, by their index. */
  first: Int32Array;
  second: Int32Array;
  differenceM: Float32Array;
  /** What the scatter of the points lets expect, 1 SD. */
  noiseM: Float32Array;
  normal: Float32Array;
  /** Comparisons of two surfaces that are no one: further apart than any correction explains. */
  apart: number;
}

/** Figures of one pair of pieces. */
export interface PairFigures {
  first: number;
  second: number;
  patches: number;
  meanM: number;
  rmsM: number;
  medianM: number;
  p95M: number;
  noiseM: number;
}

/** No difference of one surface is larger than this many robust deviations of all, nor counts above this, metres. */
const APART = 8;
const LEAST_APART_M = 0.25;

/** Differences of all pairs of pieces in common patches. */
export function differencesOf(patches: Patches): Differences {
  let total = 0;
  for (let c = 0; c < patches.cells; c++) {
    const m = patches.start[c + 1] - patches.start[c];
    total += (m * (m - 1)) / 2;
  }
  const all = new Float32Array(total);
  let at = 0;
  eachPair(patches, (c, a, b) => (all[at++] = along(patches, c, a, b)));
  const absolute = all.map(Math.abs).sort();
  const limit = Math.max(LEAST_APART_M, (APART * quantileOfSorted(absolute, 0.5)) / 0.6745);
  const out: Differences = {
    count: 0,
    eastingM: new Float64Array(total),
    northingM: new Float64Array(total),
    first: new Int32Array(total),
    second: new Int32Array(total),
    differenceM: new Float32Array(total),
    noiseM: new Float32Array(total),
    normal: new Float32Array(3 * total),
    apart: 0,
  };
  at = 0;
  eachPair(patches, (c, a, b) => {
    const d = all[at++];
    if (Math.abs(d) > limit) {
      out.apart++;
      return;
    }
    const i = out.count++;
    const turned = patches.piece[a] > patches.piece[b];
    out.first[i] = patches.piece[turned ? b : a];
    out.second[i] = patches.piece[turned ? a : b];
    out.differenceM[i] = turned ? -d : d;
    out.noiseM[i] = Math.sqrt(patches.varianceM2[a] + patches.varianceM2[b]);
    out.eastingM[i] = (patches.eastingM[a] + patches.eastingM[b]) / 2;
    out.northingM[i] = (patches.northingM[a] + patches.northingM[b]) / 2;
    out.normal.set(patches.normal.subarray(3 * c, 3 * c + 3), 3 * i);
  });
  return out;
}

function eachPair(p: Patches, visit: (cell: number, a: number, b: number) => void): void {
  for (let c = 0; c < p.cells; c++)
    for (let a = p.start[c]; a < p.start[c + 1]; a++) for (let b = a + 1; b < p.start[c + 1]; b++) visit(c, a, b);
}

function along(p: Patches, c: number, a: number, b: number): number {
  return (
    p.normal[3 * c] * (p.eastingM[b] - p.eastingM[a]) +
    p.normal[3 * c + 1] * (p.northingM[b] - p.northingM[a]) +
    p.normal[3 * c + 2] * (p.heightM[b] - p.heightM[a])
  );
}

/** Root mean square of all differences, metres; NaN for none. */
export function rmsOf(d: Differences, chosen: (i: number) => boolean = () => true): number {
  let sum = 0;
  let count = 0;
  for (let i = 0; i < d.count; i++)
    if (chosen(i)) {
      sum += d.differenceM[i] ** 2;
      count++;
    }
  return count ? Math.sqrt(sum / count) : Number.NaN;
}

/** The same of what the scatter of the points lets expect. */
export function expectedOf(d: Differences): number {
  let sum = 0;
  for (let i = 0; i < d.count; i++) sum += d.noiseM[i] ** 2;
  return d.count ? Math.sqrt(sum / d.count) : Number.NaN;
}

/** Figures by pair, worst first. */
export function pairsOf(d: Differences): PairFigures[] {
  const lists = new Map<string, number[]>();
  for (let i = 0; i < d.count; i++) {
    const key = `${d.first[i]} ${d.second[i]}`;
    const list = lists.get(key);
    if (list) list.push(i);
    else lists.set(key, [i]);
  }
  return [...lists.values()]
    .map((list): PairFigures => {
      const values = Float64Array.from(list, (i) => d.differenceM[i]);
      const absolute = sortedCopy(values.map(Math.abs));
      const n = values.length;
      return {
        first: d.first[list[0]],
        second: d.second[list[0]],
        patches: n,
        meanM: values.reduce((s, v) => s + v, 0) / n,
        rmsM: Math.sqrt(values.reduce((s, v) => s + v * v, 0) / n),
        medianM: median(values),
        p95M: quantileOfSorted(absolute, 0.95),
        noiseM: Math.sqrt(list.reduce((s, i) => s + d.noiseM[i] ** 2, 0) / n),
      };
    })
    .sort((a, b) => b.rmsM - a.rmsM);
}

/** A shift of one line against another in space, found where slopes look several ways. */
export interface PlanShift {
  eastingM: number;
  northingM: number;
  firstLine: number;
  secondLine: number;
  dE: number;
  dN: number;
  dH: number;
  /** 1 SD of the plan part, metres. */
  sdPlanM: number;
}

/** Slopes of a tile must determine plan to this, metres. */
const PLAN_SD_M = 0.03;

/**
 * Shifts in plan on roofs and banks: in tiles whose patches are tilted in different directions, the shift in space that
 * explains their differences along the normals (Glira 2015, 3.2). Only tilted patches count for plan.
 */
export function planShiftsOf(d: Differences, pieces: readonly Piece[], tileM: number): PlanShift[] {
  const tiles = new Map<string, number[]>();
  for (let i = 0; i < d.count; i++) {
    const [a, b] = [pieces[d.first[i]].line, pieces[d.second[i]].line];
    if (a === b) continue;
    const key = `${Math.floor(d.eastingM[i] / tileM)} ${Math.floor(d.northingM[i] / tileM)} ${Math.min(a, b)} ${Math.max(a, b)}`;
    const list = tiles.get(key);
    if (list) list.push(i);
    else tiles.set(key, [i]);
  }
  const out: PlanShift[] = [];
  for (const list of tiles.values()) {
    if (list.length < 6) continue;
    const shift = shiftOf(d, list, pieces);
    if (shift && shift.sdPlanM < PLAN_SD_M) out.push(shift);
  }
  return out;
}

function shiftOf(d: Differences, list: readonly number[], pieces: readonly Piece[]): PlanShift | undefined {
  const m = new Float64Array(9);
  const b = [0, 0, 0];
  const turned = (i: number) => pieces[d.first[i]].line > pieces[d.second[i]].line;
  for (const i of list) {
    const w = 1 / (d.noiseM[i] ** 2 + 0.003 ** 2);
    const value = turned(i) ? -d.differenceM[i] : d.differenceM[i];
    for (let r = 0; r < 3; r++) {
      b[r] += w * d.normal[3 * i + r] * value;
      for (let c = 0; c < 3; c++) m[3 * r + c] += w * d.normal[3 * i + r] * d.normal[3 * i + c];
    }
  }
  const cofactor = (r: number, c: number) => {
    const [r1, r2] = [(r + 1) % 3, (r + 2) % 3];
    const [c1, c2] = [(c + 1) % 3, (c + 2) % 3];
    return m[3 * r1 + c1] * m[3 * r2 + c2] - m[3 * r1 + c2] * m[3 * r2 + c1];
  };
  const det = m[0] * cofactor(0, 0) + m[1] * cofactor(0, 1) + m[2] * cofactor(0, 2);
  if (!(det > 0)) return undefined;
  const inverse = (r: number, c: number) => cofactor(c, r) / det;
  const x = [0, 1, 2].map((r) => inverse(r, 0) * b[0] + inverse(r, 1) * b[1] + inverse(r, 2) * b[2]);
  const mean = (v: Float64Array) => list.reduce((s, i) => s + v[i], 0) / list.length;
  const one = list[0];
  const [first, second] = [pieces[d.first[one]].line, pieces[d.second[one]].line];
  return {
    eastingM: mean(d.eastingM),
    northingM: mean(d.northingM),
    firstLine: Math.min(first, second),
    secondLine: Math.max(first, second),
    dE: x[0],
    dN: x[1],
    dH: x[2],
    sdPlanM: Math.sqrt(Math.max(0, inverse(0, 0) + inverse(1, 1))),
  };
}
