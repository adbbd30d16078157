import sharp from 'sharp';
import { type HeightGrid } from '@longheron/core/surface';

/** Lowest and highest of a grid; empty cells do not count. */
export function extremesOf(grid: HeightGrid): [number, number] {
  let low = Infinity;
  let high = -Infinity;
  for (const h of grid.heightM) {
    if (h < low) low = h;
    if (h > high) high = h;
  }
  return [low, high];
}

/** A picture of a grid, cell by cell, as PNG; empty cells are transparent. @param colour red, green, blue of 0 to 255. */
export function paintCells(grid: HeightGrid, colour: (h: number, i: number) => readonly number[]): Promise<Buffer> {
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
