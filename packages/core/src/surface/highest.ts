import { emptyGrid, type HeightGrid } from './grid';

/**
 * The highest point of each cell: the surface as seen from above, things included. Cells without points are empty.
 * @param indices points to use. @param origin what to add to x, y, z.
 * @param like when given, the grid has its cells, so that the two can be subtracted.
 */
export function gridHighest(
  x: Float64Array,
  y: Float64Array,
  z: Float64Array,
  indices: Int32Array,
  origin: readonly [number, number, number],
  cellM: number,
  like?: HeightGrid,
): HeightGrid {
  let grid: HeightGrid;
  if (like) grid = { ...like, heightM: new Float32Array(like.columns * like.rows).fill(Number.NaN) };
  else {
    let [x0, x1, y0, y1] = [Infinity, -Infinity, Infinity, -Infinity];
    for (let k = 0; k < indices.length; k++) {
      const i = indices[k];
      if (x[i] < x0) x0 = x[i];
      if (x[i] > x1) x1 = x[i];
      if (y[i] < y0) y0 = y[i];
      if (y[i] > y1) y1 = y[i];
    }
    grid = emptyGrid(x0 + origin[0], y0 + origin[1], x1 + origin[0] + cellM, y1 + origin[1] + cellM, cellM);
  }
  const west = grid.westM - origin[0];
  const north = grid.northM - origin[1];
  const { columns, rows, heightM } = grid;
  for (let k = 0; k < indices.length; k++) {
    const i = indices[k];
    const c = Math.floor((x[i] - west) / cellM);
    const r = Math.floor((north - y[i]) / cellM);
    if (c < 0 || r < 0 || c >= columns || r >= rows) continue;
    const h = z[i] + origin[2];
    const at = r * columns + c;
    if (!(heightM[at] >= h)) heightM[at] = h;
  }
  return grid;
}

/** a − b cell by cell; empty where either is. Both have the same cells. */
export function gridDifference(a: HeightGrid, b: HeightGrid): HeightGrid {
  if (a.columns !== b.columns || a.rows !== b.rows || a.westM !== b.westM || a.northM !== b.northM)
    throw new Error('the grids have other cells');
  return { ...a, heightM: a.heightM.map((h, i) => h - b.heightM[i]) };
}
