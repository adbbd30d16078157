import { wayOf, type ScanPatches } from './patches';
import { Voxels } from './voxels';

/** Pieces by where they are, for those near a place. */
export class PatchIndex {
  private readonly voxels: Voxels;
  private readonly start: Int32Array;
  private readonly order: Int32Array;

  constructor(
    readonly patches: ScanPatches,
    readonly cellM: number,
  ) {
    const { count, at } = patches;
    this.voxels = new Voxels(cellM, count);
    const cellOf = new Int32Array(count);
    const v = this.voxels;
    const one = [0, 1, 2].map(() => new Float64Array(1));
    for (let p = 0; p < count; p++) {
      for (let k = 0; k < 3; k++) one[k][0] = at[3 * p + k];
      v.add(one[0], one[1], one[2]);
      cellOf[p] = v.find(
        Math.floor(at[3 * p] / cellM),
        Math.floor(at[3 * p + 1] / cellM),
        Math.floor(at[3 * p + 2] / cellM),
      );
    }
    this.start = new Int32Array(v.count + 1);
    for (let p = 0; p < count; p++) this.start[cellOf[p] + 1]++;
    for (let c = 0; c < v.count; c++) this.start[c + 1] += this.start[c];
    const fill = this.start.slice();
    this.order = new Int32Array(count);
    for (let p = 0; p < count; p++) this.order[fill[cellOf[p]]++] = p;
  }

  /**
   * The nearest piece whose normal agrees, within reach.
   * @param leastCos of the angle between the normals; where one of them does not tell the outside, either way round.
   * @param near set to 1 at 0 when any piece at all is within reach.
   * @returns its number, or −1.
   */
  nearest(
    x: number,
    y: number,
    z: number,
    normal: readonly number[],
    reachM: number,
    leastCos: number,
    eitherWay: boolean,
    near: Uint8Array,
  ): number {
    const { cellM, voxels, start, order } = this;
    const { at, normal: n } = this.patches;
    let best = -1;
    let least = reachM * reachM;
    near[0] = 0;
    const low = (v: number) => Math.floor((v - reachM) / cellM);
    const high = (v: number) => Math.floor((v + reachM) / cellM);
    const [i0, i1, j0, j1, k0, k1] = [low(x), high(x), low(y), high(y), low(z), high(z)];
    for (let i = i0; i <= i1; i++)
      for (let j = j0; j <= j1; j++)
        for (let k = k0; k <= k1; k++) {
          const cell = voxels.find(i, j, k);
          if (cell < 0) continue;
          for (let o = start[cell]; o < start[cell + 1]; o++) {
            const p = 3 * order[o];
            const d2 = (at[p] - x) ** 2 + (at[p + 1] - y) ** 2 + (at[p + 2] - z) ** 2;
            if (d2 >= reachM * reachM) continue;
            near[0] = 1;
            if (d2 >= least) continue;
            const cos = n[p] * normal[0] + n[p + 1] * normal[1] + n[p + 2] * normal[2];
            if ((eitherWay ? Math.abs(cos) : cos) < leastCos) continue;
            least = d2;
            best = order[o];
          }
        }
    return best;
  }
}

/** Numbers of at most `most` pieces, as many of each way that surfaces look as there are: small faces count as large ones. */
export function spreadChoice(patches: ScanPatches, most: number): Int32Array {
  const { count, normal } = patches;
  if (count <= most) return Int32Array.from({ length: count }, (_, p) => p);
  const bins = new Map<number, number[]>();
  for (let p = 0; p < count; p++) {
    const key = wayOf(normal, p);
    let bin = bins.get(key);
    if (!bin) bins.set(key, (bin = []));
    bin.push(p);
  }
  const out: number[] = [];
  const sorted = [...bins.values()].sort((a, b) => a.length - b.length);
  sorted.forEach((bin, k) => {
    const share = Math.min(bin.length, Math.floor((most - out.length) / (sorted.length - k)));
    for (let i = 0; i < share; i++) out.push(bin[Math.floor(((i + 0.5) * bin.length) / share)]);
  });
  return Int32Array.from(out);
}
