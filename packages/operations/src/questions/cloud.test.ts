import { readFile } from 'node:fs/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type EditAct, type RecipeStep, type Selection, type SelectionFilter } from '@longheron/core/cloud';
import { LasFile } from '@longheron/formats/las';
import { type FolderStore } from '../shared/store';
import { type EditedCloud } from '../shared/stored';
import { ask } from '../test/ask';
import { OnFiles } from '../test/onFiles';

/** Ground of 20 by 20 m, four points to a square metre; a flat roof 4 m above it; five birds together at 15 m. */
const at = (x: number, y: number, z: number, cls: number) => [467_000 + x, 6_215_000 + y, z, cls];
const GROUND = Array.from({ length: 1600 }, (_, i) =>
  at(0.25 + 0.5 * (i % 40), 0.25 + 0.5 * Math.floor(i / 40), 10, 2),
);
const ROOF = Array.from({ length: 100 }, (_, i) => at(5 + 0.5 * (i % 10), 5 + 0.5 * Math.floor(i / 10), 14, 1));
const BIRDS = Array.from({ length: 5 }, (_, i) => at(15 + 0.2 * i, 15, 25, 1));
const ALL = GROUND.length + ROOF.length + BIRDS.length;

let files: OnFiles;
let store: FolderStore;
let las: string;
let cloud: EditedCloud;

const FILTER: SelectionFilter = { hiddenClasses: [], rejected: 'hidden' };
const all = (filter: Partial<SelectionFilter> = {}, regions: Selection['regions'] = []): Selection => ({
  regions,
  inverted: false,
  filter: { ...FILTER, ...filter },
});
const counted = async (selection: Selection, of = cloud) =>
  (await ask('select', { cloud: of, selection }, store)).content;
const edited = async (of: EditedCloud, selection: Selection, act: EditAct): Promise<EditedCloud> => ({
  ...of,
  ...(await ask('edit', { cloud: of, selection, act }, store)).content,
});

beforeAll(async () => {
  files = await OnFiles.create();
  ({ store } = files);
  const path = await files.cloud('c', [...GROUND, ...ROOF, ...BIRDS], 'EPSG:25832+5773', ['classification']);
  ({ sha256: las } = await store.take(path));
  const asked = { object: las, name: 'c.las', crs: 'EPSG:25832+5773' };
  const { content } = await ask('open-cloud', asked, store);
  cloud = { ...content, las: content.las!, index: content.index!, order: content.order! };
});
afterAll(() => files.remove());

describe('a cloud that was taken in', () => {
  it('as LAS is stored as it is, with its counts', () => {
    expect(cloud.las).toBe(las);
    expect(cloud.countsByClass).toEqual({ '1': 105, '2': 1600 });
  });

  it('as text is written as LAS; its columns are those that were said', async () => {
    const text = await files.put('t.txt', '1 2 3 467000 6215000 5\n4 5 6 467001 6215001 6\n');
    const { sha256 } = await store.take(text);
    const asked = { object: sha256, name: 't.txt', crs: 'EPSG:25832+5773', columns: { x: 3, y: 4, z: 5 } };
    const { content: made, log } = await ask('open-cloud', asked, store);
    expect(made.las).not.toBe(sha256);
    expect(made.converted).toMatchObject({ points: 2, left: 0 });
    expect(made.pointText!.columns).toMatchObject({ x: 3, y: 4, z: 5 });
    expect(log!.join(' ')).toContain('2 points written as LAS');
    const file = await LasFile.openPath(store.path(made.las!));
    expect(file.header.min[0]).toBeCloseTo(467_000, 2);
    await file.close();
  });
});

describe('a selection', () => {
  it('counts what its filter and shapes hold', async () => {
    expect(await counted(all())).toEqual({ count: ALL, rejected: 0, byClass: { '1': 105, '2': 1600 } });
    expect((await counted(all({ hiddenClasses: [2] }))).count).toBe(105);
    const polygon = [467_004, 6_215_004, 467_012, 6_215_004, 467_012, 6_215_012, 467_004, 6_215_012];
    const inside = {
      mode: 'add' as const,
      shape: { kind: 'plan' as const, polygon, heightM: [13, 15] as [number, number] },
    };
    expect((await counted(all({}, [inside]))).count).toBe(100);
    expect((await counted({ ...all({}, [inside]), inverted: true })).count).toBe(ALL - 100);
  });

  it('of rows that are not at hand any more says what to do', async () => {
    const gone = all({}, [{ mode: 'add', shape: { kind: 'rows', object: 'f'.repeat(64), name: 'birds' } }]);
    await expect(counted(gone)).rejects.toMatchObject({ code: 'selection-rows', remedy: 'Find it again.' });
  });
});

