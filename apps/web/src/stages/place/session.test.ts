import { describe, expect, it } from 'vitest';
import { type DatasetDto } from '@longheron/contract/api';
import { mountingFor, returnsOf, sessionOf } from './session';

/** A project with a drive of two heads and a flight, as far as these functions look at it. */
const file = (id: number, kind: string, from: number, to: number, sensor = '', madeBy = 'intake') =>
  ({
    id,
    kind,
    revision: {
      madeBy,
      content: { facts: { startGps: from, endGps: to, details: sensor ? [['Sensor', sensor]] : [] } },
    },
  }) as unknown as DatasetDto;
const mounting = (id: number, sensors: string[]) =>
  ({
    id,
    kind: 'mounting',
    revision: { content: { mounting: { sensors: Object.fromEntries(sensors.map((s) => [s, {}])) } } },
  }) as unknown as DatasetDto;
const store = (datasets: DatasetDto[], usual?: number) =>
  ({
    ofKind: (kind: string) => datasets.filter((d) => d.kind === kind),
    latest: (kind: string) => datasets.filter((d) => d.kind === kind).at(-1),
    trajectory: () => datasets.find((d) => d.id === usual),
  }) as never;

const all = [
  file(1, 'trajectory', 0, 500),
  file(2, 'trajectory', 1000, 1700),
  file(3, 'trajectory', 1000, 1700, '', 'adjusted-trajectory'),
  file(10, 'laser-returns', 50, 400, 'head1'),
  file(11, 'laser-returns', 50, 400, 'head2'),
  file(12, 'laser-returns', 1100, 1600, 'scanner'),
  mounting(20, ['head1', 'head2', 'camera']),
  mounting(21, ['scanner', 'camera']),
  mounting(22, ['scanner', 'camera']),
];

describe('what was recorded together', () => {
  it('are the returns of a trajectory’s time; all of them where none fits', () => {
    expect(returnsOf(store(all), 1)).toEqual([10, 11]);
    expect(returnsOf(store(all), 2)).toEqual([12]);
    expect(returnsOf(store([file(5, 'trajectory', 9000, 9100), ...all]), 5)).toEqual([10, 11, 12]);
  });

  it('goes with the mounting that knows all its scanners: the chosen one, else the latest', () => {
    expect(mountingFor(store(all), [10, 11], 0)).toBe(20);
    expect(mountingFor(store(all), [12], 0)).toBe(22);
    expect(mountingFor(store(all), [12], 21)).toBe(21);
    expect(mountingFor(store(all), [10, 12], 21)).toBe(21);
    expect(mountingFor(store([]), [], 0)).toBe(0);
  });

  it('is adjusted with the trajectory as it was before', () => {
    expect(sessionOf(store(all, 3))).toEqual({ trajectory: 2, returns: [12], mounting: 22 });
    expect(sessionOf(store(all, 1))).toEqual({ trajectory: 1, returns: [10, 11], mounting: 20 });
    expect(sessionOf(store([file(5, 'trajectory', 9000, 9100)]))).toBeUndefined();
  });
});
