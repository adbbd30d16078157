import { describe, expect, it } from 'vitest';
import { Random } from '../numeric/random';
import { measureAngle, measureArea, measureDistance, measureToPlane, type MeasuredPoint } from '.';

const at = (e: number, n: number, h: number, sd = 0.01): MeasuredPoint => ({
  eastingM: 467_000 + e,
  northingM: 6_215_000 + n,
  heightM: h,
  sdEM: sd,
  sdNM: sd,
  sdHM: 2 * sd,
});
/** Spread of a value when its points are moved by what their deviations say. */
function spread(points: MeasuredPoint[], value: (p: MeasuredPoint[]) => number): number {
  const random = new Random(4, 'measure');
  const values = Array.from({ length: 4000 }, () =>
    value(
      points.map((p) => ({
        ...p,
        eastingM: p.eastingM + p.sdEM * random.normal(),
        northingM: p.northingM + p.sdNM * random.normal(),
        heightM: p.heightM + p.sdHM * random.normal(),
      })),
    ),
  );
  const mean = values.reduce((s, v) => s + v, 0) / values.length;
  return Math.sqrt(values.reduce((s, v) => s + (v - mean) ** 2, 0) / (values.length - 1));
}

describe('what is measured between points', () => {
  it('distances: slope, plan, height, bearing, with deviations that trials confirm', () => {
    const points = [at(0, 0, 1), at(3, 4, 13)];
    const d = measureDistance(points[0], points[1]);
    expect([d.slopeM, d.planM, d.heightM, d.gradePercent]).toEqual([13, 5, 12, 240]);
    expect(d.bearingDeg).toBeCloseTo(36.8699, 4);
    for (const [key, sd] of [
      ['slopeM', d.sdSlopeM],
      ['planM', d.sdPlanM],
      ['heightM', d.sdHeightM],
    ] as const)
      expect(spread(points, ([a, b]) => measureDistance(a, b)[key]) / sd).toBeCloseTo(1, 1);
    const none = measureDistance(points[0], points[0]);
    expect([none.slopeM, Number.isNaN(none.bearingDeg), none.sdSlopeM > 0]).toEqual([0, true, true]);
  });

  it('angles in space and in plan', () => {
    const points = [at(10, 0, 0), at(0, 0, 0), at(0, 10, 10)];
    const a = measureAngle(points[0], points[1], points[2]);
    expect([a.spaceDeg, a.planDeg]).toEqual([90, 90]);
    const steep = measureAngle(at(10, 0, 0), at(0, 0, 0), at(10, 0, 10));
    expect(steep.spaceDeg).toBeCloseTo(45, 9);
    expect(steep.planDeg).toBeCloseTo(0, 9);
    expect(spread(points, ([p, q, r]) => measureAngle(p, q, r).spaceDeg) / a.sdSpaceDeg).toBeCloseTo(1, 1);
    expect(spread(points, ([p, q, r]) => measureAngle(p, q, r).planDeg) / a.sdPlanDeg).toBeCloseTo(1, 1);
  });

  it('areas: an L in plan, on a slope of 60°, and an outline that crosses itself', () => {
    const plan: Array<[number, number]> = [
      [0, 0],
      [10, 0],
      [10, 4],
      [4, 4],
      [4, 10],
      [0, 10],
    ];
    const points = plan.map(([e, n]) => at(e, n, e * Math.tan(Math.PI / 3)));
    const a = measureArea(points);
    expect([a.planM2, a.surfaceM2].map((v) => Number(v.toFixed(9)))).toEqual([64, 128]);
    expect(a.perimeterM).toBeCloseTo(2 * 20 + 2 * 10, 9);
    expect(spread(points, (p) => measureArea(p).planM2) / a.sdPlanM2).toBeCloseTo(1, 1);
    expect(a.crosses).toBe(false);
    expect(measureArea([at(0, 0, 0), at(4, 4, 0), at(4, 0, 0), at(0, 4, 0)]).crosses).toBe(true);
  });

  it('the distance from a wall of known place, others than its points left out', () => {
    const random = new Random(8, 'wall');
    // a wall that runs north-east and leans by 5°: 0.8 m before it stands the point
    const lean = (5 * Math.PI) / 180;
    const out = [Math.SQRT1_2 * Math.cos(lean), -Math.SQRT1_2 * Math.cos(lean), Math.sin(lean)];
    const along = [Math.SQRT1_2, Math.SQRT1_2, 0];
    const up = [-Math.SQRT1_2 * Math.sin(lean), Math.SQRT1_2 * Math.sin(lean), Math.cos(lean)];
    const place = (a: number, b: number, d: number) =>
      [467_000, 6_215_000, 5].map((v, k) => v + a * along[k] + b * up[k] + d * out[k]);
    const wall = Array.from({ length: 400 }, () =>
      place(4 * random.uniform() - 2, 3 * random.uniform() - 1.5, 0.004 * random.normal()),
    );
    const strays = Array.from({ length: 60 }, () => place(random.uniform(), random.uniform(), 0.1 + random.uniform()));
    const [e, n, h] = place(0.3, 0.2, 0.8);
    const point: MeasuredPoint = { eastingM: e, northingM: n, heightM: h, sdEM: 0.002, sdNM: 0.002, sdHM: 0.002 };
    const found = measureToPlane(point, [...wall, ...strays]);
    if (typeof found === 'string') throw new Error(found);
    expect(Math.abs(found.distanceM - 0.8)).toBeLessThan(0.001);
    expect(found.rmsM).toBeGreaterThan(0.0035);
    expect(found.rmsM).toBeLessThan(0.0045);
    expect(found.sdM).toBeGreaterThan(0.002);
    expect(found.sdM).toBeLessThan(0.0023);
    expect(found.tiltDeg).toBeCloseTo(85, 1);
    expect(found.dipDeg).toBeCloseTo(135, 0);
    expect(measureToPlane(point, wall.slice(0, 5))).toContain('only 5');
    expect(
      measureToPlane(
        point,
        Array.from({ length: 50 }, (_, i) => place(i / 10, 0, 0)),
      ),
    ).toContain('line');
  });
});
