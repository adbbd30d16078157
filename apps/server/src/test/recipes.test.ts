import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type DatasetDto, type PastStepsDto, type RecipeDto, type RunDto } from '@longheron/contract/api';
import { memorySource } from '@longheron/formats/bytes';
import { LasFile } from '@longheron/formats/las';
import { isStored, type TestServer, testServer } from './server';

/** A level sheet of points at 0.5 m with pairs of birds 8 m above it, each its own. */
const site = (east: number, birds: number) => {
  const lines: string[] = [];
  for (let i = 0; i < 60 * 40; i++)
    lines.push(`${467_000 + east + (i % 60) / 2} ${6_215_000 + Math.floor(i / 60) / 2} ${3 + (i % 5) / 200}`);
  for (let b = 0; b < birds; b++)
    for (const d of [0, 0.1]) lines.push(`${467_003 + east + 7 * b + d} ${6_215_005 + 2 * b} ${11 + d}`);
  return `${lines.join('\n')}\n`;
};
const ALL = { hiddenClasses: [], rejected: 'shown' };

let s: TestServer;
const root = mkdtempSync(join(tmpdir(), 'longheron-recipes-'));
const datasets = () => s.get<DatasetDto[]>('/projects/1/datasets');
const cloud = async (name: string) =>
  s.until(async () => (await datasets()).find((d) => d.name === name && isStored(d)));
const edit = async (d: DatasetDto, selection: object, act: object) => {
  const { status, body } = await s.send('POST', `/projects/1/datasets/${d.id}/edit`, {
    selection,
    act,
    revision: d.revision.id,
  });
  expect([status, body]).toEqual([200, expect.anything()]);
};
const find = async (d: DatasetDto, finder: string, settings: object) => {
  const { body } = await s.send('POST', `/projects/1/datasets/${d.id}/find`, { finder, settings });
  return body as { object: string; count: number };
};
const batchOf = async (batch: unknown) => {
  const of = async () => (await s.get<RunDto[]>('/projects/1/runs')).filter((r) => r.settings.batch === batch);
  return s.until(async () => {
    const runs = await of();
    return runs.length > 0 && runs.every((r) => !['queued', 'running'].includes(r.status)) && runs;
  });
};
const runRecipe = async (name: string, clouds: number[]) => {
  const { status, body } = await s.send('POST', '/projects/1/recipes/run', { name, clouds });
  expect([status, body]).toEqual([202, { batch: expect.any(Number) }]);
  return batchOf(body.batch);
};

beforeAll(async () => {
  for (const [name, east, birds] of [
    ['one.xyz', 0, 3],
    ['two.xyz', 40, 2],
    ['three.xyz', 80, 0],
  ] as const)
    writeFileSync(join(root, name), site(east, birds));
  s = await testServer('none', [root]);
  await s.send('POST', '/projects', { name: 'Recipes' });
  await s.send('PUT', '/projects/1/reference', { horizontal: 25832, vertical: 5773, unit: 'metre', time: 'gps' });
  for (const name of ['one.xyz', 'two.xyz', 'three.xyz'])
    await s.send('POST', '/projects/1/take', { paths: [join(root, name)] });
}, 900_000);
afterAll(async () => {
  await s.stop();
  rmSync(root, { recursive: true });
});

