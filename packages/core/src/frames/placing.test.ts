import { describe, expect, it } from 'vitest';
import { Random } from '../numeric/random';
import { rotationFromAngles } from './attitude';
import { makeReferenceSystem } from './referenceSystem';
import { carryPlaced, placeByPoints, planFactor, type PlacingScale } from './placing';

type Place = [number, number, number];
const random = new Random(3, 'placing');
const some = (n: number, reach = 20): Place[] =>
  Array.from({ length: n }, () => [random.between(-reach, reach), random.between(-reach, reach), random.between(0, 8)]);
/** A frame turned and shifted, its plan and heights stretched. */
function carried(points: Place[], r: ArrayLike<number>, stretch: [number, number], noise = 0): Place[] {
  return points.map(([x, y, z]) => {
    const at = (k: number) => r[3 * k] * x + r[3 * k + 1] * y + r[3 * k + 2] * z;
    const e = () => noise * random.normal();
    return [
      467_123.4 + stretch[0] * at(0) + e(),
      6_215_234.5 + stretch[0] * at(1) + e(),
      12.3 + stretch[1] * at(2) + e(),
    ];
  });
}
const rad = (d: number) => (d * Math.PI) / 180;

describe('a frame placed by points', () => {
  it.each<[string, PlacingScale, [number, number]]>([
    ['as it is', { kind: 'one' }, [1, 1]],
    ['shortened in plan', { kind: 'plan', factor: 0.9996 }, [0.9996, 1]],
    ['at any scale', { kind: 'free' }, [0.3048, 0.3048]],
  ])('is found exactly: %s', (_, scale, stretch) => {
    for (let k = 0; k < 30; k++) {
      const r = rotationFromAngles(
        rad(random.between(-170, 170)),
        rad(random.between(-80, 80)),
        rad(random.between(-180, 180)),
      );
      const points = some(3 + (k % 4));
      const placed = placeByPoints(points, carried(points, r, stretch), { scale, level: false });
      for (let i = 0; i < 9; i++) expect(placed.rotation[i]).toBeCloseTo(r[i], 8);
      expect(placed.stretch[0]).toBeCloseTo(stretch[0], 8);
      expect(Math.max(...placed.residuals.map((v) => v.allM))).toBeLessThan(1e-7);
      const [p] = some(1, 200);
      const out = new Float64Array(3);
      carryPlaced(placed, ...p, out);
      const [want] = carried([p], r, stretch);
      for (let i = 0; i < 3; i++) expect(Math.abs(out[i] - want[i])).toBeLessThan(1e-5);
    }
  });

  it('turns a level frame about the plumb line alone, by two points', () => {
    const points: Place[] = [
      [0, 0, 1],
      [10, 0, 1.5],
    ];
    // 30 degrees clockwise: what points to x points to east-southeast
    const to: Place[] = [
      [100, 200, 11],
      [100 + 10 * Math.cos(rad(30)), 200 - 10 * Math.sin(rad(30)), 11.5],
    ];
    const placed = placeByPoints(points, to, { scale: { kind: 'one' }, level: true });
    expect(placed.headingDeg).toBeCloseTo(30, 9);
    expect(placed.tiltDeg).toBe(0);
    expect(placed.redundancy).toBe(2);
    expect(placed.sdM).toBeLessThan(1e-9);
    expect(placed.missesM).toEqual([null, null]);
  });

  it('leaves the least sum of squares: any other turn, shift or scale leaves more', () => {
    const points = some(6);
    const r = rotationFromAngles(0.1, -0.2, 1);
    const to = carried(points, r, [1, 1], 0.02);
    const placed = placeByPoints(points, to, { scale: { kind: 'free' }, level: false });
    const sum = (p: typeof placed) => {
      const out = new Float64Array(3);
      return points.reduce((s, q, i) => {
        carryPlaced(p, ...q, out);
        return s + (out[0] - to[i][0]) ** 2 + (out[1] - to[i][1]) ** 2 + (out[2] - to[i][2]) ** 2;
      }, 0);
    };
    const least = sum(placed);
    expect(least).toBeCloseTo(
      placed.residuals.reduce((s, v) => s + v.allM ** 2, 0),
      9,
    );
    for (let k = 0; k < 200; k++) {
      const turn = rotationFromAngles(1e-4 * random.normal(), 1e-4 * random.normal(), 1e-4 * random.normal());
      const rotation = new Float64Array(9);
      for (let i = 0; i < 3; i++)
        for (let j = 0; j < 3; j++)
          for (let m = 0; m < 3; m++) rotation[3 * i + j] += turn[3 * i + m] * placed.rotation[3 * m + j];
      const by = 1 + 1e-5 * random.normal();
      const toM = placed.toM.map((v) => v + 1e-4 * random.normal()) as unknown as Place;
      const stretch: [number, number] = [placed.stretch[0] * by, placed.stretch[1] * by];
      expect(sum({ ...placed, rotation, toM, stretch })).toBeGreaterThan(least);
    }
  });

  it('states the deviation of the points, and shows the one that is wrong', () => {
    let square = 0;
    for (let k = 0; k < 300; k++) {
      const points = some(6);
      const { sdM } = placeByPoints(points, carried(points, rotationFromAngles(0, 0, k), [1, 1], 0.01), {
        scale: { kind: 'one' },
        level: false,
      });
      square += sdM! ** 2 / 300;
    }
    // 300 times 12 degrees of freedom: the mean square is known to 2.4 %
    expect(Math.abs(square / 1e-4 - 1)).toBeLessThan(0.08);
    const points = some(6);
    const to = carried(points, rotationFromAngles(0, 0, 1), [1, 1]);
    to[4] = [to[4][0] + 0.3, to[4][1], to[4][2]];
    const { missesM } = placeByPoints(points, to, { scale: { kind: 'one' }, level: false });
    expect(missesM[4]).toBeCloseTo(0.3, 6);
    expect(missesM.indexOf(Math.max(...(missesM as number[])))).toBe(4);
  });

  it('is refused where the points do not say it', () => {
    const line: Place[] = [0, 1, 2, 3].map((k) => [10 * k, 5 * k, k]);
    const one = { scale: { kind: 'one' } as const, level: false };
    expect(() => placeByPoints(line, line, one)).toThrow(/in one line/);
    expect(() => placeByPoints(line, line, { ...one, level: true })).not.toThrow();
    expect(() => placeByPoints(line.slice(0, 2), line.slice(0, 2), one)).toThrow(/takes 3 points/);
    const up: Place[] = [0, 1].map((k) => [5, 5, k]);
    expect(() => placeByPoints(up, up, { ...one, level: true })).toThrow(/one place in plan/);
  });
});

describe('the scale of a plan', () => {
  // `proj -V +proj=utm +zone=32 +ellps=GRS80` of PROJ at 8.47 E 56.08 N says 0.99961335
  const system = makeReferenceSystem({
    horizontalCode: 25832,
    horizontalName: 'UTM 32',
    proj4: '+proj=utm +zone=32 +ellps=GRS80 +units=m +no_defs',
    verticalCode: 0,
    verticalName: '',
    metresPerUnit: 1,
    verticalMetresPerUnit: 1,
  });
  it('is that of PROJ on the ellipsoid, and less above it', () => {
    const at = (h: number) => planFactor(system, [467_013.549, 6_215_110.032, h]);
    expect(at(0)).toBeCloseTo(0.99961335, 8);
    // 100 m north and south along the meridian at 12 m, carried by cs2cs: 199.9222929 m apart
    expect(at(12)).toBeCloseTo(0.9996114646, 8);
    // a kilometre up lengths are longer by one in 6 387 000 / 1000
    expect(at(1000) / at(0)).toBeCloseTo(6387 / 6388, 6);
  });
});
