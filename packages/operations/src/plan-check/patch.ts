/** Edge of the square drawn about a mark, and of a cell, metres. */
export const PATCH_M = 3;
export const PATCH_CELL_M = 0.02;
export const PATCH_CELLS = Math.round(PATCH_M / PATCH_CELL_M);
/** Cells without a point take the mean of those within so many cells. */
const FILL_CELLS = 3;

/** Brightness about a mark, 0 for no point and 1–255; row 0 is the northernmost. */
export interface Patch {
  cells: Uint8Array;
}

/**
 * Draws the brightness of points about a mark: the mean of each cell, holes up to three cells wide filled from around.
 * @param dx, dy metres east and north of the mark. @param range brightness that is drawn black and white.
 */
export function drawPatch(
  dx: Float64Array,
  dy: Float64Array,
  brightness: Float64Array,
  range: [number, number],
): Patch {
  const n = PATCH_CELLS;
  const sum = new Float64Array(n * n);
  const count = new Uint16Array(n * n);
  for (let i = 0; i < dx.length; i++) {
    const c = Math.floor((dx[i] + PATCH_M / 2) / PATCH_CELL_M);
    const r = Math.floor((PATCH_M / 2 - dy[i]) / PATCH_CELL_M);
    if (c < 0 || r < 0 || c >= n || r >= n) continue;
    sum[r * n + c] += brightness[i];
    count[r * n + c]++;
  }
  const cells = new Uint8Array(n * n);
  for (let r = 0; r < n; r++)
    for (let c = 0; c < n; c++) {
      let s = sum[r * n + c];
      let k: number = count[r * n + c];
      for (let ring = 1; !k && ring <= FILL_CELLS; ring++)
        for (let j = Math.max(0, r - ring); j <= Math.min(n - 1, r + ring); j++)
          for (let i = Math.max(0, c - ring); i <= Math.min(n - 1, c + ring); i++) {
            s += sum[j * n + i];
            k += count[j * n + i];
          }
      if (k) {
        const v = (s / k - range[0]) / (range[1] - range[0]);
        cells[r * n + c] = 1 + Math.round(254 * Math.min(1, Math.max(0, v)));
      }
    }
  return { cells };
}
