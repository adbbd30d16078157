import { type Vector3 } from '../../numeric/matrix3';
import { type Knots, KNOT_SIZE, knotBefore } from './knots';
import { HEAD_SIZE, type Partials } from './partials';
import { type Patches } from './patches';

/** Numbers of one observation that are not zero: a head's seven, and two knots' six. */
export const ROW = HEAD_SIZE + 2 * KNOT_SIZE;

/** A surveyed height on a patch: its height above the patch's plane is known with this deviation. */
export interface PatchMark {
  cell: number;
  name: string;
  eastingM: number;
  northingM: number;
  heightM: number;
  sdM: number;
}

/** Which head and line a piece is of. */
export interface Piece {
  head: number;
  /** From 1. */
  line: number;
}

/**
 * Observations of the adjustment: along the normal of a patch all pieces lie at one height, which is eliminated from the
 * equations. Row i says: `reading[i]` + Σ `value`·unknown = the height of its patch.
 */
export interface Observations {
  count: number;
  cells: number;
  start: Int32Array;
  piece: Int32Array;
  /** Along the normal, about the first piece of the patch, metres, for no correction at all. */
  reading: Float64Array;
  varianceM2: Float64Array;
  /**
   * Variance that a row has in common with the others of its line between the same two knots, times their number: what the
   * trajectory errs between knots does not average out over patches seen in the same seconds.
   */
  commonM2: Float64Array;
  /** ROW numbers for each observation, and where they belong. */
  value: Float64Array;
  place: Int32Array;
  /** Reading and variance of a mark on the patch; NaN where there is none. */
  mark: Float64Array;
  markVarianceM2: Float64Array;
  markName: Map<number, string>;
}

/**
 * @param chosen cells of the patches. @param applied corrections with which the patches were placed, so that readings are
 * those without any.
 */
export function observe(
  patches: Patches,
  chosen: Int32Array,
  marks: readonly PatchMark[],
  pieces: readonly Piece[],
  partials: Partials,
  knots: Knots,
  heads: number,
  applied: Float64Array,
): Observations {
  const all = chosen.length + marks.length;
  let rows = 0;
  const cellAt = (k: number) => (k < chosen.length ? chosen[k] : marks[k - chosen.length].cell);
  for (let k = 0; k < all; k++) rows += patches.start[cellAt(k) + 1] - patches.start[cellAt(k)];
  const out: Observations = {
    count: rows,
    cells: all,
    start: new Int32Array(all + 1),
    piece: new Int32Array(rows),
    reading: new Float64Array(rows),
    varianceM2: new Float64Array(rows),
    commonM2: new Float64Array(rows),
    value: new Float64Array(rows * ROW),
    place: new Int32Array(rows * ROW),
    mark: new Float64Array(all).fill(Number.NaN),
    markVarianceM2: new Float64Array(all),
    markName: new Map(),
  };
  const head = new Float64Array(HEAD_SIZE);
  const platform = new Float64Array(KNOT_SIZE);
  const firstKnot = HEAD_SIZE * heads;
  const inSpan = new Int32Array(knots.count);
  const spanOf = new Int32Array(rows);
  let row = 0;
  for (let k = 0; k < all; k++) {
    const cell = cellAt(k);
    const at3 = 3 * cell;
    const normal: Vector3 = [patches.normal[at3], patches.normal[at3 + 1], patches.normal[at3 + 2]];
    const base = patches.start[cell];
    const along = (e: number, n: number, h: number) =>
      normal[0] * (e - patches.eastingM[base]) +
      normal[1] * (n - patches.northingM[base]) +
      normal[2] * (h - patches.heightM[base]);
    for (let i = base; i < patches.start[cell + 1]; i++, row++) {
      const { head: h, line } = pieces[patches.piece[i]];
      const point: Vector3 = [patches.eastingM[i], patches.northingM[i], patches.heightM[i]];
      partials.of(h, patches.timeS[i], point, normal, head, platform);
      const { knot, share } = knotBefore(knots, line, patches.timeS[i]);
      let at = ROW * row;
      for (let c = 0; c < HEAD_SIZE; c++, at++) {
        out.place[at] = HEAD_SIZE * h + c;
        out.value[at] = head[c];
      }
      for (let side = 0; side < 2; side++)
        for (let c = 0; c < KNOT_SIZE; c++, at++) {
          out.place[at] = firstKnot + KNOT_SIZE * (knot + side) + c;
          out.value[at] = platform[c] * (side ? share : 1 - share);
        }
      inSpan[knot]++;
      spanOf[row] = knot;
      out.commonM2[row] = betweenKnots(knots, knot, platform);
      out.piece[row] = patches.piece[i];
      out.varianceM2[row] = patches.varianceM2[i];
      let reading = along(...point);
      for (let v = ROW * row; v < ROW * (row + 1); v++) reading -= out.value[v] * applied[out.place[v]];
      out.reading[row] = reading;
    }
    out.start[k + 1] = row;
    const mark = marks[k - chosen.length];
    if (!mark) continue;
    out.mark[k] = along(mark.eastingM, mark.northingM, mark.heightM);
    out.markVarianceM2[k] = (normal[2] * mark.sdM) ** 2;
    out.markName.set(k, mark.name);
  }
  for (let i = 0; i < rows; i++) out.commonM2[i] *= inSpan[spanOf[i]];
  return out;
}

