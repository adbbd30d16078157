import { sortIntoCells } from '../cloud/cells';
import { type PointSet } from '../cloud/points';
import { robustPlane } from '../numeric/plane';
import { median, quantileOfSorted, sortedCopy } from '../numeric/statistics';
import { tick, type Watch } from '../shared/progress';

export interface AgreementSettings {
  /** Edge of a cell in plan, within which the surface is taken as flat, metres. */
  cellM: number;
  /** Points of a strip that a cell needs. */
  fewest: number;
  /** Cells whose points scatter by more about their plane say nothing, metres. */
  roughestM: number;
  /** Planes further apart are of two surfaces, not of one that is seen differently, metres. */
  apartM: number;
}

export const AGREEMENT_DEFAULTS: AgreementSettings = { cellM: 1, fewest: 8, roughestM: 0.04, apartM: 0.3 };

/** Two strips where both lie, the second less the first along the normal of the surface, metres. */
export interface PairAgreement {
  first: number;
  second: number;
  cells: number;
  meanM: number;
  /** About the mean. */
  sdM: number;
  rmsM: number;
  medianM: number;
  /** Share of cells below it: 95 of 100. */
  p95M: number;
  /** What the stated precision of the points lets expect, RMS, metres; NaN when nothing is stated. */
  expectedM: number;
}

export interface StripAgreement {
  pairs: PairAgreement[];
  /** Cells in which at least two strips could be compared, and those whose surface is too rough or too steep. */
  cells: number;
  rough: number;
  /** Comparisons of two surfaces, such as a deck and the road below it. */
  apart: number;
  /** All differences of all pairs. */
  rmsM: number;
  differencesM: Float32Array;
  /** Largest difference in each cell, with its sign; NaN where there is none. Rows go north. */
  map: { cellM: number; minX: number; minY: number; columns: number; rows: number; valueM: Float32Array };
}

/** Steeper surfaces are left out: planes z(x, y) do not describe them. */
const STEEPEST = Math.tan((60 * Math.PI) / 180);
/** A plane's place is known this far from its points' middle at most, in cells. */
const MAX_OFF = 0.35;

interface Patch {
  strip: number;
  z: number;
  slopeX: number;
  slopeY: number;
  sdM: number;
  meanX: number;
  meanY: number;
}

/**
 * How overlapping strips agree: in each cell the robust planes of every two strips are compared at the middle of their
 * points, along the normal, so that slopes do not turn errors in plan into errors of height alone.
 * @param skip 1 for points that do not count. @param strip of each point; 0 belongs to none.
 * @param sdM of the height of each point; 0 where nothing is stated.
 */
export function stripAgreement(
  set: PointSet,
  skip: Uint8Array,
  strip: Uint16Array,
  sdM: ArrayLike<number>,
  settings: AgreementSettings = AGREEMENT_DEFAULTS,
  watch?: Watch,
): StripAgreement {
  const { cellM, fewest, roughestM, apartM } = settings;
  const cells = sortIntoCells(set, cellM, skip);
  const total = cells.columns * cells.rows;
  const map = new Float32Array(total).fill(Number.NaN);
  const found = new Map<number, { first: number; second: number; d: number[]; e: number[] }>();
  let compared = 0;
  let rough = 0;
  let apart = 0;
  for (let c = 0; c < total; c++) {
    if ((c & 0xfff) === 0) tick(watch, c / total, 'Comparing strips');
    const points = cells.order.subarray(cells.start[c], cells.start[c + 1]);
    if (points.length < 2 * fewest) continue;
    const { patches, left } = patchesOf(points, set, strip, sdM, fewest, roughestM);
    if (patches.length < 2) {
      if (left && patches.length + left >= 2) rough++;
      continue;
    }
    let any = false;
    for (let i = 0; i < patches.length; i++)
      for (let j = i + 1; j < patches.length; j++) {
        const [a, b] = patches[i].strip < patches[j].strip ? [patches[i], patches[j]] : [patches[j], patches[i]];
        if (Math.hypot(a.meanX - b.meanX, a.meanY - b.meanY) > 2 * MAX_OFF * cellM) continue;
        const [x, y] = [(a.meanX + b.meanX) / 2, (a.meanY + b.meanY) / 2];
        const at = (p: Patch) => p.z + p.slopeX * (x - p.meanX) + p.slopeY * (y - p.meanY);
        const tilt = Math.hypot(1, (a.slopeX + b.slopeX) / 2, (a.slopeY + b.slopeY) / 2);
        const d = (at(b) - at(a)) / tilt;
        if (Math.abs(d) > apartM) {
          apart++;
          continue;
        }
        const key = a.strip * 65536 + b.strip;
        let pair = found.get(key);
        if (!pair) found.set(key, (pair = { first: a.strip, second: b.strip, d: [], e: [] }));
        pair.d.push(d);
        pair.e.push(a.sdM > 0 && b.sdM > 0 ? Math.hypot(a.sdM, b.sdM) / tilt : Number.NaN);
        if (!(Math.abs(map[c]) >= Math.abs(d))) map[c] = d;
        any = true;
      }
    if (any) compared++;
  }
  const pairs = [...found.values()].sort((a, b) => a.first - b.first || a.second - b.second).map(pairOf);
  const differencesM = Float32Array.from([...found.values()].flatMap((p) => p.d));
  const { minX, minY, columns, rows } = cells;
  return {
    pairs,
    cells: compared,
    rough,
    apart,
    differencesM,
    rmsM: rms(differencesM),
    map: { cellM, minX, minY, columns, rows, valueM: map },
  };
}

