import { describe, expect, it } from 'vitest';
import { Cholesky, Random, smallestAxis } from '.';

describe('Cholesky factors', () => {
  // determinant 104, inverse by cofactors
  const a = Float64Array.of(6, 0, 0, 2, 5, 0, 1, -1, 4);
  const full = [
    [6, 2, 1],
    [2, 5, -1],
    [1, -1, 4],
  ];

  it('solve with the lower half alone', () => {
    const x = Cholesky.of(a, 3)!.solve(Float64Array.of(13, 9, 11));
    full.forEach((row, i) => expect(row.reduce((s, v, j) => s + v * x[j], 0)).toBeCloseTo([13, 9, 11][i], 12));
  });

  it('give the inverse', () => {
    const cofactors = [19, -9, -7, -9, 23, 8, -7, 8, 26];
    const det = 6 * 19 + 2 * -9 + 1 * -7;
    Cholesky.of(a, 3)!
      .inverse()
      .forEach((v, i) => expect(v).toBeCloseTo(cofactors[i] / det, 13));
  });

  it('are refused to a matrix that is not positive definite', () => {
    expect(Cholesky.of(Float64Array.of(1, 0, 2, 4), 2)).toBeUndefined();
    expect(Cholesky.of(Float64Array.of(1, 0, 2, 3.9), 2)).toBeUndefined();
    expect(Cholesky.of(Float64Array.of(1, 0, 2, 4.1), 2)).toBeDefined();
  });
});

describe('the smallest axis of a symmetric matrix', () => {
  it('is found whatever way it points', () => {
    const r = new Random(3, 'axes');
    const out = new Float64Array(6);
    for (let k = 0; k < 200; k++) {
      // two perpendicular unit vectors, and the third
      const v = [r.normal(), r.normal(), r.normal()];
      const n = v.map((x) => x / Math.hypot(...v));
      const w = Math.abs(n[2]) < 0.9 ? [-n[1], n[0], 0] : [0, -n[2], n[1]];
      const p = w.map((x) => x / Math.hypot(...w));
      const q = [n[1] * p[2] - n[2] * p[1], n[2] * p[0] - n[0] * p[2], n[0] * p[1] - n[1] * p[0]];
      const of = (i: number, j: number) => 1e-4 * n[i] * n[j] + 2 * p[i] * p[j] + 7 * q[i] * q[j];
      smallestAxis(of(0, 0), of(0, 1), of(0, 2), of(1, 1), of(1, 2), of(2, 2), out);
      expect(out[0]).toBeCloseTo(1e-4, 9);
      expect(out[1]).toBeCloseTo(2, 9);
      expect(out[2]).toBeCloseTo(7, 9);
      expect(Math.abs(out[3] * n[0] + out[4] * n[1] + out[5] * n[2])).toBeCloseTo(1, 9);
    }
  });

  it('is upright when none is smaller', () => {
    const out = new Float64Array(6);
    smallestAxis(2, 0, 0, 2, 0, 2, out);
    expect(Array.from(out)).toEqual([2, 2, 2, 0, 0, 1]);
  });
});
