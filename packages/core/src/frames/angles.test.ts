import { describe, expect, it } from 'vitest';
import { formatAngle, parseAngle } from './angles';

describe('typed latitudes and longitudes', () => {
  it.each([
    ['56.08', 'latitude', 56.08],
    ['56° 04′ 48″ N', 'latitude', 56.08],
    ['56 4.8', 'latitude', 56.08],
    ['S 56 04 48', 'latitude', -56.08],
    ['-8.47', 'longitude', -8.47],
    ['\u22128 28 12', 'longitude', -8.47],
    ['8 28 12 W', 'longitude', -8.47],
    ['8,47', 'longitude', 8.47],
    ['0 30 0 W', 'longitude', -0.5],
  ] as const)('%s', (text, axis, degrees) => {
    expect(parseAngle(text, axis)).toBeCloseTo(degrees, 12);
  });
  it.each([
    ['56 60 0', 'latitude', /60 minutes/],
    ['56 4 61', 'latitude', /61 seconds/],
    ['-56 N', 'latitude', /speaks against N/],
    ['56 E', 'latitude', /belongs to a longitude/],
    ['95', 'latitude', /larger than 90/],
    ['56.5 30', 'latitude', /degrees have decimals/],
    ['abc', 'longitude', /only N, S, E or W/],
    ['', 'longitude', /numbers are needed/],
    ['5-6', 'longitude', /in the middle/],
  ] as const)('refuses %s', (text, axis, why) => {
    expect(() => parseAngle(text, axis)).toThrow(why);
  });
  it('shows back what was understood, without 60 seconds', () => {
    expect(formatAngle(56.08, 'latitude')).toBe('56° 04′ 48.0000″ N');
    expect(formatAngle(-8.99999999999, 'longitude')).toBe('9° 00′ 00.0000″ W');
  });
});
