import { tick, type Watch } from '../shared/progress';
import { type HeightGrid } from './grid';
import { heightInTriangle, TinWalker, type Tin } from './tin';

/** Cells around the last ones that lead beyond the outermost points, to each side. */
const AROUND = 4;
/** With fewer of them the land goes on level. */
const FEWEST = 6;

/**
 * Fills empty cells whose centre lies within a distance of a point of the TIN: between points from the triangle that
 * was left out for its long edges, beyond the outermost ones along the plane of the cells next to them.
 * @param grid changed in place. @param originE, originN what to add to the TIN's coordinates. @param nearM metres.
 * @returns cells filled between points, and beyond them.
 */
export function fillNear(
  grid: HeightGrid,
  tin: Tin,
  originE: number,
  originN: number,
  nearM: number,
  watch?: Watch,
): { bridged: number; beyond: number } {
  const { columns, rows, cellM, heightM } = grid;
  // in cells, column to the east and row to the south, 0 at the first centre
  const u = tin.x.map((v) => (v + originE - grid.westM) / cellM - 0.5);
  const v = tin.y.map((n) => (grid.northM - originN - n) / cellM - 0.5);
  const nearest = nearestPoints(u, v, columns, rows);
  const walker = new TinWalker(tin);
  // each cell hands on one of its points, which may lie a cell further away than the nearest
  const limit = nearM / cellM + 1;
  const filled = heightM.slice();
  let [bridged, beyond] = [0, 0];
  for (let r = 0, c = 0; r < rows; r++) {
    if ((r & 127) === 0) tick(watch, r / rows);
    for (let column = 0; column < columns; column++, c++) {
      if (!Number.isNaN(heightM[c])) continue;
      const p = nearest[c];
      if (p < 0 || Math.hypot(u[p] - column, v[p] - r) > limit) continue;
      const x = (column + 0.5) * cellM + grid.westM - originE;
      const y = grid.northM - (r + 0.5) * cellM - originN;
      const t = walker.locate(x, y);
      if (t >= 0) {
        filled[c] = heightInTriangle(tin, t, x, y);
        bridged++;
      } else {
        filled[c] = tin.z[p] + leadOf(grid, Math.round(u[p]), Math.round(v[p]), column - u[p], r - v[p]);
        beyond++;
      }
    }
  }
  heightM.set(filled);
  return { bridged, beyond };
}

/** The point nearest to each cell's centre, handed on from cell to cell, forth and back (Danielsson 1980); −1 without. */
function nearestPoints(u: Float64Array, v: Float64Array, columns: number, rows: number): Int32Array {
  const nearest = new Int32Array(columns * rows).fill(-1);
  const distance = new Float64Array(columns * rows).fill(Infinity);
  const offer = (c: number, column: number, row: number, p: number): void => {
    if (p < 0) return;
    const d = (u[p] - column) * (u[p] - column) + (v[p] - row) * (v[p] - row);
    if (d >= distance[c]) return;
    distance[c] = d;
    nearest[c] = p;
  };
  for (let p = 0; p < u.length; p++) {
    const column = Math.max(0, Math.min(columns - 1, Math.round(u[p])));
    const row = Math.max(0, Math.min(rows - 1, Math.round(v[p])));
    offer(row * columns + column, column, row, p);
  }
  const sweep = (first: number, last: number, step: number): void => {
    for (let r = first; r !== last; r += step) {
      for (let c = 0; c < columns; c++) {
        const at = r * columns + c;
        const from = r - step;
        if (from >= 0 && from < rows)
          for (let k = -1; k <= 1; k++)
            if (c + k >= 0 && c + k < columns) offer(at, c, r, nearest[from * columns + c + k]);
        if (c > 0) offer(at, c, r, nearest[at - 1]);
      }
      for (let c = columns - 2; c >= 0; c--) offer(r * columns + c, c, r, nearest[r * columns + c + 1]);
    }
  };
  sweep(0, rows, 1);
  sweep(rows - 1, -1, -1);
  return nearest;
}

/** How much higher the plane through the cells around a place lies `east` and `south` of it, both in cells. */
function leadOf({ columns, rows, heightM }: HeightGrid, column: number, row: number, east: number, south: number) {
  let [n, sx, sy, sz, sxx, sxy, syy, sxz, syz] = [0, 0, 0, 0, 0, 0, 0, 0, 0];
  for (let y = Math.max(0, row - AROUND); y <= Math.min(rows - 1, row + AROUND); y++)
    for (let x = Math.max(0, column - AROUND); x <= Math.min(columns - 1, column + AROUND); x++) {
      const z = heightM[y * columns + x];
      if (Number.isNaN(z)) continue;
      const [dx, dy] = [x - column, y - row];
      n++;
      sx += dx;
      sy += dy;
      sz += z;
      sxx += dx * dx;
      sxy += dx * dy;
      syy += dy * dy;
      sxz += dx * z;
      syz += dy * z;
    }
  if (n < FEWEST) return 0;
  const [cxx, cxy, cyy] = [sxx - (sx * sx) / n, sxy - (sx * sy) / n, syy - (sy * sy) / n];
  const [cxz, cyz] = [sxz - (sx * sz) / n, syz - (sy * sz) / n];
  const det = cxx * cyy - cxy * cxy;
  if (det < 0.01 * (cxx + cyy) ** 2) return 0;
  return (east * (cxz * cyy - cyz * cxy) + south * (cyz * cxx - cxz * cxy)) / det;
}
