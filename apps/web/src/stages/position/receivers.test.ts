import { expect, it } from 'vitest';
import { type DatasetDto } from '@longheron/contract/api';
import { mountingFor, overlapShare, platformOf, proposedBase } from './receivers';

const dataset = (id: number, name: string, content: object = {}) =>
  ({ id, name, revision: { content } }) as unknown as DatasetDto;

it('a mounting goes with the recording whose name begins alike, and the name tells the platform', () => {
  const mountings = [dataset(1, 'vehicle_mount.json'), dataset(2, 'flight_mount.json'), dataset(3, 'boat_mount.json')];
  expect(mountingFor(mountings, 'flight_20260616.imu.h5')).toBe(2);
  expect(mountingFor(mountings, 'boat_20260616.imu.h5')).toBe(3);
  expect(mountingFor([], 'x')).toBe(0);
  expect(['flight_1.h5', 'boat_1.h5', 'road.h5'].map(platformOf)).toEqual(['aircraft', 'boat', 'vehicle']);
});

it('the base proposed is the nearest that covers the session', () => {
  const facts = (startGps: number, endGps: number, lon: number) => ({
    facts: { startGps, endGps, gaps: [], rateHz: 1, extent: { min: [lon, 56, 40] }, details: [] },
  });
  const rover = dataset(1, 'rover', facts(100, 200, 8));
  const near = dataset(2, 'near', facts(150, 200, 8.001));
  const far = dataset(3, 'far', facts(0, 300, 8.02));
  expect(proposedBase(rover, [near, far])).toBe(3);
  expect(proposedBase(rover, [])).toBeUndefined();
  expect(overlapShare({ startGps: 100, endGps: 200 }, { startGps: 150, endGps: 300 })).toBe(0.5);
});
