import { describe, expect, it } from 'vitest';
import { gridDifference, gridFromTin, gridHighest, makeTin, thinBySquares, thinTin } from '.';

describe('thinning', () => {
  // a ridge along x = 5.1: |x − 5.1|, sampled every 0.1 m
  const n = 101;
  const x = Float64Array.from({ length: n * n }, (_, i) => (i % n) * 0.1);
  const y = Float64Array.from({ length: n * n }, (_, i) => Math.floor(i / n) * 0.1);
  const z = x.map((v) => -Math.abs(v - 5.1));
  it('keeps one point a square, the nearest to its centre', () => {
    const kept = thinBySquares(x, y, 1);
    expect(kept.length).toBe(11 * 11);
    const inside = [...kept].filter((i) => x[i] < 10 && y[i] < 10);
    for (const i of inside) expect(Math.abs((x[i] % 1) - 0.5)).toBeLessThan(1e-9);
    expect(thinBySquares(x, y, 0).length).toBe(n * n);
  });
  it('says what is lost: nothing on planes, the height cut off at a ridge', () => {
    const plane = thinTin(
      x,
      y,
      x.map((v, i) => 2 + 0.3 * v - 0.1 * y[i]),
      1,
      5,
    );
    expect(plane.lossMaxM).toBeLessThan(1e-9);
    // kept at 4.5 and 5.5 beside the ridge: the chord there lies at −0.5 + (5.1 − 4.5)·0.2 = −0.48 below the ridge
    const ridge = thinTin(x, y, z, 1, 5);
    expect(ridge.lossMaxM).toBeCloseTo(0.48, 6);
    expect(ridge.lossRmsM).toBeGreaterThan(0.05);
  });
});

describe('highest surface', () => {
  it('takes the highest point of a cell and leaves cells without points empty', () => {
    const x = Float64Array.of(0.2, 0.3, 2.5);
    const y = Float64Array.of(0.5, 0.6, 0.5);
    const z = Float64Array.of(1, 4, 2);
    const g = gridHighest(x, y, z, Int32Array.of(0, 1, 2), [100, 200, 10], 1);
    expect([g.westM, g.northM, g.columns]).toEqual([100, 202, 4]);
    expect([...g.heightM.slice(4, 7)]).toEqual([14, NaN, 12]);
  });
  it('subtracts on the same cells', () => {
    const ground = gridFromTin(
      makeTin(Float64Array.of(0, 4, 0, 4), Float64Array.of(0, 0, 4, 4), Float64Array.of(1, 1, 1, 1)),
      0,
      0,
      1,
    );
    const top = gridHighest(
      Float64Array.of(1.5),
      Float64Array.of(1.5),
      Float64Array.of(7),
      Int32Array.of(0),
      [0, 0, 0],
      1,
      ground,
    );
    const d = gridDifference(top, ground);
    expect(d.heightM[2 * d.columns + 1]).toBe(6);
    expect(d.heightM.filter((h) => !Number.isNaN(h)).length).toBe(1);
  });
});
