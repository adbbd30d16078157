import { type Observations } from './equations';

/** Rows from whose residuals the patches' own scatter is told, about. */
const SCATTER_ROWS = 6000;

/**
 * Variance of patches beyond that of their points' means, so that half of the residuals are within 0.6745 deviations.
 * @param before taken where too few patches tell.
 */
export function ownScatter(o: Observations, residual: Float64Array, before: number): number {
  const square: number[] = [];
  const formal: number[] = [];
  const step = Math.max(1, Math.floor(o.count / SCATTER_ROWS));
  for (let cell = 0, next = 0; cell < o.cells; cell++) {
    const m = o.start[cell + 1] - o.start[cell];
    if (m < 2) continue;
    for (let i = Math.max(next, o.start[cell]); i < o.start[cell + 1]; i += step, next = i) {
      square.push((residual[i] ** 2 * m) / (m - 1));
      formal.push(o.varianceM2[i]);
    }
  }
  if (square.length < 20) return before;
  const tooSmall = (own: number) => {
    let within = 0;
    for (let k = 0; k < square.length; k++) if (square[k] < 0.6745 ** 2 * (formal[k] + own)) within++;
    return 2 * within < square.length;
  };
  if (!tooSmall(1e-8)) return 1e-8;
  let low = 1e-8;
  let high = 0.01;
  for (let k = 0; k < 24; k++) {
    const middle = Math.sqrt(low * high);
    if (tooSmall(middle)) low = middle;
    else high = middle;
  }
  return high;
}
