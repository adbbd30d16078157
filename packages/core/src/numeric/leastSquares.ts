/**
 * Solves the symmetric system N·x = b in place by Cholesky's factors and gives N's inverse.
 * @param n size; @param normal n × n, destroyed. @returns the inverse, or undefined when not positive definite.
 */
export function solveNormal(normal: Float64Array, b: Float64Array, n: number): Float64Array | undefined {
  for (let j = 0; j < n; j++) {
    let d = normal[j * n + j];
    for (let k = 0; k < j; k++) d -= normal[j * n + k] ** 2;
    if (!(d > 1e-14 * Math.abs(normal[j * n + j]))) return undefined;
    const root = (normal[j * n + j] = Math.sqrt(d));
    for (let i = j + 1; i < n; i++) {
      let s = normal[i * n + j];
      for (let k = 0; k < j; k++) s -= normal[i * n + k] * normal[j * n + k];
      normal[i * n + j] = s / root;
    }
  }
  const inverse = new Float64Array(n * n);
  const column = new Float64Array(n);
  const solve = (v: Float64Array) => {
    for (let i = 0; i < n; i++) {
      for (let k = 0; k < i; k++) v[i] -= normal[i * n + k] * v[k];
      v[i] /= normal[i * n + i];
    }
    for (let i = n - 1; i >= 0; i--) {
      for (let k = i + 1; k < n; k++) v[i] -= normal[k * n + i] * v[k];
      v[i] /= normal[i * n + i];
    }
  };
  for (let c = 0; c < n; c++) {
    column.fill(0);
    column[c] = 1;
    solve(column);
    for (let r = 0; r < n; r++) inverse[r * n + c] = column[r];
  }
  solve(b);
  return inverse;
}

/** Adds one observation to normal equations: w·a·aᵀ and w·a·y. */
export function addObservation(
  normal: Float64Array,
  b: Float64Array,
  n: number,
  a: ArrayLike<number>,
  y: number,
  w: number,
): void {
  for (let i = 0; i < n; i++) {
    if (a[i] === 0) continue;
    const wa = w * a[i];
    b[i] += wa * y;
    for (let j = 0; j < n; j++) normal[i * n + j] += wa * a[j];
  }
}
