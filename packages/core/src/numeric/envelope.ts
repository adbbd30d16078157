import { inverseWithin } from './envelopeInverse';

/**
 * Symmetric matrices whose rows begin where their first number is that is not zero (George & Liu 1981, 4): the lower half,
 * from there to the diagonal. Factors and the wanted part of the inverse keep to the same place.
 */
export class Envelope {
  /** First column of each row, and where the row lies in the values. */
  private readonly start: Int32Array;
  /** Where three rows begin together, at the first of them. */
  private readonly threes: Uint8Array;
  readonly values: Float64Array;

  /** @param first of each row, its first column; at most the row itself. */
  constructor(readonly first: Int32Array) {
    const n = first.length;
    // small integers, so that places in the values are counted without a detour over fractions
    this.start = new Int32Array(n + 1);
    for (let i = 0; i < n; i++) this.start[i + 1] = this.start[i] + (i - first[i] + 1);
    this.threes = new Uint8Array(n);
    for (let i = 0; i + 2 < n;) {
      this.threes[i] = first[i] === first[i + 1] && first[i] === first[i + 2] ? 1 : 0;
      i += this.threes[i] ? 3 : 1;
    }
    this.values = new Float64Array(this.start[n]);
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

  /** A matrix of the same shape, of zeros. */
  alike(): Envelope {
    return new Envelope(this.first);
  }

  /** A matrix of the same shape with the same numbers. */
  copy(): Envelope {
    const out = this.alike();
    out.values.set(this.values);
    return out;
  }

  /** Turns the matrix into its Cholesky factor. @returns false where it is not positive definite; it is then of no use. */
  factor(): boolean {
    const { first, threes } = this;
    const n = first.length;
    for (let i = 0; i < n;) {
      // three rows that begin together are taken together
      const rows = threes[i] ? 3 : 1;
      if (rows === 3) this.threeRows(i);
      for (let r = i; r < i + rows; r++)
        if (!this.oneRow(r, rows === 3 ? Math.max(i, first[r]) : first[r])) return false;
      i += rows;
    }
    return true;
  }

  /** Columns of a row from one on, those before it done. */
  private oneRow(i: number, from: number): boolean {
    const { first, start, values: l } = this;
    const own = (start[i] - first[i]) | 0;
    for (let j = from; j < i; j++) {
      const other = (start[j] - first[j]) | 0;
      let s = l[own + j];
      for (let k = Math.max(first[i], first[j]) | 0; k < j; k = (k + 1) | 0) s -= l[(own + k) | 0] * l[(other + k) | 0];
      l[own + j] = s / l[other + j];
    }
    const before = l[own + i];
    let s = before;
    for (let k = first[i]; k < i; k++) s -= l[own + k] * l[own + k];
    if (!(s > 1e-13 * before)) return false;
    l[own + i] = Math.sqrt(s);
    return true;
  }

  /** Columns before the first of three rows; three of them at a time where they too begin together. */
  private threeRows(i: number): void {
    const { first, start, values: l, threes } = this;
    const a = (start[i] - first[i]) | 0;
    const b = (start[i + 1] - first[i]) | 0;
    const c = (start[i + 2] - first[i]) | 0;
    for (let j = first[i]; j < i;) {
      const from = first[i] > first[j] ? first[i] : first[j];
      const u = (start[j] - first[j]) | 0;
      let pa = (a + from) | 0;
      let pb = (b + from) | 0;
      let pc = (c + from) | 0;
      let pu = (u + from) | 0;
      const end = (a + j) | 0;
      let a0 = l[a + j];
      let b0 = l[b + j];
      let c0 = l[c + j];
      const pivot0 = 1 / l[u + j];
      if (!threes[j] || j + 3 > i) {
        for (; pa < end; pa = (pa + 1) | 0, pb = (pb + 1) | 0, pc = (pc + 1) | 0, pu = (pu + 1) | 0) {
          const x = l[pu];
          a0 -= l[pa] * x;
          b0 -= l[pb] * x;
          c0 -= l[pc] * x;
        }
        l[a + j] = a0 * pivot0;
        l[b + j] = b0 * pivot0;
        l[c + j] = c0 * pivot0;
        j++;
        continue;
      }
      const v = (start[j + 1] - first[j]) | 0;
      const w = (start[j + 2] - first[j]) | 0;
      let pv = (v + from) | 0;
      let pw = (w + from) | 0;
      let a1 = l[a + j + 1];
      let b1 = l[b + j + 1];
      let c1 = l[c + j + 1];
      let a2 = l[a + j + 2];
      let b2 = l[b + j + 2];
      let c2 = l[c + j + 2];
      for (; pa < end; pu = (pu + 1) | 0, pv = (pv + 1) | 0, pw = (pw + 1) | 0) {
        const x = l[pu];
        const y = l[pv];
        const z = l[pw];
        const fa = l[pa];
        a0 -= fa * x;
        a1 -= fa * y;
        a2 -= fa * z;
        const fb = l[pb];
        b0 -= fb * x;
        b1 -= fb * y;
        b2 -= fb * z;
        const fc = l[pc];
        c0 -= fc * x;
        c1 -= fc * y;
        c2 -= fc * z;
        pa = (pa + 1) | 0;
        pb = (pb + 1) | 0;
        pc = (pc + 1) | 0;
      }
      const v0 = l[v + j];
      const w0 = l[w + j];
      const w1 = l[w + j + 1];
      const pivot1 = 1 / l[v + j + 1];
      const pivot2 = 1 / l[w + j + 2];
      l[a + j] = a0 *= pivot0;
      l[b + j] = b0 *= pivot0;
      l[c + j] = c0 *= pivot0;
      l[a + j + 1] = a1 = (a1 - a0 * v0) * pivot1;
      l[b + j + 1] = b1 = (b1 - b0 * v0) * pivot1;
      l[c + j + 1] = c1 = (c1 - c0 * v0) * pivot1;
      l[a + j + 2] = (a2 - a0 * w0 - a1 * w1) * pivot2;
      l[b + j + 2] = (b2 - b0 * w0 - b1 * w1) * pivot2;
      l[c + j + 2] = (c2 - c0 * w0 - c1 * w1) * pivot2;
      j += 3;
    }
  }

  /** Of a factor: logarithm of the determinant of the matrix. */
  log(): number {
    let sum = 0;
    for (let i = 0; i < this.size; i++) sum += Math.log(this.values[this.at(i, i)]);
    return 2 * sum;
  }

  /** Of a factor: solves for a right side, which is not changed. */
  solve(b: Float64Array): Float64Array {
    const { first, start, values: l } = this;
    const x = b.slice();
    let from = 0;
    // before its first number a solution has none either
    while (from < x.length && x[from] === 0) from++;
    for (let i = from; i < first.length; i++) {
      const own = (start[i] - first[i]) | 0;
      let s = x[i];
      for (let k = first[i] > from ? first[i] : from; k < i; k++) s -= l[own + k] * x[k];
      x[i] = s / l[own + i];
    }
    for (let i = first.length - 1; i >= 0; i--) {
      const own = (start[i] - first[i]) | 0;
      const v = (x[i] /= l[own + i]);
      for (let k = first[i]; k < i; k++) x[k] -= l[own + k] * v;
    }
    return x;
  }

  /** Of a factor: the inverse where the matrix had numbers. */
  inverse(): Envelope {
    return inverseWithin(this);
  }
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
