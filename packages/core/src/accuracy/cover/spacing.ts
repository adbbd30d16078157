import { quantileOfSorted } from '../../numeric/statistics';
import { type CoverageGrid } from './grid';

/** Distances compared at most. */
const MAX_COMPARED = 3e8;
const MAX_CELLS = 120;
const MAX_POINTS = 250;

/** Collects the points of sampled cells and of those around them, and says how far points lie from each other. */
export class SpacingSample {
  /** 2 for sampled cells, 1 for their neighbours. */
  private readonly wanted: Uint8Array;
  private readonly points = new Map<number, number[]>();

  /** @param count points of each cell. */
  constructor(
    private readonly grid: CoverageGrid,
    count: Uint32Array,
    area: Uint8Array,
  ) {
    const { columns, rows } = grid;
    this.wanted = new Uint8Array(columns * rows);
    const filled: number[] = [];
    for (let k = 0; k < count.length; k++) if (area[k] && count[k] > 1) filled.push(k);
    const step = Math.max(1, filled.length / MAX_CELLS);
    for (let i = 0; i < filled.length; i += step) {
      const k = filled[Math.floor(i)];
      for (const n of this.around(k)) this.wanted[n] = Math.max(1, this.wanted[n]);
      this.wanted[k] = 2;
    }
  }

  private around(k: number): number[] {
    const { columns, rows } = this.grid;
    const [r, c] = [Math.floor(k / columns), k % columns];
    const out: number[] = [];
    for (let y = Math.max(0, r - 1); y <= Math.min(rows - 1, r + 1); y++)
      for (let x = Math.max(0, c - 1); x <= Math.min(columns - 1, c + 1); x++) out.push(y * columns + x);
    return out;
  }

  /** @param cell of the point, −1 beyond the grid. */
  add(cell: number, x: number, y: number, z: number): void {
    if (cell < 0 || !this.wanted[cell]) return;
    const list = this.points.get(cell);
    if (list) list.push(x, y, z);
    else this.points.set(cell, [x, y, z]);
  }

  /** Distance from a point to its nearest in space, metres: median and 95 of 100; those alone in a cell's width are left out. */
  finish(): { points: number; medianM: number; p95M: number } {
    const centres = [...this.wanted.keys()].filter((k) => this.wanted[k] === 2 && this.points.has(k));
    const work = centres.map((k) => {
      const near = this.around(k).flatMap((n) => this.points.get(n) ?? []);
      return { own: this.points.get(k)!, near: Float64Array.from(near) };
    });
    const all = work.reduce((s, w) => s + (w.near.length / 3) * Math.min(MAX_POINTS, w.own.length / 3), 0);
    const thin = Math.min(1, MAX_COMPARED / Math.max(1, all));
    const found: number[] = [];
    const most = this.grid.cellM ** 2;
    for (const { own, near } of work) {
      const n = own.length / 3;
      const wanted = Math.max(1, Math.floor(thin * Math.min(MAX_POINTS, n)));
      for (let i = 0; i < wanted; i++) {
        const o = 3 * Math.floor((i * n) / wanted);
        const [x, y, z] = [own[o], own[o + 1], own[o + 2]];
        let [least, self] = [Infinity, false];
        for (let j = 0; j < near.length; j += 3) {
          const d = (near[j] - x) ** 2 + (near[j + 1] - y) ** 2 + (near[j + 2] - z) ** 2;
          if (d === 0 && !self) self = true;
          else if (d < least) least = d;
        }
        if (least <= most) found.push(Math.sqrt(least));
      }
    }
    const sorted = Float64Array.from(found).sort();
    const at = (q: number) => (sorted.length ? quantileOfSorted(sorted, q) : Number.NaN);
    return { points: sorted.length, medianM: at(0.5), p95M: at(0.95) };
  }
}
