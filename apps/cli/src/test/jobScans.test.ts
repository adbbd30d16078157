import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { parseSystem } from '@longheron/formats/crs';
import { geodeticToEcef, GRS80 } from '@longheron/core/frames';
import { LasFile } from '@longheron/formats/las';
import { JOURNEY_FILES, makeTotalStationFile, SITE_DEFAULTS, siteWriters } from '@longheron/site/files';
import { RUN_SCANS, runXml, totalStationRun } from '@longheron/site/totalStation';
import { SITE_ORIGIN_E, SITE_ORIGIN_N } from '@longheron/site/terrain';
import { bench, type Bench } from './longheron';

const CRS = 'EPSG:25832+5773';
const DEG = Math.PI / 180;
const system = parseSystem(CRS);
const run = totalStationRun(21, 'medium', system);
type Place = [number, number, number];
let b: Bench;

function ecef([e, n, h]: Place) {
  const geo = new Float64Array(3);
  system.unproject(e, n, h, geo);
  return { xyz: geodeticToEcef(GRS80, geo[0], geo[1], geo[2]), lat: geo[0], lon: geo[1] };
}
/** Directions of two sides of the same sight tell the zero of a set-up's circle: from its truth to its reading. */
const grid = (p: { x: number; y: number; heightM: number }): Place => [
  SITE_ORIGIN_E + p.x,
  SITE_ORIGIN_N + p.y,
  p.heightM,
];
function local(at: Place, place: Place): Place {
  const { xyz, lat, lon } = ecef(at);
  const d = ecef(place).xyz.map((v, k) => v - xyz[k]);
  const [sa, ca, so, co] = [Math.sin(lat), Math.cos(lat), Math.sin(lon), Math.cos(lon)];
  return [
    -so * d[0] + co * d[1],
    -sa * co * d[0] - sa * so * d[1] + ca * d[2],
    ca * co * d[0] + ca * so * d[1] + sa * d[2],
  ];
}

beforeAll(() => {
  b = bench();
  const known = run.points.filter((p) => ['C5', 'C6', 'C7'].includes(p.name));
  b.write(
    'marks.csv',
    `# crs: ${CRS}\nname,role,easting_m,northing_m,height_m,sd_e_m,sd_n_m,sd_h_m\n${known.map((p) => `${p.name},control,${grid(p).join(',')},0.001,0.001,0.001\n`).join('')}`,
  );
  b.write('run.xml', runXml(run, { files: [{ code: 'scan', setUp: run.setUps[1].id, location: 'scans/quay.ply' }] }));
});
afterAll(() => b.clear());

describe('scans of a total-station job', () => {
  it('are placed by the set-ups that the job names them with', async () => {
    const setUp = run.setUps[1];
    const station = run.points.find((p) => p.name === setUp.station)!;
    const at: Place = [grid(station)[0], grid(station)[1], station.heightM + setUp.instrumentHeightM];
    // where the circle's zero points: a true azimuth less its reading, from the first face of a sight
    const sight = run.readings.find((r) => r.setUp === setUp.id && r.face === 1)!;
    const [e, n] = local(at, grid(run.points.find((p) => p.name === sight.target)!));
    const zero = Math.atan2(e, n) - sight.circleDeg * DEG;
    const wall: Place[] = Array.from({ length: 60 }, (_, k) => [
      at[0] - 15 + k / 2,
      at[1] + 12,
      at[2] - 1 + (k % 7) / 3,
    ]);
    const own = wall.map((p): Place => {
      const [x, y, z] = local(at, p);
      return [Math.cos(zero) * x - Math.sin(zero) * y, Math.sin(zero) * x + Math.cos(zero) * y, z];
    });
    b.write(
      'quay.ply',
      `ply\nformat ascii 1.0\nelement vertex ${own.length}\nproperty double x\nproperty double y\nproperty double z\nend_header\n${own.map((p) => p.map((v) => v.toFixed(5)).join(' ')).join('\n')}\n`,
    );
    const adjusted = b.run(
      'traverse',
      '--job',
      'run.xml',
      '--marks',
      'marks.csv',
      '--crs',
      CRS,
      '--out',
      'points.csv',
      '--stations',
      'stations.csv',
    );
    expect(adjusted.code).toBe(0);
    expect(b.read('stations.csv')).toMatch(/\nquay,unused,.*,set-up \S+,\d+\.\d+,0\.\d+\n/);
    const r = b.run(
      'register',
      '--scans',
      'quay.ply',
      '--stations',
      'stations.csv',
      '--crs',
      CRS,
      '--out',
      'cloud.las',
      '--poses',
      'poses.csv',
    );
    expect(r.code).toBe(0);
    const file = await LasFile.openPath(join(b.folder, 'cloud.las'));
    const { scale, offset } = file.header;
    const p = await file.readAll();
    await file.close();
    const off = wall.map((w, i) =>
      Math.hypot(
        p.x[i] * scale[0] + offset[0] - w[0],
        p.y[i] * scale[1] + offset[1] - w[1],
        p.z[i] * scale[2] + offset[2] - w[2],
      ),
    );
    // one pointing of a few seconds, and stations known to some millimetres
    expect(Math.max(...off)).toBeLessThan(0.012);
  });

  it('of the demo come packed, and stand where their instrument stood', async () => {
    const options = { ...SITE_DEFAULTS, size: 'full' as const };
    await makeTotalStationFile(b.folder, system, siteWriters, options, 2);
    const demo = totalStationRun(options.seed, options.level, system);
    const known = demo.points.filter((p) => ['C5', 'C6', 'C7'].includes(p.name));
    b.write(
      'site_marks.csv',
      `# crs: ${CRS}\nname,role,easting_m,northing_m,height_m,sd_e_m,sd_n_m,sd_h_m\n${known.map((p) => `${p.name},control,${grid(p).join(',')},0.002,0.002,0.002\n`).join('')}`,
    );
    const job = JOURNEY_FILES.totalStation;
    const files = unzipSync(readFileSync(join(b.folder, job)));
    for (const { name } of RUN_SCANS) b.write(`${name}.las`, files[`scans/${name}.las`]);
    const more = ['--out', 'site_points.csv', '--stations', 'site_stations.csv'];
    const adjusted = b.run('traverse', '--job', job, '--marks', 'site_marks.csv', '--crs', CRS, ...more);
    expect(adjusted.err).toMatch(/1 scans and pictures that the job names are not beside it: pictures\/quay_wall\.jpg/);
    const scans = RUN_SCANS.map((s) => `${s.name}.las`).join(',');
    const out = ['--crs', CRS, '--out', 'bank.las', '--poses', 'bank.csv'];
    const r = b.run('register', '--scans', scans, '--stations', 'site_stations.csv', '--by', 'targets', ...out);
    expect(r.code).toBe(0);
    const rows = b.read('bank.csv').trim().split('\n').slice(2);
    expect(rows).toHaveLength(2);
    for (const row of rows) {
      const [name, ...values] = row.split(',');
      const [x, y, z, , , , , sdX, sdY, sdZ] = values.map(Number);
      const setUp = demo.setUps.find((s) => s.id === RUN_SCANS.find((o) => o.name === name)!.setUp)!;
      const [e, n, h] = grid(demo.points.find((p) => p.name === setUp.station)!);
      expect(Math.abs(x - e)).toBeLessThan(3.5 * sdX);
      expect(Math.abs(y - n)).toBeLessThan(3.5 * sdY);
      expect(Math.abs(z - h - setUp.instrumentHeightM)).toBeLessThan(3.5 * sdZ + 0.002);
    }
  });
});
