import { describe, expect, it } from 'vitest';
import { readCasts } from '.';

const HEAD = 'cast,gps_week,gps_sow,lat_deg,lon_deg,depth_m,speed_mps\n';
const read = (text: string) => readCasts(new TextEncoder().encode(text), 'casts.csv');

describe('casts', () => {
  it('are read one by one', () => {
    const text = `# sd_mps: 0.2\n${HEAD}A,2423,100,56,8,0.5,1490\nA,2423,100,56,8,2,1488.5\nB,2423,900,56.1,8,1,1480\n`;
    const [a, b] = read(text);
    expect([a.name, [...a.depthM], [...a.speedMps], a.sdMps, b.sow]).toEqual(['A', [0.5, 2], [1490, 1488.5], 0.2, 900]);
  });

  it('have their speed from temperature and salinity where that was measured', () => {
    const [c] = read(
      'cast,gps_week,gps_sow,lat_deg,lon_deg,depth_m,temperature_c,salinity_psu\nA,2423,0,56,8,0,20,35\n',
    );
    // Fofonoff & Millard 1983, at the surface
    expect(c.speedMps[0]).toBeCloseTo(1521.5, 1);
  });

  it.each([
    ['cast,gps_week,gps_sow,lat_deg,lon_deg,depth_m\n', /column speed_mps is missing/, 'header line'],
    [HEAD, /no cast in the file/, 'after the header line'],
    [`${HEAD}A,2423,0,96,8,1,1480\n`, /lat_deg is "96": outside/, 'line 2, column lat_deg'],
    [`${HEAD}A,2423,0,56,8,,1480\n`, /depth_m is "": not a number/, 'line 2, column depth_m'],
    [`${HEAD}A,2423,0,56,8,1,1480\nB,2423,0,56,8,1,1480\nA,2423,0,56,8,2,1480\n`, /interrupted/, 'line 4, column cast'],
    [`${HEAD}A,2423,0,56,8,1,343\n`, /343.0 m\/s is not that of water/, 'cast A, depth 1.00 m'],
    [`# sd_mps: fine\n${HEAD}A,2423,0,56,8,1,1480\n`, /sd_mps is "fine"/, 'comment sd_mps'],
  ])('are refused: %j', (text, words, place) => {
    expect(() => read(text)).toThrow(
      expect.objectContaining({ message: expect.stringMatching(words), place, file: 'casts.csv' }),
    );
  });
});
