import { describe, expect, it } from 'vitest';
import { type KinematicEpoch } from './epoch';
import { staticMean } from './staticMean';

const BASE = [3_528_000, 525_000, 5_269_000];
const none = new Float64Array(9);
const epoch = (sow: number, off: number[], more: Partial<KinematicEpoch> = {}): KinematicEpoch => ({
  sow,
  xyzM: Float64Array.from(BASE, (v, k) => v + off[k]),
  solution: 'fixed',
  satellites: 12,
  covariance: Float64Array.of(1e-4, 0, 0, 0, 1e-4, 0, 0, 0, 1e-4),
  noise: Float64Array.of(1e-4, 0, 0, 0, 1e-4, 0, 0, 0, 1e-4),
  ratio: 10,
  successRate: 1,
  separationM: 0,
  ...more,
});

describe('the mean of a receiver at rest', () => {
  it('leaves out gross epochs and those without satellites, and averages what fades', () => {
    const epochs = Array.from({ length: 600 }, (_, k) => epoch(k, [0.001 * ((k % 3) - 1), 0, 0]));
    epochs[100] = epoch(100, [0.5, 0, 0]);
    epochs.push(
      ...Array.from({ length: 900 }, (_, k) => epoch(600 + k, [9, 9, 9], { solution: 'code', satellites: 0 })),
    );
    const m = staticMean(epochs, 60, BASE)!;
    expect([m.solution, m.epochs, m.used, m.fixedShare]).toEqual(['fixed', 600, 599, 1]);
    expect(m.xyzM[0] - BASE[0]).toBeCloseTo(0, 5);
    // errors that fade over 60 s, averaged over 599 s: 2/u·(1 − (1 − e^−u)/u) of the variance, u = 599/60
    const u = 599 / 60;
    const share = (2 / u) * (1 - (1 - Math.exp(-u)) / u);
    expect(m.covariance[0]).toBeCloseTo(1e-4 * share, 8);
  });

  it('keeps what the air leaves, and more of it the longer the vector', () => {
    const covariance = Float64Array.of(2e-4, 0, 0, 0, 2e-4, 0, 0, 0, 2e-4);
    const epochs = Array.from({ length: 3600 }, (_, k) => epoch(k, [0, 0, 0], { covariance }));
    const near = staticMean(epochs, 60, BASE)!;
    expect(near.covariance[0]).toBeGreaterThan(1e-4);
    const far = staticMean(epochs, 60, [BASE[0] - 8000, BASE[1], BASE[2]])!;
    const trace = (c: Float64Array) => c[0] + c[4] + c[8];
    expect(trace(far.covariance) - trace(near.covariance)).toBeCloseTo(2 * 0.0024 ** 2 + 0.0096 ** 2, 9);
  });

  it('of float epochs averages nothing', () => {
    const epochs = Array.from({ length: 600 }, (_, k) => epoch(k, [0, 0, 0], { solution: 'float', noise: undefined }));
    const m = staticMean(epochs, 60, BASE)!;
    expect(m.solution).toBe('float');
    expect(m.covariance[0]).toBeCloseTo(1e-4, 9);
    expect(staticMean([epoch(0, [0, 0, 0], { satellites: 3, covariance: none })], 60, BASE)).toBeUndefined();
  });
});
