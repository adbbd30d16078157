/** Statistics of a list of numbers. Inputs are never changed. Empty lists give NaN. */

export type Numbers = ArrayLike<number>;

export function mean(values: Numbers): number {
  if (values.length === 0) return Number.NaN;
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[i];
  return sum / values.length;
}

/** Standard deviation about the mean with n − 1; NaN for fewer than two. */
export function standardDeviation(values: Numbers): number {
  if (values.length < 2) return Number.NaN;
  const m = mean(values);
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += (values[i] - m) ** 2;
  return Math.sqrt(sum / (values.length - 1));
}

/** Root mean square (about zero, divided by n). */
export function rootMeanSquare(values: Numbers): number {
  if (values.length === 0) return Number.NaN;
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[i] * values[i];
  return Math.sqrt(sum / values.length);
}

/** The value below which `fraction` (0…1) of the sorted list lies, linear between ranks (Hyndman & Fan 1996, type 7). */
export function quantileOfSorted(sorted: Numbers, fraction: number): number {
  const n = sorted.length;
  if (n === 0) return Number.NaN;
  const rank = Math.min(Math.max(fraction, 0), 1) * (n - 1);
  const low = Math.floor(rank);
  const high = Math.min(low + 1, n - 1);
  return sorted[low] + (sorted[high] - sorted[low]) * (rank - low);
}

export function sortedCopy(values: Numbers): Float64Array {
  return Float64Array.from(values).sort();
}

export function quantile(values: Numbers, fraction: number): number {
  return quantileOfSorted(sortedCopy(values), fraction);
}

export function median(values: Numbers): number {
  return quantile(values, 0.5);
}

/** 1.4826 × median of the absolute deviations from the median: the SD of a normal sample, robust to outliers. */
export function normalisedMad(values: Numbers): number {
  const m = median(values);
  const deviations = new Float64Array(values.length);
  for (let i = 0; i < values.length; i++) deviations[i] = Math.abs(values[i] - m);
  return 1.4826 * median(deviations);
}

export function extremes(values: Numbers): [number, number] {
  let low = Number.POSITIVE_INFINITY;
  let high = Number.NEGATIVE_INFINITY;
  for (let i = 0; i < values.length; i++) {
    const v = values[i];
    if (v < low) low = v;
    if (v > high) high = v;
  }
  return [low, high];
}
