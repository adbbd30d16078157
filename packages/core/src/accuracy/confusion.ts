/** Two classifications of the same points against each other. */
export interface Confusion {
  /** Names of the rows (reference) and columns (what was found). */
  reference: string[];
  found: string[];
  /** Points by row and column. */
  counts: number[][];
  /** Of each reference kind, the share that was found as it should (producer's); NaN where nothing should. */
  recall: number[];
  /** Of what was found as each kind, the share that is so (user's). */
  precision: number[];
  /** Share of all points that agree. */
  overall: number;
}

/**
 * Confusion table of a classification.
 * @param reference, found kind of each point, below the numbers of names. @param same column that a row should be in, −1 for none.
 * @param counted points by row and column that were counted before.
 */
export function confusion(
  reference: ArrayLike<number>,
  found: ArrayLike<number>,
  names: { reference: string[]; found: string[] },
  same: number[],
  counted?: number[][],
): Confusion {
  const counts = names.reference.map((_, r) => names.found.map((_, c) => counted?.[r][c] ?? 0));
  for (let i = 0; i < reference.length; i++) counts[reference[i]][found[i]]++;
  const sum = (list: number[]) => list.reduce((a, b) => a + b, 0);
  const right = counts.map((row, r) => (same[r] < 0 ? 0 : row[same[r]]));
  const recall = counts.map((row, r) => (same[r] < 0 ? NaN : right[r] / sum(row)));
  const precision = names.found.map((_, c) => {
    const rows = counts.map((row, r) => ({ n: row[c], good: same[r] === c }));
    return sum(rows.map((x) => (x.good ? x.n : 0))) / sum(rows.map((x) => x.n));
  });
  const judged = sum(counts.map((row, r) => (same[r] < 0 ? 0 : sum(row))));
  return { ...names, counts, recall, precision, overall: sum(right) / judged };
}
