import { describe, expect, it } from 'vitest';
import { asprs2014Horizontal, asprs2024Horizontal, checkDistance, planStatistics } from './plan';

describe('accuracy in plan', () => {
  it('of five residuals worked by hand', () => {
    const s = planStatistics([0.01, -0.02, 0.03, 0, 0.01], [0.02, 0.01, -0.01, 0.02, 0.01]);
    expect(s.meanE).toBeCloseTo(0.006, 12);
    expect(s.rmseE).toBeCloseTo(Math.sqrt(0.0015 / 5), 12);
    expect(s.rmseN).toBeCloseTo(Math.sqrt(0.0011 / 5), 12);
    expect(s.rmseR).toBeCloseTo(Math.sqrt(0.0026 / 5), 12);
    expect(s.sdE).toBeCloseTo(Math.sqrt((0.0015 - 5 * 0.006 ** 2) / 4), 12);
    expect(s.maxM).toBeCloseTo(Math.hypot(0.03, 0.01), 12);
    // the axes stand 0.856 to 1
    expect(s.p95M).toBeCloseTo(2.4477 * 0.5 * (Math.sqrt(0.0003) + Math.sqrt(0.00022)), 12);
    expect(s.biasSignificant).toBe(false);
    const a = asprs2014Horizontal(s);
    expect([a.classCm, a.caveat]).toEqual([1.8, 'tested with only 5 check marks; the standard asks for 20']);
    expect(asprs2024Horizontal(s, 0.005).rmseM).toBeCloseTo(Math.sqrt(0.00052 + 0.000025), 12);
  });

  it('gives no 95 % figure when the axes differ, and the plain one when they are alike', () => {
    expect(planStatistics([0.05, -0.05, 0.05], [0.01, -0.01, 0.01]).p95M).toBeUndefined();
    expect(planStatistics([0.02, -0.02, 0.02], [0.02, -0.02, 0.02]).p95M).toBeCloseTo(1.7308 * 0.02 * Math.SQRT2, 12);
    const shifted = planStatistics([0.05, 0.051, 0.049, 0.05], [0.001, -0.001, 0.002, -0.002]);
    expect(shifted.biasSignificant).toBe(true);
  });

  it('compares a taped distance with the cloud, the projection taken out', () => {
    const sd: [number, number, number] = [0.01, 0.01, 0.02];
    // 30 and 40 in plan of a projection that makes 1 m of ground 0.9996
    const d = checkDistance(
      { from: 'A', to: 'B', valueM: 50.03, sdM: 0.002 },
      { at: [0, 0, 0], sd },
      { at: [30 * 0.9996, 40 * 0.9996, 0], sd },
      1 / 0.9996,
    );
    expect(d.foundM).toBeCloseTo(50, 9);
    expect(d.differenceM).toBeCloseTo(-0.03, 9);
    expect(d.expectedSdM).toBeCloseTo(Math.sqrt(2 * 0.01 ** 2 + 0.002 ** 2), 9);
    expect(d.agrees).toBe(true);
    expect(
      checkDistance({ from: 'A', to: 'B', valueM: 50.1, sdM: 0.002 }, { at: [0, 0, 0], sd }, { at: [0, 0, 50], sd }, 1)
        .agrees,
    ).toBe(false);
  });
});
