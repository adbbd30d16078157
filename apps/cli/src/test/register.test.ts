import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { geodeticToEcef, GRS80 } from '@longheron/core/frames';
import { Random } from '@longheron/core/numeric';
import { parseSystem } from '@longheron/formats/crs';
import { LasFile } from '@longheron/formats/las';
import { bench, type Bench } from './longheron';

const CRS = 'EPSG:25832+5773';
const system = parseSystem(CRS);
const DEG = Math.PI / 180;
type Place = [number, number, number];
const random = new Random(9, 'scans of a test');
/** Scanners along a street, by easting, northing, height and true azimuth of the y axis. */
const SCANNERS: Array<{ name: string; at: Place; azimuthRad: number }> = [0, 1, 2, 3].map((k) => ({
  name: `s${k + 1}`,
  at: [467150 + 22 * k, 6215300 + 3 * (k % 2), 4.2 + 0.1 * k],
  azimuthRad: random.between(0, 2 * Math.PI),
}));
const TARGETS: Array<{ name: string; at: Place }> = Array.from({ length: 12 }, (_, k) => ({
  name: `T${k + 1}`,
  at: [467142 + 7 * k, 6215300 + random.between(-9, 9), random.between(3, 7)],
}));
const WALL: Place[] = Array.from({ length: 300 }, (_, k) => [467140 + 0.3 * k, 6215311, 3 + (k % 20) * 0.2]);

function ecef([e, n, h]: Place) {
  const geo = new Float64Array(3);
  system.unproject(e, n, h, geo);
  return { xyz: geodeticToEcef(GRS80, geo[0], geo[1], geo[2]), lat: geo[0], lon: geo[1] };
}

/** A place in the frame of a levelled scanner: straight lines of space, x to the right of y. */
function seenFrom({ at, azimuthRad }: (typeof SCANNERS)[number], place: Place): Place {
  const { xyz, lat, lon } = ecef(at);
  const d = ecef(place).xyz.map((v, k) => v - xyz[k]);
  const [sa, ca, so, co] = [Math.sin(lat), Math.cos(lat), Math.sin(lon), Math.cos(lon)];
  const east = -so * d[0] + co * d[1];
  const north = -sa * co * d[0] - sa * so * d[1] + ca * d[2];
  const up = ca * co * d[0] + ca * so * d[1] + sa * d[2];
  const [sin, cos] = [Math.sin(azimuthRad), Math.cos(azimuthRad)];
  return [cos * east - sin * north, sin * east + cos * north, up];
}

const ply = (points: Place[]) =>
  `ply\nformat ascii 1.0\nelement vertex ${points.length}\nproperty double x\nproperty double y\nproperty double z\nend_header\n${points.map((p) => p.map((v) => v.toFixed(5)).join(' ')).join('\n')}\n`;
const near = (s: (typeof SCANNERS)[number], p: Place) => Math.hypot(...p.map((v, k) => v - s.at[k])) < 30;
const convergence = (p: Place) => {
  const { lat, lon } = ecef(p);
  return Math.atan(Math.tan(lon - 9 * DEG) * Math.sin(lat));
};
let b: Bench;

function targetsCsv(change: (scan: string, target: string, at: Place) => Place = (_s, _t, at) => at): string {
  const rows = SCANNERS.flatMap((s) =>
    TARGETS.filter((t) => near(s, t.at)).map((t) => {
      const at = change(s.name, t.name, seenFrom(s, t.at)).map((v) => v + 0.001 * random.normal());
      return `${s.name},${t.name},${at.map((v) => v.toFixed(5)).join(',')},0.001,sphere`;
    }),
  );
  return `scan,target,x_m,y_m,z_m,sd_m,kind\n${rows.join('\n')}\n`;
}
beforeAll(() => {
  b = bench();
  for (const s of SCANNERS) {
    const own = WALL.filter((p) => near(s, p)).map((p) => seenFrom(s, p));
    b.write(`${s.name}.ply`, ply(own));
    b.write(`${s.name}_mm.ply`, ply(own.map((p) => p.map((v) => 1000 * v) as Place)));
  }
  b.write('targets.csv', targetsCsv());
  const off = (scan: string, target: string, at: Place): Place =>
    scan === 's2' && target === 'T4' ? [at[0] + 0.25, at[1], at[2]] : at;
  b.write('moved.csv', targetsCsv(off));
  const head = `# crs: ${CRS}\nname,role,easting_m,northing_m,height_m,sd_e_m,sd_n_m,sd_h_m`;
  const row = (name: string, at: Place) => `${name},control,${at.join(',')},0.002,0.002,0.002`;
  const known = TARGETS.filter((_, k) => k % 3 === 0);
  b.write('marks.csv', `${head}\n${known.map((t) => row(t.name, t.at)).join('\n')}\n`);
  const stations = SCANNERS.map(
    (s) => `${row(s.name, s.at)},${(((s.azimuthRad - convergence(s.at)) / DEG + 360) % 360).toFixed(6)}`,
  );
  b.write('stations.csv', `${head},azimuth_deg\n${stations.join('\n')}\n`);
});
afterAll(() => b.clear());

