import { describe, expect, it } from 'vitest';
import { check, KnownPoint, ReferenceLine } from '../requests';
import { SYSTEM } from '../operations/reproject';
import { isAboveGeoidIn, systemTextOf, type SystemNames } from '.';

const GEOID = { dataset: 12, name: 'site_geoid.gtx', sha12: 'b692fc050571' };
const SHIFT = { dataset: 13, name: 'old.gsb', sha12: '0123456789ab' };

describe('the text of a system', () => {
  it.each<[SystemNames, string, boolean]>([
    [{ horizontal: 25832, vertical: 0 }, 'EPSG:25832', false],
    [{ horizontal: 25832, vertical: 5773 }, 'EPSG:25832+5773', true],
    [{ horizontal: 25832, vertical: 0, geoid: GEOID }, 'EPSG:25832+site_geoid.gtx@b692fc050571', true],
    [{ horizontal: 31467, vertical: 0, shift: SHIFT }, 'EPSG:31467~old.gsb@0123456789ab', false],
    [
      { horizontal: 31467, vertical: 0, shift: SHIFT, geoid: GEOID },
      'EPSG:31467~old.gsb@0123456789ab+site_geoid.gtx@b692fc050571',
      true,
    ],
  ])('%o', (names, text, above) => {
    expect(systemTextOf(names)).toBe(text);
    expect(isAboveGeoidIn(names)).toBe(above);
    // settings that name a system take every one of them
    expect(text).toMatch(SYSTEM);
  });

  it.each(['EPSG:25832+', 'EPSG:25832+site geoid.gtx@b692fc050571', 'EPSG:25832+x@b692', '25832', 'EPSG:25832~x'])(
    '%s is none that a setting takes',
    (text) => expect(text).not.toMatch(SYSTEM),
  );
});

describe('requests about grids', () => {
  const line = { horizontal: 25832, vertical: 0, unit: 'metre', time: 'gps' };
  it('a reference line may name grids by their datasets, and nothing else', () => {
    expect('message' in check(ReferenceLine, { ...line, geoid: 12, shift: 13 })).toBe(false);
    for (const wrong of [{ geoid: 0 }, { geoid: 1.5 }, { shift: 'old.gsb' }])
      expect('message' in check(ReferenceLine, { ...line, ...wrong })).toBe(true);
  });

  it.each<[string, object, RegExp]>([
    ['no latitude', { longitude: '8', hEllM: 43, heightM: 3 }, /Type the latitude/],
    ['no height', { latitude: '56', longitude: '8', heightM: 3 }, /Type the height above the ellipsoid/],
    ['a height in words', { latitude: '56', longitude: '8', hEllM: 43, heightM: 'three' }, /Type the levelled height/],
    ['a height beyond the Earth', { latitude: '56', longitude: '8', hEllM: 43e6, heightM: 3 }, /above the ellipsoid/],
  ])('a known point with %s is refused in words', (_, body, message) => {
    const checked = check(KnownPoint, body);
    expect('message' in checked && checked.message).toMatch(message);
  });
});
