import { extremes } from '../numeric/statistics';

/** No more blocks than this: larger clouds have larger blocks. */
const MAX_BLOCKS = 4_000_000;
/** Points in a cell, about. */
const POINTS_A_CELL = 3;
/** Cells along the side of a block at most. */
const FINEST = 128;

/**
 * Points sorted in plan for neighbours in space: square blocks, each cut into as many cells as its points ask for, so
 * that a road of a thousand points a square metre and the thin rim of the same cloud both hold about three a cell.
 * Points lie in the order of their cells as 32-bit coordinates about the cloud's south-west, low corner: neighbours in
 * plan are neighbours in memory. "Place" is a position in this order.
 */
export class PlanIndex {
  /** The point at each place. */
  readonly order: Int32Array;
  readonly x: Float32Array;
  readonly y: Float32Array;
  readonly z: Float32Array;
  private readonly blockM: number;
  private readonly columns: number;
  private readonly rows: number;
  /** Cells along the side of each block, and its first cell. */
  private readonly cut: Uint8Array;
  private readonly firstCell: Int32Array;
  private readonly start: Int32Array;
  private runs = new Int32Array(1024);

  /** @param x, y, z metres, all finite. @param blockM edge of a block, metres. */
  constructor(x: Float64Array, y: Float64Array, z: Float64Array, blockM = 4) {
    const n = x.length;
    const [minX, maxX] = extremes(x);
    const [minY, maxY] = extremes(y);
    const [minZ] = extremes(z);
    while (((maxX - minX) / blockM + 1) * ((maxY - minY) / blockM + 1) > MAX_BLOCKS) blockM *= 2;
    this.blockM = blockM;
    const columns = (this.columns = n ? Math.floor((maxX - minX) / blockM) + 1 : 0);
    const rows = (this.rows = n ? Math.floor((maxY - minY) / blockM) + 1 : 0);
    const inBlock = new Int32Array(columns * rows);
    for (let i = 0; i < n; i++)
      inBlock[Math.floor((y[i] - minY) / blockM) * columns + Math.floor((x[i] - minX) / blockM)]++;
    this.cut = new Uint8Array(columns * rows);
    this.firstCell = new Int32Array(columns * rows);
    let cells = 0;
    for (let b = 0; b < inBlock.length; b++) {
      const cut = Math.max(1, Math.min(FINEST, Math.round(Math.sqrt(inBlock[b] / POINTS_A_CELL))));
      this.cut[b] = cut;
      this.firstCell[b] = cells;
      cells += cut * cut;
    }
    const cellOf = new Int32Array(n);
    const start = (this.start = new Int32Array(cells + 1));
    for (let i = 0; i < n; i++) {
      const u = (x[i] - minX) / blockM;
      const v = (y[i] - minY) / blockM;
      const c = Math.floor(u);
      const r = Math.floor(v);
      const b = r * columns + c;
      const cut = this.cut[b];
      const cell = this.firstCell[b] + Math.floor((v - r) * cut) * cut + Math.floor((u - c) * cut);
      cellOf[i] = cell;
      start[cell + 1]++;
    }
    for (let c = 0; c < cells; c++) start[c + 1] += start[c];
    this.order = new Int32Array(n);
    this.x = new Float32Array(n);
    this.y = new Float32Array(n);
    this.z = new Float32Array(n);
    const fill = start.slice(0, cells);
    for (let i = 0; i < n; i++) {
      const at = fill[cellOf[i]]++;
      this.order[at] = i;
      this.x[at] = x[i] - minX;
      this.y[at] = y[i] - minY;
      this.z[at] = z[i] - minZ;
    }
  }

  /** Points a square metre in the block of a place. */
  densityAt(place: number): number {
    const b = Math.floor(this.y[place] / this.blockM) * this.columns + Math.floor(this.x[place] / this.blockM);
    const next = b + 1 < this.firstCell.length ? this.firstCell[b + 1] : this.start.length - 1;
    return (this.start[next] - this.start[this.firstCell[b]]) / (this.blockM * this.blockM);
  }

