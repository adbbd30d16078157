import { readFile } from 'node:fs/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Given } from '@longheron/contract/declare';
import { type PointsContent } from '@longheron/contract/kinds/export';
import { LasFile } from '@longheron/formats/las';
import { parseSystem } from '@longheron/formats/crs';
import { OnFiles } from '../test/onFiles';

/** 40 by 20 m, four points to a square metre: the west half is strip 1 of ground, the east half strip 2 of buildings. */
const E0 = 467_000;
const N0 = 6_215_000;
const POINTS = Array.from({ length: 80 * 40 }, (_, i) => {
  const [x, y] = [0.25 + 0.5 * (i % 80), 0.25 + 0.5 * Math.floor(i / 80)];
  return [E0 + x, N0 + y, 5 + 0.01 * x, x < 20 ? 2 : 6, x < 20 ? 1 : 2];
});
/** And ten strays, of strip 2. */
const STRAYS = Array.from({ length: 10 }, (_, i) => [E0 + 21 + i, N0 + 3.3, 40, 18, 2]);
const CRS = 'EPSG:25832+5773';

let files: OnFiles;
let cloud: string;
beforeAll(async () => {
  files = await OnFiles.create();
  cloud = await files.cloud('c', [...POINTS, ...STRAYS], CRS, ['classification', 'source']);
});
afterAll(() => files.remove());

async function exported(settings: Given, crs = CRS) {
  const ran = await files.run('export-cloud', { cloud: [cloud] }, settings, { keeps: true, crs });
  return { ...ran, content: ran.content as PointsContent };
}
async function pointsOf(sha: string) {
  const file = await LasFile.openPath(files.path(sha));
  const { header } = file;
  const p = await file.readAll();
  await file.close();
  const metres = (v: ArrayLike<number>, k: number) =>
    Float64Array.from(v, (raw) => raw * header.scale[k] + header.offset[k]);
  return { ...p, x: metres(p.x, 0), y: metres(p.y, 1), z: metres(p.z, 2), count: header.pointCount };
}

describe('points to one file', () => {
  it('are all but the rejected ones, counted', async () => {
    const { content } = await exported({});
    expect(content.figures).toEqual({
      points_in: 3210,
      points_out: 3200,
      left_out_rejected: 10,
      left_out_class: 0,
      left_out_strip: 0,
    });
    const p = await pointsOf(content.file!);
    expect(p.count).toBe(3200);
    expect(content.bytes).toBeGreaterThan(3200 * 20);
  });

  it('of one class or one strip are those, and strays where they are wanted', async () => {
    const ground = await exported({ classes: [2] });
    expect(ground.content.figures).toMatchObject({ points_out: 1600, left_out_class: 1600 });
    const east = await exported({ strips: [2], withRejected: true });
    expect(east.content.figures).toMatchObject({ points_out: 1610, left_out_strip: 1600, left_out_rejected: 0 });
    const p = await pointsOf(east.content.file!);
    expect(Array.from(new Set(p.pointSourceId))).toEqual([2]);
  });

  it('in another system lie where the projection puts them', async () => {
    const { content } = await exported({ system: 'EPSG:25833+5773', classes: [2] });
    expect(content.crs).toBe('EPSG:25833+5773');
    const [from, to] = [parseSystem(CRS), parseSystem('EPSG:25833+5773')];
    const geo = new Float64Array(3);
    const there = new Float64Array(3);
    from.unproject(POINTS[0][0], POINTS[0][1], POINTS[0][2], geo);
    to.project(geo[0], geo[1], geo[2], there);
    const p = await pointsOf(content.file!);
    expect(p.x[0]).toBeCloseTo(there[0], 2);
    expect(p.y[0]).toBeCloseTo(there[1], 2);
    expect(p.z[0]).toBeCloseTo(there[2], 2);
  });

  it('as text say what a text does not carry', async () => {
    const { content } = await exported({ format: 'csv', strips: [1] });
    const text = await readFile(files.path(content.file!), 'utf8');
    expect(text.split('\n').filter((l) => /^\d/.test(l))).toHaveLength(1600);
    expect(content.format).toBe('csv');
  });

  it('that hold nothing are refused', async () => {
    await expect(exported({ split: 'tiles', classes: [9] })).rejects.toMatchObject({ code: 'las-empty' });
  });
});

describe('points to several files', () => {
  it('by strip: one each, together all', async () => {
    const { content } = await exported({ split: 'strips', format: 'laz' });
    expect(content.pieces!.map((p) => [p.name, p.own])).toEqual([
      ['strip_1', 1600],
      ['strip_2', 1600],
    ]);
    const one = await pointsOf(content.pieces![0].sha256);
    expect(one.count).toBe(1600);
    expect(Array.from(new Set(one.classification))).toEqual([2]);
  });

  it('by tile begin at whole multiples, with their neighbours in a buffer, and an index', async () => {
    const { content, notices } = await exported({ split: 'tiles', tileM: 10, bufferM: 1 });
    expect(content.pieces).toHaveLength(8);
    expect(content.pieces!.reduce((s, p) => s + p.own, 0)).toBe(3200);
    for (const p of content.pieces!) {
      expect(p.own).toBe(400);
      const points = await pointsOf(p.sha256);
      const { west, south } = p.bounds!;
      expect([west % 10, south % 10]).toEqual([0, 0]);
      const own = Array.from(points.x).filter(
        (x, i) => x >= west && x < west + 10 && points.y[i] >= south && points.y[i] < south + 10,
      );
      expect(own).toHaveLength(400);
      expect(points.count).toBe(p.own + p.neighbours);
      // two rows of points along each side that has a neighbour, four points in each corner
      const sides = [west > E0, west < E0 + 30, south > N0, south < N0 + 10].filter(Boolean).length;
      expect(p.neighbours).toBe(40 * sides + 4 * (p.touching!.length - sides));
    }
    const index = JSON.parse(await readFile(files.path(content.index!), 'utf8')) as {
      features: Array<{ properties: { name: string; file: string; points_own: number } }>;
    };
    expect(index.features).toHaveLength(8);
    expect(index.features[0].properties.file).toBe(`${index.features[0].properties.name}.las`);
    expect(notices).toEqual([]);
  });

  it('with more points than agreed are quartered; what cannot be is named', async () => {
    const quartered = await exported({ split: 'tiles', tileM: 40, capPoints: 1000 });
    expect(quartered.content.pieces!.every((p) => p.own + p.neighbours <= 1000)).toBe(true);
    expect(quartered.content.cap).toBe(1000);
    await expect(exported({ split: 'tiles', tileM: 1, capPoints: 1000, format: 'csv' })).rejects.toThrow(/LAS or LAZ/);
  });
});
