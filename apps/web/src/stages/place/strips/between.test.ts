import { describe, expect, it } from 'vitest';
import { type PairFigures } from '@longheron/contract/kinds/adjustment';
import { headsOf, isBetween, together } from './between';

const left = (strip: number) => ({ strip, head: 'left' });
const right = (strip: number) => ({ strip, head: 'right' });
const pair = (patches: number, before: number, after: number | null): PairFigures => ({
  first: left(1),
  second: right(1),
  patches,
  before_mean_m: 0,
  before_rms_m: before,
  after_mean_m: after && 0,
  after_rms_m: after,
  noise_m: 0.002,
});

describe('pairs of strips and heads', () => {
  it('are of two heads in one strip, or of two strips whatever their heads', () => {
    expect(isBetween('heads', left(1), right(1))).toBe(true);
    expect(isBetween('heads', left(1), right(2))).toBe(false);
    expect(isBetween('strips', left(1), left(2))).toBe(true);
    expect(isBetween('strips', left(1), right(2))).toBe(true);
    expect(isBetween('strips', left(1), right(1))).toBe(false);
    expect(isBetween('all', left(1), right(1))).toBe(true);
    expect(headsOf([left(1), right(1), left(2)])).toEqual(['left', 'right']);
  });

  it('together weigh by their patches', () => {
    // √((30 × 0.01² + 10 × 0.03²) / 40) = √(0.012 / 40)
    const all = together([pair(30, 0.01, 0.004), pair(10, 0.03, null)]);
    expect(all.patches).toBe(40);
    expect(all.beforeM).toBeCloseTo(Math.sqrt(0.0003), 12);
    expect(all.afterM).toBeCloseTo(0.004, 12);
    expect(together([])).toEqual({ patches: 0, beforeM: null, afterM: null, noiseM: null });
  });
});
