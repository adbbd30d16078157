import { readFile } from 'node:fs/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { heightsOf } from '../shared/raster/heights';
import { bedAt, lastBed } from '@longheron/site/boat';
import { SITE_ORIGIN_E, SITE_ORIGIN_N } from '@longheron/site/terrain';
import { BOAT_CRS, boatFiles } from '../test/boatFiles';
import { OnFiles } from '../test/onFiles';

let files: OnFiles;
beforeAll(async () => {
  files = await OnFiles.create();
});
afterAll(() => files.remove());

const values = async (path: string) => (await heightsOf(path, 'x.tif', BOAT_CRS)).grid;

describe('a depth grid', () => {
  it('of sounded lines lies on the bed, and every file has its values', async () => {
    const boat = await boatFiles(files, { lines: [{ line: 0, fromS: 20, toS: 34 }], beams: 200, pingsPerS: 10 });
    const reduced = await files.run('soundings', { ...boat.paths, waterLevel: [] }, {}, { crs: BOAT_CRS });
    const cloud = [reduced.path('cloud')];
    const { content, made, path } = await files.run(
      'depths',
      { cloud },
      { cellM: 0.5, method: 'mean', contoursM: 0.25 },
    );
    const f = content.figures;
    expect([f.soundings, f.left_out, f.filled]).toEqual([reduced.content.sounded!.soundings, 0, 0]);
    expect(f.spacing_m).toBeGreaterThan(0.1);
    expect(f.spacing_m).toBeLessThan(0.3);
    expect(made.report.notices).toEqual([]);
    const grid = await values(path('geotiff'));
    const count = await values(path('countTiff'));
    const spread = await values(path('spreadTiff'));
    const sd = await values(path('sdTiff'));
    let [sum, n, all] = [0, 0, 0];
    for (let at = 0; at < grid.heightM.length; at++) {
      all += count.heightM[at];
      if (!(count.heightM[at] >= 4)) continue;
      const e = grid.westM + ((at % grid.columns) + 0.5) * grid.cellM;
      const no = grid.northM - (Math.floor(at / grid.columns) + 0.5) * grid.cellM;
      const truth = bedAt(e - SITE_ORIGIN_E, no - SITE_ORIGIN_N);
      if (lastBed !== 0) continue;
      sum += (grid.heightM[at] - truth) ** 2;
      n++;
      expect(spread.heightM[at]).toBeLessThan(0.3);
      expect(sd.heightM[at]).toBeGreaterThan(0.001);
    }
    expect(all).toBe(f.soundings);
    expect(n).toBeGreaterThan(800);
    // soundings do not lie evenly about the middle of a cell on a slope
    expect(Math.sqrt(sum / n)).toBeLessThan(0.03);
    expect(JSON.parse(await readFile(path('contoursGeoJson'), 'utf8')).features.length).toBe(f.contours);
    expect(f.contours).toBeGreaterThan(3);
  });

  it('leaves rejected soundings out, fills on request, turns its sign, and says when its cells are too small', async () => {
    const rows: number[][] = [];
    for (let i = 0; i < 20; i++)
      for (let j = 0; j < 20; j++) if (i < 9 || i > 10) rows.push([467000 + i, 6215000 + j, -4]);
    rows.push([467005.3, 6215005.3, 60]);
    const noisy = rows.map((r, k) => [...r, k === rows.length - 1 ? 7 : 0]);
    const cloud = [await files.cloud('few', noisy, BOAT_CRS, ['classification'])];
    const run = (settings: object) =>
      files.run('depths', { cloud }, { cellM: 1, method: 'shoalest', contoursM: 0, ...settings });
    const plain = await run({});
    expect(plain.content.figures).toMatchObject({
      soundings: 360,
      left_out: 1,
      cells: 360,
      empty_cells: 40,
      filled: 0,
    });
    expect([plain.content.figures.height_min_m, plain.content.figures.height_max_m]).toEqual([-4, -4]);
    const filled = await run({ fillM: 2.5, positiveDown: true });
    expect(filled.content.figures).toMatchObject({ filled: 40, empty_cells: 0 });
    expect(filled.made.report.notices.map((n) => n.code)).toEqual(['depths-down']);
    const down = await values(filled.path('geotiff'));
    expect([down.heightM[0], (await values(filled.path('filledTiff'))).heightM.reduce((a, b) => a + b)]).toEqual([
      4, 40,
    ]);
    const fine = await run({ cellM: 0.25 });
    expect(fine.made.report.notices.map((n) => n.code)).toEqual(['depths-cell']);
    const all = [
      await files.cloud(
        'noise',
        noisy.map((r) => [...r.slice(0, 3), 7]),
        BOAT_CRS,
        ['classification'],
      ),
    ];
    await expect(files.run('depths', { cloud: all }, { cellM: 1 })).rejects.toMatchObject({ code: 'depths-none' });
  });
});
