import { describe, expect, it } from 'vitest';
import { DEG, geoidOfGrid } from '@longheron/core/frames';
import { readGeoid } from '@longheron/formats/geoid';
import { localGeoidGrid, localUndulationM } from '.';

describe('the made-up local geoid', () => {
  const geoid = geoidOfGrid(readGeoid(localGeoidGrid(), 'site_geoid.gtx'), 'site_geoid.gtx');
  // longitude, latitude, undulation by PROJ 9.1.1 from the same file (vertical grid shift, bilinear)
  it.each([
    [8.2345, 55.9512, 40.869536],
    [8.4712, 56.0831, 40.724988],
    [8.5299, 56.1444, 40.67628],
    [8.7399, 56.2299, 40.534733],
    [8.6001, 55.9333, 40.738074],
    [8.3, 56.2, 40.764299],
    [8.4444, 56.0123, 40.760256],
    [8.7001, 56.0999, 40.610695],
    [8.2001, 56.1501, 40.819639],
    [8.6543, 56.1789, 40.600427],
  ])('at %f, %f as another program reads it', (lon, lat, undulationM) => {
    expect(Math.abs(geoid.undulation(lat * DEG, lon * DEG) - undulationM)).toBeLessThan(1e-5);
  });

  it('is the closed form at its own values, and within 3 mm between them, where EGM96 has kinks', () => {
    // values lie three hundredths of a degree apart from 55.93°, 8.2° on
    expect(geoid.undulation(55.99 * DEG, 8.26 * DEG)).toBeCloseTo(localUndulationM(55.99, 8.26), 5);
    for (const [lat, lon] of [
      [56.005, 8.275],
      [56.1, 8.5],
      [56.2, 8.7],
    ])
      expect(Math.abs(geoid.undulation(lat * DEG, lon * DEG) - localUndulationM(lat, lon))).toBeLessThan(3e-3);
  });
});
