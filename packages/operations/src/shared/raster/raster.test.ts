import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ask } from '../../test/ask';
import { OnFiles } from '../../test/onFiles';
import { crossFindings } from '../inspect';
import { rasterContent, rasterTile, TILE_PX } from '.';

const CRS = 'EPSG:25832+5773';
let files: OnFiles;
let grid: string;
beforeAll(async () => {
  files = await OnFiles.create();
  // a slope from 2 m in the west to 6 m in the east, 20 by 10 m
  const points = Array.from({ length: 80 * 40 }, (_, i) => {
    const x = 0.125 + 0.25 * (i % 80);
    return [467_000 + x, 6_215_000.125 + 0.25 * Math.floor(i / 80), 2 + x / 5, 2];
  });
  const cloud = await files.cloud('slope', points, CRS, ['classification']);
  const made = await files.run(
    'surface',
    { cloud: [cloud] },
    { cellM: 0.5, contoursM: 0.5 },
    { keeps: true, crs: CRS },
  );
  grid = files.path(made.content.exports.geotiff!.sha256);
});
afterAll(() => files.remove());

describe('a georeferenced image', () => {
  it('is known by its cells, its corner and the stretch of its values', async () => {
    const r = (await rasterContent(grid, 'dtm.tif'))!;
    expect(r).toMatchObject({ columns: 40, rows: 20, stepM: 0.5, westM: 467_000, northM: 6_215_010 });
    // two per cent are clipped at either end of 2.05 to 5.95 m
    expect(r.stretch![0]).toBeGreaterThan(2);
    expect(r.stretch![0]).toBeLessThan(2.3);
    expect(r.stretch![1]).toBeGreaterThan(5.7);
    const { content } = await ask('inspect', { path: grid, name: 'dtm.tif', context: {}, crs: CRS }, files.store);
    expect(content.kind).toBe('raster');
    expect(content.more.raster).toEqual(r);
  });

  it('is cut into tiles that end where it ends', async () => {
    const r = (await rasterContent(grid, 'dtm.tif'))!;
    const png = (await rasterTile(grid, r, 0, 0, 0))!;
    const { data, info } = await sharp(png).raw().toBuffer({ resolveWithObject: true });
    expect([info.width, info.height, info.channels]).toEqual([TILE_PX, TILE_PX, 4]);
    const at = (x: number, y: number) => Array.from(data.subarray(4 * (y * TILE_PX + x), 4 * (y * TILE_PX + x) + 4));
    // dark in the low west, bright in the high east, nothing beyond
    expect(at(1, 5)[0]).toBeLessThan(20);
    expect(at(38, 5)[0]).toBeGreaterThan(235);
    expect(at(20, 5)[0]).toBeGreaterThan(110);
    expect(at(20, 5)[0]).toBeLessThan(145);
    expect(at(45, 5)[3]).toBe(0);
    expect(at(5, 25)[3]).toBe(0);
    expect(await rasterTile(grid, r, 0, 1, 0)).toBeNull();
    const coarse = await sharp((await rasterTile(grid, r, 1, 0, 0))!)
      .raw()
      .toBuffer();
    expect(coarse[4 * 25 + 3]).toBe(0);
    expect(coarse[4 * 15 + 3]).toBe(255);
  });

  it('without one is none for the map', async () => {
    const path = files.path('plain.tif');
    await sharp({ create: { width: 8, height: 8, channels: 3, background: '#336699' } })
      .tiff()
      .toFile(path);
    expect(await rasterContent(path, 'plain.tif')).toBeNull();
  });
});

describe('files that belong together', () => {
  const facts = (name: string, kind: string, startGps: number | null, endGps: number | null) =>
    ({ name, kind, startGps, endGps }) as Parameters<typeof crossFindings>[0][number];

  it('say which returns lie outside every trajectory', () => {
    const path = facts('t.csv', 'trajectory', 100, 200);
    const of = (start: number, end: number) =>
      crossFindings([path, facts('r.h5', 'laser-returns', start, end)]).get('r.h5')?.[0];
    expect(of(110, 190)).toBeUndefined();
    expect(of(150, 250)).toMatchObject({ severity: 'warning', text: expect.stringContaining('50 %') });
    expect(of(300, 400)).toMatchObject({ severity: 'error', text: expect.stringContaining('No trajectory') });
    expect(crossFindings([facts('r.h5', 'laser-returns', 1, 2)]).size).toBe(0);
  });
});
