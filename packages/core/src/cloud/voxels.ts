/** A sparse grid of cubes over points: which points share a cube, by an open-addressed hash table. */
export class VoxelIndex {
  readonly edgeM: number;
  private readonly keys: Float64Array;
  private readonly mask: number;
  private readonly head: Int32Array;
  private readonly countOf: Int32Array;
  private readonly next: Int32Array;
  /** Slot of each point. */
  readonly slot: Int32Array;
  private readonly minX: number;
  private readonly minY: number;
  private readonly minZ: number;

  constructor(
    private readonly x: Float64Array,
    private readonly y: Float64Array,
    private readonly z: Float64Array,
    edgeM: number,
  ) {
    const n = x.length;
    this.edgeM = edgeM;
    let minX = Infinity,
      minY = Infinity,
      minZ = Infinity;
    for (let i = 0; i < n; i++) {
      if (x[i] < minX) minX = x[i];
      if (y[i] < minY) minY = y[i];
      if (z[i] < minZ) minZ = z[i];
    }
    this.minX = minX;
    this.minY = minY;
    this.minZ = minZ;
    let size = 1024;
    while (size < n * 1.4) size *= 2;
    this.mask = size - 1;
    this.keys = new Float64Array(size).fill(-1);
    this.head = new Int32Array(size).fill(-1);
    this.countOf = new Int32Array(size);
    this.next = new Int32Array(n);
    this.slot = new Int32Array(n);
    for (let i = 0; i < n; i++) {
      const s = this.find(this.cell(x[i], minX), this.cell(y[i], minY), this.cell(z[i], minZ), true);
      this.slot[i] = s;
      this.next[i] = this.head[s];
      this.head[s] = i;
      this.countOf[s]++;
    }
  }

  private cell(value: number, min: number): number {
    return Math.floor((value - min) / this.edgeM);
  }

  private find(ix: number, iy: number, iz: number, make: boolean): number {
    // 2^17 cubes a side: with a 0.3 m edge that is 39 km
    const key = (ix * 131072 + iy) * 131072 + iz;
    let s = (Math.imul(ix, 73856093) ^ Math.imul(iy, 19349663) ^ Math.imul(iz, 83492791)) >>> 0;
    s = (s ^ (s >>> 15)) & this.mask;
    for (;;) {
      const there = this.keys[s];
      if (there === key) return s;
      if (there === -1) {
        if (!make) return -1;
        this.keys[s] = key;
        return s;
      }
      s = (s + 1) & this.mask;
    }
  }

  /** Number of points in the cube of point i. */
  sharing(i: number): number {
    return this.countOf[this.slot[i]];
  }

  /**
   * Squared distances to the k nearest other points of point i, ascending, with their indices; looks at most
   * `rings` cubes away. Fewer than k are found when the place is that empty.
   * @returns how many were found.
   */
  nearest(i: number, k: number, rings: number, outSquared: Float64Array, outIndex: Int32Array): number {
    const px = this.x[i],
      py = this.y[i],
      pz = this.z[i];
    const cx = this.cell(px, this.minX),
      cy = this.cell(py, this.minY),
      cz = this.cell(pz, this.minZ);
    let found = 0;
    for (let ring = 0; ring <= rings; ring++) {
      // all within `ring − 1` cubes of the point have been seen: stop when the k-th is nearer than any unseen
      if (found === k && outSquared[k - 1] <= ((ring - 1) * this.edgeM) ** 2 && ring > 0) break;
      for (let dx = -ring; dx <= ring; dx++) {
        for (let dy = -ring; dy <= ring; dy++) {
          const shell = Math.abs(dx) === ring || Math.abs(dy) === ring;
          const step = shell || ring === 0 ? 1 : 2 * ring;
          for (let dz = -ring; dz <= ring; dz += step) {
            if (cx + dx < 0 || cy + dy < 0 || cz + dz < 0) continue;
            const s = this.find(cx + dx, cy + dy, cz + dz, false);
            if (s < 0) continue;
            for (let j = this.head[s]; j >= 0; j = this.next[j]) {
              if (j === i) continue;
              const ex = this.x[j] - px,
                ey = this.y[j] - py,
                ez = this.z[j] - pz;
              const squared = ex * ex + ey * ey + ez * ez;
              if (found === k && squared >= outSquared[k - 1]) continue;
              let at = found < k ? found++ : k - 1;
              while (at > 0 && outSquared[at - 1] > squared) {
                outSquared[at] = outSquared[at - 1];
                outIndex[at] = outIndex[at - 1];
                at--;
              }
              outSquared[at] = squared;
              outIndex[at] = j;
            }
          }
        }
      }
    }
    return found;
  }
}
