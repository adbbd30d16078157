/** A bin of a histogram: values from `fromM`, itself included, to `toM`, itself not. */
export interface Bin {
  fromM: number;
  toM: number;
  count: number;
}

/** Widths of a bin, metres: the wider where more is to be shown than reads well with the finer. */
const [FINE_M, WIDE_M, FINE_REACH_M] = [0.005, 0.01, 0.08];
/** A bin more at the rim: the largest value lies inside. */
const SPARE = 1.02;

/**
 * Values in bins of equal width, the middle one centred on zero, as many on either side as the largest value or the
 * tolerance needs. @param valuesM, limitM in metres.
 */
export function binsOf(valuesM: readonly number[], limitM: number): Bin[] {
  const reachM = valuesM.reduce((most, v) => Math.max(most, Math.abs(v)), limitM) * SPARE;
  const widthM = reachM > FINE_REACH_M ? WIDE_M : FINE_M;
  const half = Math.max(1, Math.ceil(reachM / widthM - 0.5));
  const bins = Array.from({ length: 2 * half + 1 }, (_, i) => ({
    fromM: (i - half - 0.5) * widthM,
    toM: (i - half + 0.5) * widthM,
    count: 0,
  }));
  for (const v of valuesM) bins[Math.floor(v / widthM + 0.5) + half].count++;
  return bins;
}
