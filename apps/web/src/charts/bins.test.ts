import { describe, expect, it } from 'vitest';
import { binsOf } from './bins';

const filled = (values: number[], limit: number) =>
  binsOf(values, limit)
    .filter((b) => b.count)
    .map((b) => [Number(b.fromM.toFixed(4)), b.count]);

describe('bins of a histogram', () => {
  it('are 5 mm wide about zero, and reach as far as the tolerance or the largest value', () => {
    const bins = binsOf([0, 0.002, -0.002, 0.0026, -0.0075], 0.03);
    expect(bins).toHaveLength(2 * 6 + 1);
    expect(filled([0, 0.002, -0.002, 0.0026, -0.0075], 0.03)).toEqual([
      [-0.0075, 1],
      [-0.0025, 3],
      [0.0025, 1],
    ]);
  });
  it('widen to 10 mm for large values, each of which is counted once', () => {
    const values = [0.2, -0.2, 0.1, 0.09];
    expect(filled(values, 0.03)).toEqual([
      [-0.205, 1],
      [0.085, 1],
      [0.095, 1],
      [0.195, 1],
    ]);
    expect(binsOf([], 0.03).every((b) => b.count === 0)).toBe(true);
  });
});
