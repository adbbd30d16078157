import sharp from 'sharp';
import { hillShade, type HeightGrid } from '@longheron/core/surface';

function extremes(grid: HeightGrid): [number, number] {
  let low = Infinity;
  let high = -Infinity;
  for (const h of grid.heightM) {
    if (h < low) low = h;
    if (h > high) high = h;
  }
  return [low, high];
}

function paint(grid: HeightGrid, colour: (h: number, i: number) => readonly number[]): Promise<Buffer> {
  const out = new Uint8Array(4 * grid.heightM.length);
  for (let i = 0; i < grid.heightM.length; i++) {
    const h = grid.heightM[i];
    if (Number.isNaN(h)) continue;
    const c = colour(h, i);
    for (let k = 0; k < 3; k++) out[4 * i + k] = Math.min(255, c[k]);
    out[4 * i + 3] = 255;
  }
  return sharp(out, { raw: { width: grid.columns, height: grid.rows, channels: 4 } })
    .png()
    .toBuffer();
}

/** Shaded relief tinted by height; empty cells are transparent. */
export function shadePicture(grid: HeightGrid): Promise<Buffer> {
  const shade = hillShade(grid);
  const [low, high] = extremes(grid);
  const from = [222, 229, 214];
  const to = [176, 150, 118];
  return paint(grid, (h, i) => {
    const u = (h - low) / Math.max(1e-6, high - low);
    const light = 0.35 + (0.75 * shade[i]) / 255;
    return [0, 1, 2].map((k) => (from[k] + (to[k] - from[k]) * u) * light);
  });
}

/** Height above ground: pale at the ground, dark green from 10 m. */
export function abovePicture(grid: HeightGrid): Promise<Buffer> {
  return paint(grid, (h) => {
    const u = Math.sqrt(Math.min(1, Math.max(0, h / 10)));
    return [238 - 213 * u, 240 - 155 * u, 228 - 158 * u];
  });
}
