import { tick, type Watch } from '../shared/progress';
import { heightInTriangle, TinWalker, type Tin } from '../surface/tin';
import { type Cells, type SortedColumns } from './cells';
import { cosineOfSlope, framed } from './groundTin';
import { FORGIVEN, withinOf } from './noiseOfCells';
import { seedGround } from './seed';
import { spreadGround } from './spread';

/**
 * Cells that carry the surface, coarse to fine. @param lowest place of each cell's lowest point, −1 where empty.
 * @param noiseM deviation of points from the surface they lie on. @returns 1 for each cell.
 */
export function densify(
  sorted: SortedColumns,
  cells: Cells,
  lowest: Int32Array,
  settings: { largestObjectM: number; steepestDeg: number; cellM: number },
  noiseM: number,
  watch?: Watch,
): Uint8Array {
  const { x, y, z } = sorted;
  const { columns, rows, cellM } = cells;
  const inside = new Uint8Array(lowest.length);
  const steep = Math.tan((settings.steepestDeg * Math.PI) / 180);
  const forgiveM = withinOf(noiseM, FORGIVEN);
  const land = { columns, rows, cellM, heightM: heightsOf(sorted, lowest) };
  seedGround(land, inside, settings.largestObjectM, forgiveM);
  spreadGround(land, inside, { steep, forgiveM });
  const sizes: number[] = [];
  for (let s = settings.largestObjectM / 2; s > 4 * cellM; s /= 2) sizes.push(s);
  sizes.push(cellM);
  sizes.forEach((size, level) => {
    tick(watch, 0.3 + (0.3 * (level + 1)) / (sizes.length + 1), 'Densifying the surface');
    const block = Math.max(1, Math.round(size / cellM));
    const tin = tinOfCells(sorted, cells, lowest, inside, Math.max(2, block >> 1));
    const walker = new TinWalker(tin);
    const joined: number[] = [];
    for (const c of lowestOfBlocks(sorted, cells, lowest, block)) {
      if (inside[c]) continue;
      const p = lowest[c];
      const t = walker.locate(x[p], y[p]);
      if (t < 0) continue;
      const dz = Math.abs(z[p] - heightInTriangle(tin, t, x[p], y[p])) * cosineOfSlope(tin, t);
      let near = Infinity;
      for (let k = 0; k < 3; k++) {
        const v = tin.triangles[3 * t + k];
        near = Math.min(near, Math.hypot(tin.x[v] - x[p], tin.y[v] - y[p]));
      }
      // slope from the nearest corner, and no leap larger than a third of the cell
      if (dz <= forgiveM + steep * Math.min(near, size) * 0.5 && dz <= 0.1 + size / 3) joined.push(c);
    }
    for (const c of joined) inside[c] = 1;
    if (joined.length) spreadGround(land, inside, { steep, forgiveM }, joined);
  });
  return inside;
}

/** Heights of the lowest points of cells, NaN where empty. */
export function heightsOf({ z }: SortedColumns, lowest: Int32Array): Float32Array {
  const out = new Float32Array(lowest.length);
  for (let c = 0; c < out.length; c++) out[c] = lowest[c] < 0 ? Number.NaN : z[lowest[c]];
  return out;
}

/** The cell with the lowest height in each block of `size` × `size` cells; those of `only` when it is given. */
function lowestOfBlocks(
  { z }: SortedColumns,
  { columns, rows }: Cells,
  lowest: Int32Array,
  size: number,
  only?: Uint8Array,
): Int32Array {
  const out = new Int32Array(Math.ceil(columns / size) * Math.ceil(rows / size));
  let count = 0;
  for (let r0 = 0; r0 < rows; r0 += size) {
    for (let c0 = 0; c0 < columns; c0 += size) {
      let best = -1;
      let least = Infinity;
      for (let r = r0; r < Math.min(r0 + size, rows); r++) {
        for (let at = r * columns + c0; at < r * columns + Math.min(c0 + size, columns); at++) {
          const k = lowest[at];
          if (k < 0 || z[k] >= least || (only && !only[at])) continue;
          best = at;
          least = z[k];
        }
      }
      if (best >= 0) out[count++] = best;
    }
  }
  return out.subarray(0, count);
}

/** TIN of accepted cells, the lowest of each block of `size` cells. */
function tinOfCells(sorted: SortedColumns, cells: Cells, lowest: Int32Array, inside: Uint8Array, size: number): Tin {
  const corners = lowestOfBlocks(sorted, cells, lowest, size, inside);
  const n = corners.length;
  const column = (values: Float32Array): Float64Array => {
    const out = new Float64Array(n + 8);
    for (let k = 0; k < n; k++) out[k] = values[lowest[corners[k]]];
    return out;
  };
  return framed(column(sorted.x), column(sorted.y), column(sorted.z), n);
}
