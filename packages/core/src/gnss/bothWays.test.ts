import { describe, expect, it } from 'vitest';
import { combinePasses } from './bothWays';
import { type KinematicEpoch, type Solution } from './epoch';

const epoch = (solution: Solution, x: number, sd: number): KinematicEpoch => ({
  sow: 1,
  xyzM: Float64Array.of(x, 0, 0),
  satellites: 9,
  ratio: 5,
  successRate: 1,
  separationM: Number.NaN,
  solution,
  covariance: Float64Array.of(sd ** 2, 0, 0, 0, sd ** 2, 0, 0, 0, sd ** 2),
});

describe('a forward and a reverse position', () => {
  it('that are float give the mean by their weights', () => {
    const both = combinePasses(epoch('float', 0.3, 0.3), epoch('float', 0, 0.1));
    // weights 1 : 9
    expect(both.xyzM[0]).toBeCloseTo(0.03, 12);
    expect(both.covariance[0]).toBeCloseTo(0.009, 12);
    expect(both.separationM).toBeCloseTo(0.3, 12);
    expect(both.solution).toBe('float');
  });
  it('are fixed when one is and the other does not contradict it', () => {
    expect(combinePasses(epoch('float', 0.4, 0.2), epoch('fixed', 0, 0.01)).solution).toBe('fixed');
    const same = combinePasses(epoch('fixed', 0.002, 0.01), epoch('fixed', 0, 0.01));
    expect(same.solution).toBe('fixed');
    expect(same.xyzM[0]).toBeCloseTo(0.001, 12);
  });
  it('that contradict each other are float, and state by how much', () => {
    for (const other of [epoch('fixed', 0.4, 0.01), epoch('float', 2, 0.1)]) {
      const both = combinePasses(epoch('fixed', 0, 0.01), other);
      expect(both.solution).toBe('float');
      expect(Math.sqrt(both.covariance[0])).toBeGreaterThan(0.9 * other.xyzM[0]);
      expect(both.air).toBeUndefined();
    }
  });
  it('of codes alone give way to any phases', () => {
    expect(combinePasses(epoch('code', 5, 2), epoch('float', 0, 0.5)).xyzM[0]).toBe(0);
    expect(combinePasses(epoch('fixed', 0, 0.01), epoch('code', 5, 2)).solution).toBe('fixed');
  });
});
