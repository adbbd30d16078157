import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { factsOf, type DatasetDto } from '@longheron/contract/api';
import { isPoints } from '@longheron/contract/kinds/export';
import { Random } from '@longheron/core/numeric';
import { memorySource } from '@longheron/formats/bytes';
import { LasFile } from '@longheron/formats/las';
import { Run } from '../database/models';
import { JobQueue } from '../jobs/queue';
import { contentOf, isStored, type TestServer, testServer } from './server';

const N = 6000;
let s: TestServer;
const root = mkdtempSync(join(tmpdir(), 'longheron-points-'));
const rows: number[][] = [];

beforeAll(async () => {
  const random = new Random(9, 'points');
  for (let i = 0; i < N; i++)
    rows.push([
      467_000 + Math.round(8e5 * random.uniform()) / 1e4,
      6_215_000 + Math.round(5e5 * random.uniform()) / 1e4,
      3 + (i % 100) / 100,
      i % 200,
    ]);
  // northing stands first, which no guess can know
  writeFileSync(join(root, 'exchanged.xyz'), rows.map(([e, n, h, i]) => `${n} ${e} ${h} ${i}\n`).join(''));
  writeFileSync(
    join(root, 'cut.ply'),
    'ply\nformat ascii 1.0\nelement vertex 9\nproperty float x\nproperty float y\nproperty float z\nend_header\n1 2 3\n',
  );
  s = await testServer('none', [root]);
  await s.send('POST', '/projects', { name: 'Points' });
  await s.send('PUT', '/projects/1/reference', { horizontal: 25832, vertical: 5773, unit: 'metre', time: 'gps' });
});
afterAll(async () => {
  await s.stop();
  rmSync(root, { recursive: true });
});

const datasets = () => s.get<DatasetDto[]>('/projects/1/datasets');
const cloud = async () => (await datasets()).find((d) => d.kind === 'point-cloud');
const object = async (sha: unknown) =>
  LasFile.open(memorySource(new Uint8Array(await (await fetch(`${s.base}/api/objects/${sha}`)).arrayBuffer()), 'o'));
async function exported(settings: object): Promise<DatasetDto> {
  const before = (await datasets()).length;
  await s.send('POST', '/projects/1/runs', {
    operation: 'export-cloud',
    inputs: { cloud: (await cloud())!.id },
    settings,
  });
  return s.until(async () => {
    const all = await datasets();
    return all.length > before ? all.at(-1) : undefined;
  });
}

