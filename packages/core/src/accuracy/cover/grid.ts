import { Problem } from '../../shared/problem';

/** More cells are not counted at once: about 80 bytes each. */
export const MAX_COVERAGE_CELLS = 4_000_000;

/** A square grid in plan about the cloud's origin, metres; rows go north. */
export interface CoverageGrid {
  cellM: number;
  minX: number;
  minY: number;
  columns: number;
  rows: number;
}

/** A grid over a rectangle, its corner at a whole number of cells. @throws Problem when it has too many cells. */
export function coverageGrid(box: [number, number, number, number], cellM: number): CoverageGrid {
  const minX = Math.floor(box[0] / cellM) * cellM;
  const minY = Math.floor(box[1] / cellM) * cellM;
  const columns = Math.floor((box[2] - minX) / cellM) + 1;
  const rows = Math.floor((box[3] - minY) / cellM) + 1;
  if (!(columns * rows <= MAX_COVERAGE_CELLS)) {
    const edge = Math.sqrt(((box[2] - minX) * (box[3] - minY)) / MAX_COVERAGE_CELLS);
    throw new Problem(`Cells of ${cellM} m make ${columns} by ${rows} of them, more than can be counted at once.`, {
      code: 'coverage-cells',
      remedy: `Take cells of ${(Math.ceil(edge * 20) / 20).toFixed(2)} m or more.`,
    });
  }
  return { cellM, minX, minY, columns, rows };
}

/** Sums a plane through the points of a cell is made of: n, x, y, z, xx, xy, yy, xz, yz, zz about the cell's middle. */
const SUMS = 9;

/** Counts points by cell as they stream by, with what the slope of their surface and their precision need. */
export class CoverageCounter {
  readonly count: Uint32Array;
  private readonly sums: Float64Array;
  private readonly variance: Float64Array;
  private readonly stated: Uint32Array;
  /** Points beyond the grid. */
  outside = 0;

  constructor(readonly grid: CoverageGrid) {
    const n = grid.columns * grid.rows;
    this.count = new Uint32Array(n);
    this.sums = new Float64Array(SUMS * n);
    this.variance = new Float64Array(n);
    this.stated = new Uint32Array(n);
  }

  /** Cell of a place; −1 beyond the grid. */
  cellAt(x: number, y: number): number {
    const { grid } = this;
    const c = Math.floor((x - grid.minX) / grid.cellM);
    const r = Math.floor((y - grid.minY) / grid.cellM);
    return c >= 0 && c < grid.columns && r >= 0 && r < grid.rows ? r * grid.columns + c : -1;
  }

  /** @param z height about the cloud's zero, metres. @param sdM 1 SD of its height, 0 where nothing is stated. */
  add(x: number, y: number, z: number, sdM: number): void {
    const k = this.cellAt(x, y);
    if (k < 0) {
      this.outside++;
      return;
    }
    const { grid, sums } = this;
    this.count[k]++;
    const dx = x - grid.minX - ((k % grid.columns) + 0.5) * grid.cellM;
    const dy = y - grid.minY - (Math.floor(k / grid.columns) + 0.5) * grid.cellM;
    const o = SUMS * k;
    sums[o] += dx;
    sums[o + 1] += dy;
    sums[o + 2] += z;
    sums[o + 3] += dx * dx;
    sums[o + 4] += dx * dy;
    sums[o + 5] += dy * dy;
    sums[o + 6] += dx * z;
    sums[o + 7] += dy * z;
    sums[o + 8] += z * z;
    if (sdM > 0) {
      this.stated[k]++;
      this.variance[k] += sdM * sdM;
    }
  }

  /** Root mean square of the stated deviations of a cell's points, metres; NaN where none is stated. */
  sdOf(k: number): number {
    return this.stated[k] ? Math.sqrt(this.variance[k] / this.stated[k]) : Number.NaN;
  }

  /**
   * Tangent of the slope of the least-squares plane through a cell's points, where these lie within `roughestM` (RMS) of
   * one; else 0: what is no surface has no slope.
   */
  slopeOf(k: number, roughestM: number): number {
    const n = this.count[k];
    if (n < 6) return 0;
    const s = this.sums.subarray(SUMS * k, SUMS * k + SUMS);
    const xx = s[3] - (s[0] * s[0]) / n;
    const xy = s[4] - (s[0] * s[1]) / n;
    const yy = s[5] - (s[1] * s[1]) / n;
    const xz = s[6] - (s[0] * s[2]) / n;
    const yz = s[7] - (s[1] * s[2]) / n;
    const zz = s[8] - (s[2] * s[2]) / n;
    const d = xx * yy - xy * xy;
    // points along a line say nothing of a slope across it
    if (!(d > 1e-3 * xx * yy)) return 0;
    const [a, b] = [(xz * yy - yz * xy) / d, (yz * xx - xz * xy) / d];
    const left = Math.max(0, zz - a * xz - b * yz);
    return Math.sqrt(left / (n - 3)) <= roughestM ? Math.hypot(a, b) : 0;
  }
}
