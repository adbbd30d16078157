import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { bench, type Bench } from './longheron';

let b: Bench;
const CONTROL: Array<[string, number, number, number]> = [
  ['M1', 467010.2, 6215020.4, 3.214],
  ['M2', 467310.8, 6215480.1, 5.871],
  ['M3', 466820.5, 6215710.9, 2.99],
  ['M4', 467120, 6214650.3, 7.443],
];
/** On site: a quarter turn clockwise about 467000, 6215000, which becomes 1000, 2000; heights 2 m lower. */
const local = (e: number, n: number, h: number) => [1000 + (n - 6215000), 2000 - (e - 467000), h - 2];
const list = (rows: Array<[string, ...number[]]>) =>
  `name,role,easting_m,northing_m,height_m\n${rows.map(([name, ...v]) => `${name},control,${v.map((x) => x.toFixed(4)).join(',')}`).join('\n')}\n`;
const CRS = ['--crs', 'EPSG:25832+5773'];

beforeAll(() => {
  b = bench();
  b.write('control.csv', `# crs: EPSG:25832+5773\n${list(CONTROL)}`);
  b.write('site.csv', list(CONTROL.map(([name, e, n, h]) => [name, ...local(e, n, h)])));
  const rows = Array.from(
    { length: 36 },
    (_, i) => `${467100 + (i % 6)} ${6215300 + Math.floor(i / 6)} ${-3 - i / 100}`,
  );
  b.write('p.xyz', `${rows.join('\n')}\n`);
  expect(b.run('convert', '--in', 'p.xyz', ...CRS, '--out', 'p.las').code).toBe(0);
});
afterAll(() => b.clear());
const points = (file: string, ...more: string[]) => {
  const made = b.run('convert', '--in', file, '--out', 'out.csv', ...more);
  expect([made.code, made.err.replace(/^info.*\n/gm, '')]).toEqual([0, '']);
  const lines = b.read('out.csv').split('\n');
  const rows = lines.filter((l) => /^-?\d/.test(l)).map((l) => l.split(',').map(Number));
  return { head: lines.find((l) => l.startsWith('easting'))!, rows };
};

