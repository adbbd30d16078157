import { readFileSync, writeFileSync, mkdirSync } from 'node:fs';
import { createHash } from 'node:crypto';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { unzipSync, zipSync } from 'fflate';
import { parseSystem } from '@longheron/formats/crs';
import { runXml, totalStationRun } from '@longheron/site/totalStation';
import { SITE_ORIGIN_E, SITE_ORIGIN_N } from '@longheron/site/terrain';
import { bench, type Bench } from './longheron';

const CRS = 'EPSG:25832+5773';
const run = totalStationRun(31, 'medium', parseSystem(CRS));
const SCAN = new Uint8Array(5000).map((_, k) => (k * 7) % 251);
let b: Bench;
const unzip = (name: string) => unzipSync(readFileSync(join(b.folder, name)));
const textOf = (bytes: Uint8Array) => new TextDecoder().decode(bytes);
const sha256 = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');

interface Report {
  kinds: Array<{ kind: string; held: number; written: number }>;
  adjusted: number;
  packed: { files: number; bytes: number };
}

beforeAll(() => {
  b = bench();
  const more = `<PlanFeatures><PlanFeature name="kerb"><CoordGeom/></PlanFeature></PlanFeatures><Parcels><Parcel name="yard"/></Parcels>`;
  const xml = runXml(run, {
    files: [
      { code: 'scan', setUp: run.setUps[0].id, location: 'scans/s1.bin.las' },
      { code: 'image', location: 'pictures/gone.jpg' },
    ],
  }).replace('</CgPoints>', `</CgPoints>${more}`);
  mkdirSync(join(b.folder, 'scans'));
  writeFileSync(join(b.folder, 'scans/s1.bin.las'), SCAN);
  b.write('run.xml', xml);
  const marks = run.points.filter((p) => ['C5', 'C6', 'C7'].includes(p.name));
  b.write(
    'marks.csv',
    `# crs: ${CRS}\nname,role,easting_m,northing_m,height_m,sd_e_m,sd_n_m,sd_h_m\n${marks
      .map((p) => `${p.name},control,${SITE_ORIGIN_E + p.x},${SITE_ORIGIN_N + p.y},${p.heightM},0.001,0.001,0.001\n`)
      .join('')}`,
  );
});
afterAll(() => b.clear());

describe('job', () => {
  it('packs a job with adjusted points and what it names, listed by hashes', () => {
    const adjusted = ['traverse', '--marks', 'marks.csv', '--crs', CRS, '--out', 'points.csv'];
    expect(b.run(...adjusted, '--job', 'run.xml').code).toBe(0);
    const r = b.run('job', '--job', 'run.xml', '--points', 'points.csv', '--out', 'on.zip');
    expect(r.code).toBe(0);
    expect(r.err).toMatch(/1 scans and pictures that the job names are not there/);
    const f = r.report as unknown as Report;
    const of = (kind: string) => f.kinds.find((k) => k.kind === kind)!;
    expect(of('observations')).toMatchObject({ held: run.readings.length, written: run.readings.length });
    expect(of('lines')).toMatchObject({ held: 1, written: 1 });
    expect(of('areas')).toMatchObject({ held: 1, written: 1 });
    expect(of('scans')).toMatchObject({ held: 1, written: 1 });
    expect(f.adjusted).toBeGreaterThan(5);
    const files = unzip('on.zip');
    expect(Object.keys(files).sort()).toEqual(['manifest.json', 'run.xml', 'scans/s1.bin.las']);
    expect(Buffer.from(files['scans/s1.bin.las']).equals(Buffer.from(SCAN))).toBe(true);
    const list = JSON.parse(textOf(files['manifest.json'])) as { files: Array<{ name: string; sha256: string }> };
    for (const m of list.files) expect(m.sha256).toBe(sha256(files[m.name]));
    // the point of the file is the adjusted one, in its order: northing, easting, height
    const row = b
      .read('points.csv')
      .split('\n')
      .find((l) => l.startsWith('C6,'))!
      .split(',');
    const point = /<CgPoint name="C6"[^>]*>\s*([\d. -]+)/.exec(textOf(files['run.xml']))![1].trim().split(/\s+/);
    expect(point.map(Number)).toEqual([Number(row[3]), Number(row[2]), Number(row[4])]);
  });

  it('opens again where nothing else is: the same readings give the same points', () => {
    const elsewhere = bench();
    try {
      writeFileSync(join(elsewhere.folder, 'on.zip'), readFileSync(join(b.folder, 'on.zip')));
      elsewhere.write('marks.csv', b.read('marks.csv'));
      const r = elsewhere.run(
        'traverse',
        '--job',
        'on.zip',
        '--marks',
        'marks.csv',
        '--crs',
        CRS,
        '--out',
        'points.csv',
      );
      expect(r.code).toBe(0);
      expect(elsewhere.read('points.csv')).toBe(b.read('points.csv'));
      // and once more from archive to archive
      const again = elsewhere.run('job', '--job', 'on.zip', '--out', 'again.zip');
      expect(again.code).toBe(0);
      const files = unzipSync(readFileSync(join(elsewhere.folder, 'again.zip')));
      expect(Buffer.from(files['scans/s1.bin.las']).equals(Buffer.from(SCAN))).toBe(true);
    } finally {
      elsewhere.clear();
    }
  });

  it('writes only what is wanted, and counts it', () => {
    const r = b.run(
      'job',
      '--job',
      'run.xml',
      '--as',
      'xml',
      '--no-observations',
      '--no-scans',
      '--no-areas',
      '--out',
      'few.xml',
    );
    expect(r.code).toBe(0);
    expect(r.err).toMatch(new RegExp(`Left out as asked: 1 areas, ${run.readings.length} observations, 1 scans`));
    const xml = b.read('few.xml');
    expect(xml).not.toMatch(/RawObservation|InstrumentSetup|Parcel |code="scan"/);
    expect(xml.match(/<CgPoint /g)).toHaveLength(run.points.length);
    expect(xml).toMatch(/PlanFeature name="kerb"/);
    expect(xml).toMatch(/linearUnit="meter"/);
  });

  it('says which file of an archive is not the one that was packed', () => {
    const files = unzip('on.zip');
    files['scans/s1.bin.las'] = SCAN.map((v, k) => (k === 77 ? v + 1 : v));
    b.write('changed.zip', zipSync(files));
    const r = b.run('inspect', 'changed.zip');
    expect(r.code).toBe(1);
    expect(r.out + r.err).toMatch(/scans\/s1\.bin\.las \(other bytes\)/);
  });
});
