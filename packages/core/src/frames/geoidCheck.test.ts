import { describe, expect, it } from 'vitest';
import { DEG } from './ellipsoid';
import { EGM96, type Geoid } from './geoid';
import { judgeKnownPoint, outsideAreaKm, suspectGeoid } from './geoidCheck';

const [LAT, LON] = [56.08 * DEG, 8.47 * DEG];
const flat = (n: number): Geoid => ({ name: 'flat', statement: '', undulation: () => n });

describe('a geoid against a known point', () => {
  it.each([
    [43.1, 3.1, 'agrees', 0],
    [43.1, 3.2, 'agrees', 0.1],
    // levelled and ellipsoidal height exchanged, or a grid of the other sign
    [3.1, 43.1, 'turned', 80],
    [3.1, 43.6, 'turned', 80.5],
    // the same number typed twice
    [3.1, 3.1, 'same heights', 40],
    [50.1, 3.1, 'elsewhere', -7],
  ] as const)('h %f and H %f: %s, %f m off', (hEll, height, says, off) => {
    const v = judgeKnownPoint(flat(40), LAT, LON, hEll, height);
    expect(v.says).toBe(says);
    expect(v.offM).toBeCloseTo(off, 9);
  });
});

it('a grid of the other sign, or of another country, is conspicuous against EGM96; a national one is not', () => {
  const n = EGM96.undulation(LAT, LON);
  expect(suspectGeoid(flat(n + 1.2), LAT, LON)).toBeUndefined();
  expect(suspectGeoid(flat(-n), LAT, LON)).toMatchObject({ kind: 'turned', undulationM: -n, egm96M: n });
  expect(suspectGeoid(flat(n - 25), LAT, LON)).toMatchObject({ kind: 'far' });
});

it('an area of use is left by so many kilometres', () => {
  const utm32 = [84, 6, 0, 12] as const;
  expect(outsideAreaKm(utm32, 56, 9)).toBe(0);
  // a degree of longitude is 111.195 km times the cosine of the latitude
  expect(outsideAreaKm(utm32, 60, 13)).toBeCloseTo(111.195 * 0.5, 2);
  expect(outsideAreaKm(utm32, -1, 9)).toBeCloseTo(111.195, 2);
  expect(outsideAreaKm([10, 170, -10, -170], 0, 179.5)).toBe(0);
  expect(outsideAreaKm([10, 170, -10, -170], 0, -169)).toBeCloseTo(111.195, 2);
});