describe('a recipe', () => {
  it('is what was done to one cloud, without what was drawn there', async () => {
    let one = await cloud('one.xyz');
    const birds = await find(one, 'groups', { gapM: 0.6, most: 10 });
    expect(birds.count).toBe(6);
    const rows = { kind: 'rows', object: birds.object, name: 'groups' };
    await edit(one, { regions: [{ mode: 'add', shape: rows }], inverted: false, filter: ALL }, { kind: 'reject' });
    one = await cloud('one.xyz');
    const square = {
      kind: 'plan',
      polygon: [-0.25, -0.25, 1.25, -0.25, 1.25, 1.25, -0.25, 1.25].map((v, i) => v + [467_000, 6_215_000][i % 2]),
    };
    await edit(
      one,
      { regions: [{ mode: 'add', shape: square }], inverted: false, filter: ALL },
      { kind: 'class', to: 9 },
    );
    one = await cloud('one.xyz');
    await edit(
      one,
      { regions: [], inverted: false, filter: { ...ALL, heightM: [3.015, 5] } },
      { kind: 'class', to: 3 },
    );
    one = await cloud('one.xyz');
    const past = await s.get<PastStepsDto>(`/projects/1/datasets/${one.id}/steps`);
    expect(past.steps).toEqual([
      {
        kind: 'act',
        act: { kind: 'reject' },
        selection: {
          finds: [{ mode: 'add', finder: 'groups', settings: { gapM: 0.6, most: 10 } }],
          inverted: false,
          filter: ALL,
        },
      },
      {
        kind: 'act',
        act: { kind: 'class', to: 3 },
        selection: { finds: [], inverted: false, filter: { ...ALL, heightM: [3.015, 5] } },
      },
    ]);
    expect(past.left).toEqual([{ points: 9, act: { kind: 'class', to: 9 }, why: 'drawn by hand' }]);
    const kept = await s.send('PUT', '/recipes', { name: 'Birds and grass', steps: past.steps });
    expect(kept.status).toBe(204);
    expect(await s.get<RecipeDto[]>('/recipes')).toEqual([{ name: 'Birds and grass', steps: past.steps }]);
  });

  it('does to other clouds what it did to the first, in one undo each', async () => {
    const [two, three] = [await cloud('two.xyz'), await cloud('three.xyz')];
    const runs = await runRecipe('Birds and grass', [two.id, three.id]);
    expect(runs.map((r) => [r.settings.cloud, r.status]).sort()).toEqual([
      ['three.xyz', 'done'],
      ['two.xyz', 'done'],
    ]);
    const after = await cloud('two.xyz');
    // a fifth of the sheet stands at 3.015 m and another at 3.02 m; two pairs of birds
    expect(after.revision.content).toMatchObject({ rejected: 4, countsByClass: { 3: 960 } });
    expect(runs.find((r) => r.settings.cloud === 'three.xyz')!.log.at(-2)).toMatch(
      /Isolated groups .*: reject: 0 points/,
    );
    const las = (await (
      await fetch(`${s.base}/api/projects/1/datasets/${two.id}/export/las`)
    ).arrayBuffer()) as ArrayBuffer;
    const file = await LasFile.open(memorySource(new Uint8Array(las), 'two'));
    const points = await file.readAll();
    expect(points.flags.filter((f) => f & 4)).toHaveLength(4);
    expect(points.classification.filter((c) => c === 3)).toHaveLength(960);
    const undone = await s.send('POST', `/projects/1/datasets/${two.id}/undo`);
    expect(undone.status).toBeLessThan(300);
    expect((await cloud('two.xyz')).revision.content).not.toMatchObject({ rejected: 4 });
  });

  it('classifies by acts too, and goes on with the others when one cloud fails', async () => {
    await s.send('PUT', '/recipes', {
      name: 'Ground',
      steps: [{ kind: 'classify', settings: { things: false } }],
    });
    const two = await cloud('two.xyz');
    await runRecipe('Ground', [two.id]);
    const ground = await cloud('two.xyz');
    expect(ground.revision.content).toMatchObject({ rejected: 4, countsByClass: { 2: 2400, 18: 4 } });
    const past = await s.get<PastStepsDto>(`/projects/1/datasets/${two.id}/steps`);
    expect(past).toMatchObject({ steps: [{ kind: 'classify', settings: { things: false } }], left: [] });
    const below = { finds: [{ mode: 'add', finder: 'below', settings: {} }], inverted: false, filter: ALL };
    await s.send('PUT', '/recipes', {
      name: 'Below',
      steps: [{ kind: 'act', act: { kind: 'reject' }, selection: below }],
    });
    const three = await cloud('three.xyz');
    const runs = await runRecipe('Below', [three.id, two.id]);
    expect(Object.fromEntries(runs.map((r) => [r.settings.cloud, r.status]))).toEqual({
      'three.xyz': 'failed',
      'two.xyz': 'done',
    });
    expect(runs.find((r) => r.status === 'failed')!.error!.message).toContain('no ground points');
  });

  it('is refused when it cannot be, or is not there', async () => {
    const wrong = await s.send('PUT', '/recipes', {
      name: 'x',
      steps: [{ kind: 'classify', settings: { cellM: 99 } }],
    });
    expect([wrong.status, JSON.stringify(wrong.body)]).toEqual([
      400,
      expect.stringContaining('Finest cell must be between 0.1 and 10 m.'),
    ]);
    const empty = await s.send('PUT', '/recipes', { name: 'x', steps: [] });
    expect(empty.status).toBe(400);
    expect((await s.send('POST', '/projects/1/recipes/run', { name: 'none', clouds: [1] })).status).toBe(404);
    expect((await s.send('DELETE', '/recipes/Below')).status).toBe(204);
    expect((await s.send('DELETE', '/recipes/Below')).status).toBe(404);
  });
});
