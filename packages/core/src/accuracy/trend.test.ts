import { describe, expect, it } from 'vitest';
import { Random } from '../numeric/random';
import { fisherTail, studentTwoSided } from './student';
import { heightTrend, planTrend } from './trend';

const random = new Random(9, 'trend');
const places = (n: number) => {
  const e = Array.from({ length: n }, () => 467_000 + random.between(0, 400));
  const r = Array.from({ length: n }, () => 6_215_000 + random.between(0, 600));
  return [e, r] as const;
};

describe("Fisher's F", () => {
  it('with two degrees above has a closed form, and with one is the square of t', () => {
    for (const [f, d] of [
      [0.5, 3],
      [4.2, 9],
      [30, 20],
    ]) {
      expect(fisherTail(f, 2, d)).toBeCloseTo((1 + (2 * f) / d) ** (-d / 2), 10);
      expect(fisherTail(f, 1, d)).toBeCloseTo(studentTwoSided(Math.sqrt(f), d), 10);
    }
    // scipy.stats.f.sf(3.5, 4, 17)
    expect(fisherTail(3.5, 4, 17)).toBeCloseTo(0.029306975370654346, 8);
    expect([fisherTail(0, 2, 5), fisherTail(Infinity, 2, 5)]).toEqual([1, 0]);
  });
});

describe('a tilt in height residuals', () => {
  it('is found exactly where there is nothing else', () => {
    const [e, n] = places(9);
    const t = heightTrend(
      e,
      n,
      e.map((x, i) => 0.02 + 0.0003 * (x - 467_100) - 0.0001 * (n[i] - 6_215_000)),
    )!;
    expect([t.east, t.north]).toEqual([expect.closeTo(0.03, 9), expect.closeTo(-0.01, 9)]);
    expect(t.significant).toBe(true);
    expect(t.sdAfterM).toBeLessThan(1e-9);
  });

  it('is called one by chance in one of twenty, and its deviation is what is stated', () => {
    let called = 0;
    let square = 0;
    const trials = 2000;
    for (let k = 0; k < trials; k++) {
      const [e, n] = places(12);
      const t = heightTrend(
        e,
        n,
        e.map(() => 0.01 * random.normal()),
      )!;
      called += t.significant ? 1 : 0;
      square += (t.east / t.sdEast) ** 2;
    }
    // 5 % of 2000 are 100 with a deviation of 10
    expect(Math.abs(called - 100)).toBeLessThan(35);
    // t with 9 degrees has a mean square of 9/7
    expect(square / trials).toBeGreaterThan(1.15);
    expect(square / trials).toBeLessThan(1.45);
  });

  it('is not stated of few marks or of marks in one line', () => {
    const [e, n] = places(5);
    expect(heightTrend(e, n, e)).toBeNull();
    const line = Array.from({ length: 9 }, (_, i) => i * 50);
    expect(
      heightTrend(
        line,
        line.map((v) => 2 * v + 0.3),
        line,
      ),
    ).toBeNull();
  });
});

describe('a turn and a scale in plan residuals', () => {
  it('are found exactly, with the sign of what the cloud is', () => {
    const [e, n] = places(6);
    const [ppm, turn] = [25e-6, 4e-5];
    const dE = e.map((x, i) => 0.01 + ppm * (x - 467_000) - turn * (n[i] - 6_215_000));
    const dN = e.map((x, i) => -0.02 + turn * (x - 467_000) + ppm * (n[i] - 6_215_000));
    const t = planTrend(e, n, dE, dN)!;
    expect(t.scalePpm).toBeCloseTo(25, 6);
    expect(t.turnArcsec).toBeCloseTo(8.2506, 3);
    expect([t.scaleSignificant, t.turnSignificant]).toEqual([true, true]);
  });

  it('are within their deviations where there are none', () => {
    let called = 0;
    let square = 0;
    const trials = 2000;
    for (let k = 0; k < trials; k++) {
      const [e, n] = places(8);
      const noise = () => e.map(() => 0.01 * random.normal());
      const t = planTrend(e, n, noise(), noise())!;
      called += t.scaleSignificant ? 1 : 0;
      square += (t.turnArcsec / t.sdTurnArcsec) ** 2 / trials;
    }
    expect(Math.abs(called - 100)).toBeLessThan(35);
    // t with 12 degrees has a mean square of 12/10
    expect(Math.abs(square - 1.2)).toBeLessThan(0.12);
    expect(planTrend([1, 2, 3], [1, 2, 3], [0, 0, 0], [0, 0, 0])).toBeNull();
  });
});
