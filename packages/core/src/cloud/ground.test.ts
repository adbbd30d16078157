import { describe, expect, it } from 'vitest';
import { Random } from '../numeric/random';
import { CLOTH_DEFAULTS, findGroundByCloth } from './cloth';
import { findGround, GROUND_DEFAULTS } from './ground';
import { type PointSet } from './points';

type Place = [number, number, number];
const random = new Random(17, 'ground');
const setOf = (points: Place[]): PointSet => ({
  count: points.length,
  origin: [0, 0, 0],
  x: Float64Array.from(points, (p) => p[0]),
  y: Float64Array.from(points, (p) => p[1]),
  z: Float64Array.from(points, (p) => p[2]),
});
/** Land of 60 by 60 m with a bank of 30 degrees across it, a house, a tree, a wall's foot and grass of a few centimetres. */
const land = (x: number) =>
  x < 25 ? 3 : x < 32 ? 3 + (x - 25) * Math.tan(Math.PI / 6) : 3 + 7 * Math.tan(Math.PI / 6);
const house = (x: number, y: number) => x > 5 && x < 15 && y > 20 && y < 34;
const points: Place[] = [];
const truth: boolean[] = [];
const put = (p: Place, ground: boolean) => {
  points.push(p);
  truth.push(ground);
};
for (let i = 0; i < 60_000; i++) {
  const [x, y] = [random.between(0, 60), random.between(0, 60)];
  if (house(x, y)) put([x, y, 7 + 0.2 * (x - 5) + 0.01 * random.normal()], false);
  else put([x, y, land(x) + 0.01 * random.normal()], true);
}
for (let i = 0; i < 3000; i++) {
  const [r, a] = [2.5 * Math.sqrt(random.uniform()), random.between(0, 2 * Math.PI)];
  put([45 + r * Math.cos(a), 45 + r * Math.sin(a), land(45) + random.between(1.5, 6)], false);
}
for (let i = 0; i < 1200; i++) put([15, random.between(20, 34), random.between(3.15, 8.5)], false);
const set = setOf(points);
const rates = (found: Uint8Array) => {
  let [missed, taken, ground] = [0, 0, 0];
  truth.forEach((t, i) => {
    ground += t ? 1 : 0;
    missed += t && !found[i] ? 1 : 0;
    taken += !t && found[i] ? 1 : 0;
  });
  return { missed: missed / ground, taken: taken / (truth.length - ground) };
};

describe('ground', () => {
  it.each([
    ['triangles', () => findGround(set)],
    ['a cloth', () => findGroundByCloth(set, { ...CLOTH_DEFAULTS, stiffness: 2 })],
  ])('by %s keeps a bank and leaves house, tree and wall out', (_, find) => {
    const { missed, taken } = rates(find());
    expect(missed).toBeLessThan(0.01);
    expect(taken).toBeLessThan(0.01);
  });

  it('does not look at what is left out, and needs three points', () => {
    const skip = Uint8Array.from(truth, (t) => (t ? 1 : 0));
    const found = findGround(set, GROUND_DEFAULTS, skip);
    expect(found.some((f, i) => f && skip[i])).toBe(false);
    const two = setOf([
      [0, 0, 1],
      [1, 1, 1],
    ]);
    expect([...findGround(two), ...findGroundByCloth(two)]).toEqual([0, 0, 0, 0]);
  });

  it('by triangles takes nearer or farther points as it is told', () => {
    const layers: Place[] = [];
    for (let i = 0; i < 20_000; i++)
      layers.push([random.between(0, 30), random.between(0, 30), 5 + 0.005 * random.normal()]);
    const upper = layers.length;
    for (let i = 0; i < 200; i++) layers.push([random.between(0, 30), random.between(0, 30), 5.12]);
    const s = setOf(layers);
    const above = (withinM: number) => {
      const found = findGround(s, { ...GROUND_DEFAULTS, withinM });
      return found.subarray(upper).reduce((n, f) => n + f, 0) / 200;
    };
    expect(above(0.08)).toBeLessThan(0.02);
    expect(above(0.2)).toBeGreaterThan(0.98);
  });

  it('by a cloth lies the same whatever the order of the points', () => {
    const order = Array.from({ length: set.count }, (_, i) => i).sort(() => random.uniform() - 0.5);
    const mixed = setOf(order.map((i) => points[i]));
    const [a, b] = [findGroundByCloth(set), findGroundByCloth(mixed)];
    const differ = order.filter((i, k) => a[i] !== b[k]).length;
    expect(differ).toBeLessThan(5);
  });
});
