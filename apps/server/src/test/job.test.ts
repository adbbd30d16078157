import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { isOf, type DatasetDto } from '@longheron/contract/api';
import { packArchive } from '@longheron/formats/archive';
import { parseSystem } from '@longheron/formats/crs';
import { runXml, totalStationRun } from '@longheron/site/totalStation';
import { SITE_ORIGIN_E, SITE_ORIGIN_N } from '@longheron/site/terrain';
import { contentOf, isStored, type TestServer, testServer } from './server';

const CRS = 'EPSG:25832+5773';
const run = totalStationRun(41, 'medium', parseSystem(CRS));
const root = mkdtempSync(join(tmpdir(), 'longheron-job-'));
const POINTS = 400;
let s: TestServer;

/** A piece of a wall before a scanner. */
const ply = (ahead: number) =>
  `ply\nformat ascii 1.0\nelement vertex ${POINTS}\nproperty double x\nproperty double y\nproperty double z\nend_header\n${Array.from(
    { length: POINTS },
    (_, k) => `${((k % 40) / 10 - 2).toFixed(3)} ${ahead.toFixed(3)} ${(Math.floor(k / 40) / 5).toFixed(3)}`,
  ).join('\n')}\n`;

beforeAll(async () => {
  const xml = runXml(run, {
    files: [
      { code: 'scan', setUp: run.setUps[1].id, location: 'scans/quay.ply' },
      { code: 'scan', setUp: run.setUps[2].id, location: 'scans/bank.ply' },
      { code: 'scan', setUp: run.setUps[3].id, location: 'scans/lost.ply' },
    ],
  });
  const bytes = (text: string) => ({ bytes: new TextEncoder().encode(text) });
  await packArchive(
    join(root, 'quay_job.zip'),
    [
      { name: 'job/run.xml', from: bytes(xml) },
      { name: 'job/scans/quay.ply', from: bytes(ply(8)) },
      { name: 'job/scans/bank.ply', from: bytes(ply(11)) },
    ],
    new Date('2026-06-16T12:00:00Z'),
  );
  const known = run.points.filter((p) => ['C5', 'C6', 'C7'].includes(p.name));
  writeFileSync(
    join(root, 'marks.csv'),
    `# crs: ${CRS}\nname,role,easting_m,northing_m,height_m,sd_e_m,sd_n_m,sd_h_m\n${known
      .map((p) => `${p.name},control,${SITE_ORIGIN_E + p.x},${SITE_ORIGIN_N + p.y},${p.heightM},0.001,0.001,0.001\n`)
      .join('')}`,
  );
  s = await testServer('none', [root]);
  await s.send('POST', '/projects', { name: 'Job' });
  await s.send('PUT', '/projects/1/reference', { horizontal: 25832, vertical: 5773, unit: 'metre', time: 'gps' });
  await s.send('POST', '/projects/1/take', { paths: ['quay_job.zip', 'marks.csv'].map((n) => join(root, n)) });
});
afterAll(async () => {
  await s.stop();
  rmSync(root, { recursive: true });
});

const datasets = () => s.get<DatasetDto[]>('/projects/1/datasets');
const find = (test: (d: DatasetDto) => boolean) => s.until(async () => (await datasets()).find(test), 60);
const compute = (operation: string, inputs: object, settings: object = {}) =>
  s.send('POST', '/projects/1/runs', { operation, inputs, settings });

describe('a packed job of a total station', () => {
  it('gives its scans, which its adjusted set-ups place, and is handed on with its points', async () => {
    const job = await find((d) => d.kind === 'terrestrial-job');
    const marks = await find((d) => d.kind === 'marks');
    const out = await s.send('POST', `/projects/1/datasets/${job.id}/take-out`);
    expect(out.body).toEqual({ files: ['quay.ply', 'bank.ply'] });
    const clouds = await s.until(async () => {
      const all = (await datasets()).filter(isStored);
      return all.length === 2 ? all : undefined;
    }, 60);
    expect(clouds.map((d) => d.name).sort()).toEqual(['bank.ply', 'quay.ply']);
    // once more gives nothing twice
    await s.send('POST', `/projects/1/datasets/${job.id}/take-out`);

    await compute('traverse', { job: job.id, known: [marks.id] });
    const adjusted = await find((d) => isOf(d, 'marks') && !!d.revision.content.traverse);
    const { set_up_list } = contentOf(adjusted, 'marks').traverse!;
    expect(set_up_list.flatMap((u) => u.scans)).toEqual(['quay', 'bank', 'lost']);

    await compute('register', { scans: clouds.map((c) => c.id), stations: adjusted.id });
    const placed = await find((d) => isOf(d, 'point-cloud') && !!d.revision.content.registered);
    const { registered, sections } = contentOf(placed, 'point-cloud');
    expect(registered!.local).toBe(false);
    expect(registered!.points).toBe(2 * POINTS);
    expect(sections).toMatch(/^[0-9a-f]{64}$/);
    for (const [name, k] of [
      ['quay', 1],
      ['bank', 2],
    ] as const) {
      const scan = registered!.scans.find((p) => p.name === name)!;
      const truth = run.points.find((p) => p.name === run.setUps[k].station)!;
      expect(Math.abs(scan.x_m - SITE_ORIGIN_E - truth.x)).toBeLessThan(0.03);
      expect(Math.abs(scan.z_m - truth.heightM - run.setUps[k].instrumentHeightM)).toBeLessThan(0.02);
    }

    await compute('write-job', { job: job.id, adjusted: adjusted.id }, { as: 'archive' });
    const handed = await find((d) => d.kind === 'terrestrial-job' && d.id !== job.id);
    const { facts } = contentOf(handed, 'terrestrial-job');
    expect(facts.details).toContainEqual(['Of these in the archive', '2']);
    expect(facts.details).toContainEqual(['Files as listed', 'all, by their hashes']);
    expect((await datasets()).filter((d) => d.kind === 'point-cloud')).toHaveLength(3);
  });

  it('takes nothing out of what is no job', async () => {
    const marks = await find((d) => d.kind === 'marks');
    const refused = await s.send('POST', `/projects/1/datasets/${marks.id}/take-out`);
    expect(refused.status).toBe(409);
  });
});
