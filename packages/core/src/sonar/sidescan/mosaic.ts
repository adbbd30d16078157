import { emptyGrid, type HeightGrid } from '../../surface/grid';

/** What is seen where lines overlap. */
export const OVERLAPS = ['order', 'best', 'mean', 'power', 'strongest'] as const;
export type Overlap = (typeof OVERLAPS)[number];

/** One line of a mosaic in its cells: sums of what fell into them. */
export interface LineMosaic {
  /** Amplitude by the rule within the line (mean), NaN where there is nothing. */
  value: Float32Array;
  /** How well each cell was seen: angle and range. */
  worth: Float32Array;
}

/** Best seen between these angles from the vertical, degrees. */
const [BEST_FROM, BEST_TO] = [25, 68];

/** How well a place is seen: best aslant and near, worst under the head and far out. */
export function worthOf(angleDeg: number, rangeM: number, farthestM: number): number {
  const angle =
    angleDeg < BEST_FROM
      ? 0.1 + (0.9 * angleDeg) / BEST_FROM
      : angleDeg > BEST_TO
        ? Math.max(0.1, 1 - (angleDeg - BEST_TO) / 25)
        : 1;
  return angle * (1 - (0.6 * rangeM) / Math.max(1, farthestM));
}

/** Cells of a mosaic, line after line. */
export class Mosaic {
  readonly grid: HeightGrid;
  private readonly sum: Float64Array;
  private readonly weight: Float64Array;
  /** Of the line at hand. */
  private readonly own: Float32Array;
  private readonly ownCount: Uint32Array;
  private readonly ownWorth: Float32Array;
  private touched: Int32Array;
  private touchedCount = 0;

  /** @param box west, south, east, north. */
  constructor(
    box: readonly [number, number, number, number],
    cellM: number,
    private readonly overlap: Overlap,
  ) {
    this.grid = emptyGrid(box[0], box[1], box[2], box[3], cellM);
    const cells = this.grid.heightM.length;
    this.sum = new Float64Array(cells);
    this.weight = new Float64Array(cells);
    this.own = new Float32Array(cells);
    this.ownCount = new Uint32Array(cells);
    this.ownWorth = new Float32Array(cells);
    this.touched = new Int32Array(1 << 16);
  }

  /** Adds a sample of the line at hand. */
  put(e: number, n: number, amplitude: number, worth: number): void {
    const { grid } = this;
    const c = Math.floor((e - grid.westM) / grid.cellM);
    const r = Math.floor((grid.northM - n) / grid.cellM);
    if (c < 0 || r < 0 || c >= grid.columns || r >= grid.rows) return;
    const at = r * grid.columns + c;
    if (this.ownCount[at]++ === 0) {
      if (this.touchedCount === this.touched.length) {
        const more = new Int32Array(2 * this.touched.length);
        more.set(this.touched);
        this.touched = more;
      }
      this.touched[this.touchedCount++] = at;
      this.own[at] = amplitude;
      this.ownWorth[at] = worth;
    } else {
      this.own[at] += amplitude;
      if (worth > this.ownWorth[at]) this.ownWorth[at] = worth;
    }
  }

  /** The line at hand has ended; the next begins. Lines that come later lie on top where the order rules. */
  endLine(): void {
    const { sum, weight, own, ownCount, ownWorth, touched, overlap } = this;
    for (let k = 0; k < this.touchedCount; k++) {
      const at = touched[k];
      const a = Math.max(own[at] / ownCount[at], 1e-6);
      ownCount[at] = 0;
      if (overlap === 'order') {
        sum[at] = a;
        weight[at] = 1;
      } else if (overlap === 'strongest') {
        if (a > sum[at]) sum[at] = a;
        weight[at] = 1;
      } else if (overlap === 'best') {
        if (ownWorth[at] > weight[at]) {
          sum[at] = a;
          weight[at] = ownWorth[at];
        }
      } else {
        sum[at] += overlap === 'mean' ? Math.log(a) : a * a;
        weight[at]++;
      }
    }
    this.touchedCount = 0;
  }

  /** Amplitudes of all cells; NaN where there is nothing. */
  finish(): HeightGrid {
    const { grid, sum, weight, overlap } = this;
    for (let at = 0; at < sum.length; at++) {
      if (weight[at] === 0) continue;
      grid.heightM[at] =
        overlap === 'mean'
          ? Math.exp(sum[at] / weight[at])
          : overlap === 'power'
            ? Math.sqrt(sum[at] / weight[at])
            : sum[at];
    }
    return grid;
  }
}
