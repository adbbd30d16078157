/**
 * Eigenvalues and vectors of a small symmetric matrix by Jacobi's rotations (Golub & Van Loan 2013, 8.5).
 * @param a n × n, destroyed. @returns values in descending order and the vectors as rows.
 */
export function symmetricEigen(a: Float64Array, n: number): { values: Float64Array; vectors: Float64Array[] } {
  const v = Array.from({ length: n }, (_, i) => Float64Array.from({ length: n }, (__, j) => (i === j ? 1 : 0)));
  for (let sweep = 0; sweep < 60; sweep++) {
    let off = 0;
    let all = 0;
    for (let i = 0; i < n; i++)
      for (let j = 0; j < n; j++) {
        const square = a[i * n + j] ** 2;
        if (i === j) all += square;
        else off += square;
      }
    if (off <= 1e-32 * all) break;
    for (let p = 0; p < n - 1; p++)
      for (let q = p + 1; q < n; q++) {
        const apq = a[p * n + q];
        if (apq === 0) continue;
        const theta = (a[q * n + q] - a[p * n + p]) / (2 * apq);
        const t = (theta >= 0 ? 1 : -1) / (Math.abs(theta) + Math.sqrt(theta * theta + 1));
        const c = 1 / Math.sqrt(t * t + 1);
        const s = t * c;
        for (let k = 0; k < n; k++) {
          const x = a[k * n + p],
            y = a[k * n + q];
          a[k * n + p] = c * x - s * y;
          a[k * n + q] = s * x + c * y;
        }
        for (let k = 0; k < n; k++) {
          const x = a[p * n + k],
            y = a[q * n + k];
          a[p * n + k] = c * x - s * y;
          a[q * n + k] = s * x + c * y;
          const vx = v[p][k],
            vy = v[q][k];
          v[p][k] = c * vx - s * vy;
          v[q][k] = s * vx + c * vy;
        }
      }
  }
  const order = Array.from({ length: n }, (_, i) => i).sort((i, j) => a[j * n + j] - a[i * n + i]);
  return { values: Float64Array.from(order, (i) => a[i * n + i]), vectors: order.map((i) => v[i]) };
}
