import { statSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { mountingToJson, parseMounting } from '@longheron/core/frames';
import { parseSystem } from '@longheron/formats/crs';
import { writeLaserFile } from '@longheron/formats/laser';
import { trajectoryCsv } from '@longheron/formats/trajectory';
import { drawFlightPlan, flyPlan, type Flight } from '@longheron/site/flights';
import { bench, type Bench } from './longheron';

let b: Bench;
let flight: Flight;
const INPUTS = ['--trajectory', 'f.csv', '--returns', 'f.laser.h5', '--mount', 'm.json', '--crs', 'EPSG:25832+5773'];
beforeAll(async () => {
  b = bench();
  const plan = drawFlightPlan(7, 'crossing', 0.15);
  flight = flyPlan(plan, parseSystem('EPSG:25832+5773'), [467_200, 6_215_300]);
  b.write('f.csv', [...trajectoryCsv(flight.trajectory)].join(''));
  b.write('m.json', JSON.stringify(mountingToJson({ sensors: { scanner: flight.mounting } })));
  const info = { week: flight.returns.week, sensor: 'scanner', serial: '', rangeSdM: 0.015, angleSdDeg: 0.004 };
  await writeLaserFile(join(b.folder, 'f.laser.h5'), info, flight.returns);
}, 900_000);
afterAll(() => b.clear());

interface StripFigures {
  before_m: number;
  after_m: number;
  mount: { sensor: string; sd: { roll: number } };
  held: Array<{ what: string }>;
  drift: Array<{ strip: number; gps_sow: number; dh_m: number; sd_m: number }>;
  overlaps: object[];
}

describe('strips', () => {
  it('from raw files to mounting, trajectory and a compressed cloud', () => {
    const written = ['--mount-out', 'new.json', '--trajectory-out', 'new.csv'];
    const r = b.run('strips', ...INPUTS, ...written, '--out', 'cloud.laz', '--csv', 'pairs.csv');
    expect(r.code).toBe(0);
    const figures = r.report as unknown as StripFigures;
    expect(figures.after_m).toBeLessThan(0.3 * figures.before_m);
    const { scanner } = parseMounting(JSON.parse(b.read('new.json'))).sensors;
    expect(Math.abs(scanner.boresightDeg.roll - flight.trueMounting.boresightDeg.roll)).toBeLessThan(
      4 * figures.mount.sd.roll,
    );
    expect(figures.drift[0]).toEqual({
      strip: 1,
      gps_sow: expect.any(Number) as number,
      dh_m: expect.any(Number) as number,
      sd_m: expect.any(Number) as number,
    });
    expect(b.read('pairs.csv').split('\n').length).toBe(figures.overlaps.length + 4);
    // compressed as its name says: the same points as LAS take several times the room
    const placed = ['--trajectory', 'new.csv', '--returns', 'f.laser.h5', '--mount', 'new.json'];
    expect(b.run('place', ...placed, '--crs', 'EPSG:25832+5773', '--out', 'again.las').code).toBe(0);
    const size = (name: string) => statSync(join(b.folder, name)).size;
    expect(size('cloud.laz')).toBeLessThan(0.7 * size('again.las'));
  }, 900_000);

  it('solve for what is asked, and refuse what they do not know', () => {
    const only = b.run('strips', ...INPUTS, '--solve', 'shift,drift', '--mount-out', 'same.json', '--out', 'c.las');
    expect(only.code).toBe(0);
    expect(parseMounting(JSON.parse(b.read('same.json'))).sensors.scanner.boresightDeg).toEqual({
      roll: 0,
      pitch: 0,
      heading: 0,
    });
    const wrong = b.run('strips', ...INPUTS, '--solve', 'luck', '--mount-out', 'x.json', '--out', 'x.las');
    expect([wrong.code, wrong.err]).toEqual([2, expect.stringContaining('it knows boresight, lever')]);
    const none = b.run('strips', ...INPUTS, '--out', 'x.las');
    expect([none.code, none.err]).toEqual([2, expect.stringContaining('--mount-out')]);
  }, 900_000);
});
