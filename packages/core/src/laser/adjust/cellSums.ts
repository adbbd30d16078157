import { moreFloats, moreInts } from '../../numeric/grown';

/** Numbers kept of one piece in one cell: count, three sums, six products, sum of times. */
const WIDTH = 11;
const EMPTY = -1;

/**
 * Sums of points by square cell in plan and by piece (one line seen by one head): all that planes need, in one reading of
 * any number of points. Coordinates are kept about the middle of the cell and the height of its first point, so that
 * products lose nothing. Cells are found by their two numbers in an open table; pieces of a cell hang on a chain.
 */
export class CellSums {
  cells = 0;
  entries = 0;
  /** Number of each cell, east and north of the origin. */
  column = new Int32Array(1 << 12);
  row = new Int32Array(1 << 12);
  /** Height about which the products of a cell are kept. */
  baseM = new Float64Array(1 << 12);
  firstEntry = new Int32Array(1 << 12);
  piece = new Int32Array(1 << 13);
  next = new Int32Array(1 << 13);
  sums = new Float64Array(WIDTH * (1 << 13));
  private table = new Int32Array(1 << 14).fill(EMPTY);
  private mask = (1 << 14) - 1;
  private lastCell = EMPTY;
  private lastColumn = 0;
  private lastRow = 0;

  /** @param cellM edge of a cell, metres. @param originE, originN south-west corner of cell (0, 0). */
  constructor(
    readonly cellM: number,
    readonly originE: number,
    readonly originN: number,
  ) {}

  /** Adds one point of a piece. @param timeS about any origin that all points share. */
  add(piece: number, eastingM: number, northingM: number, heightM: number, timeS: number): void {
    const u = (eastingM - this.originE) / this.cellM;
    const v = (northingM - this.originN) / this.cellM;
    const column = Math.floor(u);
    const row = Math.floor(v);
    const cell =
      this.lastCell !== EMPTY && column === this.lastColumn && row === this.lastRow
        ? this.lastCell
        : this.cellAt(column, row, heightM);
    let entry = this.firstEntry[cell];
    while (entry !== EMPTY && this.piece[entry] !== piece) entry = this.next[entry];
    if (entry === EMPTY) entry = this.newEntry(cell, piece);
    const x = (u - column - 0.5) * this.cellM;
    const y = (v - row - 0.5) * this.cellM;
    const z = heightM - this.baseM[cell];
    const s = this.sums;
    const at = WIDTH * entry;
    s[at]++;
    s[at + 1] += x;
    s[at + 2] += y;
    s[at + 3] += z;
    s[at + 4] += x * x;
    s[at + 5] += x * y;
    s[at + 6] += x * z;
    s[at + 7] += y * y;
    s[at + 8] += y * z;
    s[at + 9] += z * z;
    s[at + 10] += timeS;
  }

  /**
   * The mean of an entry about its cell's middle and base, its mean time, and its products about the mean, undivided.
   * @param out count, x, y, z, time, xx, xy, xz, yy, yz, zz.
   */
  read(entry: number, out: Float64Array): void {
    const s = this.sums;
    const at = WIDTH * entry;
    const n = s[at];
    const [x, y, z] = [s[at + 1] / n, s[at + 2] / n, s[at + 3] / n];
    out[0] = n;
    out[1] = x;
    out[2] = y;
    out[3] = z;
    out[4] = s[at + 10] / n;
    out[5] = s[at + 4] - n * x * x;
    out[6] = s[at + 5] - n * x * y;
    out[7] = s[at + 6] - n * x * z;
    out[8] = s[at + 7] - n * y * y;
    out[9] = s[at + 8] - n * y * z;
    out[10] = s[at + 9] - n * z * z;
  }

  private cellAt(column: number, row: number, heightM: number): number {
    let slot = hash(column, row) & this.mask;
    for (;;) {
      const cell = this.table[slot];
      if (cell === EMPTY) break;
      if (this.column[cell] === column && this.row[cell] === row) return this.keep(cell, column, row);
      slot = (slot + 1) & this.mask;
    }
    if (this.cells === this.column.length) {
      this.column = moreInts(this.column, 2 * this.cells);
      this.row = moreInts(this.row, 2 * this.cells);
      this.baseM = moreFloats(this.baseM, 2 * this.cells);
      this.firstEntry = moreInts(this.firstEntry, 2 * this.cells);
    }
    const cell = this.cells++;
    this.column[cell] = column;
    this.row[cell] = row;
    this.baseM[cell] = heightM;
    this.firstEntry[cell] = EMPTY;
    this.table[slot] = cell;
    if (2 * this.cells > this.table.length) this.widen();
    return this.keep(cell, column, row);
  }

  private keep(cell: number, column: number, row: number): number {
    this.lastCell = cell;
    this.lastColumn = column;
    this.lastRow = row;
    return cell;
  }

  private newEntry(cell: number, piece: number): number {
    if (this.entries === this.piece.length) {
      this.piece = moreInts(this.piece, 2 * this.entries);
      this.next = moreInts(this.next, 2 * this.entries);
      this.sums = moreFloats(this.sums, 2 * WIDTH * this.entries);
    }
    const entry = this.entries++;
    this.piece[entry] = piece;
    this.next[entry] = this.firstEntry[cell];
    this.firstEntry[cell] = entry;
    return entry;
  }

  private widen(): void {
    const size = 2 * this.table.length;
    this.mask = size - 1;
    this.table = new Int32Array(size).fill(EMPTY);
    for (let cell = 0; cell < this.cells; cell++) {
      let slot = hash(this.column[cell], this.row[cell]) & this.mask;
      while (this.table[slot] !== EMPTY) slot = (slot + 1) & this.mask;
      this.table[slot] = cell;
    }
  }
}

function hash(column: number, row: number): number {
  const h = Math.imul(column, 0x9e3779b1) ^ Math.imul(row, 0x85ebca77);
  return h ^ (h >>> 15);
}
