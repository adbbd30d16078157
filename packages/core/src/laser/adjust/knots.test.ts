import { describe, expect, it } from 'vitest';
import { Cholesky } from '../../numeric/cholesky';
import { type Trajectory } from '../../trajectory/trajectory';
import { addSlowness, KNOT_SIZE, knotBefore, makeKnots } from './knots';

const seconds = Float64Array.from({ length: 401 }, (_, i) => i);
const all = (v: number) => new Float64Array(401).fill(v);
const trajectory: Trajectory = {
  week: 2400,
  sow: seconds,
  latRad: all(1),
  lonRad: all(0),
  hEllM: all(300),
  sdNM: all(0.01),
  sdEM: all(0.012),
  sdDM: all(0.02),
  sdRollRad: all(5e-5),
  sdPitchRad: all(6e-5),
  sdHeadingRad: all(2e-4),
};
const spans = [
  { startS: 10, endS: 20 },
  { startS: 90, endS: 100 },
];

describe('knots of the trajectory', () => {
  const rules = { spacingS: 2, positionTauS: 40, attitudeTauS: 90 };

  it('stand evenly in lines, with the deviations that the trajectory states', () => {
    const knots = makeKnots(trajectory, spans, rules);
    expect(Array.from(knots.timeS)).toEqual([10, 12, 14, 16, 18, 20, 90, 92, 94, 96, 98, 100]);
    expect(Array.from(knots.first)).toEqual([0, 6, 12]);
    // metres, milliradians
    [0.01, 0.012, 0.02, 0.05, 0.06, 0.2].forEach((sd, c) => expect(knots.sd[c]).toBeCloseTo(sd, 12));
    expect(knotBefore(knots, 2, 93)).toEqual({ knot: 7, share: 0.5 });
    expect(knotBefore(knots, 1, 20)).toEqual({ knot: 4, share: 1 });
    expect(knotBefore(knots, 1, 5)).toEqual({ knot: 0, share: 0 });
  });

  it('have the covariances of a Gauss–Markov series, across lines too', () => {
    const knots = makeKnots(trajectory, spans, rules);
    const n = KNOT_SIZE * knots.count;
    const normal = new Float64Array(n * n);
    addSlowness(normal, n, 0, knots);
    const covariance = Cholesky.of(normal, n)!.inverse();
    for (let c = 0; c < KNOT_SIZE; c++)
      for (let a = 0; a < knots.count; a++)
        for (let b = 0; b < knots.count; b++) {
          const tau = c < 3 ? 40 : 90;
          const sd = knots.sd[c];
          const expected = sd * sd * Math.exp(-Math.abs(knots.timeS[a] - knots.timeS[b]) / tau);
          expect(covariance[(KNOT_SIZE * a + c) * n + KNOT_SIZE * b + c] / sd ** 2).toBeCloseTo(expected / sd ** 2, 9);
        }
  });

  it('of a line that drifts have nothing to do with the other lines, in height alone', () => {
    const knots = makeKnots(trajectory, spans, rules);
    knots.loose[1] = 4;
    const n = KNOT_SIZE * knots.count;
    const normal = new Float64Array(n * n);
    addSlowness(normal, n, 0, knots);
    const covariance = Cholesky.of(normal, n)!.inverse();
    const at = (a: number, b: number, c: number) => covariance[(KNOT_SIZE * a + c) * n + KNOT_SIZE * b + c];
    expect(at(6, 6, 2) / 0.02 ** 2).toBeCloseTo(16, 9);
    expect(at(0, 6, 2)).toBe(0);
    expect(at(0, 6, 1)).toBeGreaterThan(0);
  });

  it('are never more than can be solved', () => {
    const long = makeKnots(trajectory, [{ startS: 0, endS: 400 }], { ...rules, spacingS: 0.5 });
    expect(long.count).toBeLessThanOrEqual(151);
    const bare = makeKnots({ ...trajectory, sdNM: undefined, sdRollRad: undefined }, spans, rules);
    expect([bare.sd[0], bare.sd[3]]).toEqual([0.02, 0.15]);
  });
});
