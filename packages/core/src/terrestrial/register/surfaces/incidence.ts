import { type ScanPatches } from './patches';
import { Voxels } from './voxels';

/** The way that a surface faces at a place of a scan, by the piece of a plane that it lies in. */
export class FacesAt {
  private readonly levels: Array<{ cells: Voxels; of: Int32Array }> = [];

  constructor(private readonly patches: ScanPatches) {
    const { count, at, sizeM } = patches;
    // pieces of one edge lie in cubes of that edge, one each
    for (const edgeM of [...new Set(sizeM)].sort((a, b) => a - b)) {
      const own = Array.from({ length: count }, (_, p) => p).filter((p) => sizeM[p] === edgeM);
      const column = (k: number) => Float64Array.from(own, (p) => at[3 * p + k]);
      const exact = Math.round(edgeM * 1e4) / 1e4;
      const cells = new Voxels(exact, own.length);
      cells.add(column(0), column(1), column(2));
      const of = new Int32Array(cells.count).fill(-1);
      for (const p of own) {
        const cell = cells.find(
          ...([0, 1, 2].map((k) => Math.floor(at[3 * p + k] / exact)) as [number, number, number]),
        );
        if (cell >= 0) of[cell] = p;
      }
      this.levels.push({ cells, of });
    }
  }

  /** Cosine of the angle between the ray from the origin and the surface's normal; NaN where no piece tells. */
  cosine(x: number, y: number, z: number): number {
    const { normal } = this.patches;
    for (const { cells, of } of this.levels) {
      const m = cells.cellM;
      const cell = cells.find(Math.floor(x / m), Math.floor(y / m), Math.floor(z / m));
      const p = cell < 0 ? -1 : 3 * of[cell];
      if (p < 0) continue;
      return Math.abs(x * normal[p] + y * normal[p + 1] + z * normal[p + 2]) / Math.sqrt(x * x + y * y + z * z);
    }
    return Number.NaN;
  }
}
