import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type DatasetDto, type RunDto } from '@longheron/contract/api';
import { writeFileWhole } from '@longheron/formats/bytes';
import { systemDefinition, wktOfSystem } from '@longheron/formats/crs';
import { LasFile, LasWriter } from '@longheron/formats/las';
import { Random } from '@longheron/core/numeric';
import { contentOf, type TestServer, testServer } from './server';

const N = 20_000;
const WEST = 467_000;
const SOUTH = 6_215_000;
let s: TestServer;
const root = mkdtempSync(join(tmpdir(), 'longheron-edits-'));
const easting = new Float64Array(N);
const northing = new Float64Array(N);
const height = new Float64Array(N);

beforeAll(async () => {
  const random = new Random(4, 'edits');
  for (let i = 0; i < N; i++) {
    easting[i] = WEST + Math.round(1e5 * random.uniform()) / 1000;
    northing[i] = SOUTH + Math.round(6e4 * random.uniform()) / 1000;
    height[i] = 5 + (i % 50 === 0 ? 4 * random.uniform() : 0.02 * random.normal());
  }
  await writeFileWhole(join(root, 'plain.las'), async (out) => {
    const wkt = wktOfSystem(systemDefinition(25832, 5773));
    const w = await LasWriter.create(out, wkt, [WEST, SOUTH, 0], new Date('2026-06-16T12:00:00Z'));
    const sd = new Float32Array(N).fill(0.01);
    await w.append({
      easting,
      northing,
      height,
      intensity: new Uint16Array(N).fill(7),
      scannerChannel: 0,
      returnNumber: new Uint8Array(N).fill(1),
      returnCount: new Uint8Array(N).fill(1),
      strip: Uint16Array.from({ length: N }, (_, i) => i % 3),
      gpsS: Float64Array.from(easting, (_, i) => i),
      sdE: sd,
      sdN: sd,
      sdH: sd,
    });
    await w.finish();
  });
  s = await testServer('none', [root]);
  await s.send('POST', '/projects', { name: 'Edits' });
  await s.send('PUT', '/projects/1/reference', { horizontal: 25832, vertical: 5773, unit: 'metre', time: 'gps' });
  await s.send('POST', '/projects/1/take', { paths: [join(root, 'plain.las')] });
  await s.until(async () => (await cloud())?.revision.content.index);
});
afterAll(async () => {
  await s.stop();
  rmSync(root, { recursive: true });
});

const cloud = async () => (await s.get<DatasetDto[]>('/projects/1/datasets')).find((d) => d.kind === 'point-cloud');
/** Between the millimetres that the store keeps. */
const [LEFT, RIGHT, LOW, TOP] = [WEST + 20.0005, WEST + 50.0005, SOUTH + 10.0005, SOUTH + 40.0005];
const SQUARE = [LEFT, LOW, RIGHT, LOW, RIGHT, TOP, LEFT, TOP];
const inSquare = (i: number) => easting[i] > LEFT && easting[i] < RIGHT && northing[i] > LOW && northing[i] < TOP;
const all = { hiddenClasses: [], rejected: 'shown' };
const selection = (more: object = {}, filter: object = all) => ({
  regions: [{ mode: 'add', shape: { kind: 'plan', polygon: SQUARE, ...more } }],
  inverted: false,
  filter,
});
async function act(what: object, chosen: object = selection()): Promise<Record<string, unknown>> {
  const d = (await cloud())!;
  const r = await s.send('POST', `/projects/1/datasets/${d.id}/edit`, {
    selection: chosen,
    act: what,
    revision: d.revision.id,
  });
  if (r.status !== 200) throw new Error(JSON.stringify(r.body));
  return r.body;
}
/** Classes and withheld flags of the file as it is handed out, by record. */
async function exported(): Promise<{ cls: Uint8Array; withheld: Uint8Array; bytes: Uint8Array }> {
  const d = (await cloud())!;
  const r = await fetch(`${s.base}/api/projects/1/datasets/${d.id}/export/las`);
  const bytes = new Uint8Array(await r.arrayBuffer());
  const path = join(root, 'out.las');
  writeFileSync(path, bytes);
  const file = await LasFile.openPath(path);
  const p = await file.readAll();
  await file.close();
  return { cls: p.classification.slice(), withheld: p.flags.map((f) => (f & 4 ? 1 : 0)), bytes };
}

