/** Cells across each side of a polygon's box. */
const CELLS = 256;
/** How a box lies to a shape. */
export type BoxState = 0 | 1 | 2;
export const OUTSIDE = 0;
export const INSIDE = 1;
export const MIXED = 2;

const OUT = 0;
const IN = 1;
const EDGE = 2;

/**
 * Whether points lie in a polygon (even-odd rule), by a grid of cells that are wholly in, wholly out, or crossed by an
 * edge: only in the last are edges looked at, and only those of the cell's row. Tens of millions of points a second,
 * whatever the number of corners.
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
  /** Edges by row of cells: those of row r are edges[edgesFrom[r]] … edges[edgesFrom[r + 1] − 1], by their first corner. */
  private readonly edgesFrom: Uint32Array;
  private readonly edges: Uint32Array;

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
    this.columns = this.rows = CELLS;
    this.perX = this.columns / w;
    this.perY = this.rows / h;
    this.cells = new Uint8Array(this.columns * this.rows);
    [this.edgesFrom, this.edges] = this.sortEdges();
    this.markEdges();
    for (let r = 0; r < this.rows; r++) {
      // between edges a row stays in or out
      let state = EDGE;
      for (let c = 0; c < this.columns; c++) {
        const k = r * this.columns + c;
        if (this.cells[k] === EDGE) state = EDGE;
        else {
          if (state === EDGE)
            state = this.crossings(r, minX + (c + 0.5) / this.perX, minY + (r + 0.5) / this.perY) ? IN : OUT;
          this.cells[k] = state;
        }
      }
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

  private rowOf(y: number): number {
    return Math.max(0, Math.min(this.rows - 1, Math.floor((y - this.minY) * this.perY)));
  }

  private sortEdges(): [Uint32Array, Uint32Array] {
    const { xy, rows } = this;
    const n = xy.length / 2;
    const from = new Uint32Array(rows + 1);
    const spans = Array.from({ length: n }, (_, i) => {
      const [a, b] = [xy[2 * i + 1], xy[2 * ((i + 1) % n) + 1]];
      return [this.rowOf(Math.min(a, b)), this.rowOf(Math.max(a, b))];
    });
    for (const [low, high] of spans) for (let r = low; r <= high; r++) from[r + 1]++;
    for (let r = 0; r < rows; r++) from[r + 1] += from[r];
    const edges = new Uint32Array(from[rows]);
    const next = from.slice();
    spans.forEach(([low, high], i) => {
      for (let r = low; r <= high; r++) edges[next[r]++] = i;
    });
    return [from, edges];
  }

  /** Whether a ray to the right crosses an odd number of edges. @param row that y lies in. */
  private crossings(row: number, x: number, y: number): boolean {
    const { xy, edges } = this;
    const end = this.edgesFrom[row + 1];
    let inside = false;
    for (let k = this.edgesFrom[row]; k < end; k++) {
      const i = 2 * edges[k];
      const j = i + 2 < xy.length ? i + 2 : 0;
      const yi = xy[i + 1];
      const yj = xy[j + 1];
      if (yi > y !== yj > y && x < ((xy[j] - xy[i]) * (y - yi)) / (yj - yi) + xy[i]) inside = !inside;
    }
    return inside;
  }

  has(x: number, y: number): boolean {
    if (!(x >= this.minX && x <= this.maxX && y >= this.minY && y <= this.maxY)) return false;
    const c = Math.min(this.columns - 1, ((x - this.minX) * this.perX) | 0);
    const r = Math.min(this.rows - 1, ((y - this.minY) * this.perY) | 0);
    const state = this.cells[r * this.columns + c];
    return state === EDGE ? this.crossings(r, x, y) : state === IN;
  }

  /** Whether a rectangle lies wholly outside or wholly inside; mixed where neither is sure. */
  boxState(minX: number, minY: number, maxX: number, maxY: number): BoxState {
    if (minX > this.maxX || maxX < this.minX || minY > this.maxY || maxY < this.minY) return OUTSIDE;
    const over = minX < this.minX || maxX > this.maxX || minY < this.minY || maxY > this.maxY;
    const column = (x: number) => Math.max(0, Math.min(this.columns - 1, Math.floor((x - this.minX) * this.perX)));
    const [c0, c1, r0, r1] = [column(minX), column(maxX), this.rowOf(minY), this.rowOf(maxY)];
    let [ins, outs] = [false, over];
    for (let r = r0; r <= r1; r++)
      for (let c = c0; c <= c1; c++) {
        const state = this.cells[r * this.columns + c];
        if (state === EDGE) return MIXED;
        if (state === IN) ins = true;
        else outs = true;
        if (ins && outs) return MIXED;
      }
    return ins ? INSIDE : OUTSIDE;
  }
}
