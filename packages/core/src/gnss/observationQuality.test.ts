import { describe, expect, it } from 'vitest';
import { Random } from '../numeric';
import { observationQuality, type Observations } from '.';

const [F1, F2] = [1575.42e6, 1227.6e6];
const C = 299792458;

/** One satellite for ten minutes: range, ionosphere that drifts, code noise of known size, and a slip half-way. */
function made(noise1M: number, noise2M: number, slip: boolean): Observations {
  const random = new Random(9, 'codes');
  const n = 600;
  const values = new Float64Array(4 * n);
  for (let i = 0; i < n; i++) {
    const range = 2.1e7 + 300 * i;
    const iono = 4 + 0.002 * i;
    const later = slip && i >= 300 ? 7 : 0;
    values[4 * i] = range + iono + noise1M * random.normal();
    values[4 * i + 1] = ((range - iono) * F1) / C + 12345 + later;
    values[4 * i + 2] = range + iono * (F1 / F2) ** 2 + noise2M * random.normal();
    values[4 * i + 3] = ((range - iono * (F1 / F2) ** 2) * F2) / C - 999;
  }
  return {
    marker: '',
    receiver: '',
    antenna: '',
    antennaDeltaM: [0, 0, 0] as [number, number, number],
    week: 2423,
    types: { G: ['C1C', 'L1C', 'C2W', 'L2W'] },
    satellites: ['G05'],
    width: 4,
    values,
    sow: Float64Array.from({ length: n }, (_, i) => i),
    start: Uint32Array.from({ length: n + 1 }, (_, i) => i),
    satellite: new Uint16Array(n),
    lost: new Uint8Array(4 * n),
  };
}

describe('the quality of a recording by itself', () => {
  it('shows the noise of both codes, whatever range and ionosphere do', () => {
    const q = observationQuality(made(0.4, 0.7, false));
    // 600 values: the RMS is known to 3 %
    expect(Math.abs(q.multipathM.G![0] / 0.4 - 1)).toBeLessThan(0.09);
    expect(Math.abs(q.multipathM.G![1] / 0.7 - 1)).toBeLessThan(0.09);
    expect([q.slips, q.complete, q.rows, q.mean]).toEqual([0, 600, 600, 1]);
  });
  it('counts a slip once, and keeps it out of the noise', () => {
    const q = observationQuality(made(0.4, 0.7, true));
    expect(q.slips).toBe(1);
    expect(q.multipathM.G![0]).toBeLessThan(0.45);
  });
  it('tells a weak minute from a single hole', () => {
    const o = made(0.1, 0.1, false);
    o.values[4 * 100] = NaN;
    expect(observationQuality(o).fewest).toBeCloseTo(59 / 60, 6);
    for (let i = 200; i < 260; i++) o.values[4 * i] = NaN;
    const q = observationQuality(o);
    expect(q.fewest).toBe(0);
    expect(q.complete).toBe(539);
  });
});
