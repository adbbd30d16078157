import { statSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { mountingToJson, parseMounting } from '@longheron/core/frames';
import { parseSystem } from '@longheron/formats/crs';
import { writeSonarFile } from '@longheron/formats/sonar';
import { trajectoryCsv } from '@longheron/formats/trajectory';
import {
  castsOf,
  castsText,
  CHANNELS,
  DELIVERED_HEAD,
  gaugeText,
  realTime,
  scanLine,
  SOUNDER,
  soundLine,
  tideOf,
  WATERLINE_M,
} from '@longheron/site/boat';
import { trueTrajectory } from '@longheron/site/drive';
import { trueVoyage } from '@longheron/site/journeys';
import { bench, type Bench } from './longheron';

const CRS = 'EPSG:25832+5773';
/** A line, the one beside it, and that one again slowly the other way. */
const PARTS = [
  { line: 1, fromS: 52, toS: 78 },
  { line: 2, fromS: 18, toS: 44 },
  { line: 3, fromS: 110, toS: 162 },
];
let b: Bench;
beforeAll(async () => {
  b = bench();
  const system = parseSystem(CRS);
  const drive = trueVoyage(207_000);
  const tide = tideOf(drive);
  for (const [k, { line, fromS, toS }] of PARTS.entries()) {
    const { startSow } = drive.passes[line];
    const span = { startSow: startSow + fromS, endSow: startSow + toS };
    const { pings } = soundLine(drive, system, span, tide, line, 1, undefined, { beams: 40, pingsPerS: 5 });
    const { channel, sow, port, starboard } = scanLine(drive, system, span, tide, CHANNELS[0], line, 1);
    const { name, samples, sampleS, frequencyHz } = channel;
    await writeSonarFile(join(b.folder, `l${k + 1}.sonar.h5`), {
      info: {
        week: pings.week,
        sonar: SOUNDER.name,
        frequencyHz: SOUNDER.frequencyHz,
        beamwidthAcrossDeg: 1,
        beamwidthAlongDeg: 1,
        pulseS: SOUNDER.pulseS,
        binned: false,
        rangeSdM: SOUNDER.rangeM,
        angleSdDeg: SOUNDER.angleDeg,
        surfaceSpeedSdMps: SOUNDER.surfaceMps,
      },
      ...realTime(drive, system, span, line, 1),
      pings,
      channels: [{ name, samples, sampleS, firstS: 0, frequencyHz, sow, port, starboard }],
    });
  }
  const { startSow } = drive.passes[1];
  const trajectory = trueTrajectory(drive, system, 50, startSow, drive.passes[3].endSow);
  b.write('boat.csv', [...trajectoryCsv(trajectory)].join(''));
  const mounting = { waterlineM: WATERLINE_M, waterlineSdM: 0.01, sensors: { sonar: DELIVERED_HEAD } };
  b.write('m.json', JSON.stringify(mountingToJson(mounting)));
  b.write('casts.csv', castsText(castsOf(drive, system, tide, 1, 1)));
  b.write('gauge.csv', gaugeText(drive, system, 1, 1));
}, 900_000);
afterAll(() => b.clear());

const LINES = ['--sonar', 'l1.sonar.h5,l2.sonar.h5,l3.sonar.h5'];
const WITH = ['--trajectory', 'boat.csv', '--casts', 'casts.csv', '--crs', CRS];

describe('from sonar recordings', () => {
  it('the mounting is tested, soundings reduced with it, gridded, and the side-scan laid on the grid', () => {
    const test = b.run('patch', ...LINES, '--mount', 'm.json', ...WITH, '--mount-out', 'tested.json');
    expect(test.code).toBe(0);
    const p = test.report as unknown as Record<'roll_deg' | 'roll_deg_sd' | 'latency_s' | 'latency_s_sd', number>;
    expect(Math.abs(p.roll_deg - 0.35)).toBeLessThan(3 * p.roll_deg_sd);
    expect(Math.abs(p.latency_s - 0.06)).toBeLessThan(3 * p.latency_s_sd);
    const { boresightDeg, latencyS } = parseMounting(JSON.parse(b.read('tested.json'))).sensors.sonar;
    expect([boresightDeg.roll, latencyS]).toEqual([p.roll_deg, p.latency_s]);

    const sounded = b.run('soundings', ...LINES, '--mount', 'tested.json', ...WITH, '--out', 'soundings.laz');
    expect(sounded.code).toBe(0);
    const s = sounded.report as unknown as Record<'pings' | 'soundings' | 'sd_h_m' | 'sd_plan_m' | 'outside', number>;
    expect([s.pings, s.outside]).toEqual([130 + 130 + 260, 0]);
    expect(s.soundings).toBeGreaterThan(0.97 * 40 * s.pings);
    expect([s.sd_h_m > 0.005, s.sd_h_m < 0.05, s.sd_plan_m > 0.003]).toEqual([true, true, true]);

    const grid = ['depths', '--cloud', 'soundings.laz', '--cell', '1', '--method', 'median', '--fill', '2'];
    const made = b.run(...(grid as [string]), '--out', 'depth.tif', '--contours', '0.5', '--contours-out', 'c.geojson');
    expect(made.code).toBe(0);
    const d = made.report as unknown as Record<'cells' | 'filled' | 'spacing_m', number>;
    expect([d.cells > 1500, d.spacing_m > 0.2, d.spacing_m < 1]).toEqual([true, true, true]);
    expect(JSON.parse(b.read('c.geojson')).features.length).toBeGreaterThan(2);

    const scan = ['sidescan', ...LINES, '--mount', 'tested.json', ...WITH, '--channel', 'low', '--cell', '0.5'];
    const mosaic = b.run(
      ...(scan as [string]),
      '--bed',
      'depth.tif',
      '--order',
      'l3.sonar.h5,l1.sonar.h5',
      '--overlap',
      'order',
      '--out',
      'm.tif',
      '--tracks',
      't.csv',
    );
    expect(mosaic.code).toBe(0);
    const m = mosaic.report as unknown as { pings: number; tracked_share: number; order: string[]; bed: string };
    expect([m.bed, m.order]).toEqual(['grid', ['l2.sonar.h5', 'l3.sonar.h5', 'l1.sonar.h5']]);
    expect(m.tracked_share).toBeGreaterThan(0.95);
    expect(b.read('t.csv').split('\n')).toHaveLength(2 + m.pings);
    expect(statSync(join(b.folder, 'm.tif')).size).toBeGreaterThan(10_000);
  });

  it('heights without a trajectory come from the gauge, or are relative and say so', () => {
    const gauged = ['--casts', 'casts.csv', '--water-level', 'gauge.csv', '--crs', CRS, '--out', 'g.las'];
    const r = b.run('soundings', '--sonar', 'l1.sonar.h5', '--mount', 'm.json', ...gauged);
    expect([r.code, r.report.crs]).toEqual([0, CRS]);
    const loose = b.run(
      'soundings',
      '--sonar',
      'l1.sonar.h5',
      '--mount',
      'm.json',
      '--casts',
      'casts.csv',
      '--crs',
      CRS,
      '--out',
      'r.las',
    );
    expect([loose.code, loose.report.crs]).toEqual([0, 'EPSG:25832']);
    expect(loose.report.notices.map((n) => n.code)).toContain('relative-heights');
    expect(loose.err).toMatch(/Heights are relative/);
  });

  it('what is missing or wrong ends with a sentence and a code', () => {
    const noCast = b.run(
      'soundings',
      '--sonar',
      'l1.sonar.h5',
      '--mount',
      'm.json',
      '--trajectory',
      'boat.csv',
      '--crs',
      CRS,
      '--out',
      'x.las',
    );
    expect([noCast.code, noCast.err]).toEqual([2, expect.stringMatching(/--casts/)]);
    b.write('air.csv', 'cast,gps_week,gps_sow,lat_deg,lon_deg,depth_m,speed_mps\nA,2423,207000,56,8,1,343\n');
    const air = b.run(
      'soundings',
      '--sonar',
      'l1.sonar.h5',
      '--mount',
      'm.json',
      '--casts',
      'air.csv',
      '--crs',
      CRS,
      '--out',
      'x.las',
    );
    expect([air.code, air.err]).toEqual([
      2,
      expect.stringMatching(/air\.csv, cast A, depth 1\.00 m: .*not that of water/),
    ]);
    const scan = [
      'sidescan',
      '--sonar',
      'l1.sonar.h5',
      '--mount',
      'm.json',
      ...WITH,
      '--cell',
      '0.5',
      '--out',
      'x.tif',
    ];
    const high = b.run(...(scan as [string]), '--channel', 'high');
    expect([high.code, high.err]).toEqual([2, expect.stringMatching(/no side-scan channel "high".*It has low/)]);
    expect(b.run(...(scan as [string]), '--channel', 'middle').code).toBe(2);
    const one = b.run('patch', '--sonar', 'l1.sonar.h5', '--mount', 'm.json', ...WITH, '--mount-out', 'y.json');
    expect([one.code, one.err]).toEqual([2, expect.stringMatching(/One line alone tells nothing/)]);
    b.write('cut.sonar.h5', 'no recording');
    const cut = b.run('soundings', '--sonar', 'cut.sonar.h5', '--mount', 'm.json', ...WITH, '--out', 'x.las');
    expect([cut.code, cut.err]).toEqual([2, expect.stringMatching(/cut\.sonar\.h5.*not a whole HDF5 file/)]);
  });
});
