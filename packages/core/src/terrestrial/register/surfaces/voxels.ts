/** Numbers of one cell: count, means off its middle, and sums of products about the means (xx, xy, xz, yy, yz, zz). */
export const CELL_NUMBERS = 10;
/** Cells this far from the origin still have whole-number places that fit. */
const FARTHEST_CELLS = 1 << 20;

/** Points gathered in cubes of space: how many, where their middle is and how they spread, in one pass. */
export class Voxels {
  readonly cellM: number;
  count = 0;
  /** Places of cells, whole numbers along x, y, z. */
  place: Int32Array;
  /** Per cell: points, Σx, Σy, Σz about the cell's middle, Σxx, Σxy, Σxz, Σyy, Σyz, Σzz. */
  sums: Float64Array;
  /** Points that no cell could take: not finite, or out of reach. */
  strange = 0;
  private slots: Int32Array;
  private last = -1;

  constructor(cellM: number, expected = 4096) {
    this.cellM = cellM;
    let size = 1024;
    while (size < 2 * expected) size *= 2;
    this.slots = new Int32Array(size).fill(-1);
    this.place = new Int32Array(3 * (size >> 1));
    this.sums = new Float64Array(CELL_NUMBERS * (size >> 1));
  }

  /** Number of a cell, or −1 where it holds nothing. */
  find(i: number, j: number, k: number): number {
    const mask = this.slots.length - 1;
    for (let slot = hash(i, j, k) & mask; ; slot = (slot + 1) & mask) {
      const cell = this.slots[slot];
      if (cell < 0 || this.is(cell, i, j, k)) return cell;
    }
  }

  private is(cell: number, i: number, j: number, k: number): boolean {
    const p = this.place;
    return p[3 * cell] === i && p[3 * cell + 1] === j && p[3 * cell + 2] === k;
  }

  private cellAt(i: number, j: number, k: number): number {
    const { last } = this;
    if (last >= 0 && this.is(last, i, j, k)) return last;
    const mask = this.slots.length - 1;
    let slot = hash(i, j, k) & mask;
    for (; this.slots[slot] >= 0; slot = (slot + 1) & mask)
      if (this.is(this.slots[slot], i, j, k)) return (this.last = this.slots[slot]);
    const cell = this.count++;
    this.slots[slot] = cell;
    this.place[3 * cell] = i;
    this.place[3 * cell + 1] = j;
    this.place[3 * cell + 2] = k;
    if (2 * this.count >= this.slots.length) this.grow();
    return (this.last = cell);
  }

  private grow(): void {
    const slots = new Int32Array(2 * this.slots.length).fill(-1);
    const mask = slots.length - 1;
    const p = this.place;
    for (let cell = 0; cell < this.count; cell++) {
      let slot = hash(p[3 * cell], p[3 * cell + 1], p[3 * cell + 2]) & mask;
      while (slots[slot] >= 0) slot = (slot + 1) & mask;
      slots[slot] = cell;
    }
    this.slots = slots;
    const place = new Int32Array(3 * (slots.length >> 1));
    place.set(p.subarray(0, 3 * this.count));
    this.place = place;
    const sums = new Float64Array(CELL_NUMBERS * (slots.length >> 1));
    sums.set(this.sums.subarray(0, CELL_NUMBERS * this.count));
    this.sums = sums;
  }

  /** Takes in points, metres. */
  add(x: Float64Array, y: Float64Array, z: Float64Array, count = x.length, metresPer = 1): void {
    const { cellM } = this;
    const per = metresPer / cellM;
    for (let n = 0; n < count; n++) {
      const [u, v, w] = [x[n] * per, y[n] * per, z[n] * per];
      const i = Math.floor(u);
      const j = Math.floor(v);
      const k = Math.floor(w);
      if (!(Math.abs(i) < FARTHEST_CELLS && Math.abs(j) < FARTHEST_CELLS && Math.abs(k) < FARTHEST_CELLS)) {
        this.strange++;
        continue;
      }
      const at = CELL_NUMBERS * this.cellAt(i, j, k);
      const dx = (u - i - 0.5) * cellM;
      const dy = (v - j - 0.5) * cellM;
      const dz = (w - k - 0.5) * cellM;
      const s = this.sums;
      s[at]++;
      s[at + 1] += dx;
      s[at + 2] += dy;
      s[at + 3] += dz;
      s[at + 4] += dx * dx;
      s[at + 5] += dx * dy;
      s[at + 6] += dx * dz;
      s[at + 7] += dy * dy;
      s[at + 8] += dy * dz;
      s[at + 9] += dz * dz;
    }
  }

  /** Adds the numbers of cell `from` of cells half as large to the cell that holds it. */
  takeIn(from: Voxels, cell: number): void {
    const p = from.place;
    const [i, j, k] = [p[3 * cell], p[3 * cell + 1], p[3 * cell + 2]];
    const at = CELL_NUMBERS * this.cellAt(i >> 1, j >> 1, k >> 1);
    const s = this.sums;
    const f = from.sums;
    const g = CELL_NUMBERS * cell;
    // middle of the small cell off that of the large one
    const mx = ((i & 1) - 0.5) * from.cellM;
    const my = ((j & 1) - 0.5) * from.cellM;
    const mz = ((k & 1) - 0.5) * from.cellM;
    const n = f[g];
    const [sx, sy, sz] = [f[g + 1], f[g + 2], f[g + 3]];
    s[at] += n;
    s[at + 1] += sx + n * mx;
    s[at + 2] += sy + n * my;
    s[at + 3] += sz + n * mz;
    s[at + 4] += f[g + 4] + 2 * mx * sx + n * mx * mx;
    s[at + 5] += f[g + 5] + mx * sy + my * sx + n * mx * my;
    s[at + 6] += f[g + 6] + mx * sz + mz * sx + n * mx * mz;
    s[at + 7] += f[g + 7] + 2 * my * sy + n * my * my;
    s[at + 8] += f[g + 8] + my * sz + mz * sy + n * my * mz;
    s[at + 9] += f[g + 9] + 2 * mz * sz + n * mz * mz;
  }

  /** Reads a cell: points, mean in metres of the frame, and the six sums of products about the mean. */
  read(cell: number, out: Float64Array): void {
    const { sums: s, place: p, cellM } = this;
    const at = CELL_NUMBERS * cell;
    const n = s[at];
    const [x, y, z] = [s[at + 1] / n, s[at + 2] / n, s[at + 3] / n];
    out[0] = n;
    out[1] = (p[3 * cell] + 0.5) * cellM + x;
    out[2] = (p[3 * cell + 1] + 0.5) * cellM + y;
    out[3] = (p[3 * cell + 2] + 0.5) * cellM + z;
    out[4] = s[at + 4] - n * x * x;
    out[5] = s[at + 5] - n * x * y;
    out[6] = s[at + 6] - n * x * z;
    out[7] = s[at + 7] - n * y * y;
    out[8] = s[at + 8] - n * y * z;
    out[9] = s[at + 9] - n * z * z;
  }

  /** Cells twice as large. */
  doubled(): Voxels {
    const out = new Voxels(2 * this.cellM, this.count >> 2);
    for (let cell = 0; cell < this.count; cell++) out.takeIn(this, cell);
    return out;
  }
}

function hash(i: number, j: number, k: number): number {
  let h = Math.imul(i, 0x9e3779b1) ^ Math.imul(j, 0x85ebca6b) ^ Math.imul(k, 0xc2b2ae35);
  h ^= h >>> 15;
  h = Math.imul(h, 0x2c1b3c6d);
  return h ^ (h >>> 13);
}
