import { hillShade, type HeightGrid } from '@longheron/core/surface';
import { extremesOf, paintCells } from '../shared/raster';

/** Shaded relief tinted by height; empty cells are transparent. */
export function shadePicture(grid: HeightGrid): Promise<Buffer> {
  const shade = hillShade(grid);
  const [low, high] = extremesOf(grid);
  const from = [222, 229, 214];
  const to = [176, 150, 118];
  return paintCells(grid, (h, i) => {
    const u = (h - low) / Math.max(1e-6, high - low);
    const light = 0.35 + (0.75 * shade[i]) / 255;
    return [0, 1, 2].map((k) => (from[k] + (to[k] - from[k]) * u) * light);
  });
}

/** Height above ground: pale at the ground, dark green from 10 m. */
export function abovePicture(grid: HeightGrid): Promise<Buffer> {
  return paintCells(grid, (h) => {
    const u = Math.sqrt(Math.min(1, Math.max(0, h / 10)));
    return [238 - 213 * u, 240 - 155 * u, 228 - 158 * u];
  });
}
