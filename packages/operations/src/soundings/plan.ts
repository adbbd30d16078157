import { emptyGrid, type HeightGrid } from '@longheron/core/surface';

/** Mean heights in squares, summed while soundings are reduced: a first look at the bed. */
export class PlanSums {
  private readonly cells = new Map<number, [sum: number, count: number]>();
  private readonly box = [Infinity, Infinity, -Infinity, -Infinity];

  constructor(readonly cellM: number) {}

  private static readonly STRIDE = 1 << 25;

  /** @param rejected 1: does not count. */
  add(eastingM: Float64Array, northingM: Float64Array, heightM: Float64Array, rejected: Uint8Array): void {
    const { cells, cellM, box } = this;
    for (let i = 0; i < eastingM.length; i++) {
      if (rejected[i] || Number.isNaN(heightM[i])) continue;
      const [c, r] = [Math.floor(eastingM[i] / cellM), Math.floor(northingM[i] / cellM)];
      const key = r * PlanSums.STRIDE + c;
      const cell = cells.get(key);
      if (cell) {
        cell[0] += heightM[i];
        cell[1]++;
        continue;
      }
      cells.set(key, [heightM[i], 1]);
      if (c < box[0]) box[0] = c;
      if (r < box[1]) box[1] = r;
      if (c > box[2]) box[2] = c;
      if (r > box[3]) box[3] = r;
    }
  }

  /** The squares as a grid. */
  grid(): HeightGrid {
    const { cells, cellM, box } = this;
    const half = cellM / 2;
    const [west, south, east, north] = box.map((v) => v * cellM + half);
    const grid = emptyGrid(west, south, east + half * 0.9, north + half * 0.9, cellM);
    const top = Math.round(grid.northM / cellM) - 1;
    const left = Math.round(grid.westM / cellM);
    for (const [key, [sum, count]] of cells) {
      const r = Math.floor(key / PlanSums.STRIDE);
      const c = key - r * PlanSums.STRIDE;
      grid.heightM[(top - r) * grid.columns + c - left] = sum / count;
    }
    return grid;
  }
}
