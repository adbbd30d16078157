import { robustPlane } from '../numeric/plane';
import { type Cells, type SortedColumns } from './cells';

/** Points that a patch should hold, patches looked at, and the share of them that are smoother. */
const POINTS = 16;
const PATCHES = 800;
const SMOOTHER = 0.25;
/** Cells along the side of a patch at most. */
const WIDEST = 8;

/**
 * Noise of a cloud: how far points lie from a plane through those around them, 1 SD in metres, where the cloud is smooth:
 * the lower quarter of many small patches, since most of the rest are plants, edges and bends. 0 when no patch has
 * enough points.
 */
export function noiseOfCells({ x, y, z }: SortedColumns, cells: Cells): number {
  const { columns, rows, start } = cells;
  let occupied = 0;
  for (let c = 0; c < columns * rows; c++) if (start[c + 1] > start[c]) occupied++;
  const side = Math.min(
    WIDEST,
    Math.max(1, Math.ceil(Math.sqrt((POINTS * occupied) / Math.max(1, start[columns * rows])))),
  );
  const [wide, high] = [Math.floor(columns / side), Math.floor(rows / side)];
  // a stride without a common divisor with the width walks over the whole cloud
  const stride = Math.max(1, Math.floor((wide * high) / (3 * PATCHES))) | 1;
  const deviations: number[] = [];
  for (let p = 0; p < wide * high && deviations.length < PATCHES; p += stride) {
    const [r0, c0] = [Math.floor(p / wide) * side, (p % wide) * side];
    const [px, py, pz]: number[][] = [[], [], []];
    const first = start[r0 * columns + c0];
    for (let r = r0; r < r0 + side; r++) {
      const from = start[r * columns + c0];
      const to = start[r * columns + c0 + side];
      for (let k = from; k < to && px.length < 4 * POINTS; k++) {
        px.push(x[k] - x[first]);
        py.push(y[k] - y[first]);
        pz.push(z[k]);
      }
    }
    if (px.length < POINTS / 2) continue;
    const plane = robustPlane(px, py, pz);
    if (plane && Number.isFinite(plane.sd)) deviations.push(plane.sd / Math.hypot(plane.slopeX, plane.slopeY, 1));
  }
  deviations.sort((a, b) => a - b);
  return deviations[Math.floor(SMOOTHER * deviations.length)] ?? 0;
}

/** What a search for ground found of the noise: deviation of the points, and how near to the surface ground lies, metres. */
export type TellGround = (figures: { noiseM: number; withinM: number }) => void;

/** What lowest heights of cells differ by for the noise of the points alone. */
export const FORGIVEN = { deviations: 3, minM: 0.02, maxM: 0.15 };

/** How far from its surface ground is looked for, by the noise of the points, metres. */
export function withinOf(noiseM: number, w: { deviations: number; minM: number; maxM: number }): number {
  return Math.max(w.minM, Math.min(w.maxM, w.deviations * noiseM));
}
