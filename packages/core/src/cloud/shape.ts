import { symmetricEigen } from '../numeric/eigen';
import { VoxelIndex } from './voxels';

/** Values in descending order and directions, as rows, of the covariance of a neighbourhood. */
export interface Neighbourhood3 {
  values: Float64Array;
  vectors: Float64Array[];
  mean: [number, number, number];
  /** Points, the one asked for counted in. */
  count: number;
}

/** The shape of the nearest neighbours of points within a radius (Weinmann 2015). */
export class NeighbourShapes {
  private readonly index: VoxelIndex;
  private readonly squared: Float64Array;
  private readonly ids: Int32Array;
  private readonly c = new Float64Array(9);

  /** @param most neighbours looked at. @param fewest with fewer there is no shape. */
  constructor(
    private readonly p: { x: Float64Array; y: Float64Array; z: Float64Array },
    private readonly radiusM: number,
    private readonly most: number,
    private readonly fewest: number,
  ) {
    this.index = new VoxelIndex(p.x, p.y, p.z, radiusM / 2);
    this.squared = new Float64Array(most);
    this.ids = new Int32Array(most);
  }

  /** Of point `k` and its neighbours; undefined when they are too few or in one place. */
  at(k: number): Neighbourhood3 | undefined {
    const { p, ids, squared, c } = this;
    let n = this.index.nearest(k, this.most, 2, squared, ids);
    while (n > 0 && squared[n - 1] > this.radiusM ** 2) n--;
    if (n < this.fewest) return undefined;
    let [mx, my, mz] = [p.x[k], p.y[k], p.z[k]];
    for (let i = 0; i < n; i++) {
      mx += p.x[ids[i]];
      my += p.y[ids[i]];
      mz += p.z[ids[i]];
    }
    [mx, my, mz] = [mx / (n + 1), my / (n + 1), mz / (n + 1)];
    c.fill(0);
    for (let i = -1; i < n; i++) {
      const j = i < 0 ? k : ids[i];
      const [dx, dy, dz] = [p.x[j] - mx, p.y[j] - my, p.z[j] - mz];
      c[0] += dx * dx;
      c[1] += dx * dy;
      c[2] += dx * dz;
      c[4] += dy * dy;
      c[5] += dy * dz;
      c[8] += dz * dz;
    }
    [c[3], c[6], c[7]] = [c[1], c[2], c[5]];
    const found = symmetricEigen(c, 3);
    return found.values[0] > 0 ? { ...found, mean: [mx, my, mz], count: n + 1 } : undefined;
  }
}