interface Figures {
  sigma0: number;
  points: number;
  scans: Array<{ name: string; x_m: number; y_m: number; z_m: number; bearing_deg: number; sd_x_m: number }>;
  pairs: Array<{ a: string; b: string; rms_m: number; points: number }>;
  rejected: Array<{ scan: string | null; target: string; off_m: number }>;
}
const SCANS = SCANNERS.map((s) => `${s.name}.ply`).join(',');
const register = (...more: string[]) => b.run('register', ...more, '--out', 'cloud.las', '--poses', 'poses.csv');

async function placed(): Promise<Place[]> {
  const file = await LasFile.openPath(join(b.folder, 'cloud.las'));
  const { scale, offset } = file.header;
  const p = await file.readAll();
  await file.close();
  return Array.from(p.x, (_, i) => [
    p.x[i] * scale[0] + offset[0],
    p.y[i] * scale[1] + offset[1],
    p.z[i] * scale[2] + offset[2],
  ]);
}
/** How far points lie from the nearest of the wall, the farthest of all, metres. */
const worst = (points: Place[]) =>
  Math.max(...points.map((p) => Math.min(...WALL.map((w) => Math.hypot(...w.map((v, k) => v - p[k]))))));

describe('register', () => {
  it('places scans by targets and known marks, on the grid', async () => {
    const r = register('--scans', SCANS, '--targets', 'targets.csv', '--control', 'marks.csv', '--crs', CRS);
    expect(r.code).toBe(0);
    const f = r.report as unknown as Figures;
    expect(f.sigma0).toBeGreaterThan(0.7);
    expect(f.sigma0).toBeLessThan(1.3);
    f.scans.forEach((s, k) => {
      const { at, azimuthRad } = SCANNERS[k];
      expect(Math.hypot(s.x_m - at[0], s.y_m - at[1], s.z_m - at[2])).toBeLessThan(0.004);
      const off = s.bearing_deg * DEG - (azimuthRad - convergence(at));
      expect(Math.abs(off - 2 * Math.PI * Math.round(off / (2 * Math.PI)))).toBeLessThan(0.01 * DEG);
    });
    for (const p of f.pairs) expect(p.rms_m).toBeLessThan(0.004);
    const points = await placed();
    expect(points).toHaveLength(f.points);
    expect(worst(points)).toBeLessThan(0.006);
    expect(b.read('poses.csv')).toMatch(
      /\nscan,x_m,y_m,z_m,qw,qx,qy,qz,sd_x_m,sd_y_m,sd_z_m,sd_rot_deg\ns1,4671\d\d\./,
    );
  });

  it('places them by stations and their grid bearings alone', async () => {
    const r = register('--scans', SCANS, '--stations', 'stations.csv', '--crs', CRS);
    expect(r.code).toBe(0);
    expect(worst(await placed())).toBeLessThan(0.001);
  });

  it('takes millimetres as such', async () => {
    const scans = SCANNERS.map((s) => `${s.name}_mm.ply`).join(',');
    const stations = b.read('stations.csv').replace(/\n(s\d),/g, '\n$1_mm,');
    b.write('stations_mm.csv', stations);
    const r = register('--scans', scans, '--stations', 'stations_mm.csv', '--crs', CRS, '--unit', 'millimetre');
    expect(r.code).toBe(0);
    expect(worst(await placed())).toBeLessThan(0.001);
  });

  it('names a target that is not where the others see it', () => {
    const r = register('--scans', SCANS, '--targets', 'moved.csv', '--control', 'marks.csv', '--crs', CRS);
    const { rejected } = r.report as unknown as Figures;
    expect(rejected).toHaveLength(1);
    expect(rejected[0]).toMatchObject({ scan: 's2', target: 'T4' });
    expect(Math.abs(rejected[0].off_m - 0.25)).toBeLessThan(0.01);
    expect(r.err).toMatch(/T4 as seen in s2 is 2[45]\d mm off where the others see it/);
  });

  it('keeps the first frame where nothing is known, and says so', () => {
    const r = register('--scans', SCANS, '--targets', 'targets.csv');
    expect(r.code).toBe(0);
    expect(r.err).toMatch(/the cloud is in the frame of the first scan/);
    expect(b.read('poses.csv')).toMatch(/\ns1,-?0\.0000,-?0\.0000,-?0\.0000,/);
  });

  it('finds spheres by itself, names them by known marks, and lists them', () => {
    const R = 0.1;
    SCANNERS.forEach((s) => {
      const points: Place[] = [];
      for (const t of TARGETS.filter((o) => near(s, o.at))) {
        const c = seenFrom(s, t.at);
        const range = Math.hypot(...c);
        const towards = c.map((v) => -v / range);
        // the half that looks to the scanner, evenly (Fibonacci), 1 mm of noise along the ray
        for (let k = 0; k < 300; k++) {
          const z = 1 - (2 * k + 1) / 300;
          const turn = k * Math.PI * (3 - Math.sqrt(5));
          const n = [Math.sqrt(1 - z * z) * Math.cos(turn), Math.sqrt(1 - z * z) * Math.sin(turn), z];
          if (n[0] * towards[0] + n[1] * towards[1] + n[2] * towards[2] < 0.25) continue;
          const p = c.map((v, i) => v + R * n[i]);
          const far = Math.hypot(...p);
          const noise = 0.001 * random.normal();
          points.push(p.map((v) => v * (1 + noise / far)) as Place);
        }
      }
      b.write(`sp_${s.name}.ply`, ply(points));
    });
    const scans = SCANNERS.map((s) => `sp_${s.name}.ply`).join(',');
    const more = ['--sphere-radius-m', '0.1', '--targets-out', 'found.csv'];
    const r = register('--scans', scans, '--control', 'marks.csv', '--crs', CRS, ...more);
    expect(r.code).toBe(0);
    (r.report as unknown as Figures).scans.forEach((s, k) => {
      const { at } = SCANNERS[k];
      expect(Math.hypot(s.x_m - at[0], s.y_m - at[1], s.z_m - at[2])).toBeLessThan(0.004);
    });
    // each sphere of the list is where its mark is
    const rows = b.read('found.csv').trim().split('\n').slice(1);
    expect(rows.length).toBeGreaterThan(15);
    for (const row of rows.filter((l) => /,T\d+,/.test(l))) {
      const [scan, target, ...place] = row.split(',');
      const s = SCANNERS.find((o) => `sp_${o.name}` === scan)!;
      const truth = seenFrom(s, TARGETS.find((t) => t.name === target)!.at);
      expect(Math.hypot(...truth.map((v, i) => v - Number(place[i])))).toBeLessThan(0.002);
    }
  });

  it('refuses scans that nothing joins, and lists that are none', () => {
    const alone = b.read('targets.csv').replace(/\ns4,/g, '\ns9,');
    b.write('alone.csv', alone);
    const r = register('--scans', SCANS, '--targets', 'alone.csv', '--control', 'marks.csv', '--crs', CRS);
    expect(r.code).toBe(2);
    expect(r.err).toMatch(/Nothing joins s4 to the other scans/);
    b.write('broken.csv', b.read('targets.csv').replace(',0.001,sphere', ',0.001,cone'));
    const wrong = register('--scans', SCANS, '--targets', 'broken.csv', '--control', 'marks.csv', '--crs', CRS);
    expect(wrong.code).toBe(2);
    expect(wrong.err).toMatch(/line 2, column kind.*"cone": known are sphere, disc, corner/);
  });
});
