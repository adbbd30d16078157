import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { bench, type Bench } from './longheron';
import { parseSystem } from '@longheron/formats/crs';
import { DRIVE_START_SOW, GPS_WEEK } from '@longheron/site/drive';
import { siteDrive } from '@longheron/site/files';
import { BASE_PLACE, sessionFiles, vehicleSession } from '@longheron/site/gnss';
import { stationFile } from '@longheron/site/stations';
import { SITE_ORIGIN_E, SITE_ORIGIN_N, SITE_SYSTEM } from '@longheron/site/terrain';

const GNSS = [
  '--rover',
  'site/vehicle_20260616_gnss.rnx',
  '--base',
  'site/brn1_20260616_gnss.rnx',
  '--nav',
  'site/site_20260616_nav.rnx',
];
let b: Bench;
beforeAll(() => {
  b = bench();
  expect(b.run('site', '--out', 'site', '--size', 'small', '--quiet').code).toBe(0);
}, 900_000);
afterAll(() => b.clear());
const dataRows = (name: string) =>
  b
    .read(name)
    .split('\n')
    .filter((l) => /^,?\d/.test(l))
    .map((l) => l.split(','));

describe('commands from raw files to placed points', () => {
  it('site: refuses a size that is none', () => {
    expect(b.run('site', '--out', 'other', '--size', 'huge').code).toBe(2);
    expect(b.run('site').code).toBe(2);
  });

  it('position: an antenna that is fixed, and an inertial unit smoothed through it', () => {
    const antenna = b.run('position', ...GNSS, '--out', 'antenna.csv');
    expect(antenna.code).toBe(0);
    expect(antenna.report.fixed_share).toBeGreaterThan(0.97);
    const imu = ['--imu', 'site/vehicle_20260616.imu.h5', '--mount', 'site/vehicle_mount.json'];
    expect(b.run('position', ...GNSS, ...imu, '--out', 'traj.csv').code).toBe(0);
    // against the trajectory that the site was driven on: 3 cm at every whole second of both
    const truth = new Map(dataRows('site/vehicle_20260616_traj.csv').map((r) => [Number(r[1]).toFixed(2), r]));
    let compared = 0;
    for (const r of dataRows('traj.csv')) {
      const given = truth.get(Number(r[1]).toFixed(2));
      if (!given || Number(r[1]) % 1 > 0.001) continue;
      const north = (Number(r[2]) - Number(given[2])) * 111_300;
      const east = (Number(r[3]) - Number(given[3])) * 111_300 * Math.cos((Number(r[2]) * Math.PI) / 180);
      expect(Math.hypot(north, east)).toBeLessThan(0.05);
      expect(Math.abs(Number(r[4]) - Number(given[4]))).toBeLessThan(0.08);
      compared++;
    }
    expect(compared).toBeGreaterThan(60);
    const alone = b.run('position', ...GNSS, '--imu', 'site/vehicle_20260616.imu.h5', '--out', 'x.csv');
    expect([alone.code, alone.err]).toEqual([2, expect.stringContaining('mounting')]);
    const mask = b.run('position', ...GNSS, '--mask', '99', '--out', 'x.csv');
    expect([mask.code, mask.err]).toEqual([2, expect.stringContaining('--mask')]);
  }, 900_000);

  it('trajectory: once a second in the plan, with ellipsoidal heights as they were', () => {
    const r = b.run(
      'trajectory',
      '--in',
      'traj.csv',
      '--crs',
      'EPSG:25832',
      '--heights',
      'ellipsoidal',
      '--rate',
      '1',
      '--out',
      'plan.csv',
    );
    expect(r.code).toBe(0);
    const [rows, all] = [dataRows('plan.csv'), new Map(dataRows('traj.csv').map((l) => [l[1], l]))];
    expect(Math.abs(rows.length - (Number(rows.at(-1)![1]) - Number(rows[0][1]) + 1))).toBeLessThan(2);
    for (const row of rows.slice(0, 20)) expect(Number(row[4])).toBeCloseTo(Number(all.get(row[1])![4]), 3);
    expect(b.run('trajectory', '--in', 'traj.csv', '--crs', 'somewhere', '--out', 'x.csv').code).toBe(2);
  });

  it('place: every return is placed or counted as left out', () => {
    const laser = ['--returns', 'site/vehicle_20260616_head1.laser.h5', '--mount', 'site/vehicle_mount.json'];
    const to = ['--crs', 'EPSG:25832+5773'];
    const r = b.run('place', '--trajectory', 'traj.csv', ...laser, ...to, '--out', 'cloud.las');
    expect(r.code).toBe(0);
    const f = r.report as unknown as { points_in: number; points_out: number; points_outside_trajectory: number };
    expect(f.points_out + f.points_outside_trajectory).toBe(f.points_in);
    expect(b.run('inspect', 'cloud.las').out).toContain(`${f.points_out} points`);
    const antenna = b.run('place', '--trajectory', 'antenna.csv', ...laser, ...to, '--out', 'x.las');
    expect([antenna.code, antenna.report]).toEqual([2, null]);
    expect(b.run('place', '--trajectory', 'traj.csv', ...laser, '--out', 'x.las').code).toBe(2);
  });

  it('events: one position for each exposure, the stray told', () => {
    const events = ['--trajectory', 'traj.csv', '--events', 'site/vehicle_20260616_exposures.csv'];
    const r = b.run('events', ...events, '--mount', 'site/vehicle_mount.json', '--sensor', 'camera', '--out', 'e.csv');
    expect(r.code).toBe(0);
    expect(dataRows('e.csv').length).toBeGreaterThan(70);
    const wrong = b.run(
      'events',
      ...events,
      '--mount',
      'site/vehicle_mount.json',
      '--sensor',
      'sonar',
      '--out',
      'x.csv',
    );
    expect([wrong.code, wrong.err]).toEqual([2, expect.stringContaining('sonar')]);
  });

  it('stops: the marks of the field book, near those surveyed', () => {
    const pole = ['--rover', 'site/pole_20260616_gnss.rnx', ...GNSS.slice(2)];
    expect(b.run('position', ...pole, '--out', 'pole.csv').code).toBe(0);
    const book = ['--occupations', 'site/pole_20260616_occupations.csv', '--crs', 'EPSG:25832+5773'];
    const r = b.run('stops', '--trajectory', 'pole.csv', ...book, '--out', 'found.csv');
    expect(r.code).toBe(0);
    const marks = (name: string) =>
      new Map(
        b
          .read(name)
          .split('\n')
          .filter((l) => /^[A-Z]\w*,/.test(l))
          .map((l) => l.split(','))
          .map((l) => [l[0], l]),
      );
    const [found, surveyed] = [marks('found.csv'), marks('site/marks_network.csv')];
    expect([...found.keys()]).toEqual(['K2', 'K10', 'K3', 'C3', 'K13', 'K5']);
    for (const [name, m] of found) {
      const s = surveyed.get(name)!;
      expect(Math.hypot(Number(m[2]) - Number(s[2]), Number(m[3]) - Number(s[3]))).toBeLessThan(0.05);
    }
    expect(b.run('stops', '--trajectory', 'nowhere.csv', '--crs', 'EPSG:25832+5773', '--out', 'x.csv').code).toBe(2);
  });

  it('join: sessions of one point only, and in one piece when they follow each other', () => {
    const all = b.read('traj.csv').split('\n');
    const head = all.findIndex((l) => /^\d/.test(l));
    const half = head + Math.floor((all.length - head) / 2);
    b.write('first.csv', [...all.slice(0, half), ''].join('\n'));
    b.write('second.csv', [...all.slice(0, head), ...all.slice(half)].join('\n'));
    const r = b.run('join', '--in', 'first.csv,second.csv', '--out', 'joined.csv');
    expect([r.code, r.err]).toEqual([0, '']);
    expect(dataRows('joined.csv').length).toBe(dataRows('traj.csv').length);
    expect(b.run('join', '--in', 'first.csv,antenna.csv', '--out', 'x.csv').code).toBe(2);
    expect(b.run('join', '--in', 'first.csv', '--out', 'x.csv').code).toBe(2);
  });

  it('network: a base from two stations that are held', () => {
    expect(b.run('network').code).toBe(2);
    const system = parseSystem(SITE_SYSTEM);
    const [start, end] = [DRIVE_START_SOW, DRIVE_START_SOW + 400];
    const session = vehicleSession(siteDrive(), system, {
      seed: 2,
      factor: 1,
      roverRateHz: 1,
      fromSow: start,
      toSow: start + 160,
      baseToSow: end,
    });
    const texts = sessionFiles(session);
    b.write('brn1.rnx', texts.base);
    b.write('nav.rnx', texts.navigation);
    b.write('a.atx', texts.antennas);
    const span = { startGps: GPS_WEEK * 604800 + start - 60, endGps: GPS_WEEK * 604800 + end, seed: 2, factor: 1 };
    for (const code of ['FJR1', 'HLM2']) b.write(`${code}.rnx`, stationFile({ ...span, code }, system));
    const files = ['--recordings', 'brn1.rnx,FJR1.rnx,HLM2.rnx', '--nav', 'nav.rnx', '--antex', 'a.atx'];
    const r = b.run('network', ...files, '--hold', 'FJR1,HLM2', '--crs', 'EPSG:25832+5773', '--out', 'base.csv');
    expect([r.code, r.err]).toEqual([0, '']);
    const row = b
      .read('base.csv')
      .split('\n')
      .find((l) => l.startsWith('BRN1,'))!
      .split(',');
    expect(Number(row[2])).toBeCloseTo(SITE_ORIGIN_E + BASE_PLACE.x, 1);
    expect(Number(row[3])).toBeCloseTo(SITE_ORIGIN_N + BASE_PLACE.y, 1);
    const none = b.run('network', ...files, '--hold', 'NOWHERE', '--crs', 'EPSG:25832+5773', '--out', 'x.csv');
    expect([none.code, none.err]).toEqual([2, expect.stringContaining('NOWHERE')]);
  });
});
