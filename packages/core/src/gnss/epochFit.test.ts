import { describe, expect, it } from 'vitest';
import { Random } from '../numeric';
import { EpochFit } from './epochFit';

/** Directions all over the sky, and what a displacement and two clocks make of them. */
function scene(random: Random, count: number, shift: number[], clocks: number[], sd: number) {
  return Array.from({ length: count }, (_, k) => {
    const up = random.between(0.2, 1);
    const turn = random.between(0, 2 * Math.PI);
    const flat = Math.sqrt(1 - up * up);
    const unit = [flat * Math.cos(turn), flat * Math.sin(turn), up];
    const clock = k % clocks.length;
    const y = clocks[clock] - unit.reduce((s, v, i) => s + v * shift[i], 0) + sd * random.normal();
    return { unit, clock, y };
  });
}

function filled(rows: ReturnType<typeof scene>, sd: number): EpochFit {
  const fit = new EpochFit();
  fit.clear();
  for (const r of rows) fit.add(r.unit, r.clock, r.y, sd * sd);
  return fit;
}

describe('the fit of an epoch', () => {
  it('finds displacement to its noise, and nothing to leave out', () => {
    const shift = [3, -2, 1];
    const fit = filled(scene(new Random(1), 14, shift, [7, -1e6], 1e-4), 1e-4);
    expect(fit.reject(5, 0.05)).toEqual([]);
    shift.forEach((v, k) => expect(fit.x[k]).toBeCloseTo(v, 3));
  });
  it('leaves out what does not agree, thousands of metres or ten centimetres off, up to a third of all', () => {
    for (let seed = 0; seed < 40; seed++) {
      const random = new Random(seed, 'outliers');
      const rows = scene(random, 15, [1, 2, 3], [0], 0.004);
      const wrong = new Set<number>();
      while (wrong.size < 1 + (seed % 5)) wrong.add(Math.floor(random.between(0, 15)));
      for (const k of wrong) rows[k].y += (seed % 2 ? 1 : -1) * Math.exp(random.between(Math.log(0.2), 8));
      const found = filled(rows, 0.004).reject(5, 0.05);
      expect(new Set(found)).toEqual(wrong);
    }
  });
  it('says that it cannot tell when too few are left', () => {
    const rows = scene(new Random(4), 5, [0, 0, 0], [0], 0.001);
    rows[2].y += 1;
    // five observations, four unknowns: one is wrong, but each of them may be it
    expect(filled(rows, 0.001).reject(5, 0.05)).toBeUndefined();
  });
  it('states how much of an observation its residual keeps: the shares add up to what is over', () => {
    const rows = scene(new Random(6), 20, [0, 0, 0], [0, 5], 0.01);
    const fit = filled(rows, 0.01);
    fit.reject(5, 0.05);
    const sum = rows.reduce((s, _, k) => s + fit.redundancy(k), 0);
    expect(sum).toBeCloseTo(20 - 5, 9);
  });
});
