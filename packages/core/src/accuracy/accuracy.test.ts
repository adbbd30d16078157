import { describe, expect, it } from 'vitest';
import {
  asprs2014Vertical,
  asprs2024Vertical,
  checkMarks,
  heightStatistics,
  smallestContourIntervalM,
  studentQuantile,
  studentTwoSided,
  surfaceHeightAtMark,
  type Mark,
  type Neighbourhood,
} from '.';

describe('statistics', () => {
  it('follow their definitions', () => {
    const s = heightStatistics([0.01, -0.02, 0.03, 0.0, 0.02]);
    expect(s.meanM).toBeCloseTo(0.008, 12);
    expect(s.sdM).toBeCloseTo(0.0192353841, 9); // numpy.std(ddof=1)
    expect(s.rmseM).toBeCloseTo(Math.sqrt(0.0018 / 5), 12);
    expect(s.biasT).toBeCloseTo(0.008 / (0.0192353841 / Math.sqrt(5)), 6);
    expect(s.biasSignificant).toBe(false);
  });
  it('use Student as the tables give it', () => {
    expect(studentQuantile(0.05, 10)).toBeCloseTo(2.2281, 4);
    expect(studentQuantile(0.05, 4)).toBeCloseTo(2.7764, 4);
    expect(studentQuantile(0.01, 30)).toBeCloseTo(2.75, 3);
    expect(studentTwoSided(2.2281389, 10)).toBeCloseTo(0.05, 6);
  });
  it('state classes and contour intervals rounded up', () => {
    expect(asprs2014Vertical(0.0931, 25)).toMatchObject({ classCm: 9.4, caveat: undefined });
    expect(asprs2014Vertical(0.1, 20).p95M).toBeCloseTo(0.196, 9);
    expect(asprs2014Vertical(0.1, 20).classCm).toBe(10);
    expect(asprs2024Vertical(0.03, 0.04, 30).rmseM).toBeCloseTo(0.05, 12);
    expect(asprs2024Vertical(0.03, 0.01, 29).caveat).toContain('29');
    expect(smallestContourIntervalM(0.0303)).toBe(0.1);
    expect(smallestContourIntervalM(0.0305)).toBe(0.2);
    expect(smallestContourIntervalM(0.152)).toBe(1);
    expect(smallestContourIntervalM(2)).toBeUndefined();
  });
});

function grid(height: (x: number, y: number) => number, step = 0.15, reach = 1): Neighbourhood {
  const dx: number[] = [],
    dy: number[] = [],
    z: number[] = [];
  for (let x = -reach; x <= reach; x += step)
    for (let y = -reach; y <= reach; y += step) (dx.push(x), dy.push(y), z.push(height(x, y)));
  return { dx: Float64Array.from(dx), dy: Float64Array.from(dy), z: Float64Array.from(z) };
}

describe('height at a mark', () => {
  it('is that of the plane, with its slope', () => {
    const s = surfaceHeightAtMark(grid((x, y) => 5 + 0.1 * x + 0.05 * y));
    expect(s.method).toBe('plane');
    expect(s.heightM).toBeCloseTo(5, 9);
    expect(s.triangleM).toBeCloseTo(5, 9);
    expect(s.slopePercent).toBeCloseTo(100 * Math.hypot(0.1, 0.05), 6);
  });
  it('falls back to the triangle, and says why', () => {
    const s = surfaceHeightAtMark({
      dx: Float64Array.of(-1, 1, 0),
      dy: Float64Array.of(-1, -1, 1.4),
      z: Float64Array.of(1, 3, 2),
    });
    expect(s.method).toBe('triangle');
    expect(s.heightM).toBeCloseTo(2, 9);
    expect(s.reason).toMatch(/0 ground points within 0.5 m/);
  });
  it('is not found on one side only, with the reason', () => {
    const s = surfaceHeightAtMark({
      dx: Float64Array.of(1, 2, 3),
      dy: Float64Array.of(0, 1, 0),
      z: Float64Array.of(1, 1, 1),
    });
    expect(s.method).toBe('none');
    expect(s.reason).toMatch(/no triangle/);
    expect(
      surfaceHeightAtMark({ dx: new Float64Array(), dy: new Float64Array(), z: new Float64Array() }).reason,
    ).toMatch(/no ground point/);
  });
});

describe('marks', () => {
  const mark = (name: string, role: Mark['role'], heightM: number, more: Partial<Mark> = {}): Mark => ({
    name,
    role,
    eastingM: 0,
    northingM: 0,
    heightM,
    sdHM: 0.008,
    ...more,
  });
  const flat = grid(() => 10);
  it('enter the statistics only as check marks, and only the disturbed one is flagged', () => {
    const marks = [
      mark('C1', 'control', 10.002),
      mark('C2', 'control', 10.11),
      mark('K1', 'check', 10.01),
      mark('K2', 'check', 9.99),
      mark('K3', 'check', 10.0),
      mark('K4', 'check', 9.995),
      mark('K5', 'check', 10.2, { leftOutReason: 'destroyed by roadworks' }),
      mark('U1', 'unused', 10),
    ];
    const check = checkMarks(marks, () => flat, 0.01);
    expect(check.statistics.count).toBe(4);
    expect(check.residuals.filter((r) => r.used).map((r) => r.mark.name)).toEqual(['K1', 'K2', 'K3', 'K4']);
    expect(check.residuals.filter((r) => r.flagged).map((r) => r.mark.name)).toEqual(['C2', 'K5']);
    expect(check.residuals[0].residualM).toBeCloseTo(-0.002, 9);
    expect(check.residuals[6].surface.heightM).toBeCloseTo(10, 9);
  });
  it('are flagged beyond the tolerance where that is asked for finer than 3 cm', () => {
    const fine = ['K1', 'K2', 'K3', 'K4', 'K5'].map((name, k) =>
      mark(name, 'check', [10.001, 9.999, 10, 10.001, 10.02][k], { sdHM: 0.002 }),
    );
    const flagged = (toleranceM?: number) =>
      checkMarks(fine, () => flat, 0.002, toleranceM)
        .residuals.filter((r) => r.flagged)
        .map((r) => r.mark.name);
    expect(flagged(0.01)).toEqual(['K5']);
    expect(flagged()).toEqual([]);
    // a coarse tolerance does not hide what is far out
    expect(checkMarks([...fine, mark('K6', 'check', 10.2)], () => flat, 0.002, 0.5).residuals[5].flagged).toBe(true);
  });
});
