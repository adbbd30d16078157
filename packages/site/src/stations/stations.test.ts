import { describe, expect, it } from 'vitest';
import { ecefToGeodetic, DEG, GRS80 } from '@longheron/core/frames';
import { parseSystem } from '@longheron/formats/crs';
import { readObservations } from '@longheron/formats/rinex';
import { DRIVE_START_SOW, GPS_WEEK } from '../drive';
import { serviceStations, stationFile, virtualPlace } from '.';

const system = parseSystem('EPSG:25832+5773');
const start = GPS_WEEK * 604800 + DRIVE_START_SOW;
const ask = (more: Partial<Parameters<typeof stationFile>[0]>) =>
  stationFile({ startGps: start + 150, endGps: start + 250, seed: 1, factor: 1, ...more }, system);
const read = (text: string) => readObservations(new TextEncoder().encode(text), 'station').observations;

describe('the reference-station service', () => {
  it('hands out a span, with the position it publishes', () => {
    const o = read(ask({ code: 'FJR1' }));
    expect(o.sow.length).toBe(101);
    expect(o.sow[0] - DRIVE_START_SOW).toBeCloseTo(150, 6);
    const published = serviceStations(system)[0];
    const [lat, , h] = ecefToGeodetic(GRS80, ...o.approximateM!);
    expect(lat / DEG).toBeCloseTo(published.latDeg, 8);
    expect(h).toBeCloseTo(published.hEllM, 3);
  });

  it('has gaps, and says nothing where it has nothing', () => {
    const o = read(ask({ code: 'HLM2' }));
    expect(o.sow[o.sow.length - 1] - DRIVE_START_SOW).toBeCloseTo(200, 6);
    expect(ask({ code: 'ODD3' })).toBe('');
    expect(ask({ code: 'NONE' })).toBe('');
  });

  it('never makes a virtual station where it was asked for', () => {
    const places: Array<[number, number, number]> = [
      [56.081, 8.473, 45],
      [56.08123, 8.4729, 40],
    ];
    for (const asked of places) {
      const [lat, lon, h] = virtualPlace(...asked);
      expect(Math.hypot((lat - asked[0]) * 111e3, (lon - asked[1]) * 62e3)).toBeGreaterThan(2);
      expect(Math.abs(h - asked[2])).toBeGreaterThan(1);
    }
    const o = read(ask({ virtual: virtualPlace(56.081, 8.473, 45) }));
    expect(o.antenna).toContain('VIRTUAL');
    expect(o.sow.length).toBe(101);
  });
});
