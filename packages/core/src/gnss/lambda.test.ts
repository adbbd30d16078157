import { describe, expect, it } from 'vitest';
import { Random } from '../numeric';
import { integerLeastSquares, partialLeastSquares } from '.';

/**
 * Ambiguities of two bands of six satellites whose sum of errors along the line of sight is badly known: whole numbers,
 * what a filter would have of them, and its covariance.
 */
function scene(seed: number, lineSdM: number, noiseSd: number) {
  const random = new Random(seed, 'integers');
  const n = 12;
  const whole = Float64Array.from({ length: n }, () => Math.round(random.between(-1e4, 1e4)));
  const lambda = [0.1903, 0.2442];
  const a = Float64Array.from(whole);
  const q = new Float64Array(n * n);
  for (let s = 0; s < 6; s++) {
    const line = lineSdM * random.normal();
    for (const b of [0, 1]) {
      const i = 2 * s + b;
      a[i] += line / lambda[b] + noiseSd * random.normal();
      q[i * n + i] += noiseSd ** 2;
      for (const c of [0, 1]) q[i * n + 2 * s + c] += lineSdM ** 2 / (lambda[b] * lambda[c]);
    }
  }
  return { whole, a, q };
}

describe('combinations of ambiguities', () => {
  it('that are known well are found whole, and are those of the true numbers', () => {
    let count = 0;
    for (let seed = 0; seed < 200; seed++) {
      // 10 cm along each line of sight: half a cycle of each ambiguity, a tenth of their difference
      const { whole, a, q } = scene(seed, 0.1, 0.03);
      const found = partialLeastSquares(a, q, 0.999)!;
      expect(found.successRate).toBeGreaterThanOrEqual(0.999);
      for (const { factors, value } of found.combinations) {
        count++;
        expect(factors.every(Number.isInteger)).toBe(true);
        expect(value).toBe(whole.reduce((s, v, k) => s + v * factors[k], 0));
      }
    }
    // a wide lane of each satellite at least
    expect(count).toBeGreaterThanOrEqual(200 * 6);
  });
  it('are none where nothing is known, and all where everything is', () => {
    const bad = scene(1, 0.3, 2);
    expect(partialLeastSquares(bad.a, bad.q, 0.999)).toBeUndefined();
    const good = scene(2, 0.005, 0.02);
    expect(partialLeastSquares(good.a, good.q, 0.999)!.combinations).toHaveLength(12);
    expect(Array.from(integerLeastSquares(good.a, good.q)!.best)).toEqual(Array.from(good.whole));
  });
  it('of a covariance that is none are refused', () => {
    expect(partialLeastSquares(Float64Array.of(0.1, 0.2), Float64Array.of(1, 2, 2, 1), 0.999)).toBeUndefined();
  });
});