describe('acts on points', () => {
  it('count, change and give back exactly what the shape holds; the file follows', async () => {
    const d = (await cloud())!;
    const inside = Array.from({ length: N }, (_, i) => i).filter(inSquare);
    const high = inside.filter((i) => height[i] > 5.5);
    const before = await exported();
    const counted = await s.send('POST', `/projects/1/datasets/${d.id}/select`, { selection: selection() });
    expect(counted.body).toEqual({ count: inside.length, rejected: 0, byClass: { 0: inside.length } });

    expect((await act({ kind: 'class', to: 2 })).counts).toMatchObject({ count: inside.length });
    await act({ kind: 'reject' }, selection({ heightM: [5.5, 20] }));
    const now = (await cloud())!;
    expect(now.revision.content).toMatchObject({
      countsByClass: { 0: N - inside.length, 2: inside.length },
      rejected: high.length,
    });
    const after = await exported();
    for (let i = 0; i < N; i++) {
      expect(after.cls[i]).toBe(inSquare(i) ? 2 : 0);
      expect(after.withheld[i]).toBe(inSquare(i) && height[i] > 5.5 ? 1 : 0);
    }
    // what is hidden is left alone
    const shown = selection({}, { hiddenClasses: [2], rejected: 'hidden' });
    const none = await s.send('POST', `/projects/1/datasets/${d.id}/select`, { selection: shown });
    expect(none.body.count).toBe(0);
    const strips = selection({}, { hiddenClasses: [], rejected: 'hidden', strips: [1], time: [0, N / 2] });
    const some = await s.send('POST', `/projects/1/datasets/${d.id}/select`, { selection: strips });
    expect(some.body.count).toBe(inside.filter((i) => i % 3 === 1 && i <= N / 2 && height[i] <= 5.5).length);

    // undo twice: the very bytes that were there; redo brings the acts back
    const at = `/projects/1/datasets/${d.id}`;
    await s.send('POST', `${at}/undo`);
    await s.send('POST', `${at}/undo`);
    expect(Buffer.from((await exported()).bytes).equals(Buffer.from(before.bytes))).toBe(true);
    await s.send('POST', `${at}/redo`);
    await s.send('POST', `${at}/redo`);
    expect(Buffer.from((await exported()).bytes).equals(Buffer.from(after.bytes))).toBe(true);
    // taken back, the points keep the class they had
    await act({ kind: 'restore' });
    const back = await exported();
    expect(back.withheld.some(Boolean)).toBe(false);
    expect(back.cls).toEqual(after.cls);
    const titles = (await s.get<RunDto[]>('/projects/1/runs'))
      .filter((r) => r.operation === 'edit')
      .map((r) => r.title);
    expect(titles[titles.length - 1]).toMatch(/^Set points of plain\.las to ground: [\d ]+ points$/);
  });

  it('are refused when they make no sense, or the cloud is another by now', async () => {
    const d = (await cloud())!;
    const at = `/projects/1/datasets/${d.id}/edit`;
    const send = (body: object) => s.send('POST', at, { selection: selection(), act: { kind: 'reject' }, ...body });
    const stale = await send({ revision: d.revision.id - 1 });
    expect([stale.status, stale.body.code]).toEqual([409, 'stale']);
    const odd = await send({ revision: d.revision.id, act: { kind: 'class', to: 256 } });
    expect(odd.status).toBe(422);
    const broken = await send({
      revision: d.revision.id,
      selection: { ...selection(), regions: [{ mode: 'add', shape: {} }] },
    });
    expect(broken.body.title).toMatch(
      /regions\[0\]\.shape\.kind of the selection must be view, plan, section, brush or rows/,
    );
    const far = await send({ revision: d.revision.id, selection: selection({ polygon: [0, 0, 1, 0, 1, 1] }) });
    expect(far.body.title).toMatch(/holds no points/);
    expect((await cloud())!.revision.id).toBe(d.revision.id);
  });

  it('show at a point what was done to it', async () => {
    const d = (await cloud())!;
    await act({ kind: 'class', to: 6 }, { regions: [], inverted: false, filter: all });
    await act({ kind: 'reject' }, { regions: [], inverted: false, filter: all });
    const attributes = await s.get<Array<[string, string]>>(`/projects/1/datasets/${d.id}/points/17`);
    expect(Object.fromEntries(attributes)).toMatchObject({ Class: '6 building', Rejected: 'yes' });
  });

  it('take what a finder found as a shape like any other', async () => {
    const d = (await cloud())!;
    const at = `/projects/1/datasets/${d.id}`;
    await act({ kind: 'restore' }, { regions: [], inverted: false, filter: all });
    const found = await s.send('POST', `${at}/find`, { finder: 'groups', settings: { gapM: 0.8, most: 5 } });
    expect(found.status).toBe(200);
    const count = found.body.count as number;
    // outliers are 2 % of the points, up to 4 m above: most stand alone
    expect(count).toBeGreaterThan(100);
    expect(count).toBeLessThan(N / 50);
    const rows = { mode: 'add', shape: { kind: 'rows', object: found.body.object, name: 'Isolated groups' } };
    const counted = await s.send('POST', `${at}/select`, {
      selection: { regions: [rows], inverted: false, filter: all },
    });
    expect(counted.body.count).toBe(count);
    const within = [rows, { mode: 'within', shape: selection().regions[0].shape }];
    await act({ kind: 'reject' }, { regions: within, inverted: false, filter: all });
    const { withheld } = await exported();
    const out = [...withheld.keys()].filter((i) => withheld[i]);
    expect(out.length).toBeGreaterThan(10);
    expect(out.every((i) => inSquare(i) && i % 50 === 0)).toBe(true);
    const odd = await s.send('POST', `${at}/find`, { finder: 'groups', settings: { most: 0 } });
    expect([odd.status, odd.body.title]).toEqual([
      422,
      '"Points at most" of Isolated groups lies between 1 and 100000.',
    ]);
    const gone = {
      regions: [{ mode: 'add', shape: { kind: 'rows', object: '0'.repeat(64) } }],
      inverted: false,
      filter: all,
    };
    expect((await s.send('POST', `${at}/select`, { selection: gone })).body.title).toMatch(/not at hand any more/);
    expect((await s.send('POST', `${at}/find`, { finder: 'below' })).body.title).toMatch(/no ground points/);
  });

  it('make a cloud of a selection, thinned to the most precise points', async () => {
    const d = (await cloud())!;
    const asked = await s.send('POST', '/projects/1/runs', {
      operation: 'extract',
      inputs: { cloud: d.id },
      settings: { selection: selection({}, { hiddenClasses: [], rejected: 'hidden' }), thinM: 1 },
    });
    expect(asked.status).toBe(202);
    const run = await s.until(async () =>
      (await s.get<RunDto[]>('/projects/1/runs')).find(
        (r) => r.id === asked.body.id && !['queued', 'running'].includes(r.status),
      ),
    );
    expect(run.error).toBeNull();
    const made = (await s.get<DatasetDto[]>('/projects/1/datasets')).find((x) => x.id === run.outputs[0])!;
    const { points, selected } = contentOf(made, 'point-cloud').figures as { points: number; selected: number };
    const { withheld } = await exported();
    const wanted = Array.from({ length: N }, (_, i) => i).filter((i) => inSquare(i) && !withheld[i]);
    expect(selected).toBe(wanted.length);
    expect(points).toBeLessThan(selected);
    // on nearly flat ground about one point in each square metre
    expect(points).toBeGreaterThan(700);
    expect(made.revision.inputs.find((i) => i.role === 'cloud')!.datasetId).toBe(d.id);
    const bytes = new Uint8Array(
      await (await fetch(`${s.base}/api/projects/1/datasets/${made.id}/export/las`)).arrayBuffer(),
    );
    writeFileSync(join(root, 'part.las'), bytes);
    const file = await LasFile.openPath(join(root, 'part.las'));
    const p = await file.readAll();
    await file.close();
    expect(p.count).toBe(points);
    expect(p.classification.every((c) => c === 6)).toBe(true);
  });
});
