import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Random } from '@longheron/core/numeric';
import { parseSystem } from '@longheron/formats/crs';
import { bytesOf, fileOf, section } from '@longheron/formats/e57/build';
import { LasFile } from '@longheron/formats/las';
import { bench, type Bench } from './longheron';

const DEG = Math.PI / 180;
const CRS = 'EPSG:25832+5773';
type Place = [number, number, number];
/** A yard: walls along x and y round a level ground, and a store in it; corner, length, turn in plan, height. */
const WALLS: Array<{ at: [number, number]; longM: number; turnDeg: number; highM: number }> = [
  { at: [-9, -7], longM: 18, turnDeg: 0, highM: 4 },
  { at: [9, -7], longM: 15, turnDeg: 91, highM: 4 },
  { at: [9, 8], longM: 18.5, turnDeg: 180, highM: 3 },
  { at: [-9, 8], longM: 15, turnDeg: 270, highM: 4 },
  { at: [2, 1], longM: 2.5, turnDeg: 30, highM: 2 },
  { at: [2, 1], longM: 1.8, turnDeg: 120, highM: 2 },
];
const STANDS: Array<{ name: string; at: Place; bearingRad: number }> = [
  { name: 'a', at: [-4, -2, 1.6], bearingRad: 0.4 },
  { name: 'b', at: [1, -3, 1.7], bearingRad: 2.5 },
  { name: 'c', at: [-1, 4, 1.55], bearingRad: 5.1 },
];

/** The yard as seen all round from a stand, in the scanner's frame, 3 mm of noise in ranges. */
function seen({ at: [x0, y0, z0], bearingRad }: (typeof STANDS)[number], seed: number, walls = WALLS): Place[] {
  const random = new Random(seed, 'yard');
  const out: Place[] = [];
  for (let e = -55; e < 50; e += 1)
    for (let t = 0; t < 360; t += 1) {
      const z = Math.sin(e * DEG);
      const [x, y] = [Math.cos(e * DEG) * Math.sin(t * DEG), Math.cos(e * DEG) * Math.cos(t * DEG)];
      const [sin, cos] = [Math.sin(bearingRad), Math.cos(bearingRad)];
      const [dx, dy] = [cos * x + sin * y, -sin * x + cos * y];
      let range = z < 0 ? -z0 / z : Infinity;
      for (const w of walls) {
        const [c, s] = [Math.cos(w.turnDeg * DEG), Math.sin(w.turnDeg * DEG)];
        const far = (-s * (w.at[0] - x0) + c * (w.at[1] - y0)) / (-s * dx + c * dy);
        if (!(far > 0.3 && far < range)) continue;
        const along = c * (x0 + far * dx - w.at[0]) + s * (y0 + far * dy - w.at[1]);
        const high = z0 + far * z;
        if (along >= 0 && along <= w.longM && high >= 0 && high <= w.highM) range = far;
      }
      if (range > 30) continue;
      const read = range + 0.003 * random.normal();
      out.push([read * x, read * y, read * z]);
    }
  return out;
}
const ply = (points: Place[]) =>
  `ply\nformat ascii 1.0\nelement vertex ${points.length}\nproperty double x\nproperty double y\nproperty double z\nend_header\n${points.map((p) => p.map((v) => v.toFixed(5)).join(' ')).join('\n')}\n`;

/** Scans with poses in one E57 file (ASTM E2807); the file has their points in their own frames. */
function e57(scans: Array<{ name: string; points: Place[]; at: Place; bearingRad: number }>): Uint8Array {
  let at = 48;
  const parts: Array<{ at: number; bytes: Uint8Array }> = [];
  const children = scans.map((s) => {
    const columns = [0, 1, 2].map((k) =>
      bytesOf(
        s.points.map((p) => p[k]),
        64,
      ),
    );
    const bytes = section(columns, at, 4000);
    parts.push({ at, bytes });
    const offset = Math.floor(at / 1020) * 1024 + (at % 1020);
    at += Math.ceil(bytes.length / 4) * 4;
    // bearings turn clockwise, quaternions the other way
    const half = -s.bearingRad / 2;
    const value = (name: string, v: number) => `<${name} type="Float">${v}</${name}>`;
    const pose = `<pose type="Structure"><rotation type="Structure">${value('w', Math.cos(half))}${value('x', 0)}${value('y', 0)}${value('z', Math.sin(half))}</rotation><translation type="Structure">${value('x', s.at[0])}${value('y', s.at[1])}${value('z', s.at[2])}</translation></pose>`;
    const fields = ['X', 'Y', 'Z'].map((c) => `<cartesian${c} type="Float"/>`).join('');
    return `<vectorChild type="Structure"><name type="String">${s.name}</name>${pose}<points type="CompressedVector" fileOffset="${offset}" recordCount="${s.points.length}"><prototype type="Structure">${fields}</prototype></points></vectorChild>`;
  });
  return fileOf(
    parts,
    `<?xml version="1.0"?><e57Root type="Structure"><data3D type="Vector">${children.join('')}</data3D></e57Root>`,
  );
}