/**
 * Mean variance by which a Gauss–Markov error leaves the straight line between two knots, along the normal of a patch: a
 * sixth of what its steps over that time add up to (Brownian bridge), component by component.
 */
function betweenKnots(knots: Knots, knot: number, platform: Float64Array): number {
  const span = knots.timeS[knot + 1] - knots.timeS[knot];
  let sum = 0;
  for (let c = 0; c < KNOT_SIZE; c++) {
    const tau = c < 3 ? knots.rules.positionTauS : knots.rules.attitudeTauS;
    sum += (platform[c] * knots.worse[c] * knots.sd[KNOT_SIZE * knot + c]) ** 2 * Math.min(1, span / (3 * tau));
  }
  return sum;
}

/**
 * Adds all observations to normal equations, the height of each patch eliminated. @param weight of each row and, behind
 * them, of the mark of each cell. @param normal n × n, lower half.
 */
export function addObservations(
  o: Observations,
  weight: Float64Array,
  normal: Float64Array,
  b: Float64Array,
  n: number,
): void {
  const sum = new Float64Array(n);
  const touched = new Int32Array(n);
  for (let cell = 0; cell < o.cells; cell++) {
    let w = 0;
    let wy = 0;
    let count = 0;
    for (let row = o.start[cell]; row < o.start[cell + 1]; row++) {
      const f = weight[row];
      if (f === 0) continue;
      w += f;
      wy += f * o.reading[row];
      const from = ROW * row;
      for (let i = from; i < from + ROW; i++) {
        const p = o.place[i];
        const fv = f * o.value[i];
        if (fv === 0) continue;
        if (sum[p] === 0) touched[count++] = p;
        sum[p] += fv;
        b[p] -= fv * o.reading[row];
        // places of a row rise, so that the lower half is filled
        for (let j = from; j <= i; j++) normal[p * n + o.place[j]] += fv * o.value[j];
      }
    }
    const m = weight[o.count + cell];
    if (m > 0) {
      w += m;
      wy += m * o.mark[cell];
    }
    if (w > 0)
      for (let i = 0; i < count; i++) {
        const p = touched[i];
        const f = sum[p] / w;
        b[p] += f * wy;
        if (f !== 0)
          for (let j = 0; j < count; j++) {
            const q = touched[j];
            if (q <= p) normal[p * n + q] -= f * sum[q];
          }
      }
    for (let i = 0; i < count; i++) sum[touched[i]] = 0;
  }
}

/**
 * What is left after corrections, metres along the normal: of each row against the mean of its cell's rows, and how far
 * that mean lies above the cell's mark. A mark never judges the rows it is held against: it may be the wrong one.
 * @param weight as for {@link addObservations}. @param out rows, then marks (NaN where there is none).
 */
export function residuals(o: Observations, weight: Float64Array, unknown: Float64Array, out: Float64Array): void {
  for (let cell = 0; cell < o.cells; cell++) {
    const [from, to] = [o.start[cell], o.start[cell + 1]];
    let [w, wy, sum] = [0, 0, 0];
    for (let row = from; row < to; row++) {
      let y = o.reading[row];
      for (let i = ROW * row; i < ROW * (row + 1); i++) y += o.value[i] * unknown[o.place[i]];
      out[row] = y;
      w += weight[row];
      wy += weight[row] * y;
      sum += y;
    }
    // where none counts any more, all are as good
    const mean = w > 0 ? wy / w : sum / Math.max(to - from, 1);
    for (let row = from; row < to; row++) out[row] -= mean;
    out[o.count + cell] = mean - o.mark[cell];
  }
}