/** Planes of the strips in a cell that describe it well, and how many strips are too rough or steep there. */
function patchesOf(
  points: Int32Array,
  set: PointSet,
  strip: Uint16Array,
  sdM: ArrayLike<number>,
  fewest: number,
  roughestM: number,
): { patches: Patch[]; left: number } {
  const byStrip = new Map<number, number[]>();
  for (const i of points) {
    if (strip[i] === 0) continue;
    const list = byStrip.get(strip[i]);
    if (list) list.push(i);
    else byStrip.set(strip[i], [i]);
  }
  const patches: Patch[] = [];
  let left = 0;
  if (byStrip.size < 2) return { patches, left };
  for (const [id, list] of byStrip) {
    if (list.length < fewest) continue;
    const meanX = list.reduce((s, i) => s + set.x[i], 0) / list.length;
    const meanY = list.reduce((s, i) => s + set.y[i], 0) / list.length;
    const plane = robustPlane(
      Float64Array.from(list, (i) => set.x[i] - meanX),
      Float64Array.from(list, (i) => set.y[i] - meanY),
      Float64Array.from(list, (i) => set.z[i]),
    );
    if (!plane || !(plane.sd <= roughestM) || Math.hypot(plane.slopeX, plane.slopeY) > STEEPEST) {
      left++;
      continue;
    }
    // what a strip's points have in common, its place, does not average out
    const stated = Math.sqrt(list.reduce((s, i) => s + sdM[i] ** 2, 0) / list.length);
    patches.push({
      strip: id,
      z: plane.z0,
      slopeX: plane.slopeX,
      slopeY: plane.slopeY,
      meanX,
      meanY,
      sdM: stated > 0 ? Math.hypot(stated, plane.z0Sd) : 0,
    });
  }
  return { patches, left };
}

const rms = (v: ArrayLike<number>) =>
  v.length ? Math.sqrt(Array.from(v).reduce((s, x) => s + x * x, 0) / v.length) : Number.NaN;

function pairOf({ first, second, d, e }: { first: number; second: number; d: number[]; e: number[] }): PairAgreement {
  const n = d.length;
  const meanM = d.reduce((s, v) => s + v, 0) / n;
  const absolute = sortedCopy(d.map(Math.abs));
  const stated = e.filter((v) => !Number.isNaN(v));
  return {
    first,
    second,
    cells: n,
    meanM,
    rmsM: rms(d),
    medianM: median(d),
    sdM: n > 1 ? Math.sqrt(d.reduce((s, v) => s + (v - meanM) ** 2, 0) / (n - 1)) : Number.NaN,
    p95M: quantileOfSorted(absolute, 0.95),
    expectedM: stated.length ? rms(stated) : Number.NaN,
  };
}
