import { fisherTail } from '../../accuracy/student';

/** Coordinates are given to a tenth of a millimetre: nothing is judged more finely. */
const ROUNDING_M = 1e-4;
/** An ordinary job names a mark in vain once in so many. */
const VAIN = 0.01;

/**
 * The one value that stands out from a fit, by what the fit gains when it is left out (Fisher's F of the mean shift,
 * Cook and Weisberg 1982, with the level shared over all); undefined where nothing stands out or nothing can.
 * @param sum of squared residuals, m². @param without the same without each value, null where the others do not do.
 * @param each how many coordinates a value has. @param redundancy coordinates beyond the unknowns, all values in.
 */
export function outstanding(
  sum: number,
  without: readonly (number | null)[],
  each: number,
  redundancy: number,
): number | undefined {
  const left = redundancy - each;
  if (left < 1) return undefined;
  let [found, rarest] = [-1, 1];
  without.forEach((s, i) => {
    if (s === null) return;
    const noise = s / left + ROUNDING_M ** 2;
    const chance = fisherTail(Math.max(0, sum - s) / each / noise, each, left) * without.length;
    if (chance < rarest) [found, rarest] = [i, chance];
  });
  return rarest < VAIN ? found : undefined;
}
