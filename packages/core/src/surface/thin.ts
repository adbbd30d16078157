import { tick, type Watch } from '../shared/progress';
import { heightInTriangle, makeTin, TinWalker, type Tin } from './tin';

/**
 * Rows of the points to keep: in each square of the given size the point nearest its centre.
 * @param spacingM size of a square; 0 keeps every point.
 */
export function thinBySquares(x: Float64Array, y: Float64Array, spacingM: number): Int32Array {
  if (!(spacingM > 0)) return Int32Array.from({ length: x.length }, (_, i) => i);
  const best = new Map<number, number>();
  const off = (i: number) => {
    const u = x[i] / spacingM;
    const v = y[i] / spacingM;
    return (u - Math.floor(u) - 0.5) ** 2 + (v - Math.floor(v) - 0.5) ** 2;
  };
  for (let i = 0; i < x.length; i++) {
    const key = Math.floor(x[i] / spacingM) * 67108864 + Math.floor(y[i] / spacingM);
    const there = best.get(key);
    if (there === undefined || off(i) < off(there)) best.set(key, i);
  }
  return Int32Array.from(best.values());
}

export interface ThinTin {
  tin: Tin;
  /** Heights of all points against the thinned TIN, metres: root mean square and greatest; points outside do not count. */
  lossRmsM: number;
  lossMaxM: number;
}

/** A TIN of fewer points with what it loses, found by comparing every point with it. */
export function thinTin(
  x: Float64Array,
  y: Float64Array,
  z: Float64Array,
  spacingM: number,
  maxEdgeM: number,
  watch?: Watch,
): ThinTin {
  const rows = thinBySquares(x, y, spacingM);
  tick(watch, 0.1, 'Thinning the TIN');
  const pick = (column: Float64Array) => Float64Array.from(rows, (i) => column[i]);
  const tin = makeTin(pick(x), pick(y), pick(z), maxEdgeM);
  const walker = new TinWalker(tin);
  let sum = 0;
  let count = 0;
  let most = 0;
  for (let i = 0; i < x.length; i++) {
    if ((i & 0xffff) === 0) tick(watch, 0.3 + (0.7 * i) / x.length, 'Comparing with the thinned TIN');
    const t = walker.locate(x[i], y[i]);
    if (t < 0 || tin.hole[t]) continue;
    const d = z[i] - heightInTriangle(tin, t, x[i], y[i]);
    sum += d * d;
    count++;
    if (Math.abs(d) > most) most = Math.abs(d);
  }
  return { tin, lossRmsM: count ? Math.sqrt(sum / count) : 0, lossMaxM: most };
}
