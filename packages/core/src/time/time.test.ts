import { expect, it } from 'vitest';
import { dayOfYear, formatGps, gpsFromUnix, gpsSeconds, gpsWeek, unixFromGps } from '.';

const unix = (iso: string) => Date.parse(iso) / 1000;

it('knows week and second of the demo drive', () => {
  expect(gpsWeek(gpsFromUnix(unix('2026-06-16T08:59:42Z')))).toEqual({ week: 2423, sow: 205200 });
  expect(formatGps(gpsSeconds(2423, 205200), 'gps')).toBe('2026-06-16 09:00:00.0');
  expect(formatGps(gpsSeconds(2423, 205200), 'utc')).toBe('2026-06-16 08:59:42.0');
});
it('steps over leap seconds', () => {
  expect(gpsFromUnix(unix('2017-01-01T00:00:00Z')) - gpsFromUnix(unix('2016-12-31T23:59:59Z'))).toBe(2);
  expect(gpsFromUnix(unix('1980-01-06T00:00:00Z'))).toBe(0);
  for (const iso of ['1999-08-22T00:00:00Z', '2016-12-31T23:59:59Z', '2017-01-01T00:00:00Z', '2026-06-16T12:00:00Z'])
    expect(unixFromGps(gpsFromUnix(unix(iso)))).toBe(unix(iso));
});
it('rounds without showing 60 seconds', () => {
  expect(formatGps(gpsSeconds(2423, 59.96), 'gps', 1)).toMatch(/00:01:00\.0$/);
});
it('counts days of the year', () => {
  expect(dayOfYear(new Date('2026-06-16T00:00:00Z'))).toBe(167);
  expect(dayOfYear(new Date('2024-12-31T23:00:00Z'))).toBe(366);
});