describe('clouds in other formats', () => {
  it('takes a text in, writes it as LAS, and reads its columns anew when told what they hold', async () => {
    // jobs in the table each time one ends: a stop at that moment must leave one that prepares the cloud
    const atEnds: string[][] = [];
    const succeed = JobQueue.prototype.succeed;
    const heard = vi.spyOn(JobQueue.prototype, 'succeed').mockImplementation(async function (this: JobQueue, ...end) {
      atEnds.push((await Run.findAll({ order: [['id', 'ASC']] })).map((r) => r.title));
      return succeed.apply(this, end);
    });
    await s.send('POST', '/projects/1/take', { paths: [join(root, 'exchanged.xyz')] });
    const first = await s.until(async () => (await datasets()).find(isStored));
    heard.mockRestore();
    expect(atEnds[0]).toEqual(['Import exchanged.xyz', 'Prepare exchanged.xyz']);
    expect(first.revision.content).toMatchObject({
      converted: { format: 'text', points: N, left: 0, lost: [] },
      pointText: { header: null, columns: { x: 0, y: 1, z: 2, intensity: 3 } },
    });
    const refused = await s.send('POST', `/projects/1/datasets/${first.id}/point-columns`, { x: 1, y: 0, z: 9 });
    expect([refused.status, refused.body.code]).toEqual([422, 'xyz-columns']);
    const anew = await s.send('POST', `/projects/1/datasets/${first.id}/point-columns`, { x: 1, y: 0, z: 2 });
    expect(anew.body).toEqual({ datasetId: first.id });
    const again = (await cloud())!;
    expect(again.revision.number).toBe(first.revision.number + 1);
    expect(again.revision.content.converted).toMatchObject({ lost: ['column 4'] });
    // where it lies is told anew too
    const { min, max } = (again.revision.content.facts as { extent: { min: number[]; max: number[] } }).extent;
    expect([min[0], max[0]]).toEqual([Math.min(...rows.map((r) => r[0])), Math.max(...rows.map((r) => r[0]))]);
    expect(min[1]).toBe(Math.min(...rows.map((r) => r[1])));
    const las = await object(again.revision.content.las);
    const p = await las.readAll();
    for (const i of [0, 77, N - 1]) {
      expect(p.x[i] * las.header.scale[0] + las.header.offset[0]).toBeCloseTo(rows[i][0], 4);
      expect(p.y[i] * las.header.scale[1] + las.header.offset[1]).toBeCloseTo(rows[i][1], 4);
    }
    await s.send('POST', `/projects/1/datasets/${first.id}/point-columns`, { x: 1, y: 0, z: 2, intensity: 3 });
  });

  it('says of a file cut off what is missing', async () => {
    await s.send('POST', '/projects/1/take', { paths: [join(root, 'cut.ply')] });
    const failed = await s.until(async () =>
      (await s.get<Array<{ title: string; status: string }>>('/projects/1/runs')).find(
        (r) => r.title === 'Import cut.ply' && r.status === 'failed',
      ),
    );
    expect(JSON.stringify(failed)).toContain('declares 9 points, the file holds 1');
  });

  it('writes tiles under a cap whose own points are all there, once', async () => {
    const made = await exported({ format: 'laz', split: 'tiles', tileM: 50, bufferM: 2, capPoints: 1500 });
    const c = contentOf(made, 'export');
    if (!isPoints(c) || !c.pieces) throw new Error('no pieces');
    const { pieces } = c;
    expect(pieces.length).toBeGreaterThan(4);
    expect(pieces.reduce((sum, p) => sum + p.own, 0)).toBe(N);
    let own = 0;
    for (const piece of pieces) {
      expect(piece.own + piece.neighbours).toBeLessThanOrEqual(1500);
      const las = await object(piece.sha256);
      const p = await las.readAll();
      const [west, south, edge] = piece.name.split('_').map(Number);
      expect(las.header.compressed).toBe(true);
      for (let i = 0; i < p.count; i++) {
        const e = p.x[i] * las.header.scale[0] + las.header.offset[0];
        const n = p.y[i] * las.header.scale[1] + las.header.offset[1];
        const inside = e >= west && e < west + edge && n >= south && n < south + edge;
        expect(p.userData[i]).toBe(inside ? 0 : 1);
        if (inside) own++;
      }
    }
    expect(own).toBe(N);
    const index = (await (await fetch(`${s.base}/api/objects/${c.index}`)).json()) as {
      features: Array<{ properties: { touching: string[]; points_own: number } }>;
    };
    expect(index.features.map((f) => f.properties.points_own)).toEqual(pieces.map((p) => p.own));
    expect(index.features.every((f) => f.properties.touching.length > 0)).toBe(true);
    const zip = new Uint8Array(
      await (await fetch(`${s.base}/api/projects/1/datasets/${made.id}/export/points`)).arrayBuffer(),
    );
    expect(new TextDecoder('latin1').decode(zip.subarray(0, 2))).toBe('PK');
    expect(new TextDecoder('latin1').decode(zip)).toContain(`${pieces[0].name}.laz`);
  });

  it('writes PLY and CSV that come in again as they were', async () => {
    for (const format of ['ply', 'csv']) {
      const made = await exported({ format });
      expect(made.revision.content).toMatchObject({ figures: { points_out: N } });
      const response = await fetch(`${s.base}/api/projects/1/datasets/${made.id}/export/points`);
      expect(response.headers.get('content-disposition')).toContain(`.${format}`);
      const path = join(root, `back.${format}`);
      writeFileSync(path, Buffer.from(await response.arrayBuffer()));
      // the same content is not taken in twice
      await s.send('DELETE', `/projects/1/datasets/${made.id}`);
      await s.send('POST', '/projects/1/take', { paths: [path] });
      const back = await s.until(async () =>
        (await datasets()).find((d) => d.name === `back.${format}` && isStored(d)),
      );
      const las = await object(contentOf(back, 'point-cloud').las);
      const p = await las.readAll();
      expect(p.count).toBe(N);
      expect(p.x[5] * las.header.scale[0] + las.header.offset[0]).toBeCloseTo(rows[5][0], 4);
      expect(p.intensity[5]).toBe(Math.round((rows[5][3] / 255) * 65535));
      // the system travels with the file
      expect(factsOf(back)!.extent!.crs).toBe('EPSG:25832+5773');
      await s.send('DELETE', `/projects/1/datasets/${back.id}`);
    }
  });
});