interface Report {
  points: number;
  scans: Array<{ name: string; number: number; x_m: number; y_m: number; z_m: number; bearing_deg: number }>;
  pairs: Array<{ a: string; b: string; rms_m: number; points: number; overlap: number; agreeing: number }>;
  unplaced: Array<{ name: string; why: string; says: string }>;
}
let b: Bench;
const report = (r: ReturnType<Bench['run']>) => r.report as unknown as Report;
const out = ['--out', 'cloud.las', '--poses', 'poses.csv'];
/** How far the poses beside that of the first are off: metres, degrees. */
function errors({ scans }: Report): Array<[number, number]> {
  const first = STANDS.find((s) => s.name === scans[0].name)!;
  return scans.map((s) => {
    const t = STANDS.find((o) => o.name === s.name)!;
    const turn = (s.bearing_deg - scans[0].bearing_deg) * DEG - (t.bearingRad - first.bearingRad);
    const own = scans[0].bearing_deg * DEG - first.bearingRad;
    const d = [t.at[0] - first.at[0], t.at[1] - first.at[1]];
    const e = Math.cos(own) * d[0] + Math.sin(own) * d[1];
    const n = -Math.sin(own) * d[0] + Math.cos(own) * d[1];
    const off = Math.hypot(
      s.x_m - scans[0].x_m - e,
      s.y_m - scans[0].y_m - n,
      s.z_m - scans[0].z_m - (t.at[2] - first.at[2]),
    );
    return [off, Math.abs((turn - 2 * Math.PI * Math.round(turn / (2 * Math.PI))) / DEG)];
  });
}

beforeAll(() => {
  b = bench();
  STANDS.forEach((s, k) => b.write(`${s.name}.ply`, ply(seen(s, k + 1))));
});
afterAll(() => b.clear());

