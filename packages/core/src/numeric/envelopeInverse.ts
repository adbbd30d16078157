import { type Envelope } from './envelope';

/**
 * The inverse of a factored matrix where it had numbers, column by column from the last (Takahashi, Fagan & Chen 1973); three
 * columns at a time where the same rows reach them.
 */
export function inverseWithin(factor: Envelope): Envelope {
  const z = factor.alike();
  const { first } = factor;
  const n = first.length;
  const below = rowsBelow(first);
  const column = new Float64Array(3 * n);
  const sums = new Float64Array(3 * n);
  for (let j = n - 1; j >= 0;) {
    const i = j - 2;
    const three = i >= 0 && first[i + 1] <= i && first[i + 2] <= i && below[i].length === below[j].length + 2;
    if (three) threeColumns(factor, z, i, below[j], column, sums);
    else oneColumn(factor, z, j, below[j], column, sums);
    j -= three ? 3 : 1;
  }
  return z;
}

function oneColumn(
  factor: Envelope,
  z: Envelope,
  j: number,
  rows: Int32Array,
  column: Float64Array,
  sums: Float64Array,
): void {
  const count = rows.length;
  const pivot = factor.values[factor.at(j, j)];
  for (let a = 0; a < count; a++) column[a] = factor.values[factor.at(rows[a], j)];
  sums.fill(0, 0, count);
  // Σ over k below of L(k, j)·Z(k, i), for every i below
  for (let a = 0; a < count; a++) {
    const f = column[a];
    const own = z.base(rows[a]) | 0;
    let sum = f * z.values[own + rows[a]];
    for (let b = 0; b < a; b++) {
      const v = z.values[own + rows[b]];
      sums[b] += f * v;
      sum += column[b] * v;
    }
    sums[a] += sum;
  }
  let own = 1 / pivot;
  for (let a = 0; a < count; a++) {
    z.values[z.at(rows[a], j)] = -sums[a] / pivot;
    own += (column[a] * sums[a]) / pivot;
  }
  z.values[z.at(j, j)] = own / pivot;
}

/** The same of columns j to j + 2. @param rows those below all three. */
function threeColumns(
  factor: Envelope,
  z: Envelope,
  j: number,
  rows: Int32Array,
  column: Float64Array,
  sums: Float64Array,
): void {
  const count = rows.length;
  const { values } = z;
  for (let a = 0; a < count; a++) {
    const from = factor.at(rows[a], j);
    for (let k = 0; k < 3; k++) column[3 * a + k] = factor.values[from + k];
  }
  sums.fill(0, 0, 3 * count);
  for (let a = 0; a < count; a++) {
    const f0 = column[3 * a];
    const f1 = column[3 * a + 1];
    const f2 = column[3 * a + 2];
    const own = z.base(rows[a]) | 0;
    const diagonal = values[own + rows[a]];
    let s0 = f0 * diagonal;
    let s1 = f1 * diagonal;
    let s2 = f2 * diagonal;
    let q = 0;
    for (let b = 0; b < a; b++) {
      const v = values[(own + rows[b]) | 0];
      sums[q] += f0 * v;
      s0 += column[q] * v;
      sums[q + 1] += f1 * v;
      s1 += column[q + 1] * v;
      sums[q + 2] += f2 * v;
      s2 += column[q + 2] * v;
      q = (q + 3) | 0;
    }
    sums[q] += s0;
    sums[q + 1] += s1;
    sums[q + 2] += s2;
  }
  // the inverse of the three by three factor at the diagonal, lower half by rows
  const l = (r: number, c: number) => factor.values[factor.at(j + r, j + c)];
  const m00 = 1 / l(0, 0);
  const m11 = 1 / l(1, 1);
  const m22 = 1 / l(2, 2);
  const m10 = -l(1, 0) * m00 * m11;
  const m21 = -l(2, 1) * m11 * m22;
  const m20 = -(l(2, 0) * m00 + l(2, 1) * m10) * m22;
  const own = [m00, m10, m20, 0, m11, m21, 0, 0, m22];
  for (let a = 0; a < count; a++) {
    const q = 3 * a;
    const to = z.at(rows[a], j);
    const z0 = -(sums[q] * m00 + sums[q + 1] * m10 + sums[q + 2] * m20);
    const z1 = -(sums[q + 1] * m11 + sums[q + 2] * m21);
    const z2 = -sums[q + 2] * m22;
    values[to] = z0;
    values[to + 1] = z1;
    values[to + 2] = z2;
    for (let c = 0; c < 3; c++) {
      own[c] -= z0 * column[q + c];
      own[3 + c] -= z1 * column[q + c];
      own[6 + c] -= z2 * column[q + c];
    }
  }
  values[z.at(j, j)] = own[0] * m00 + own[1] * m10 + own[2] * m20;
  for (let r = 1; r < 3; r++) {
    const to = z.at(j + r, j);
    values[to] = own[3 * r] * m00 + own[3 * r + 1] * m10 + own[3 * r + 2] * m20;
    values[to + 1] = own[3 * r + 1] * m11 + own[3 * r + 2] * m21;
  }
  values[z.at(j + 2, j + 2)] = own[8] * m22;
}

/** For each column the rows below it that reach it. */
function rowsBelow(first: Int32Array): Int32Array[] {
  const n = first.length;
  const count = new Int32Array(n);
  for (let i = 0; i < n; i++) for (let j = first[i]; j < i; j++) count[j]++;
  const out = Array.from(count, (c) => new Int32Array(c));
  count.fill(0);
  for (let i = 0; i < n; i++) for (let j = first[i]; j < i; j++) out[j][count[j]++] = i;
  return out;
}
