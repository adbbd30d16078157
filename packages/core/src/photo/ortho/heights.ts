import { type HeightGrid } from '../../surface/grid';

/** Cells of a block whose highest height is kept. */
const BLOCK = 8;
/** What rises less than this above a line of sight does not hide, metres. */
const SLACK_M = 0.15;

/** A cell without a height takes the mean of its neighbours when so many of the eight have one, and so on so often. */
const CLOSED_BY = 5;
const CLOSINGS = 4;

/** A grid whose small holes are closed; its edges stay where they are. */
function closed(grid: HeightGrid): HeightGrid {
  const { columns, rows } = grid;
  const heightM = grid.heightM.slice();
  for (let round = 0; round < CLOSINGS; round++) {
    const before = heightM.slice();
    for (let r = 1; r < rows - 1; r++)
      for (let k = r * columns + 1; k < (r + 1) * columns - 1; k++) {
        if (before[k] === before[k]) continue;
        let [sum, n] = [0, 0];
        for (let y = k - columns; y <= k + columns; y += columns)
          for (let x = y - 1; x <= y + 1; x++)
            if (before[x] === before[x]) {
              sum += before[x];
              n++;
            }
        if (n >= CLOSED_BY) heightM[k] = sum / n;
      }
  }
  return { ...grid, heightM };
}

/** Blocks to each side within which the highest height is kept too. */
const NEAR = 3;

/** The highest of each block and its neighbours. */
function nearOf(highest: Float32Array, columns: number): Float32Array {
  const rows = highest.length / columns;
  const across = new Float32Array(highest.length);
  const out = new Float32Array(highest.length);
  const most = (from: Float32Array, k: number, low: number, high: number, step: number) => {
    let top = from[k];
    for (let j = -low; j <= high; j++) if (from[k + j * step] > top) top = from[k + j * step];
    return top;
  };
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++)
      across[r * columns + c] = most(highest, r * columns + c, Math.min(c, NEAR), Math.min(columns - 1 - c, NEAR), 1);
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++)
      out[r * columns + c] = most(across, r * columns + c, Math.min(r, NEAR), Math.min(rows - 1 - r, NEAR), columns);
  return out;
}

/** A surface under pictures: heights between its cells, and what stands in a line of sight. */
export class Relief {
  readonly grid: HeightGrid;
  private readonly blockColumns: number;
  private readonly highest: Float32Array;
  private readonly near: Float32Array;
  private readonly top: number;

  constructor(given: HeightGrid) {
    const grid = (this.grid = closed(given));
    const { columns, rows, heightM } = grid;
    this.blockColumns = Math.ceil(columns / BLOCK);
    const highest = new Float32Array(this.blockColumns * Math.ceil(rows / BLOCK)).fill(Number.NEGATIVE_INFINITY);
    for (let r = 0; r < rows; r++)
      for (let c = 0; c < columns; c++) {
        const b = Math.floor(r / BLOCK) * this.blockColumns + Math.floor(c / BLOCK);
        const h = heightM[r * columns + c];
        if (h > highest[b]) highest[b] = h;
      }
    this.highest = highest;
    this.near = nearOf(highest, this.blockColumns);
    this.top = highest.reduce((a, b) => Math.max(a, b), Number.NEGATIVE_INFINITY);
  }

  /** Height of a place, between the centres of the four cells about it, metres; NaN where there is none. */
  at(eastingM: number, northingM: number): number {
    const { columns, rows, heightM, cellM, westM, northM } = this.grid;
    const x = (eastingM - westM) / cellM - 0.5;
    const y = (northM - northingM) / cellM - 0.5;
    if (x < -0.5 || y < -0.5 || x > columns - 0.5 || y > rows - 0.5) return Number.NaN;
    const c = Math.min(columns - 1, Math.max(0, Math.floor(x)));
    const r = Math.min(rows - 1, Math.max(0, Math.floor(y)));
    const right = c + 1 < columns ? 1 : 0;
    const down = r + 1 < rows ? columns : 0;
    const k = r * columns + c;
    const p = Math.min(1, Math.max(0, x - c));
    const q = Math.min(1, Math.max(0, y - r));
    const h =
      (1 - q) * ((1 - p) * heightM[k] + p * heightM[k + right]) +
      q * ((1 - p) * heightM[k + down] + p * heightM[k + down + right]);
    // beside a hole that of its own cell counts
    return h === h ? h : heightM[(q < 0.5 ? k : k + down) + (p < 0.5 ? 0 : right)];
  }

  /**
   * Whether something of the surface stands between a place and a centre of projection, in easting, northing and height: the
   * line of sight is followed cell by cell, over blocks that lie below it in one step.
   */
  hides(e: number, n: number, h: number, centre: readonly [number, number, number]): boolean {
    const { columns, rows, heightM, cellM, westM, northM } = this.grid;
    const rise = centre[2] - h;
    if (rise <= 0) return false;
    const de = centre[0] - e;
    const dn = centre[1] - n;
    const plan = Math.sqrt(de * de + dn * dn);
    const lean = plan / rise;
    // until the line is above all there is, and above all that is near
    let reach = (this.top - h - SLACK_M) * lean;
    if (!(reach > cellM)) return false;
    const own =
      Math.min(rows - 1, Math.max(0, Math.floor((northM - n) / cellM / BLOCK))) * this.blockColumns +
      Math.min(this.blockColumns - 1, Math.max(0, Math.floor((e - westM) / cellM / BLOCK)));
    if (reach < NEAR * BLOCK * cellM && own < this.near.length)
      reach = Math.min(reach, (this.near[own] - h - SLACK_M) * lean);
    const ux = de / plan;
    const uy = dn / plan;
    const uz = rise / plan;
    const edge = BLOCK * cellM;
    for (let s = 1.5 * cellM; s < reach;) {
      const x = e + s * ux;
      const y = n + s * uy;
      const c = Math.floor((x - westM) / cellM);
      const r = Math.floor((northM - y) / cellM);
      if (c < 0 || r < 0 || c >= columns || r >= rows) return false;
      const z = h + s * uz + SLACK_M;
      const b = Math.floor(r / BLOCK) * this.blockColumns + Math.floor(c / BLOCK);
      if (z > this.highest[b]) {
        // to the far side of the block
        const west = westM + Math.floor(c / BLOCK) * edge;
        const north = northM - Math.floor(r / BLOCK) * edge;
        const across = ux > 0 ? west + edge - x : x - west;
        const along = uy > 0 ? north - y : y - north + edge;
        const toSide = Math.min(across / Math.max(1e-9, Math.abs(ux)), along / Math.max(1e-9, Math.abs(uy)));
        s += Math.max(0.5 * cellM, toSide + 1e-6);
        continue;
      }
      if (heightM[r * columns + c] > z) return true;
      s += 0.7 * cellM;
    }
    return false;
  }

  /** Lowest and highest height of an area; undefined where there is none. */
  range(west: number, south: number, east: number, north: number): [number, number] | undefined {
    const { columns, rows, heightM, cellM, westM, northM } = this.grid;
    const c0 = Math.max(0, Math.floor((west - westM) / cellM));
    const c1 = Math.min(columns - 1, Math.floor((east - westM) / cellM));
    const r0 = Math.max(0, Math.floor((northM - north) / cellM));
    const r1 = Math.min(rows - 1, Math.floor((northM - south) / cellM));
    let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
    for (let r = r0; r <= r1; r++)
      for (let c = c0; c <= c1; c++) {
        const h = heightM[r * columns + c];
        if (h < low) low = h;
        if (h > high) high = h;
      }
    return high >= low ? [low, high] : undefined;
  }
}