describe('acts on a selection', () => {
  it('change classes and counts, and nothing of the file until it is asked for', async () => {
    const after = await edited(cloud, all({ heightM: [13, 16] }), { kind: 'class', to: 6 });
    expect(after.countsByClass).toEqual({ '1': 5, '2': 1600, '6': 100 });
    expect(after.edits).toHaveLength(1);
    expect(after.edits![0].points).toBe(100);
    expect((await ask('edited-file', { cloud }, store)).content).toEqual({ las });
    const { las: now } = (await ask('edited-file', { cloud: after }, store)).content;
    const file = await LasFile.openPath(store.path(now));
    const { classification } = await file.readAll();
    await file.close();
    expect(classification.filter((c) => c === 6)).toHaveLength(100);
    expect(classification.length).toBe(ALL);
  });

  it('reject points and bring them back', async () => {
    const rejected = await edited(cloud, all({ heightM: [20, 30] }), { kind: 'reject' });
    expect(rejected.rejected).toBe(5);
    expect((await counted(all(), rejected)).count).toBe(ALL - 5);
    expect(await counted(all({ rejected: 'only' }), rejected)).toMatchObject({ count: 5, rejected: 5 });
    const back = await edited(rejected, all({ rejected: 'shown' }), { kind: 'restore' });
    expect(back.rejected).toBe(0);
  });

  it('on nothing are refused', async () => {
    const nothing = all({ heightM: [500, 600] });
    await expect(edited(cloud, nothing, { kind: 'reject' })).rejects.toMatchObject({ code: 'selection-empty' });
  });
});

describe('finders and the ground', () => {
  it('find the birds as an isolated group, and what stands above the ground', async () => {
    const { content: found } = await ask('find', { cloud, finder: 'groups', settings: { gapM: 0.6, most: 20 } }, store);
    expect(found.count).toBe(5);
    const rows: Selection = all({}, [{ mode: 'add', shape: { kind: 'rows', object: found.object, name: 'groups' } }]);
    expect(await counted(rows)).toMatchObject({ count: 5, byClass: { '1': 5 } });
    const { content: above } = await ask('find', { cloud, finder: 'above', settings: { fromM: 2, toM: 50 } }, store);
    expect(above.count).toBe(105);
  });

  it('lay the ground as a grid of heights; a cloud without ground says so', async () => {
    const { content: ground } = await ask('ground-heights', { cloud }, store);
    const bytes = await readFile(store.path(ground.object));
    const heights = new Float32Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 4);
    expect(heights).toHaveLength(ground.columns * ground.rows);
    const { object, cellM, columns, rows, minX, minY } = ground;
    const above = (rangeM: [number, number]) => ({ object, cellM, columns, rows, minX, minY, rangeM });
    expect((await counted(all({ above: above([3.5, 4.5]) }))).count).toBe(100);
    expect((await counted(all({ above: above([14, 16]) }))).count).toBe(5);
    const bare = await edited(cloud, all({ hiddenClasses: [1] }), { kind: 'class', to: 1 });
    await expect(ask('ground-heights', { cloud: bare }, store)).rejects.toMatchObject({ code: 'no-ground' });
  });

  it('tell the cells that hold points, and those that were changed', async () => {
    const after = await edited(cloud, all({ heightM: [20, 30] }), { kind: 'reject' });
    const { cells } = (await ask('look-cells', { cloud: after }, store)).content;
    // 20 by 20 m in cells of 5 m
    expect(cells).toHaveLength(16);
  });
});

describe('a recipe', () => {
  const REJECT_BIRDS: RecipeStep = {
    kind: 'act',
    selection: {
      finds: [{ mode: 'add', finder: 'groups', settings: { gapM: 0.6, most: 20 } }],
      inverted: false,
      filter: FILTER,
    },
    act: { kind: 'reject' },
  };
  const ROOFS: RecipeStep = {
    kind: 'act',
    selection: { finds: [], inverted: false, filter: FILTER, aboveM: [3, 5] },
    act: { kind: 'class', to: 6 },
  };
  const run = async (steps: RecipeStep[], of = cloud) =>
    ask('recipe', { cloud: of, steps, words: steps.map((_, k) => `Step ${k + 1}`) }, store);

  it('does its steps one after the other, each on what the ones before left', async () => {
    const { content: made, log } = await run([REJECT_BIRDS, ROOFS, REJECT_BIRDS]);
    expect(made.outcomes.map((o) => o.points)).toEqual([5, 100, 0]);
    expect(made.acts).toBe(2);
    expect(made.rejected).toBe(5);
    expect(made.countsByClass).toMatchObject({ '6': 100 });
    expect(log).toEqual(['Step 1: 5 points.', 'Step 2: 100 points.', 'Step 3: 0 points.']);
  });

  it('without ground to stand on does nothing there, and says why', async () => {
    const bare = await edited(cloud, all({ hiddenClasses: [1] }), { kind: 'class', to: 1 });
    const { content: made } = await run([ROOFS], bare);
    expect(made.outcomes).toEqual([{ points: 0, note: 'The cloud has no ground points.' }]);
  });

  it('classifies as the operation does: strays rejected, the plane ground', async () => {
    const bare = await edited(cloud, all(), { kind: 'class', to: 1 });
    const { content: made } = await run([{ kind: 'classify', settings: {} }], bare);
    const { countsByClass, outcomes } = made;
    expect(countsByClass!['2']).toBe(1600);
    expect(outcomes[0].points).toBeGreaterThan(1600);
  });
});