  /**
   * Whether at least `k` other points lie within `farM` of a place; stops counting when they do.
   * @param inPlan counts by distance in plan.
   */
  hasNear(place: number, k: number, farM: number, inPlan = false): boolean {
    const { x, y, z } = this;
    const px = x[place];
    const py = y[place];
    const pz = z[place];
    const rise = inPlan ? 0 : 1;
    const squared = farM * farM;
    let left = k;
    const count = this.runsWithin(px, py, farM);
    const runs = this.runs;
    for (let run = 0; run < count; run += 2) {
      const to = runs[run + 1];
      for (let j = runs[run]; j < to; j++) {
        const dx = x[j] - px;
        const dy = y[j] - py;
        const dz = rise * (z[j] - pz);
        if (dx * dx + dy * dy + dz * dz <= squared && j !== place && --left === 0) return true;
      }
    }
    return false;
  }

  /**
   * The nearest other points of a place within `farM`, by distance in space: squared distances ascending and places.
   * @returns how many were found, at most k.
   */
  nearest(place: number, k: number, farM: number, outSquared: Float64Array, outPlace: Int32Array): number {
    const { x, y, z } = this;
    const px = x[place];
    const py = y[place];
    const pz = z[place];
    let found = 0;
    let limit = farM * farM;
    const count = this.runsWithin(px, py, farM);
    const runs = this.runs;
    for (let run = 0; run < count; run += 2) {
      const to = runs[run + 1];
      for (let j = runs[run]; j < to; j++) {
        const dx = x[j] - px;
        const dy = y[j] - py;
        const dz = z[j] - pz;
        const squared = dx * dx + dy * dy + dz * dz;
        if (squared > limit || j === place) continue;
        let at = found < k ? found++ : k - 1;
        while (at > 0 && outSquared[at - 1] > squared) {
          outSquared[at] = outSquared[at - 1];
          outPlace[at] = outPlace[at - 1];
          at--;
        }
        outSquared[at] = squared;
        outPlace[at] = j;
        if (found === k) limit = outSquared[k - 1];
      }
    }
    return found;
  }

  /** Fills `runs` with first and last places of the cells that touch a square window. @returns entries filled. */
  private runsWithin(px: number, py: number, farM: number): number {
    const { blockM, columns, rows, cut, firstCell, start } = this;
    const west = (px - farM) / blockM;
    const east = (px + farM) / blockM;
    const south = (py - farM) / blockM;
    const north = (py + farM) / blockM;
    const c0 = Math.max(0, Math.floor(west));
    const c1 = Math.min(columns - 1, Math.floor(east));
    const r0 = Math.max(0, Math.floor(south));
    const r1 = Math.min(rows - 1, Math.floor(north));
    let count = 0;
    for (let r = r0; r <= r1; r++)
      for (let c = c0; c <= c1; c++) {
        const b = r * columns + c;
        const n = cut[b];
        const u0 = Math.max(0, Math.floor((west - c) * n));
        const u1 = Math.min(n - 1, Math.floor((east - c) * n));
        const v0 = Math.max(0, Math.floor((south - r) * n));
        const v1 = Math.min(n - 1, Math.floor((north - r) * n));
        if (count + 2 * (v1 - v0 + 1) > this.runs.length) this.widen(count + 2 * FINEST);
        const runs = this.runs;
        for (let v = v0, row = firstCell[b] + v0 * n; v <= v1; v++, row += n) {
          const from = start[row + u0];
          const to = start[row + u1 + 1];
          if (from === to) continue;
          runs[count++] = from;
          runs[count++] = to;
        }
      }
    return count;
  }

  private widen(least: number): void {
    const wider = new Int32Array(2 * Math.max(least, this.runs.length));
    wider.set(this.runs);
    this.runs = wider;
  }
}
