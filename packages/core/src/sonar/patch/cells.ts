import { median } from '../../numeric/statistics';

/** Soundings of several lines; places about an origin near them. */
export interface CellSoundings {
  count: number;
  /** Number of the line. */
  line: ArrayLike<number>;
  x: ArrayLike<number>;
  y: ArrayLike<number>;
  /** NaN: left out. */
  h: ArrayLike<number>;
}

/** Soundings of each line that a cell must have to count. */
const LEAST_A_LINE = 4;
/** Residuals beyond this many deviations of a cell do not count (Beaton & Tukey 1974). */
const TUKEY = 4.685;
/** Cells are never taken to be smoother than this, metres. */
const SMOOTHEST_M = 0.004;
const PASSES = 5;

/** A cell in which several lines have soundings, with the slope that they share and a weight for each sounding. */
export interface SharedCell {
  /** Soundings, those of one line together; `ends` where each line's end. */
  members: Int32Array;
  ends: number[];
  lines: number[];
  /** Middle of the cell's soundings, metres about the origin. */
  x: number;
  y: number;
  slopeX: number;
  slopeY: number;
  weights: Float64Array;
  /** Scatter about the planes of each line, 1 SD, metres. */
  scatterM: number;
}

/** Cells that at least two lines share, each with its slope from within the lines: their offsets do not enter it. */
export function sharedCells(m: CellSoundings, cellM: number): SharedCell[] {
  const byCell = new Map<number, number[]>();
  for (let i = 0; i < m.count; i++) {
    if (Number.isNaN(m.h[i])) continue;
    const key = Math.floor(m.x[i] / cellM) * 1_000_003 + Math.floor(m.y[i] / cellM);
    const list = byCell.get(key);
    if (list) list.push(i);
    else byCell.set(key, [i]);
  }
  const out: SharedCell[] = [];
  for (const list of byCell.values()) {
    if (list.length < 2 * LEAST_A_LINE) continue;
    const cell = cellOf(m, list);
    if (cell) out.push(cell);
  }
  return out;
}

function cellOf(m: CellSoundings, list: number[]): SharedCell | undefined {
  const groups = new Map<number, number[]>();
  for (const i of list) {
    const g = groups.get(m.line[i]);
    if (g) g.push(i);
    else groups.set(m.line[i], [i]);
  }
  const kept = [...groups].filter(([, g]) => g.length >= LEAST_A_LINE);
  if (kept.length < 2) return undefined;
  const members = Int32Array.from(kept.flatMap(([, g]) => g));
  const ends: number[] = [];
  for (const [, g] of kept) ends.push((ends.at(-1) ?? 0) + g.length);
  const n = members.length;
  let [x, y] = [0, 0];
  for (const i of members) {
    x += m.x[i] / n;
    y += m.y[i] / n;
  }
  const weights = new Float64Array(n).fill(1);
  const residual = new Float64Array(n);
  // the middle height of each line, so that a flyer moves nothing at first
  const starts = [0, ...ends];
  const offset = kept.map(([, g]) => median(Float64Array.from(g, (i) => m.h[i])));
  /** Weighted middle of each line. */
  const means: Array<[number, number, number]> = [];
  let [slopeX, slopeY, scatterM] = [0, 0, 0];
  for (let pass = 0; pass < PASSES; pass++) {
    let [sxx, sxy, syy, sxz, syz] = [0, 0, 0, 0, 0];
    kept.forEach((_, l) => {
      let [w, mx, my, mz] = [0, 0, 0, 0];
      for (let k = starts[l]; k < ends[l]; k++) {
        const i = members[k];
        w += weights[k];
        mx += weights[k] * m.x[i];
        my += weights[k] * m.y[i];
        mz += weights[k] * m.h[i];
      }
      if (!(w > 0)) return;
      mx /= w;
      my /= w;
      mz = pass === 0 ? offset[l] : mz / w;
      for (let k = starts[l]; k < ends[l]; k++) {
        const i = members[k];
        const [dx, dy, dz] = [m.x[i] - mx, m.y[i] - my, m.h[i] - mz];
        sxx += weights[k] * dx * dx;
        sxy += weights[k] * dx * dy;
        syy += weights[k] * dy * dy;
        sxz += weights[k] * dx * dz;
        syz += weights[k] * dy * dz;
      }
      means[l] = [mx, my, mz];
    });
    const det = sxx * syy - sxy * sxy;
    if (!(det > 1e-4 * (sxx + syy) ** 2)) return undefined;
    slopeX = (sxz * syy - syz * sxy) / det;
    slopeY = (syz * sxx - sxz * sxy) / det;
    kept.forEach((_, l) => {
      const [mx, my, mz] = means[l];
      for (let k = starts[l]; k < ends[l]; k++) {
        const i = members[k];
        residual[k] = m.h[i] - mz - slopeX * (m.x[i] - mx) - slopeY * (m.y[i] - my);
      }
    });
    scatterM = Math.max(SMOOTHEST_M, 1.4826 * median(residual.map(Math.abs)));
    for (let k = 0; k < n; k++) {
      const u = residual[k] / (TUKEY * scatterM);
      weights[k] = Math.abs(u) < 1 ? (1 - u * u) ** 2 : 0;
    }
  }
  return { members, ends, lines: kept.map(([l]) => l), x, y, slopeX, slopeY, weights, scatterM };
}

/** Height of each line of a cell at its middle, along the shared slope; NaN where all its soundings were left out. */
export function lineHeights(m: CellSoundings, c: SharedCell): number[] {
  let from = 0;
  return c.ends.map((end) => {
    let [w, sum] = [0, 0];
    for (let k = from; k < end; k++) {
      const i = c.members[k];
      w += c.weights[k];
      sum += c.weights[k] * (m.h[i] - c.slopeX * (m.x[i] - c.x) - c.slopeY * (m.y[i] - c.y));
    }
    from = end;
    return w > 0 ? sum / w : Number.NaN;
  });
}
