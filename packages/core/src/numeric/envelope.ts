/**
 * Symmetric matrices whose rows begin where their first number is that is not zero (George & Liu 1981, 4): the lower half,
 * from there to the diagonal. Factors and the wanted part of the inverse keep to the same place.
 */
export class Envelope {
  /** First column of each row, and where the row lies in the values. */
  private readonly start: Float64Array;
  readonly values: Float64Array;

  /** @param first of each row, its first column; at most the row itself. */
  constructor(readonly first: Int32Array) {
    this.start = new Float64Array(first.length + 1);
    for (let i = 0; i < first.length; i++) this.start[i + 1] = this.start[i] + (i - first[i] + 1);
    this.values = new Float64Array(this.start[first.length]);
  }

  get size(): number {
    return this.first.length;
  }

  /** Place of a number in {@link values}. @param row at least the column, which is at least the row's first. */
  at(row: number, column: number): number {
    return this.start[row] + column - this.first[row];
  }

  /** What is added to a column to find its place in a row. */
  base(row: number): number {
    return this.start[row] - this.first[row];
  }

  /** A matrix of the same shape with the same numbers. */
  copy(): Envelope {
    const out = new Envelope(this.first);
    out.values.set(this.values);
    return out;
  }

  /** Turns the matrix into its Cholesky factor. @returns false where it is not positive definite; it is then of no use. */
  factor(): boolean {
    const { first } = this;
    const n = first.length;
    for (let i = 0; i < n;) {
      // six rows that begin together are taken together: what lies above them is read once
      let rows = 1;
      while (rows < 6 && i + rows < n && first[i + rows] === first[i]) rows++;
      const six = rows === 6 && first[i] < i;
      if (six) this.sixRows(i);
      else rows = 1;
      for (let r = i; r < i + rows; r++) if (!this.oneRow(r, six ? i : first[r])) return false;
      i += rows;
    }
    return true;
  }

  /** Columns of a row from one on, those before it done. */
  private oneRow(i: number, from: number): boolean {
    const { first, start, values: l } = this;
    const own = start[i] - first[i];
    for (let j = from; j < i; j++) {
      const other = start[j] - first[j];
      let s = l[own + j];
      for (let k = Math.max(first[i], first[j]); k < j; k++) s -= l[own + k] * l[other + k];
      l[own + j] = s / l[other + j];
    }
    const before = l[own + i];
    let s = before;
    for (let k = first[i]; k < i; k++) s -= l[own + k] * l[own + k];
    if (!(s > 1e-13 * before)) return false;
    l[own + i] = Math.sqrt(s);
    return true;
  }

  /** Columns before the first of six rows. */
  private sixRows(i: number): void {
    const { first, start, values: l } = this;
    const [a, b, c, d, e, f] = [0, 1, 2, 3, 4, 5].map((k) => start[i + k] - first[i]);
    for (let j = first[i]; j < i; j++) {
      const other = start[j] - first[j];
      let sa = l[a + j];
      let sb = l[b + j];
      let sc = l[c + j];
      let sd = l[d + j];
      let se = l[e + j];
      let sf = l[f + j];
      for (let k = Math.max(first[i], first[j]); k < j; k++) {
        const v = l[other + k];
        sa -= l[a + k] * v;
        sb -= l[b + k] * v;
        sc -= l[c + k] * v;
        sd -= l[d + k] * v;
        se -= l[e + k] * v;
        sf -= l[f + k] * v;
      }
      const pivot = 1 / l[other + j];
      l[a + j] = sa * pivot;
      l[b + j] = sb * pivot;
      l[c + j] = sc * pivot;
      l[d + j] = sd * pivot;
      l[e + j] = se * pivot;
      l[f + j] = sf * pivot;
    }
  }

  /** Of a factor: solves for a right side, which is not changed. */
  solve(b: Float64Array): Float64Array {
    const { first, start, values: l } = this;
    const x = b.slice();
    for (let i = 0; i < first.length; i++) {
      const own = start[i] - first[i];
      let s = x[i];
      for (let k = first[i]; k < i; k++) s -= l[own + k] * x[k];
      x[i] = s / l[own + i];
    }
    for (let i = first.length - 1; i >= 0; i--) {
      const own = start[i] - first[i];
      const v = (x[i] /= l[own + i]);
      for (let k = first[i]; k < i; k++) x[k] -= l[own + k] * v;
    }
    return x;
  }

  /** Of a factor: the inverse where the matrix had numbers (Takahashi, Fagan & Chen 1973). */
  inverse(): Envelope {
    const { first, start, values: l } = this;
    const n = first.length;
    const z = new Envelope(first);
    const below = rowsBelow(first);
    const column = new Float64Array(n);
    const sums = new Float64Array(n);
    for (let j = n - 1; j >= 0; j--) {
      const rows = below[j];
      const count = rows.length;
      const pivot = l[start[j] + j - first[j]];
      for (let a = 0; a < count; a++) column[a] = l[start[rows[a]] + j - first[rows[a]]];
      sums.fill(0, 0, count);
      // Σ over k below of L(k, j)·Z(k, i), for every i below
      for (let a = 0; a < count; a++) {
        const k = rows[a];
        const f = column[a];
        const own = start[k] - first[k];
        let sum = f * z.values[own + k];
        for (let b = 0; b < a; b++) {
          const v = z.values[own + rows[b]];
          sums[b] += f * v;
          sum += column[b] * v;
        }
        sums[a] += sum;
      }
      let own = 1 / pivot;
      for (let a = 0; a < count; a++) {
        z.values[start[rows[a]] + j - first[rows[a]]] = -sums[a] / pivot;
        own += (column[a] * sums[a]) / pivot;
      }
      z.values[start[j] + j - first[j]] = own / pivot;
    }
    return z;
  }
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

/**
 * An order of nodes in which linked ones stand near each other (reverse Cuthill–McKee, from a node at the edge of each part:
 * George & Liu 1981, 4.3).
 * @param links of each node, the others it is linked with. @returns nodes in their order.
 */
export function nearOrder(links: ReadonlyArray<ReadonlySet<number>>): Int32Array {
  const n = links.length;
  const placed = new Uint8Array(n);
  const out: number[] = [];
  /** Nodes of a part by their distance from one of them. */
  const levels = (root: number): number[][] => {
    const seen = new Set([root]);
    const all = [[root]];
    for (;;) {
      const next: number[] = [];
      for (const a of all[all.length - 1])
        for (const b of links[a])
          if (!seen.has(b)) {
            seen.add(b);
            next.push(b);
          }
      if (!next.length) return all;
      all.push(next);
    }
  };
  const fewest = (nodes: readonly number[]) => nodes.reduce((a, b) => (links[b].size < links[a].size ? b : a));
  for (let seed = 0; seed < n; seed++) {
    if (placed[seed]) continue;
    let root = seed;
    let found = levels(root);
    for (;;) {
      const far = fewest(found[found.length - 1]);
      const next = levels(far);
      if (next.length <= found.length) break;
      root = far;
      found = next;
    }
    const from = out.length;
    out.push(root);
    placed[root] = 1;
    for (let k = from; k < out.length; k++) {
      const next = [...links[out[k]]].filter((b) => !placed[b]).sort((a, b) => links[a].size - links[b].size || a - b);
      for (const b of next) {
        placed[b] = 1;
        out.push(b);
      }
    }
  }
  return Int32Array.from(out).reverse();
}
