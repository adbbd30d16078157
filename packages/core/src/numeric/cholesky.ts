/**
 * Cholesky factors of a symmetric positive definite matrix, whose lower half is used (Golub & Van Loan 2013, 4.2).
 * Everything runs along rows, so that a thousand unknowns take about a second.
 */
export class Cholesky {
  private constructor(
    private readonly l: Float64Array,
    private readonly n: number,
  ) {}

  /** @param a n × n by rows, not changed. @returns undefined when it is not positive definite. */
  static of(a: Float64Array, n: number): Cholesky | undefined {
    const l = a.slice();
    for (let j = 0; j < n; j++) {
      for (let i = 0; i <= j; i++) {
        let s = l[j * n + i];
        for (let k = 0; k < i; k++) s -= l[j * n + k] * l[i * n + k];
        if (i < j) l[j * n + i] = s / l[i * n + i];
        else {
          if (!(s > 1e-13 * Math.abs(a[j * n + j]))) return undefined;
          l[j * n + j] = Math.sqrt(s);
        }
      }
    }
    return new Cholesky(l, n);
  }

  /** Solves A·x = b; b is not changed. */
  solve(b: Float64Array): Float64Array {
    const { l, n } = this;
    const x = b.slice();
    for (let i = 0; i < n; i++) {
      let s = x[i];
      for (let k = 0; k < i; k++) s -= l[i * n + k] * x[k];
      x[i] = s / l[i * n + i];
    }
    for (let i = n - 1; i >= 0; i--) {
      const v = (x[i] /= l[i * n + i]);
      for (let k = 0; k < i; k++) x[k] -= l[i * n + k] * v;
    }
    return x;
  }

  /** Logarithm of the determinant. */
  log(): number {
    let sum = 0;
    for (let i = 0; i < this.n; i++) sum += Math.log(this.l[i * this.n + i]);
    return 2 * sum;
  }

  /** The whole inverse, n × n. */
  inverse(): Float64Array {
    const { l, n } = this;
    // rows of the inverse of L, then its product with its transpose
    const m = new Float64Array(n * n);
    for (let i = 0; i < n; i++) {
      m[i * n + i] = 1;
      for (let k = 0; k < i; k++) {
        const f = l[i * n + k];
        if (f !== 0) for (let j = 0; j <= k; j++) m[i * n + j] -= f * m[k * n + j];
      }
      const d = 1 / l[i * n + i];
      for (let j = 0; j <= i; j++) m[i * n + j] *= d;
    }
    const out = new Float64Array(n * n);
    for (let k = 0; k < n; k++)
      for (let i = 0; i <= k; i++) {
        const f = m[k * n + i];
        if (f !== 0) for (let j = 0; j <= i; j++) out[i * n + j] += f * m[k * n + j];
      }
    for (let i = 0; i < n; i++) for (let j = 0; j < i; j++) out[j * n + i] = out[i * n + j];
    return out;
  }
}
