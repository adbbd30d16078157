import { DEPTH_COLOURS } from '@longheron/contract/kinds/parts/soundings';
import { type DepthGrid } from '@longheron/core/sonar';
import { hillShade, type HeightGrid } from '@longheron/core/surface';
import { extremesOf, paintCells } from '../shared/raster';

const RAMP = DEPTH_COLOURS.map((c) => [1, 3, 5].map((k) => parseInt(c.slice(k, k + 2), 16)));

/** Colour on the ramp, 0 deepest, 1 shoalest. */
export function depthColour(u: number): [number, number, number] {
  const at = Math.min(RAMP.length - 1.0001, Math.max(0, u * (RAMP.length - 1)));
  const k = Math.floor(at);
  const f = at - k;
  return [0, 1, 2].map((c) => RAMP[k][c] + f * (RAMP[k + 1][c] - RAMP[k][c])) as [number, number, number];
}

/** Shaded bed, coloured by height; empty cells are transparent. */
export function depthPicture(grid: HeightGrid): Promise<Buffer> {
  const shade = hillShade(grid);
  const [low, high] = extremesOf(grid);
  return paintCells(grid, (h, i) => {
    const light = 0.45 + (0.65 * shade[i]) / 255;
    return depthColour((h - low) / Math.max(1e-6, high - low)).map((v) => v * light);
  });
}

/** Soundings a cell: one is red, ten and more are blue. */
export function countPicture({ grid, count }: DepthGrid): Promise<Buffer> {
  return paintCells(grid, (_h, i) => {
    if (!count[i]) return [205, 205, 205];
    const u = Math.min(1, Math.log10(count[i]));
    return [196 - 150 * u, 82 + 40 * u, 62 + 100 * u];
  });
}

/** Spread of the soundings of a cell: pale at none, dark at a quarter of a metre. */
export function spreadPicture({ grid, spreadM }: DepthGrid): Promise<Buffer> {
  return paintCells(grid, (_h, i) => {
    if (!Number.isFinite(spreadM[i])) return [205, 205, 205];
    const u = Math.sqrt(Math.min(1, spreadM[i] / 0.25));
    return [244 - 150 * u, 236 - 190 * u, 220 - 130 * u];
  });
}

/** Filled cells in orange on the others in grey. */
export function filledPicture({ grid, filled }: DepthGrid): Promise<Buffer> {
  return paintCells(grid, (_h, i) => (filled[i] ? [214, 122, 32] : [196, 203, 208]));
}
