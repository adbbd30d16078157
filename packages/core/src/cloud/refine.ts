import { type Tin } from '../surface/tin';
import { type Cells, type SortedColumns } from './cells';
import { framed } from './groundTin';

/** The mean of the points near the rough surface in each accepted cell makes the final one. */
export function refine(
  { x, y, z }: SortedColumns,
  cells: Cells,
  lowest: Int32Array,
  inside: Uint8Array,
  withinM: number,
): Tin {
  let count = 0;
  for (let c = 0; c < inside.length; c++) count += inside[c];
  const sx = new Float64Array(count + 8);
  const sy = new Float64Array(count + 8);
  const sz = new Float64Array(count + 8);
  // lowest heights lie about two SD under the surface: take what lies from a little under to above
  const above = 1.5 * withinM + 0.15 * cells.cellM;
  let at = 0;
  for (let c = 0; c < inside.length; c++) {
    if (!inside[c]) continue;
    const low = z[lowest[c]];
    let n = 0;
    let mx = 0;
    let my = 0;
    let mz = 0;
    for (let k = cells.start[c]; k < cells.start[c + 1]; k++) {
      const dz = z[k] - low;
      if (dz < -0.05 || dz > above) continue;
      n++;
      mx += x[k];
      my += y[k];
      mz += z[k];
    }
    sx[at] = mx / n;
    sy[at] = my / n;
    sz[at++] = mz / n;
  }
  return framed(sx, sy, sz, count);
}
