import { describe, expect, it } from 'vitest';
import { addObservations, residuals, ROW, type Observations } from './equations';

/** One cell of rows with these readings, all of which turn with the first unknown alone. */
function oneCell(readings: readonly number[], mark: number): Observations {
  const count = readings.length;
  const value = new Float64Array(count * ROW);
  for (let row = 0; row < count; row++) value[row * ROW] = row + 1;
  return {
    count,
    cells: 1,
    start: Int32Array.of(0, count),
    piece: new Int32Array(count),
    reading: Float64Array.from(readings),
    varianceM2: new Float64Array(count).fill(1e-6),
    commonM2: new Float64Array(count),
    value,
    place: Int32Array.from({ length: count * ROW }, (_, i) => i % ROW),
    mark: Float64Array.of(mark),
    markVarianceM2: Float64Array.of(Number.isNaN(mark) ? 0 : 1e-6),
    markName: new Map(),
  };
}

describe('residuals of a cell', () => {
  const of = (readings: number[], mark: number, weight: number[], unknown = 0) => {
    const out = new Float64Array(readings.length + 1);
    residuals(oneCell(readings, mark), Float64Array.from(weight), Float64Array.of(unknown, ...Array(ROW).fill(0)), out);
    return [...out];
  };

  it('are of the rows among themselves, however far off their mark is', () => {
    const [a, b, mark] = of([0.01, 0.03], 0.5, [1, 1, 1000]);
    expect([a, b]).toEqual([expect.closeTo(-0.01, 12), expect.closeTo(0.01, 12)]);
    expect(mark).toBeCloseTo(0.02 - 0.5, 12);
    expect(of([0.04], 0.02, [1, 50])).toEqual([0, expect.closeTo(0.02, 12)]);
  });

  it('are weighted means apart, after what the unknowns do', () => {
    // 0.01 + 1 × 0.02 = 0.03 with weight 3; 0.03 + 2 × 0.02 = 0.07 with weight 1; mean 0.04
    expect(of([0.01, 0.03], Number.NaN, [3, 1, 0], 0.02)).toEqual([
      expect.closeTo(-0.01, 12),
      expect.closeTo(0.03, 12),
      Number.NaN,
    ]);
  });

  it('stay numbers where no row counts any more, so that a row or mark can come back', () => {
    expect(of([0.01, 0.03], 0.02, [0, 0, 0])).toEqual([
      expect.closeTo(-0.01, 12),
      expect.closeTo(0.01, 12),
      expect.closeTo(0, 12),
    ]);
  });
});

describe('normal equations of a cell', () => {
  it('lose the height that rows have in common, and nothing where a mark holds it', () => {
    const n = ROW;
    const normal = (mark: number, weight: number[]) => {
      const out = new Float64Array(n * n);
      const b = new Float64Array(n);
      addObservations(oneCell([0.01, 0.03], mark), Float64Array.from(weight), out, b, n);
      return [out[0], b[0]];
    };
    // rows 1 and 2 less their mean 1.5: 0.25 + 0.25; right side −(−0.5 × −0.01 + 0.5 × 0.01)
    expect(normal(Number.NaN, [1, 1, 0])).toEqual([expect.closeTo(0.5, 12), expect.closeTo(-0.01, 12)]);
    // a height that is known: 1 + 4, and −(1 × (0.01 − 0.1) + 2 × (0.03 − 0.1))
    const [held, side] = normal(0.1, [1, 1, 1e12]);
    expect(held).toBeCloseTo(5, 6);
    expect(side).toBeCloseTo(0.23, 6);
  });
});
