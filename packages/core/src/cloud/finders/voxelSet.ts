import { type PointSet } from '../points';

/** Occupied cubes over points: numbered, with the cube of each point and the points in each. */
export class VoxelSet {
  /** Number of the cube of each point; −1 for those left out. */
  readonly of: Int32Array;
  /** Place of each cube, in cubes from the lowest corner. */
  readonly at: Int32Array;
  readonly points: Int32Array;
  readonly count: number;
  private readonly table: Int32Array;
  private readonly mask: number;

  /** @param skip 1 for points to leave out. */
  constructor(set: PointSet, skip: Uint8Array, edgeM: number) {
    const n = set.count;
    const low = [Infinity, Infinity, Infinity];
    for (let i = 0; i < n; i++) {
      if (skip[i]) continue;
      if (set.x[i] < low[0]) low[0] = set.x[i];
      if (set.y[i] < low[1]) low[1] = set.y[i];
      if (set.z[i] < low[2]) low[2] = set.z[i];
    }
    let size = 1024;
    while (size < 1.5 * n) size *= 2;
    this.mask = size - 1;
    this.table = new Int32Array(size).fill(-1);
    this.of = new Int32Array(n).fill(-1);
    let at = new Int32Array(3 * 1024);
    let points = new Int32Array(1024);
    let count = 0;
    for (let i = 0; i < n; i++) {
      if (skip[i]) continue;
      const ix = Math.floor((set.x[i] - low[0]) / edgeM);
      const iy = Math.floor((set.y[i] - low[1]) / edgeM);
      const iz = Math.floor((set.z[i] - low[2]) / edgeM);
      let s = hash(ix, iy, iz) & this.mask;
      let v: number;
      for (;;) {
        v = this.table[s];
        if (v < 0 || (at[3 * v] === ix && at[3 * v + 1] === iy && at[3 * v + 2] === iz)) break;
        s = (s + 1) & this.mask;
      }
      if (v < 0) {
        v = this.table[s] = count++;
        if (count > points.length) [at, points] = [grown(at), grown(points)];
        at[3 * v] = ix;
        at[3 * v + 1] = iy;
        at[3 * v + 2] = iz;
      }
      this.of[i] = v;
      points[v]++;
    }
    this.at = at.subarray(0, 3 * count);
    this.points = points.subarray(0, count);
    this.count = count;
  }

  /** Number of the cube at a place; −1 where there is none. */
  find(ix: number, iy: number, iz: number): number {
    let s = hash(ix, iy, iz) & this.mask;
    for (;;) {
      const v = this.table[s];
      if (v < 0) return -1;
      if (this.at[3 * v] === ix && this.at[3 * v + 1] === iy && this.at[3 * v + 2] === iz) return v;
      s = (s + 1) & this.mask;
    }
  }
}

function hash(ix: number, iy: number, iz: number): number {
  const h = Math.imul(ix, 73856093) ^ Math.imul(iy, 19349663) ^ Math.imul(iz, 83492791);
  return (h ^ (h >>> 15)) >>> 0;
}

function grown(a: Int32Array<ArrayBuffer>): Int32Array<ArrayBuffer> {
  const out = new Int32Array(2 * a.length);
  out.set(a);
  return out;
}
