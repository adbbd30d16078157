import sharp from 'sharp';

export type Rgb = readonly [number, number, number] | readonly number[];

/** Between two colours. */
export const between = (a: Rgb, b: Rgb, u: number): number[] => a.map((v, k) => v + (b[k] - v) * u);

/** A place on a scale of colours, from 0 to 1. */
export function onScale(scale: readonly Rgb[], share: number): number[] {
  const u = Math.max(0, Math.min(1, share)) * (scale.length - 1);
  const i = Math.min(scale.length - 2, Math.floor(u));
  return between(scale[i], scale[i + 1], u - i);
}

/**
 * A picture of a grid as PNG, a pixel a cell, north up.
 * @param northUp whether the first row of the grid is the northernmost. @param colourOf none: transparent.
 */
export function gridPicture(
  { columns, rows }: { columns: number; rows: number },
  northUp: boolean,
  colourOf: (cell: number) => Rgb | undefined,
): Promise<Buffer> {
  const out = new Uint8Array(4 * columns * rows);
  for (let row = 0; row < rows; row++)
    for (let c = 0; c < columns; c++) {
      const colour = colourOf((northUp ? row : rows - 1 - row) * columns + c);
      if (!colour) continue;
      const at = 4 * (row * columns + c);
      for (let k = 0; k < 3; k++) out[at + k] = colour[k];
      out[at + 3] = 255;
    }
  return sharp(out, { raw: { width: columns, height: rows, channels: 4 } })
    .png()
    .toBuffer();
}

/** Blue where a wanted density is met, ochre below it, the paler the thinner. */
export function densityColour(perM2: number, target: number): number[] {
  const u = Math.min(1, Math.log(1 + perM2) / Math.log(1 + 8 * target));
  return perM2 >= target ? between([179, 205, 227], [29, 79, 145], u) : between([245, 232, 205], [201, 147, 54], u);
}
