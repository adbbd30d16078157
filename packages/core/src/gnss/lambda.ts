/** Integer ambiguities that fit best, with what tells how far to trust them. */
export interface IntegerSolution {
  /** Best and second best candidate. */
  best: Float64Array;
  second: Float64Array;
  /** Squared distances in the metric of the covariance. */
  bestNorm: number;
  secondNorm: number;
  /** Second over best: large when nothing else comes near. */
  ratio: number;
  /** Probability that rounding one after the other is right (bootstrapping, Teunissen 1998): a lower bound. */
  successRate: number;
}

const MAX_LOOPS = 20000;

/**
 * Integer least squares by the LAMBDA method (Teunissen 1995) with the reduction of MLAMBDA (Chang, Yang & Zhou 2005)
 * and a shrinking depth-first search.
 * @param a float ambiguities, cycles; @param q their covariance, row by row, n × n.
 * @returns undefined when the covariance is not positive definite or the search does not end.
 */
export function integerLeastSquares(a: Float64Array, q: Float64Array): IntegerSolution | undefined {
  const n = a.length;
  if (n === 0) return undefined;
  const l = new Float64Array(n * n);
  const d = new Float64Array(n);
  if (!factor(q, n, l, d)) return undefined;
  const z = new Float64Array(n * n);
  for (let i = 0; i < n; i++) z[i * n + i] = 1;
  reduce(l, d, z, n);
  // decorrelated ambiguities: zs = Zᵀ·a
  const zs = new Float64Array(n);
  for (let i = 0; i < n; i++) for (let k = 0; k < n; k++) zs[i] += z[k * n + i] * a[k];
  const found = search(l, d, zs, n);
  if (!found) return undefined;
  const [best, second] = found.candidates.map((c) => solveTransposed(z, c, n));
  if (!best || !second) return undefined;
  let successRate = 1;
  for (let i = 0; i < n; i++) successRate *= 2 * normal(0.5 / Math.sqrt(d[i])) - 1;
  const [bestNorm, secondNorm] = found.norms;
  return { best, second, bestNorm, secondNorm, ratio: bestNorm > 0 ? secondNorm / bestNorm : Infinity, successRate };
}

/** Combinations of ambiguities that are known well enough to be whole numbers, while others are not yet. */
export interface PartialSolution {
  /** Factors of the ambiguities in each combination, and the whole number it is. */
  combinations: Array<{ factors: Float64Array; value: number }>;
  ratio: number;
  successRate: number;
}

/**
 * Partial ambiguity resolution (Teunissen, Joosten & Tiberius 1999): of the decorrelated combinations as many as can be
 * fixed together with a success rate; wide lanes come first by themselves.
 * @returns undefined when not even one can.
 */
export function partialLeastSquares(
  a: Float64Array,
  q: Float64Array,
  successRate: number,
): PartialSolution | undefined {
  const n = a.length;
  const l = new Float64Array(n * n);
  const d = new Float64Array(n);
  if (n === 0 || !factor(q, n, l, d)) return undefined;
  const z = new Float64Array(n * n);
  for (let i = 0; i < n; i++) z[i * n + i] = 1;
  reduce(l, d, z, n);
  let from = n;
  let rate = 1;
  while (from > 0) {
    const next = rate * (2 * normal(0.5 / Math.sqrt(d[from - 1])) - 1);
    if (next < successRate) break;
    rate = next;
    from--;
  }
  const m = n - from;
  if (m < 1) return undefined;
  const [lm, dm, zm] = [new Float64Array(m * m), d.slice(from), new Float64Array(m)];
  for (let i = 0; i < m; i++) {
    for (let k = 0; k < n; k++) zm[i] += z[k * n + from + i] * a[k];
    for (let j = 0; j <= i; j++) lm[i * m + j] = l[(from + i) * n + from + j];
  }
  const found = search(lm, dm, zm, m);
  if (!found) return undefined;
  const combinations = Array.from({ length: m }, (_, i) => ({
    factors: Float64Array.from({ length: n }, (_, k) => z[k * n + from + i]),
    value: found.candidates[0][i],
  }));
  const [best, second] = found.norms;
  return { combinations, ratio: best > 0 ? second / best : Infinity, successRate: rate };
}

/** Q = Lᵀ·D·L, L unit lower triangular. */
function factor(q: Float64Array, n: number, l: Float64Array, d: Float64Array): boolean {
  const a = q.slice();
  for (let i = n - 1; i >= 0; i--) {
    d[i] = a[i * n + i];
    if (!(d[i] > 0)) return false;
    const root = Math.sqrt(d[i]);
    for (let j = 0; j <= i; j++) l[i * n + j] = a[i * n + j] / root;
    for (let j = 0; j < i; j++) for (let k = 0; k <= j; k++) a[j * n + k] -= l[i * n + k] * l[i * n + j];
    for (let j = 0; j <= i; j++) l[i * n + j] /= l[i * n + i];
  }
  return true;
}

/** Integer Gauss transformation of column j by row i. */
function gauss(l: Float64Array, z: Float64Array, n: number, i: number, j: number): void {
  const mu = Math.round(l[i * n + j]);
  if (mu === 0) return;
  for (let k = i; k < n; k++) l[k * n + j] -= mu * l[k * n + i];
  for (let k = 0; k < n; k++) z[k * n + j] -= mu * z[k * n + i];
}

