import { type Cells, type SortedColumns } from './cells';

/**
 * The lowest point of a cell lies somewhere in it, and below the others: where the cloth rests, heights become the mean
 * of what lies on it, carried to the middle of the cell along the slope.
 */
export function atMiddles(
  { x, y, z }: SortedColumns,
  h: Float32Array,
  resting: Uint8Array,
  { columns, rows, cellM, start }: Cells,
  withinM: number,
): void {
  for (let pass = 0; pass < 2; pass++) {
    const low = h.slice();
    for (let c = 0; c < h.length; c++) {
      if (!resting[c]) continue;
      const column = c % columns;
      const row = (c - column) / columns;
      const gx = slopeAlong(low, resting, c, 1, column, columns, cellM);
      const gy = slopeAlong(low, resting, c, columns, row, rows, cellM);
      const room =
        withinM * Math.sqrt(1 + gx * gx + gy * gy) + (pass === 0 ? (Math.abs(gx) + Math.abs(gy)) * 0.5 * cellM : 0);
      const mx = (column + 0.5) * cellM;
      const my = (row + 0.5) * cellM;
      let sum = 0;
      let count = 0;
      for (let k = start[c]; k < start[c + 1]; k++) {
        const off = z[k] - gx * (x[k] - mx) - gy * (y[k] - my);
        if (Math.abs(off - low[c]) > room) continue;
        sum += off;
        count++;
      }
      if (count) h[c] = sum / count;
    }
  }
}

/** Cells so far away that a free cell is carried on from. */
const REACH = 2;

/** Beside parts that rest, free ones take the height to which these lead: weighted by distance, along their slopes. */
export function carryOn(h: Float32Array, resting: Uint8Array, { columns, rows, cellM }: Cells): void {
  const east = new Float32Array(h.length);
  const north = new Float32Array(h.length);
  for (let c = 0; c < h.length; c++) {
    if (!resting[c]) continue;
    const column = c % columns;
    east[c] = slopeAlong(h, resting, c, 1, column, columns, cellM) * cellM;
    north[c] = slopeAlong(h, resting, c, columns, (c - column) / columns, rows, cellM) * cellM;
  }
  for (let c = 0; c < h.length; c++) {
    if (resting[c]) continue;
    const column = c % columns;
    const row = (c - column) / columns;
    let sum = 0;
    let weights = 0;
    for (let reach = 1; reach <= REACH && weights === 0; reach++)
      for (let v = Math.max(0, row - reach); v <= Math.min(rows - 1, row + reach); v++)
        for (let u = Math.max(0, column - reach); u <= Math.min(columns - 1, column + reach); u++) {
          const n = v * columns + u;
          if (!resting[n]) continue;
          const weight = 1 / ((u - column) * (u - column) + (v - row) * (v - row));
          sum += weight * (h[n] + east[n] * (column - u) + north[n] * (row - v));
          weights += weight;
        }
    if (weights > 0) h[c] = sum / weights;
  }
}

/** Slope at a cell along one axis, from the nearest cells at rest on both sides. */
function slopeAlong(
  h: Float32Array,
  resting: Uint8Array,
  c: number,
  stride: number,
  place: number,
  length: number,
  cellM: number,
): number {
  const before = place > 0 && resting[c - stride] ? 1 : 0;
  const after = place + 1 < length && resting[c + stride] ? 1 : 0;
  if (before + after === 0) return 0;
  return (h[c + after * stride] - h[c - before * stride]) / ((before + after) * cellM);
}
