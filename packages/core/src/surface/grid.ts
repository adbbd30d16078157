import { Problem } from '../shared/problem';
import { tick, type Watch } from '../shared/progress';
import { type Tin } from './tin';

/**
 * Heights on square cells. Cell edges lie on whole multiples of the cell size; a value belongs to the cell's centre.
 * Row 0 is the northernmost. Empty cells are NaN.
 */
export interface HeightGrid {
  cellM: number;
  /** Easting of the west edge, metres. */
  westM: number;
  /** Northing of the north edge, metres. */
  northM: number;
  columns: number;
  rows: number;
  heightM: Float32Array;
}

/** No more cells than this are made in one grid (1.6 GB as 32-bit heights would be the limit of one array). */
const MAX_CELLS = 400e6;

/** An empty grid over an extent in metres. */
export function emptyGrid(minE: number, minN: number, maxE: number, maxN: number, cellM: number): HeightGrid {
  if (!(cellM > 0) || !Number.isFinite(cellM))
    throw new Problem(`A cell of ${cellM} m is not possible.`, {
      code: 'grid-cell',
      remedy: 'Give a cell size above zero.',
    });
  const westM = Math.floor(minE / cellM) * cellM;
  const southM = Math.floor(minN / cellM) * cellM;
  const columns = Math.max(1, Math.ceil((maxE - westM) / cellM));
  const rows = Math.max(1, Math.ceil((maxN - southM) / cellM));
  if (columns * rows > MAX_CELLS)
    throw new Problem(`A cell of ${cellM} m would need ${columns} × ${rows} cells.`, {
      code: 'grid-too-large',
      remedy: 'Choose a larger cell, or clip the cloud first; far noise points stretch the extent.',
    });
  return {
    cellM,
    westM,
    northM: southM + rows * cellM,
    columns,
    rows,
    heightM: new Float32Array(columns * rows).fill(Number.NaN),
  };
}

/**
 * Heights of the TIN at the centres of the cells; holes of the TIN (long edges) stay empty.
 * @param originE, originN what to add to the TIN's coordinates.
 */
export function gridFromTin(tin: Tin, originE: number, originN: number, cellM: number, watch?: Watch): HeightGrid {
  let minX = Infinity,
    maxX = -Infinity,
    minY = Infinity,
    maxY = -Infinity;
  for (let i = 0; i < tin.x.length; i++) {
    if (tin.x[i] < minX) minX = tin.x[i];
    if (tin.x[i] > maxX) maxX = tin.x[i];
    if (tin.y[i] < minY) minY = tin.y[i];
    if (tin.y[i] > maxY) maxY = tin.y[i];
  }
  const grid = emptyGrid(minX + originE, minY + originN, maxX + originE, maxY + originN, cellM);
  const { triangles, hole, x, y, z } = tin;
  const offsetX = originE - grid.westM - cellM / 2;
  const offsetY = grid.northM - originN - cellM / 2;
  const count = triangles.length / 3;
  for (let t = 0; t < count; t++) {
    if ((t & 0x3ffff) === 0) tick(watch, t / count);
    if (hole[t]) continue;
    const a = triangles[3 * t],
      b = triangles[3 * t + 1],
      c = triangles[3 * t + 2];
    // in cell units, column to the east and row to the south, 0 at the first centre
    const ax = (x[a] + offsetX) / cellM,
      ay = (offsetY - y[a]) / cellM;
    const bx = (x[b] + offsetX) / cellM,
      by = (offsetY - y[b]) / cellM;
    const cx = (x[c] + offsetX) / cellM,
      cy = (offsetY - y[c]) / cellM;
    const row0 = Math.max(0, Math.ceil(Math.min(ay, by, cy)));
    const row1 = Math.min(grid.rows - 1, Math.floor(Math.max(ay, by, cy)));
    if (row0 > row1) continue;
    const col0 = Math.max(0, Math.ceil(Math.min(ax, bx, cx)));
    const col1 = Math.min(grid.columns - 1, Math.floor(Math.max(ax, bx, cx)));
    if (col0 > col1) continue;
    const det = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
    if (det === 0) continue;
    const dzb = z[b] - z[a],
      dzc = z[c] - z[a];
    for (let row = row0; row <= row1; row++) {
      for (let col = col0; col <= col1; col++) {
        const wb = ((col - ax) * (cy - ay) - (row - ay) * (cx - ax)) / det;
        const wc = ((bx - ax) * (row - ay) - (by - ay) * (col - ax)) / det;
        if (wb >= -1e-12 && wc >= -1e-12 && wb + wc <= 1 + 1e-12)
          grid.heightM[row * grid.columns + col] = z[a] + wb * dzb + wc * dzc;
      }
    }
  }
  return grid;
}