function reduce(l: Float64Array, d: Float64Array, z: Float64Array, n: number): void {
  let j = n - 2;
  let k = n - 2;
  while (j >= 0) {
    if (j <= k) for (let i = j + 1; i < n; i++) gauss(l, z, n, i, j);
    const lower = l[(j + 1) * n + j];
    const delta = d[j] + lower * lower * d[j + 1];
    if (delta + 1e-6 < d[j + 1]) {
      permute(l, d, z, n, j, delta);
      k = j;
      j = n - 2;
    } else j--;
  }
}

function permute(l: Float64Array, d: Float64Array, z: Float64Array, n: number, j: number, delta: number): void {
  const eta = d[j] / delta;
  const lambda = (d[j + 1] * l[(j + 1) * n + j]) / delta;
  d[j] = eta * d[j + 1];
  d[j + 1] = delta;
  for (let k = 0; k < j; k++) {
    const a0 = l[j * n + k];
    const a1 = l[(j + 1) * n + k];
    l[j * n + k] = -l[(j + 1) * n + j] * a0 + a1;
    l[(j + 1) * n + k] = eta * a0 + lambda * a1;
  }
  l[(j + 1) * n + j] = lambda;
  for (let k = j + 2; k < n; k++) swap(l, k * n + j, k * n + j + 1);
  for (let k = 0; k < n; k++) swap(z, k * n + j, k * n + j + 1);
}

function swap(a: Float64Array, i: number, j: number): void {
  const held = a[i];
  a[i] = a[j];
  a[j] = held;
}

const away = (v: number) => (v <= 0 ? -1 : 1);

/** The two nearest integer vectors, depth first from the last component, in a sphere that shrinks. */
function search(
  l: Float64Array,
  d: Float64Array,
  zs: Float64Array,
  n: number,
): { candidates: Float64Array[]; norms: number[] } | undefined {
  const candidates: Float64Array[] = [];
  const norms: number[] = [];
  const s = new Float64Array(n * n);
  const distance = new Float64Array(n);
  const centre = new Float64Array(n);
  const z = new Float64Array(n);
  const step = new Float64Array(n);
  let worst = Infinity;
  let k = n - 1;
  const enter = (i: number) => {
    z[i] = Math.round(centre[i]);
    step[i] = away(centre[i] - z[i]);
  };
  centre[k] = zs[k];
  enter(k);
  for (let loops = 0; loops < MAX_LOOPS; loops++) {
    const y = centre[k] - z[k];
    const reached = distance[k] + (y * y) / d[k];
    if (reached < worst) {
      if (k > 0) {
        distance[--k] = reached;
        for (let i = 0; i <= k; i++)
          s[k * n + i] = s[(k + 1) * n + i] + (z[k + 1] - centre[k + 1]) * l[(k + 1) * n + i];
        centre[k] = zs[k] + s[k * n + k];
        enter(k);
        continue;
      }
      keep(candidates, norms, z, reached);
      if (norms.length === 2) worst = norms[1];
      z[0] += step[0];
      step[0] = -step[0] - away(step[0]);
    } else {
      if (k === n - 1) return norms.length === 2 ? { candidates, norms } : undefined;
      k++;
      z[k] += step[k];
      step[k] = -step[k] - away(step[k]);
    }
  }
  return undefined;
}

function keep(candidates: Float64Array[], norms: number[], z: Float64Array, norm: number): void {
  const at = norms.length === 0 || norm < norms[0] ? 0 : 1;
  candidates.splice(at, 0, z.slice());
  norms.splice(at, 0, norm);
  candidates.length = norms.length = Math.min(2, norms.length);
}

/** Solves Zᵀ·x = c for an integer unimodular Z, rounded to integers; undefined when singular. */
function solveTransposed(z: Float64Array, c: Float64Array, n: number): Float64Array | undefined {
  const m = new Float64Array(n * n);
  for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) m[i * n + j] = z[j * n + i];
  const x = c.slice();
  for (let i = 0; i < n; i++) {
    let p = i;
    for (let r = i + 1; r < n; r++) if (Math.abs(m[r * n + i]) > Math.abs(m[p * n + i])) p = r;
    if (Math.abs(m[p * n + i]) < 1e-9) return undefined;
    if (p !== i) {
      for (let k = 0; k < n; k++) swap(m, i * n + k, p * n + k);
      swap(x, i, p);
    }
    for (let r = i + 1; r < n; r++) {
      const f = m[r * n + i] / m[i * n + i];
      if (f === 0) continue;
      for (let k = i; k < n; k++) m[r * n + k] -= f * m[i * n + k];
      x[r] -= f * x[i];
    }
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) x[i] -= m[i * n + k] * x[k];
    x[i] = Math.round(x[i] / m[i * n + i]);
  }
  return x;
}

/** Normal distribution function (Abramowitz & Stegun 1964, 26.2.17; 7.5e-8). */
function normal(x: number): number {
  if (x > 8) return 1;
  const t = 1 / (1 + 0.2316419 * x);
  const tail = t * (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))));
  return 1 - (Math.exp((-x * x) / 2) / Math.sqrt(2 * Math.PI)) * tail;
}
