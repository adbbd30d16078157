import { describe, expect, it } from 'vitest';
import {
  carryPlace,
  frameOfCode,
  frameOfSystem,
  INTERNATIONAL_FRAMES,
  internationalFrame,
  toEtrs89,
  type InternationalFrame,
  type TerrestrialFrame,
} from '.';

const SITE = [3512889.1, 523123.7, 5283271.9];
const off = (a: ArrayLike<number>, b: ArrayLike<number>) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

describe('to ETRS89', () => {
  // a made-up place on the site, brought over by PROJ's Helmert operation with the published rates
  it.each<[InternationalFrame, number, number[]]>([
    ['ITRF2020', 2026.46, [3512889.66952, 523123.137084, 5283271.577059]],
    ['ITRF2014', 2010, [3512889.426632, 523123.378888, 5283271.714615]],
  ])('brings %s of %d', (frame, epoch, expected) => {
    const found = toEtrs89(SITE, frame, epoch);
    expected.forEach((v, k) => expect(found[k]).toBeCloseTo(v, 5));
  });

  it('older frames and WGS 84 of the day end within centimetres of each other', () => {
    const newest = toEtrs89(SITE, 'ITRF2020', 2026.46);
    for (const frame of INTERNATIONAL_FRAMES) {
      const found = toEtrs89(SITE, frame, 2026.46);
      expect(off(found, SITE)).toBeGreaterThan(0.8);
      // the frames themselves differ by millimetres, the oldest in scale by 2 ppb and in height by 3 cm
      expect(off(found, newest)).toBeLessThan(frame === 'ITRF2000' ? 0.08 : 0.03);
    }
  });

  it('WGS 84 of a day is the frame of that day; before 2002 it is refused', () => {
    expect(internationalFrame('WGS84', 2026.46)).toEqual({ frame: 'ITRF2020', epoch: 2026.46 });
    expect(internationalFrame('ITRF2008', 2026.46)).toEqual({ frame: 'ITRF2008', epoch: 2026.46 });
    expect(() => internationalFrame('WGS84', 1999)).toThrow(/WGS 84 of 1999 was good to half a metre/);
    expect(off(toEtrs89(SITE, 'WGS84', 2026.46), toEtrs89(SITE, 'ITRF2020', 2026.46))).toBe(0);
  });
});

describe('the frame of a code or of a system', () => {
  it.each<[string, TerrestrialFrame | undefined]>([
    ['EPSG:4937', 'ETRF2014'],
    ['EPSG:4258', 'ETRF2014'],
    ['EPSG:7931', 'ETRF2000'],
    ['EPSG:8403', 'ETRF2014'],
    ['EPSG:9989', 'ITRF2020'],
    ['7912', 'ITRF2014'],
    ['EPSG:6319', 'NAD83(2011)'],
    ['EPSG:7843', 'GDA2020'],
    ['EPSG:4979', undefined],
    ['EPSG:4955', undefined],
  ])('%s', (code, frame) => expect(frameOfCode(code, 'ITRF2014')).toBe(frame));

  it('ETRS89 without a realisation is the one that goes with where coordinates come from', () => {
    expect(frameOfCode('EPSG:4937', 'ITRF2020')).toBe('ETRF2020');
    expect(frameOfCode('EPSG:4937', 'ITRF2005')).toBe('ETRF2014');
    const [a, b] = (['ETRF2020', 'ETRF2014'] as const).map(
      (frame) => carryPlace(SITE, { frame: 'ITRF2020', epoch: 2026.46 }, { frame, epoch: 2026.46 }).xyzM,
    );
    expect(off(a, b)).toBeLessThan(0.03);
  });

  it.each<[string, TerrestrialFrame | undefined]>([
    ['ETRS89 / UTM zone 32N', 'ETRF2014'],
    ['ETRF2000-PL / CS92', 'ETRF2000'],
    ['NAD83(2011) / California zone 1', 'NAD83(2011)'],
    ['NAD83 / UTM zone 17N', undefined],
    ['GDA2020 / MGA zone 55', 'GDA2020'],
    ['WGS 84 / UTM zone 33N', 'ITRF2020'],
    ['DHDN / 3-degree Gauss-Kruger zone 3', undefined],
  ])('%s', (name, frame) => expect(frameOfSystem(name, 2026.46)).toBe(frame));
});
