/** No point was seen there. */
const NOTHING = Number.POSITIVE_INFINITY;

/** So many cells of nine that are in front hide what lies between their points. */
const MAJORITY = 5;
/** Nearer by less than this, metres, cells are of one surface. */
const EVEN_M = 0.05;

/**
 * How near the nearest points of a picture are, by cells of some pixels. What lies behind the points of its own cell, or of
 * most of the cells about it, is hidden: a surface of scattered points has no holes to look through, and hides little beside
 * its edge.
 */
export class DepthMap {
  readonly columns: number;
  readonly rows: number;
  private readonly near: Float32Array;
  private reach: Float32Array | undefined;

  /** @param cellPx edge of a cell; no less than the distance of points in the picture. */
  constructor(
    widthPx: number,
    heightPx: number,
    readonly cellPx: number,
  ) {
    this.columns = Math.ceil(widthPx / cellPx);
    this.rows = Math.ceil(heightPx / cellPx);
    this.near = new Float32Array(this.columns * this.rows).fill(NOTHING);
  }

  /** Notes a point. @param u, v pixel. @param depthM along the view. */
  add(u: number, v: number, depthM: number): void {
    const k = this.cellOf(u, v);
    if (depthM < this.near[k]) this.near[k] = depthM;
  }

  private cellOf(u: number, v: number): number {
    const c = Math.min(this.columns - 1, Math.max(0, Math.floor((u + 0.5) / this.cellPx)));
    const r = Math.min(this.rows - 1, Math.max(0, Math.floor((v + 0.5) / this.cellPx)));
    return r * this.columns + c;
  }

  /**
   * Says how far away a point may lie and still be of the nearest surface: behind it by twice the change of depth from cell
   * to cell on the flatter side, so that edges count as such.
   */
  private finish(): Float32Array {
    const { columns, rows, near } = this;
    const out = new Float32Array(columns * rows);
    const side = (k: number, by: number, there: boolean) =>
      there && near[k + by] < NOTHING && near[k] < NOTHING ? Math.abs(near[k + by] - near[k]) : NOTHING;
    const flatter = (a: number, b: number) => {
      const least = Math.min(a, b);
      return least === NOTHING ? 0 : least;
    };
    const own = new Float32Array(columns * rows);
    for (let r = 0; r < rows; r++)
      for (let c = 0; c < columns; c++) {
        const k = r * columns + c;
        own[k] =
          flatter(side(k, -1, c > 0), side(k, 1, c + 1 < columns)) +
          flatter(side(k, -columns, r > 0), side(k, columns, r + 1 < rows));
      }
    for (let k = 0; k < own.length; k++) own[k] = near[k] + 2 * own[k];
    const limits = new Float32Array(9);
    for (let r = 0; r < rows; r++)
      for (let c = 0; c < columns; c++) {
        const k = r * columns + c;
        out[k] = own[k];
        if (r === 0 || c === 0 || r === rows - 1 || c === columns - 1) continue;
        // most cells have no such neighbours
        const before = own[k] - EVEN_M;
        let nearer = 0;
        for (let y = k - columns - 1; y <= k + columns - 1; y += columns)
          nearer += (own[y] < before ? 1 : 0) + (own[y + 1] < before ? 1 : 0) + (own[y + 2] < before ? 1 : 0);
        if (nearer < MAJORITY) continue;
        let n = 0;
        for (let y = k - columns - 1; y <= k + columns - 1; y += columns)
          for (let x = y; x < y + 3; x++) {
            const limit = own[x];
            let at = n++;
            for (; at > 0 && limits[at - 1] > limit; at--) limits[at] = limits[at - 1];
            limits[at] = limit;
          }
        out[k] = limits[MAJORITY - 1];
      }
    return out;
  }

  /** Whether something stands in front of a point. @param slackM what a surface scatters, and how far points stand apart. */
  hides(u: number, v: number, depthM: number, slackM: number): boolean {
    this.reach ??= this.finish();
    return depthM > this.reach[this.cellOf(u, v)] + slackM;
  }
}
