import { expect, it } from 'vitest';
import {
  gaussMarkov,
  mean,
  normalisedMad,
  quantile,
  Random,
  robustPlane,
  rootMeanSquare,
  selectInPlace,
  sinCosDeg,
  standardDeviation,
} from '.';

it('computes textbook statistics', () => {
  const v = [2, 4, 4, 4, 5, 5, 7, 9];
  expect(mean(v)).toBe(5);
  expect(standardDeviation(v)).toBeCloseTo(Math.sqrt(32 / 7), 14);
  expect(rootMeanSquare([3, 4])).toBeCloseTo(Math.sqrt(12.5), 14);
  // numpy.percentile([1,2,3,4,10], 95) = 8.8
  expect(quantile([10, 1, 3, 2, 4], 0.95)).toBeCloseTo(8.8, 12);
  expect(normalisedMad([1, 2, 3, 4, 100])).toBeCloseTo(1.4826, 12);
});

it('draws normal numbers of unit SD, the same for a seed', () => {
  const r = new Random(7, 'a');
  const draws = Float64Array.from({ length: 200000 }, () => r.normal());
  expect(Math.abs(mean(draws))).toBeLessThan(0.01);
  expect(standardDeviation(draws)).toBeCloseTo(1, 2);
  expect(new Random(7, 'a').normal()).toBe(draws[0]);
  expect(new Random(7, 'b').normal()).not.toBe(draws[0]);
});

it('correlates as a Gauss–Markov series should', () => {
  const g = gaussMarkov(new Random(3), 400000, 1, 20);
  expect(standardDeviation(g)).toBeCloseTo(1, 1);
  let sum = 0;
  for (let i = 20; i < g.length; i++) sum += g[i] * g[i - 20];
  expect(sum / (g.length - 20)).toBeCloseTo(Math.exp(-1), 1);
});

it('finds a plane through a fifth of outliers', () => {
  const r = new Random(5);
  const n = 60;
  const x = Float64Array.from({ length: n }, () => r.between(-0.5, 0.5));
  const y = Float64Array.from({ length: n }, () => r.between(-0.5, 0.5));
  const z = Float64Array.from(
    { length: n },
    (_, i) => 12 + 0.3 * x[i] - 0.1 * y[i] + 0.002 * r.normal() + (i % 5 === 0 ? 0.4 : 0),
  );
  const plane = robustPlane(x, y, z)!;
  expect(Math.abs(plane.z0 - 12)).toBeLessThan(0.002);
  expect(Math.abs(plane.slopeX - 0.3)).toBeLessThan(0.005);
  expect(robustPlane([0, 1, 2], [0, 1, 2], [1, 2, 3])).toBeUndefined();
});

it('selects the k-th smallest in place', () => {
  const r = new Random(9);
  const values = Float64Array.from({ length: 1001 }, () => Math.floor(r.between(0, 100)));
  const sorted = values.slice().sort();
  for (const k of [0, 17, 500, 1000]) expect(selectInPlace(values.slice(), k, 0, 1001)).toBe(sorted[k]);
});

it('gives sine and cosine of degrees to the last bits, and exactly at quarter turns', () => {
  const random = new Random(2);
  const out = new Float64Array(2);
  for (let i = 0; i < 20000; i++) {
    const angle = random.between(-800, 800);
    sinCosDeg(angle, out);
    // the remainder of whole turns is exact; what is left is the rounding of up to 2π itself, 9e-16
    const rad = ((angle % 360) * Math.PI) / 180;
    expect(Math.abs(out[0] - Math.sin(rad))).toBeLessThan(1.3e-15);
    expect(Math.abs(out[1] - Math.cos(rad))).toBeLessThan(1.3e-15);
  }
  for (const [angle, sine, cosine] of [
    [0, 0, 1],
    [90, 1, 0],
    [180, 0, -1],
    [270, -1, 0],
    [-90, -1, 0],
    [360, 0, 1],
  ]) {
    sinCosDeg(angle, out);
    expect([out[0] + 0, out[1] + 0]).toEqual([sine, cosine]);
  }
  sinCosDeg(30, out);
  expect(out[0]).toBeCloseTo(0.5, 15);
  for (const angle of [Number.NaN, Infinity, 1e10]) {
    sinCosDeg(angle, out);
    expect(out[0]).toBeNaN();
  }
});
