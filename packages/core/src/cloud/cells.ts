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

/** Coordinates in the order of the cells, about the south-west corner and the least height: neighbours lie together. */
export interface SortedColumns {
  x: Float32Array;
  y: Float32Array;
  z: Float32Array;
}

export function sortedColumns({ x, y, z }: PointSet, { order, minX, minY }: Cells): SortedColumns {
  let minZ = Infinity;
  for (let k = 0; k < order.length; k++) if (z[order[k]] < minZ) minZ = z[order[k]];
  const column = () => new Float32Array(order.length);
  const out = { x: column(), y: column(), z: column() };
  for (let k = 0; k < order.length; k++) {
    const i = order[k];
    out.x[k] = x[i] - minX;
    out.y[k] = y[i] - minY;
    out.z[k] = z[i] - minZ;
  }
  return out;
}

/** Heights looked at from below in a cell, beside those that must support the lowest. */
const FEW = 32;

/**
 * The lowest height in each cell that others support: the lowest z with at least `support` more points within
 * `bandM` above it (fewer are asked for in thin cells), so that a lone low point is passed over.
 * @returns place in the order of the cells for each occupied cell, −1 for empty ones.
 */
export function supportedLowest({ z }: SortedColumns, cells: Cells, support = 4, bandM = 0.25): Int32Array {
  const out = new Int32Array(cells.columns * cells.rows).fill(-1);
  let heights = new Float32Array(256);
  for (let c = 0; c < out.length; c++) {
    const from = cells.start[c];
    const n = cells.start[c + 1] - from;
    if (n === 0) continue;
    const need = n >= 10 ? support : n >= 4 ? 1 : 0;
    let value = Infinity;
    if (need === 0) {
      for (let i = from; i < from + n; i++) if (z[i] < value) value = z[i];
    } else {
      if (heights.length < n) heights = new Float32Array(2 * n);
      for (let i = 0; i < n; i++) heights[i] = z[from + i];
      const head = Math.min(n, FEW + need);
      if (n > head) selectInPlace(heights, head - 1, 0, n);
      ascending(heights, head);
      let pick = 0;
      while (pick + need < head && heights[pick + need] - heights[pick] > bandM) pick++;
      value = heights[pick + need >= head ? 0 : pick];
    }
    let at = from;
    while (z[at] !== value) at++;
    out[c] = at;
  }
  return out;
}

/** Sorts the first few values by insertion. */
function ascending(values: Float32Array, n: number): void {
  for (let i = 1; i < n; i++) {
    const v = values[i];
    let k = i - 1;
    for (; k >= 0 && values[k] > v; k--) values[k + 1] = values[k];
    values[k + 1] = v;
  }
}
