import { selectInPlace } from '../numeric/select';
import { type PointSet } from './points';

/** Points sorted into square cells in plan (counting sort). */
export interface Cells {
  cellM: number;
  minX: number;
  minY: number;
  columns: number;
  rows: number;
  /** Order of points: those of cell c are order[start[c]…start[c+1]). */
  start: Int32Array;
  order: Int32Array;
}

/** @param skip 1 for points to leave out. */
export function sortIntoCells(points: PointSet, cellM: number, skip?: Uint8Array): Cells {
  const { x, y, count } = points;
  let minX = Infinity,
    minY = Infinity,
    maxX = -Infinity,
    maxY = -Infinity;
  for (let i = 0; i < count; i++) {
    if (skip?.[i]) continue;
    if (x[i] < minX) minX = x[i];
    if (x[i] > maxX) maxX = x[i];
    if (y[i] < minY) minY = y[i];
    if (y[i] > maxY) maxY = y[i];
  }
  const columns = Math.max(1, Math.floor((maxX - minX) / cellM) + 1);
  const rows = Math.max(1, Math.floor((maxY - minY) / cellM) + 1);
  const start = new Int32Array(columns * rows + 1);
  const cellOf = new Int32Array(count);
  for (let i = 0; i < count; i++) {
    if (skip?.[i]) {
      cellOf[i] = -1;
      continue;
    }
    const c = Math.floor((y[i] - minY) / cellM) * columns + Math.floor((x[i] - minX) / cellM);
    cellOf[i] = c;
    start[c + 1]++;
  }
  for (let c = 0; c < columns * rows; c++) start[c + 1] += start[c];
  const order = new Int32Array(start[columns * rows]);
  const fill = start.slice(0, columns * rows);
  for (let i = 0; i < count; i++) if (cellOf[i] >= 0) order[fill[cellOf[i]]++] = i;
  return { cellM, minX, minY, columns, rows, start, order };
}

/**
 * The lowest height in each cell that others support: the lowest z with at least `support` more points within
 * `bandM` above it (fewer are asked for in thin cells), so that a lone low point is passed over.
 * @returns index of a point for each occupied cell, −1 for empty ones.
 */
export function supportedLowest(points: PointSet, cells: Cells, support = 4, bandM = 0.25): Int32Array {
  const { z } = points;
  const out = new Int32Array(cells.columns * cells.rows).fill(-1);
  let heights = new Float64Array(256);
  for (let c = 0; c < out.length; c++) {
    const from = cells.start[c];
    const n = cells.start[c + 1] - from;
    if (n === 0) continue;
    if (heights.length < n) heights = new Float64Array(2 * n);
    for (let i = 0; i < n; i++) heights[i] = z[cells.order[from + i]];
    const need = n >= 10 ? support : n >= 4 ? 1 : 0;
    const head = Math.min(n, 32 + need);
    if (n > head) selectInPlace(heights, head - 1, 0, n);
    const lowest = heights.subarray(0, head).sort();
    let pick = 0;
    while (pick + need < head && lowest[pick + need] - lowest[pick] > bandM) pick++;
    if (pick + need >= head) pick = 0;
    const value = lowest[pick];
    for (let i = 0; i < n; i++) {
      if (z[cells.order[from + i]] === value) {
        out[c] = cells.order[from + i];
        break;
      }
    }
  }
  return out;
}
