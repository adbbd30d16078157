import { type AdjustedBlock } from './adjust';
import { type Block } from './model';

/** Residuals of one part of the pictures of a camera. */
export interface AreaResiduals {
  column: number;
  row: number;
  rays: number;
  /** Middle residual, seen less computed, and RMS, pixels. */
  duPx: number;
  dvPx: number;
  rmsPx: number;
}

/**
 * Residuals of a camera's rays by where they lie in its pictures: what is alike over many of them in one part is the lens's,
 * not the picks'. @param columns, rows parts along the sides.
 */
export function residualsOverPicture(
  { images, cameras, rays }: Block,
  { alive, residualPx }: Pick<AdjustedBlock, 'alive' | 'residualPx'>,
  camera: number,
  columns: number,
  rows: number,
): AreaResiduals[] {
  const { widthPx, heightPx } = cameras[camera].camera;
  const sums = new Float64Array(4 * columns * rows);
  const part = (x: number, size: number, n: number) => Math.min(n - 1, Math.max(0, Math.floor(((x + 0.5) / size) * n)));
  for (let r = 0; r < rays.count; r++) {
    if (!alive[r] || images[rays.image[r]].camera !== camera) continue;
    const at = 4 * (part(rays.vPx[r], heightPx, rows) * columns + part(rays.uPx[r], widthPx, columns));
    const [u, v] = [residualPx[2 * r], residualPx[2 * r + 1]];
    sums[at]++;
    sums[at + 1] += u;
    sums[at + 2] += v;
    sums[at + 3] += u * u + v * v;
  }
  return Array.from({ length: columns * rows }, (_, k) => {
    const [n, u, v, squares] = sums.subarray(4 * k, 4 * k + 4);
    return {
      column: k % columns,
      row: Math.floor(k / columns),
      rays: n,
      duPx: n ? u / n : 0,
      dvPx: n ? v / n : 0,
      rmsPx: n ? Math.sqrt(squares / (2 * n)) : 0,
    };
  });
}
