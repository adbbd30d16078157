/** Far more than any grid is wide, cells squared. */
const FAR = 1e20;

/**
 * Squared distance in cells of every cell to the nearest cell that is marked, exact: lower envelopes of parabolas, by
 * columns and then by rows (Felzenszwalb and Huttenlocher 2012).
 * @param marked 1 for marked cells, row by row. @returns FAR-like values where nothing is marked.
 */
export function squaredDistances(marked: ArrayLike<number>, columns: number, rows: number): Float64Array {
  const out = new Float64Array(columns * rows);
  for (let i = 0; i < out.length; i++) out[i] = marked[i] ? 0 : FAR;
  const most = Math.max(columns, rows);
  const work = { f: new Float64Array(most), at: new Int32Array(most), from: new Float64Array(most + 1) };
  for (let c = 0; c < columns; c++) envelope(out, c, columns, rows, work);
  for (let r = 0; r < rows; r++) envelope(out, r * columns, 1, columns, work);
  return out;
}

interface Work {
  f: Float64Array;
  /** Places of the parabolas of the envelope, and where each begins. */
  at: Int32Array;
  from: Float64Array;
}

function envelope(d: Float64Array, first: number, step: number, n: number, { f, at, from }: Work): void {
  for (let i = 0; i < n; i++) f[i] = d[first + i * step];
  let k = 0;
  at[0] = 0;
  from[0] = -Infinity;
  from[1] = Infinity;
  for (let q = 1; q < n; q++) {
    const meets = (v: number) => (f[q] + q * q - (f[v] + v * v)) / (2 * (q - v));
    let s = meets(at[k]);
    while (s <= from[k]) s = meets(at[--k]);
    at[++k] = q;
    from[k] = s;
    from[k + 1] = Infinity;
  }
  k = 0;
  for (let q = 0; q < n; q++) {
    while (from[k + 1] < q) k++;
    d[first + q * step] = (q - at[k]) ** 2 + f[at[k]];
  }
}
