import { describe, expect, it } from 'vitest';
import { Random } from '../numeric';
import { PlanIndex } from './planIndex';

const random = new Random(8, 'plan index');
/** A dense patch, a thin field around it and a few points high above. */
const points: number[][] = [];
for (let i = 0; i < 3000; i++) points.push([random.between(10, 14), random.between(10, 14), random.between(0, 0.2)]);
for (let i = 0; i < 400; i++) points.push([random.between(-30, 60), random.between(-30, 60), random.between(0, 2)]);
for (let i = 0; i < 40; i++) points.push([random.between(0, 30), random.between(0, 30), random.between(5, 40)]);
const column = (k: number) => Float64Array.from(points, (p) => p[k]);
const index = new PlanIndex(column(0), column(1), column(2));
const far = (i: number, j: number, plan = false) =>
  Math.hypot(points[i][0] - points[j][0], points[i][1] - points[j][1], plan ? 0 : points[i][2] - points[j][2]);

describe('points sorted in plan', () => {
  it('hold every point once, at its place', () => {
    expect([...index.order].sort((a, b) => a - b)).toEqual(points.map((_, i) => i));
    for (let place = 0; place < points.length; place += 97) {
      expect(index.x[place] - index.x[0]).toBeCloseTo(points[index.order[place]][0] - points[index.order[0]][0], 4);
      expect(index.z[place] - index.z[0]).toBeCloseTo(points[index.order[place]][2] - points[index.order[0]][2], 4);
    }
  });

  it.each([0.3, 2, 9])('find the nearest within %d m like a search through all', (limit) => {
    const squared = new Float64Array(6);
    const places = new Int32Array(6);
    for (let place = 0; place < points.length; place += 61) {
      const i = index.order[place];
      const all = points
        .map((_, j) => j)
        .filter((j) => j !== i && far(i, j) <= limit)
        .sort((a, b) => far(i, a) - far(i, b));
      const found = index.nearest(place, 6, limit, squared, places);
      expect(found).toBe(Math.min(6, all.length));
      for (let k = 0; k < found; k++) expect(Math.sqrt(squared[k])).toBeCloseTo(far(i, all[k]), 4);
      const inPlan = points.filter((_, j) => j !== i && far(i, j, true) <= limit).length;
      for (const k of [1, 6, 30]) {
        expect(index.hasNear(place, k, limit)).toBe(all.length >= k);
        expect(index.hasNear(place, k, limit, true)).toBe(inPlan >= k);
      }
    }
  });

  it('of an empty cloud are none', () => {
    expect(new PlanIndex(new Float64Array(0), new Float64Array(0), new Float64Array(0)).order).toHaveLength(0);
  });
});
