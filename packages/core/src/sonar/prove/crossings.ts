import { median, quantileOfSorted } from '../../numeric/statistics';
import { lineHeights, sharedCells } from '../patch/cells';

/** Soundings of several lines, metres; heights positive up. */
export interface LineSoundings {
  count: number;
  x: ArrayLike<number>;
  y: ArrayLike<number>;
  h: ArrayLike<number>;
  line: ArrayLike<number>;
  /** From the vertical, to either side, degrees. */
  angleDeg: ArrayLike<number>;
}

export interface LineDifferences {
  /** Of soundings from the other lines in their cells, metres: the line's sounding less the others. */
  n: number;
  meanM: number;
  sdM: number;
  rmsM: number;
  /** 95 % of their sizes. */
  p95M: number;
}

export interface CrossingResult {
  all: LineDifferences;
  byAngle: Array<LineDifferences & { fromDeg: number; toDeg: number }>;
  byLine: Array<LineDifferences & { line: number }>;
  byPair: Array<{ a: number; b: number; cells: number; meanM: number; sdM: number }>;
  /** Cells that at least two lines share. */
  cells: number;
  /** Soundings that lie wild within their own line. */
  wild: number;
  /**
   * How much higher outer beams lie than those near the vertical, against the other lines, by line; undefined where it is not
   * sure. Positive: the outer beams bend up, the bed smiles.
   */
  bends: Array<{ line: number; outerM: number; sdM: number }>;
}

const STEP_DEG = 10;
/** Inner and outer beams, degrees. */
const [INNER_DEG, OUTER_DEG] = [30, 48];
/** Cells that must be there, and how sure a bend must be. */
const CELLS = 12;
const SURE = 4;
/** A smaller bend is nobody's concern, metres. */
const LEAST_BEND_M = 0.01;

/**
 * Each line against the others where they share cells: along the slope that a cell's lines share, a sounding less the median
 * of the other lines there. By beam angle, by line, by pair. What lies wild within its own line does not count.
 * @param cellM edge of the cells, metres.
 */
export function compareLines(s: LineSoundings, cellM: number): CrossingResult {
  const cells = sharedCells(s, cellM);
  const all: number[] = [];
  const angle = new Map<number, number[]>();
  const line = new Map<number, number[]>();
  const pair = new Map<string, number[]>();
  /** By line: differences of cells seen by inner and by outer beams. */
  const bend = new Map<number, { inner: number[]; outer: number[] }>();
  let wild = 0;
  const push = <K>(map: Map<K, number[]>, key: K, v: number) => {
    const list = map.get(key);
    if (list) list.push(v);
    else map.set(key, [v]);
  };
  for (const c of cells) {
    const heights = lineHeights(s, c);
    c.lines.forEach((l, k) => {
      const others = heights.filter((h, j) => j !== k && Number.isFinite(h));
      if (!others.length || !Number.isFinite(heights[k])) return;
      const other = median(Float64Array.from(others));
      const from = k ? c.ends[k - 1] : 0;
      const leans: number[] = [];
      for (let m = from; m < c.ends[k]; m++) {
        const i = c.members[m];
        if (c.weights[m] === 0) {
          wild++;
          continue;
        }
        const d = s.h[i] - c.slopeX * (s.x[i] - c.x) - c.slopeY * (s.y[i] - c.y) - other;
        const lean = Math.abs(s.angleDeg[i]);
        leans.push(lean);
        all.push(d);
        push(angle, Math.floor(lean / STEP_DEG), d);
        push(line, l, d);
      }
      const lean = median(Float64Array.from(leans));
      const at = bend.get(l) ?? { inner: [], outer: [] };
      bend.set(l, at);
      if (lean < INNER_DEG) at.inner.push(heights[k] - other);
      else if (lean > OUTER_DEG) at.outer.push(heights[k] - other);
      for (let j = k + 1; j < c.lines.length; j++)
        if (Number.isFinite(heights[j]))
          push(
            pair,
            l < c.lines[j] ? `${l} ${c.lines[j]}` : `${c.lines[j]} ${l}`,
            l < c.lines[j] ? heights[k] - heights[j] : heights[j] - heights[k],
          );
    });
  }
  const sorted = <K, V>(map: Map<K, V>) => [...map].sort(([a], [b]) => Number(a) - Number(b));
  return {
    all: differences(all),
    byAngle: sorted(angle).map(([b, v]) => ({ fromDeg: STEP_DEG * b, toDeg: STEP_DEG * (b + 1), ...differences(v) })),
    byLine: sorted(line).map(([l, v]) => ({ line: l, ...differences(v) })),
    byPair: [...pair].map(([key, v]) => {
      const [a, b] = key.split(' ').map(Number);
      const { meanM, sdM } = differences(v);
      return { a, b, cells: v.length, meanM, sdM };
    }),
    cells: cells.length,
    wild,
    bends: sorted(bend).flatMap(([l, { inner, outer }]) => {
      if (inner.length < CELLS || outer.length < CELLS) return [];
      const [i, o] = [middleOf(inner), middleOf(outer)];
      const outerM = o.at - i.at;
      const sdM = Math.hypot(i.sd, o.sd);
      return Math.abs(outerM) > Math.max(SURE * sdM, LEAST_BEND_M) ? [{ line: l, outerM, sdM }] : [];
    }),
  };
}

function differences(v: readonly number[]): LineDifferences {
  const n = v.length;
  let [sum, squares] = [0, 0];
  for (const d of v) {
    sum += d;
    squares += d * d;
  }
  const meanM = sum / n;
  return {
    n,
    meanM,
    sdM: n > 1 ? Math.sqrt(Math.max(0, (squares - n * meanM * meanM) / (n - 1))) : Number.NaN,
    rmsM: Math.sqrt(squares / n),
    p95M: n ? quantileOfSorted(Float64Array.from(v, Math.abs).sort(), 0.95) : Number.NaN,
  };
}

/** Median and its deviation, by the scatter of the middle half: things that stand up do not count. */
function middleOf(v: readonly number[]): { at: number; sd: number } {
  const at = median(Float64Array.from(v));
  const scatter = 1.4826 * median(Float64Array.from(v, (d) => Math.abs(d - at)));
  return { at, sd: (1.2533 * scatter) / Math.sqrt(v.length) };
}
