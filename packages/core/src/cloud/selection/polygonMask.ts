/** Cells across the longer side of a polygon's box. */
const CELLS = 256;
const OUT = 0;
const IN = 1;
const EDGE = 2;

/**
 * Whether points lie in a polygon (even-odd rule), by a grid of cells that are wholly in, wholly out, or crossed by an
 * edge: only in the last are the edges looked at. Millions of points a second whatever the number of corners.
 */
export class PolygonMask {
  readonly minX: number;
  readonly minY: number;
  readonly maxX: number;
  readonly maxY: number;
  private readonly cells: Uint8Array;
  private readonly columns: number;
  private readonly rows: number;
  private readonly perX: number;
  private readonly perY: number;

  /** @param xy corners one after the other, x and y; the last joins the first. */
  constructor(private readonly xy: ArrayLike<number>) {
    let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
    for (let i = 0; i < xy.length; i += 2) {
      minX = Math.min(minX, xy[i]);
      maxX = Math.max(maxX, xy[i]);
      minY = Math.min(minY, xy[i + 1]);
      maxY = Math.max(maxY, xy[i + 1]);
    }
    [this.minX, this.minY, this.maxX, this.maxY] = [minX, minY, maxX, maxY];
    const [w, h] = [Math.max(1e-12, maxX - minX), Math.max(1e-12, maxY - minY)];
    this.columns = Math.max(1, Math.min(CELLS, Math.ceil((CELLS * w) / Math.max(w, h))));
    this.rows = Math.max(1, Math.min(CELLS, Math.ceil((CELLS * h) / Math.max(w, h))));
    this.perX = this.columns / w;
    this.perY = this.rows / h;
    this.cells = new Uint8Array(this.columns * this.rows);
    this.markEdges();
    for (let r = 0; r < this.rows; r++)
      for (let c = 0; c < this.columns; c++) {
        const k = r * this.columns + c;
        if (this.cells[k] === OUT && this.crossings(minX + (c + 0.5) / this.perX, minY + (r + 0.5) / this.perY))
          this.cells[k] = IN;
      }
  }

  private markEdges(): void {
    const { xy, columns, rows } = this;
    const n = xy.length / 2;
    const cell = (v: number, most: number) => Math.max(0, Math.min(most - 1, Math.floor(v)));
    for (let i = 0; i < n; i++) {
      const j = (i + 1) % n;
      let [x0, y0] = [(xy[2 * i] - this.minX) * this.perX, (xy[2 * i + 1] - this.minY) * this.perY];
      let [x1, y1] = [(xy[2 * j] - this.minX) * this.perX, (xy[2 * j + 1] - this.minY) * this.perY];
      if (y0 > y1) [x0, y0, x1, y1] = [x1, y1, x0, y0];
      // a hair wider than it is: corners of cells must not be missed by rounding
      const hair = 1e-9 * CELLS;
      for (let r = cell(y0 - hair, rows); r <= cell(y1 + hair, rows); r++) {
        const at = (y: number) => (y1 - y0 < 1e-15 ? x0 : x0 + ((x1 - x0) * (y - y0)) / (y1 - y0));
        const [a, b] = y1 - y0 < 1e-15 ? [x0, x1] : [at(Math.max(y0, r)), at(Math.min(y1, r + 1))];
        const [low, high] = [cell(Math.min(a, b) - hair, columns), cell(Math.max(a, b) + hair, columns)];
        this.cells.fill(EDGE, r * columns + low, r * columns + high + 1);
      }
    }
  }

  private crossings(x: number, y: number): boolean {
    const { xy } = this;
    let inside = false;
    for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
      const [xi, yi, xj, yj] = [xy[i], xy[i + 1], xy[j], xy[j + 1]];
      if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) inside = !inside;
    }
    return inside;
  }

  has(x: number, y: number): boolean {
    if (!(x >= this.minX && x <= this.maxX && y >= this.minY && y <= this.maxY)) return false;
    const c = Math.min(this.columns - 1, ((x - this.minX) * this.perX) | 0);
    const r = Math.min(this.rows - 1, ((y - this.minY) * this.perY) | 0);
    const state = this.cells[r * this.columns + c];
    return state === EDGE ? this.crossings(x, y) : state === IN;
  }
}