describe('register by surfaces', () => {
  const system = parseSystem(CRS);
  const origin: Place = [467150, 6215300, 4];
  /** The yard's own x and y are the grid's here, at a scale that 9 m cannot tell. */
  const stations = (offM: number, offDeg: number, sd: string) =>
    `# crs: ${CRS}\nname,role,easting_m,northing_m,height_m${sd ? ',sd_e_m,sd_n_m,sd_h_m' : ''},azimuth_deg\n${STANDS.map(
      (s, k) =>
        `${s.name},unused,${s.at.map((v, i) => (v + origin[i] + (k ? (i === 2 ? 0.1 : offM * (k - 1.5) * 1.3) : 0)).toFixed(3)).join(',')}${sd ? `,${sd},${sd},${sd}` : ''},${s.bearingRad / DEG + (k ? offDeg * (2 * k - 3) : 0)}`,
    ).join('\n')}\n`;

  it('places scans from stations 0.3 m and 3 degrees off that state no deviations, the first held', () => {
    b.write('rough.csv', stations(0.3, 3, ''));
    const r = b.run('register', '--scans', 'a.ply,b.ply,c.ply', '--stations', 'rough.csv', '--crs', CRS, ...out);
    expect(r.code).toBe(0);
    for (const [offM, turnDeg] of errors(report(r))) {
      expect(offM).toBeLessThan(0.005);
      expect(turnDeg).toBeLessThan(0.01);
    }
    const [first] = report(r).scans;
    expect(first.x_m).toBeCloseTo(STANDS[0].at[0] + origin[0], 3);
    for (const p of report(r).pairs) {
      expect(p.rms_m).toBeLessThan(0.003);
      expect(p.points).toBeGreaterThan(50);
      expect(p.agreeing).toBeGreaterThan(0.6);
      expect(p.overlap).toBeGreaterThan(0.5);
    }
  });

  it('takes several scans from one E57 and begins with the poses that it gives them', async () => {
    const off = STANDS.map((s, k) => ({
      name: s.name,
      points: seen(s, k + 1),
      at: s.at.map((v, i) => v + (k ? [0.2, -0.18, 0.05][i] : 0)) as Place,
      bearingRad: s.bearingRad + (k ? 3 * DEG : 0),
    }));
    b.write('yard.e57', e57(off));
    const r = b.run('register', '--scans', 'yard.e57', ...out);
    expect(r.err).toMatch(/frame of the first scan/);
    expect(report(r).scans.map((s) => s.name)).toEqual(['a', 'b', 'c']);
    for (const [offM, turnDeg] of errors(report(r))) {
      expect(offM).toBeLessThan(0.005);
      expect(turnDeg).toBeLessThan(0.01);
    }
    const file = await LasFile.openPath(join(b.folder, 'cloud.las'));
    const { count, pointSourceId } = await file.readAll();
    await file.close();
    expect(count).toBe(off.reduce((s, o) => s + o.points.length, 0));
    expect([...new Set(pointSourceId)]).toEqual([1, 2, 3]);
  });

  it('brings a cloud in no frame to one that lies where it should', async () => {
    const inYard = (s: (typeof STANDS)[number], p: Place): Place => [
      s.at[0] + Math.cos(s.bearingRad) * p[0] + Math.sin(s.bearingRad) * p[1],
      s.at[1] - Math.sin(s.bearingRad) * p[0] + Math.cos(s.bearingRad) * p[1],
      s.at[2] + p[2],
    ];
    const text = (points: Place[], to: (p: Place) => Place) =>
      points
        .map((p) =>
          to(p)
            .map((v) => v.toFixed(4))
            .join(' '),
        )
        .join('\n');
    const place = seen(STANDS[0], 11).map((p) => inYard(STANDS[0], p));
    b.write(
      'place.xyz',
      text(place, (p) => p.map((v, i) => v + origin[i]) as Place),
    );
    const columns = ['--columns', 'x,y,z'];
    expect(b.run('convert', '--in', 'place.xyz', ...columns, '--crs', CRS, '--out', 'place.las').code).toBe(0);
    // turned by 2 degrees about its middle, leaning by 1, and 0.25 m off
    const [st, ct] = [Math.sin(2 * DEG), Math.cos(2 * DEG)];
    const handheld = seen(STANDS[1], 12).map((p) => inYard(STANDS[1], p));
    const [sl, cl] = [Math.sin(DEG), Math.cos(DEG)];
    const moved = ([x, y, z]: Place): Place => {
      const east = ct * x - st * y;
      return [origin[0] + 0.2 + cl * east - sl * z, origin[1] - 0.15 + st * x + ct * y, origin[2] + sl * east + cl * z];
    };
    b.write('handheld.xyz', text(handheld, moved));
    expect(b.run('convert', '--in', 'handheld.xyz', ...columns, '--out', 'handheld.las').code).toBe(0);
    const r = b.run(
      'register',
      '--scans',
      'handheld.las',
      '--to',
      'place.las',
      '--frames',
      'any',
      '--crs',
      CRS,
      ...out,
    );
    expect(r.code).toBe(0);
    const file = await LasFile.openPath(join(b.folder, 'cloud.las'));
    const { scale, offset } = file.header;
    const p = await file.readAll();
    await file.close();
    const off = handheld.map((t, i) =>
      Math.hypot(
        p.x[i] * scale[0] + offset[0] - origin[0] - t[0],
        p.y[i] * scale[1] + offset[1] - origin[1] - t[1],
        p.z[i] * scale[2] + offset[2] - origin[2] - t[2],
      ),
    );
    // the plan is 1.3 mm shorter over these nine metres than the yard
    const shrink = 1 - system.convergenceAndScale(56.06 * DEG, 8.47 * DEG).scale;
    expect(Math.max(...off)).toBeLessThan(0.008 + 14 * Math.abs(shrink));
  });

  it('names the direction that a wall leaves open, and claims no pose', () => {
    const wall = [{ at: [-40, 5] as [number, number], longM: 80, turnDeg: 0, highM: 5 }];
    STANDS.slice(0, 2).forEach((s, k) => b.write(`wall_${s.name}.ply`, ply(seen(s, k + 21, wall))));
    b.write('wall.csv', stations(0.1, 1, '').replace(/\n([ab]),/g, '\nwall_$1,'));
    const r = b.run('register', '--scans', 'wall_a.ply,wall_b.ply', '--stations', 'wall.csv', '--crs', CRS, ...out);
    expect(r.code).not.toBe(0);
    expect(r.err).toMatch(/wall_b is open along bearing (89|90|91)°/);
    // stations that are known hold what the wall does not
    b.write('known.csv', stations(0, 0, '0.005').replace(/\n([ab]),/g, '\nwall_$1,'));
    const known = b.run(
      'register',
      '--scans',
      'wall_a.ply,wall_b.ply',
      '--stations',
      'known.csv',
      '--crs',
      CRS,
      ...out,
    );
    expect(known.code).toBe(0);
  });

  it('says which scan shows another place, and leaves it out of the cloud', () => {
    const other = WALLS.map((w) => ({
      ...w,
      at: [w.at[0] * 0.6 + 1, w.at[1] * 0.5] as [number, number],
      turnDeg: w.turnDeg + 40,
    }));
    b.write('c_other.ply', ply(seen(STANDS[2], 31, other)));
    b.write('other.csv', stations(0.05, 0.5, '').replace('\nc,', '\nc_other,'));
    const r = b.run('register', '--scans', 'a.ply,b.ply,c_other.ply', '--stations', 'other.csv', '--crs', CRS, ...out);
    expect(report(r).unplaced.map((u) => u.name)).toEqual(['c_other']);
    expect(report(r).scans.map((s) => s.name)).toEqual(['a', 'b']);
    expect(r.err).toMatch(/c_other/);
  });

  it('refuses a scan that was cut off', () => {
    b.write('cut.ply', b.read('b.ply').slice(0, 40_000));
    const r = b.run('register', '--scans', 'a.ply,cut.ply', ...out);
    expect(r.code).toBe(2);
    expect(r.err).toMatch(/cut\.ply/);
  });
});