describe('a system of its own on the command line', () => {
  it('is found from marks, and a cloud is carried into it', () => {
    const found = b.run('local-system', '--local', 'site.csv', '--control', 'control.csv', ...CRS, '--out', 'quay.wkt');
    expect([found.code, found.err]).toEqual([0, '']);
    expect(found.report).toMatchObject({ name: 'Local system', plan: { redundancy: 4 }, heights: { redundancy: 3 } });
    expect(b.read('quay.wkt')).toMatch(/^COMPOUNDCRS\["Local system",DERIVEDPROJCRS\[/);
    const carried = b.run('reproject', '--in', 'p.las', '--to', 'quay.wkt', '--out', 'local.las');
    expect(carried.code).toBe(0);
    expect(String(carried.report.crs)).toMatch(/^quay\.wkt@[0-9a-f]{12}$/);
    const at = points('local.las', '--systems', 'quay.wkt').rows[0];
    local(467100, 6215300, -3).forEach((v, k) => expect(Math.abs(at[k] - v)).toBeLessThan(0.002));
  });

  it('is needed again for a file that names it, and says so', () => {
    const back = ['reproject', '--in', 'local.las', '--to', 'EPSG:25832+5773', '--out', 'back.las'];
    const lacking = b.run(...back);
    expect(lacking.code).toBe(2);
    expect(lacking.err).toMatch(/defined by the file quay\.wkt, which is not here\. Give it with --systems/);
    expect(b.run(...back, '--systems', 'quay.wkt').code).toBe(0);
    const at = points('back.las').rows[0];
    [467100, 6215300, -3].forEach((v, k) => expect(Math.abs(at[k] - v)).toBeLessThan(0.002));
  });

  it('lends its heights to the projection', () => {
    const to = ['--to', 'EPSG:25832+quay.wkt'];
    const carried = b.run('reproject', '--in', 'p.las', ...to, '--out', 'h.las');
    expect(carried.code).toBe(0);
    expect(String(carried.report.crs)).toMatch(/^EPSG:25832\+quay\.wkt@[0-9a-f]{12}$/);
    const at = points('h.las', '--systems', 'quay.wkt').rows[0];
    expect(at[0]).toBeCloseTo(467100, 3);
    expect(at[2]).toBeCloseTo(-5, 3);
  });

  it('with lengths as on the ground, and with parameters of its own', () => {
    const point = ['--easting', '467000', '--northing', '6215000', '--height', '0'];
    const ground = b.run(
      'ground-system',
      ...CRS,
      ...point,
      '--local-easting',
      '0',
      '--local-northing',
      '0',
      '--out',
      'g.wkt',
    );
    expect(ground.code).toBe(0);
    const factor = Number(ground.report.factor);
    expect(b.run('reproject', '--in', 'p.las', '--to', 'g.wkt', '--out', 'g.las').code).toBe(0);
    const at = points('g.las', '--systems', 'g.wkt').rows[0];
    expect(at[0]).toBeCloseTo(100 / factor, 3);
    expect(at[1]).toBeCloseTo(300 / factor, 3);
    expect(b.run('ground-system', ...CRS, '--out', 'x.wkt').err).toMatch(/Say easting and northing/);
    const own = b.run('own-projection', '--longitude', '9', '--scale', '0.9996', '--out', 'utm.wkt');
    expect(own.code).toBe(0);
    expect(b.run('reproject', '--in', 'p.las', '--to', 'utm.wkt+5773', '--out', 'u.las').code).toBe(0);
    expect(points('u.las', '--systems', 'utm.wkt').rows[0].slice(0, 3)).toEqual([467100, 6215300, -3]);
  });

  it('above a chart datum gives depths in lists and rasters, positive down, and says so', () => {
    const datum = ['chart-datum', '--name', 'Reach datum', '--out', 'cd.wkt'];
    expect(b.run(...datum).err).toMatch(/Give one of the three/);
    expect(b.run(...datum, '--separation', '39', '--depths').code).toBe(0);
    const carried = b.run('reproject', '--in', 'p.las', '--to', 'EPSG:25832+cd.wkt', '--out', 'cd.las');
    expect(carried.code).toBe(0);
    const { head, rows } = points('cd.las', '--systems', 'cd.wkt');
    expect(head).toMatch(/^easting_m,northing_m,depth_m,/);
    // EGM96 lies some 40.7 m above the ellipsoid here
    const surface = b.run(
      'surface',
      '--cloud',
      'cd.las',
      '--systems',
      'cd.wkt',
      '--class',
      '0',
      '--cell',
      '1',
      '--asc',
      'd.asc',
      '--out',
      'd.tif',
    );
    expect([surface.code, surface.err]).toEqual([0, expect.stringMatching(/depths below Reach datum, positive down/)]);
    const cells = b
      .read('d.asc')
      .split('\n')
      .slice(6)
      .join(' ')
      .split(' ')
      .map(Number)
      .filter((v) => v > -9999);
    const mean = (list: number[]) => list.reduce((s, v) => s + v, 0) / list.length;
    expect(Math.abs(mean(cells.filter((v) => v !== 0)) - mean(rows.map((r) => r[2])))).toBeLessThan(0.1);
    expect(Math.sign(mean(cells))).toBe(Math.sign(mean(rows.map((r) => r[2]))));
  });

  it('that is none is refused by the file and the character', () => {
    writeFileSync(join(b.folder, 'cut.wkt'), b.read('quay.wkt').slice(0, 200));
    const cut = b.run('reproject', '--in', 'p.las', '--to', 'cut.wkt', '--out', 'x.las');
    expect(cut.code).toBe(2);
    expect(cut.err).toMatch(/character 201: not the text of a coordinate system/);
    const cloud = b.run('reproject', '--in', 'p.las', '--to', 'p.las', '--out', 'x.las');
    expect(cloud.code).toBe(2);
  });
});