/** Height of the grid at a place: bilinear between the four nearest centres, NaN when one of them is empty. */
export function gridHeightAt(grid: HeightGrid, eastingM: number, northingM: number): number {
  const col = (eastingM - grid.westM) / grid.cellM - 0.5;
  const row = (grid.northM - northingM) / grid.cellM - 0.5;
  const c0 = Math.floor(col);
  const r0 = Math.floor(row);
  if (c0 < 0 || r0 < 0 || c0 + 1 >= grid.columns || r0 + 1 >= grid.rows) return Number.NaN;
  const u = col - c0;
  const v = row - r0;
  const at = r0 * grid.columns + c0;
  const h = grid.heightM;
  return (
    (1 - v) * ((1 - u) * h[at] + u * h[at + 1]) + v * ((1 - u) * h[at + grid.columns] + u * h[at + grid.columns + 1])
  );
}

export interface GridSummary {
  cells: number;
  emptyCells: number;
  minM: number;
  maxM: number;
}

export function summariseGrid(grid: HeightGrid): GridSummary {
  let emptyCells = 0,
    minM = Infinity,
    maxM = -Infinity;
  for (const h of grid.heightM) {
    if (Number.isNaN(h)) emptyCells++;
    else {
      if (h < minM) minM = h;
      if (h > maxM) maxM = h;
    }
  }
  return { cells: grid.heightM.length, emptyCells, minM, maxM };
}

/**
 * Shaded relief, 0…255, lit from the given direction (Horn 1981 slopes); empty cells are 0 with alpha left to the
 * caller.
 */
export function hillShade(grid: HeightGrid, azimuthDeg = 315, altitudeDeg = 45, exaggeration = 2): Uint8Array {
  const { columns, rows, heightM: h, cellM } = grid;
  const out = new Uint8Array(columns * rows);
  const az = (azimuthDeg * Math.PI) / 180;
  const alt = (altitudeDeg * Math.PI) / 180;
  const lx = Math.sin(az) * Math.cos(alt);
  const ly = Math.cos(az) * Math.cos(alt);
  const lz = Math.sin(alt);
  for (let r = 0; r < rows; r++) {
    for (let c = 0; c < columns; c++) {
      const here = h[r * columns + c];
      if (Number.isNaN(here)) continue;
      const at = (dr: number, dc: number) => {
        const rr = Math.min(rows - 1, Math.max(0, r + dr));
        const cc = Math.min(columns - 1, Math.max(0, c + dc));
        const value = h[rr * columns + cc];
        return Number.isNaN(value) ? here : value;
      };
      const dzdx =
        ((at(-1, 1) + 2 * at(0, 1) + at(1, 1) - at(-1, -1) - 2 * at(0, -1) - at(1, -1)) / (8 * cellM)) * exaggeration;
      const dzdy =
        ((at(-1, -1) + 2 * at(-1, 0) + at(-1, 1) - at(1, -1) - 2 * at(1, 0) - at(1, 1)) / (8 * cellM)) * exaggeration;
      const light = (lz - dzdx * lx - dzdy * ly) / Math.sqrt(1 + dzdx * dzdx + dzdy * dzdy);
      out[r * columns + c] = Math.max(1, Math.min(255, Math.round(255 * Math.max(0, light))));
    }
  }
  return out;
}
