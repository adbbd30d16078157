import { describe, expect, it } from 'vitest';
import { Random } from '../numeric';
import {
  CLOTH_DEFAULTS,
  findGround,
  findGroundByCloth,
  findStrays,
  GROUND_DEFAULTS,
  STRAY_DEFAULTS,
  VoxelIndex,
  type PointSet,
} from '.';

function pointSet(points: number[][]): PointSet {
  const column = (k: number) => Float64Array.from(points, (p) => p[k]);
  return { count: points.length, x: column(0), y: column(1), z: column(2), origin: [0, 0, 0] };
}

describe('neighbours', () => {
  it('are those of a search through all points', () => {
    const r = new Random(2);
    const points = Array.from({ length: 600 }, () => [r.between(0, 5), r.between(0, 5), r.between(0, 2)]);
    const set = pointSet(points);
    const index = new VoxelIndex(set.x, set.y, set.z, 0.4);
    const squared = new Float64Array(5),
      ids = new Int32Array(5);
    for (let i = 0; i < 600; i += 37) {
      expect(index.nearest(i, 5, 20, squared, ids)).toBe(5);
      const all = points
        .map((p, j) => [
          j === i ? Infinity : (p[0] - points[i][0]) ** 2 + (p[1] - points[i][1]) ** 2 + (p[2] - points[i][2]) ** 2,
          j,
        ])
        .sort((a, b) => a[0] - b[0]);
      expect([...ids]).toEqual(all.slice(0, 5).map((a) => a[1]));
    }
  });
});

describe('strays', () => {
  it('are found over dense ground, while a thin wire and sparse far points stay', () => {
    const r = new Random(4);
    const points: number[][] = [];
    for (let i = 0; i < 20000; i++) points.push([r.between(0, 40), r.between(0, 40), 0.02 * r.normal()]);
    const wireFrom = points.length;
    for (let i = 0; i < 60; i++) points.push([i * 0.25, 20, 8 + 0.01 * r.normal()]);
    const farFrom = points.length;
    for (let i = 0; i < 20; i++) for (let j = 0; j < 20; j++) points.push([60 + i, 20 + j, 0]);
    const strayFrom = points.length;
    for (let i = 0; i < 40; i++)
      points.push([r.between(2, 38), r.between(2, 38), i % 2 ? r.between(14, 60) : -r.between(2, 15)]);
    const found = findStrays(pointSet(points));
    expect(found.subarray(wireFrom, farFrom).reduce((a, b) => a + b, 0)).toBe(0);
    expect(found.subarray(farFrom, strayFrom).reduce((a, b) => a + b, 0)).toBe(0);
    expect(found.subarray(0, wireFrom).reduce((a, b) => a + b, 0)).toBe(0);
    expect(found.subarray(strayFrom).reduce((a, b) => a + b, 0)).toBe(40);
  });
  it('stay away from the thin rim of a cloud and its upright faces; what lies under either is found', () => {
    const r = new Random(14);
    const points: number[][] = [];
    const grid = (spacing: number, from: number, to: number) => {
      for (let x = from; x < to; x += spacing)
        for (let y = 0; y < 40; y += spacing)
          points.push([x + 0.3 * spacing * r.normal(), y + 0.3 * spacing * r.normal(), 0.1 * x + 0.02 * r.normal()]);
    };
    grid(0.25, 0, 20);
    grid(2.2, 20, 60);
    // a face of 18 m with a point every two metres or so
    for (let y = 0; y < 40; y += 2)
      for (let z = 1; z < 18; z += 2) points.push([-9, y + 0.4 * r.normal(), z + 0.4 * r.normal()]);
    const strayFrom = points.length;
    for (const [x, y] of [
      [8, 8],
      [30, 10],
      [40, 25],
      [45, 12],
      [52, 30],
    ])
      points.push([x, y, 0.1 * x - 5]);
    for (const [x, y] of [
      [12, 8],
      [33, 10],
      [44, 32],
    ])
      points.push([x, y, 0.1 * x + 9]);
    const found = findStrays(pointSet(points));
    expect(found.subarray(0, strayFrom).reduce((a, b) => a + b, 0)).toBeLessThanOrEqual(6);
    expect(found.subarray(strayFrom).reduce((a, b) => a + b, 0)).toBe(8);
  });
  it('passes an empty cloud', () => {
    expect(findStrays(pointSet([]), STRAY_DEFAULTS)).toHaveLength(0);
  });
});

describe('ground', () => {
  it('follows slope, step and bank, and leaves house, tree and low strays out', () => {
    const r = new Random(6);
    const points: number[][] = [];
    const truth: number[] = [];
    const height = (x: number, y: number) => 0.1 * x + (y > 40 ? Math.min((y - 40) * 0.6, 4) : 0) + (x > 30 ? 0.12 : 0);
    for (let i = 0; i < 120000; i++) {
      const x = r.between(0, 60),
        y = r.between(0, 60);
      if (x > 8 && x < 18 && y > 8 && y < 20)
        (points.push([x, y, height(13, 14) + 4 + 0.01 * r.normal()]), truth.push(0));
      else (points.push([x, y, height(x, y) + 0.015 * r.normal()]), truth.push(1));
    }
    for (let i = 0; i < 3000; i++) {
      const a = r.between(0, 6.28),
        q = Math.sqrt(r.uniform()) * 3;
      const x = 45 + q * Math.cos(a),
        y = 20 + q * Math.sin(a);
      points.push([x, y, height(x, y) + r.between(1.5, 6)]);
      truth.push(0);
    }
    const share = (found: Uint8Array) => truth.filter((t, i) => found[i] !== t).length / truth.length;
    const set = pointSet(points);
    expect(share(findGround(set, GROUND_DEFAULTS))).toBeLessThan(0.01);
    for (const stiffness of [1, 2, 3] as const)
      expect(share(findGroundByCloth(set, { ...CLOTH_DEFAULTS, stiffness }))).toBeLessThan(0.002);
  });
});
