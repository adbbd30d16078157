import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type DatasetDto, type PlatformDto } from '@longheron/contract/api';
import { contentOf, type TestServer, testServer } from './server';

let s: TestServer;
const root = mkdtempSync(join(tmpdir(), 'longheron-library-'));
const mounting = (x: number) => ({
  sensors: { head1: { lever_arm_m: [x, 0, -0.3], serial: 'DS-0412', calibrated_on: '2026-04-17' } },
});
beforeAll(async () => {
  s = await testServer('none', [root]);
  for (const name of ['Spring', 'Summer']) await s.send('POST', '/projects', { name });
  writeFileSync(join(root, 'van.json'), JSON.stringify(mounting(0.5)));
  await s.send('POST', '/projects/1/take', { paths: [join(root, 'van.json')] });
});
afterAll(async () => {
  await s.stop();
  rmSync(root, { recursive: true });
});
const mountings = async (project: number) =>
  (await s.get<DatasetDto[]>(`/projects/${project}/datasets`)).filter((d) => d.kind === 'mounting');
const arm = (d: DatasetDto) => contentOf(d, 'mounting').mounting.sensors.head1.lever_arm_m![0];

describe('the library of vehicles', () => {
  it('keeps versions under a name, and hands any of them to another project', async () => {
    const own = await s.until(async () => (await mountings(1))[0]);
    const keep = (body: object) => s.send('POST', `/projects/1/datasets/${own.id}/platform`, body);
    const first = await keep({ name: 'Van', note: 'new rack' });
    expect([first.status, first.body.version, first.body.project]).toEqual([201, 1, 'Spring']);
    const again = await keep({ name: 'Van' });
    expect([again.status, again.body.title]).toEqual([409, 'This is version 1 of "Van" already.']);
    await s.send('PUT', `/projects/1/datasets/${own.id}/mounting`, { mounting: mounting(0.53) });
    expect((await keep({ name: 'Van' })).body.version).toBe(2);
    expect((await keep({ name: ' ' })).status).toBe(400);
    const kept = await s.get<PlatformDto[]>('/platforms');
    expect(kept.map((p) => [p.name, p.version])).toEqual([
      ['Van', 2],
      ['Van', 1],
    ]);
    expect(kept[0].sensors).toEqual([{ name: 'head1', serial: 'DS-0412' }]);
    for (const p of kept) expect((await s.send('POST', `/projects/2/platforms/${p.id}`)).status).toBe(201);
    const there = await s.until(async () => {
      const all = await mountings(2);
      return all.length === 2 && all;
    });
    expect(there.map((d) => [d.name, arm(d)])).toEqual([
      ['Van, version 2.json', 0.53],
      ['Van, version 1.json', 0.5],
    ]);
    expect((await s.send('DELETE', `/platforms/${kept[1].id}`)).status).toBe(204);
    expect((await s.send('POST', `/projects/2/platforms/${kept[1].id}`)).status).toBe(404);
    expect(await mountings(2)).toHaveLength(2);
  });
});

describe('session sheets', () => {
  it('are saved beside a recording, and make nothing out of date', async () => {
    const [own] = await mountings(1);
    const at = `/projects/1/datasets/${own.id}/sheet`;
    expect(await s.get(at)).toEqual({ sheet: null, savedAt: null });
    const sheet = { crew: 'A, B', vehicle: 'Van', instruments: '', weather: 'dry, 14 °C', remarks: 'rack refitted' };
    expect((await s.send('PUT', at, sheet)).status).toBe(204);
    expect((await s.send('PUT', at, { ...sheet, weather: 'rain' })).status).toBe(204);
    const got = await s.get<{ sheet: typeof sheet; savedAt: string }>(at);
    expect(got.sheet).toEqual({ ...sheet, weather: 'rain' });
    expect(Date.now() - Date.parse(got.savedAt)).toBeLessThan(60_000);
    const long = await s.send('PUT', at, { ...sheet, crew: 'x'.repeat(301) });
    expect([long.status, long.body.field]).toEqual([400, 'crew']);
    expect((await mountings(1))[0].revision.id).toBe(own.revision.id);
  });
});

describe('views', () => {
  it('as a project was last seen are kept with it, one for each', async () => {
    const at = (id: number) => `/projects/${id}/look`;
    const look = { section: { from: [1.5, 2], to: [3, 4], widthM: 2 }, hiddenClasses: [], brush: null };
    expect(await s.get(at(1))).toEqual({});
    expect((await s.send('PUT', at(1), { look: { clip: true } })).status).toBe(204);
    expect((await s.send('PUT', at(1), { look })).status).toBe(204);
    expect([await s.get(at(1)), await s.get(at(2))]).toEqual([look, {}]);
    const wrong = await s.send('PUT', at(1), { look: 'height' });
    expect([wrong.status, wrong.body.field]).toEqual([400, 'look']);
    expect((await s.send('PUT', at(99), { look })).status).toBe(404);
    // it is none of the views under a name
    expect(await s.get('/projects/1/views')).toEqual([]);
  });

  it('are kept under a name, for one project, and replaced under the same', async () => {
    const view = (zoom: number) => ({ name: 'Pier', look: { camera: { zoom } } });
    expect((await s.send('PUT', '/projects/1/views', view(1))).status).toBe(204);
    expect((await s.send('PUT', '/projects/1/views', view(2))).status).toBe(204);
    expect(await s.get('/projects/1/views')).toEqual([view(2)]);
    expect(await s.get('/projects/2/views')).toEqual([]);
    expect((await s.send('PUT', '/projects/1/views', { name: ' ', look: {} })).body.field).toBe('name');
    expect((await s.send('DELETE', '/projects/1/views/Pier')).status).toBe(204);
    expect((await s.send('DELETE', '/projects/1/views/Pier')).status).toBe(404);
  });
});
