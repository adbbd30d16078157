import { readFile, stat } from 'node:fs/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { LasFile } from '@longheron/formats/las';
import { loadComputation } from '../computation';
import { chapterOf } from './chapter';
import { OnFiles } from './onFiles';

/** Two strips over the same plane at height 3, the second 4 cm higher; all is ground. 20 by 10 m, four points to a metre. */
const GRID = Array.from({ length: 80 * 40 }, (_, i): [number, number] => [
  467_000.125 + 0.25 * (i % 80),
  6_215_000.125 + 0.25 * Math.floor(i / 80),
]);
const strip = (h: number, id: number, by = 0) => GRID.map(([e, n]) => [e + by, n + by, h, 2, id]);
const MORE = ['classification', 'source'];
const CRS = { crs: 'EPSG:25832+5773', keeps: true };

let files: OnFiles;
let one: string;
let two: string;
let marks: string;
beforeAll(async () => {
  files = await OnFiles.create();
  one = await files.cloud('one', strip(3, 1), CRS.crs, MORE);
  two = await files.cloud('two', [...strip(3, 1), ...strip(3.04, 2, 0.05)], CRS.crs, MORE);
  // the surface is 1, 2 and 3 cm above three control marks
  const rows = [1, 2, 3].map((k) => `C${k},control,${467_000 + 5 * k},6215005,${3 - k / 100},0.002\n`);
  marks = await files.put('m.csv', `name,role,easting_m,northing_m,height_m,sd_h_m\n${rows.join('')}`);
}, 900_000);
afterAll(() => files.remove());

const exported = async (operation: string, name: string, content: object, unit: 'metre' | 'foot' = 'metre') =>
  (await loadComputation(operation)).exports![name](content as never, {
    name: 'x',
    unit,
    path: (sha) => files.path(sha),
  });

describe('the height check', () => {
  it('has the residual of each mark, statistics of all, in table, chapter and unit', async () => {
    const { content } = await files.run('check', { cloud: [one], marks: [marks] }, {}, { ...CRS, toleranceM: 0.03 });
    const residuals = content.figures.marks.map((m) => m.residual_m!);
    [0.01, 0.02, 0.03].forEach((v, k) => expect(residuals[k]).toBeCloseTo(v, 3));
    const csv = await exported('check', 'residuals', content);
    expect(csv).toMatch(/^C1,control,.*0\.010/m);
    const feet = await exported('check', 'residuals', content, 'foot');
    expect(feet).toMatch(/_ft/);
    expect(feet).toMatch(/^C1,control,.*0\.03[23]/m);
    const text = await chapterOf<'residuals'>('check', content);
    expect(text).toMatch(/C1 .*C3/);
  });

  it('gives the bias that is taken out of the heights, and says what it was taken from', async () => {
    const { content } = await files.run('check', { cloud: [one], marks: [marks] }, {}, CRS);
    const check = { name: 'Check', content };
    const { made, path, notices } = await files.run(
      'correct',
      { cloud: [one] },
      { by: 'control' },
      { ...CRS, beside: { check } },
    );
    const { corrected } = made.content;
    expect(corrected).toMatchObject({ valueM: expect.closeTo(0.02, 3), by: 'control', marks: ['C1', 'C2', 'C3'] });
    // 1 SD of the mean of 1, 2 and 3 cm: 1 cm over the root of three
    expect(corrected!.sdM).toBeCloseTo(0.01 / Math.sqrt(3), 4);
    const file = await LasFile.openPath(path('cloud'));
    const z = (await file.readAll()).z[0] * file.header.scale[2] + file.header.offset[2];
    await file.close();
    expect(z).toBeCloseTo(3 - 0.02, 3);
    expect(notices.at(-1)).toMatchObject({ code: 'bias-taken-out', effect: expect.stringContaining('C1, C2, C3') });
    await expect(
      files.run('correct', { cloud: [one] }, { by: 'check' }, { ...CRS, beside: { check } }),
    ).rejects.toMatchObject({ code: 'few-marks' });
    // marks that a plane runs through: a shift would hide the tilt
    const [first] = content.figures.marks;
    const tilted = Array.from({ length: 9 }, (_, k) => {
      const [x, y] = [40 * (k % 3), 50 * Math.floor(k / 3)];
      const residual_m = 0.02 + 3e-4 * x + (k % 2 ? 0.001 : -0.001);
      return { ...first, name: `T${k}`, easting_m: 467_000 + x, northing_m: 6_215_000 + y, residual_m };
    });
    const beside = {
      check: { name: 'Check', content: { ...content, figures: { ...content.figures, marks: tilted } } },
    };
    await expect(files.run('correct', { cloud: [one] }, { by: 'control' }, { ...CRS, beside })).rejects.toMatchObject({
      code: 'correct-tilt',
      message: expect.stringContaining('tilted by 2.'),
    });
  });
});

describe('strips', () => {
  it('differ by what they were made to differ by, in figures, table and chapter', async () => {
    const { content, made } = await files.run('agreement', { cloud: [two] }, {}, { ...CRS, toleranceM: 0.03 });
    expect(content.pairs).toHaveLength(1);
    expect(content.pairs[0]).toMatchObject({ first: 1, second: 2 });
    expect(Math.abs(content.pairs[0].meanM)).toBeCloseTo(0.04, 3);
    expect(content.rmsM).toBeCloseTo(0.04, 3);
    expect(made.failed).toBe(true);
    expect(await exported('agreement', 'pairs', content)).toMatch(/^1,2,/m);
    expect(await exported('agreement', 'pairs', content, 'foot')).toMatch(/_ft/);
    expect(await chapterOf<'agreement'>('agreement', content)).toMatch(/40\.0/);
  });

  it('of one alone have nothing to be compared with', async () => {
    const { content, notices } = await files.run('agreement', { cloud: [one] }, {}, CRS);
    expect([content.pairs, content.cells, content.rmsM]).toEqual([[], 0, null]);
    expect(notices.map((n) => n.code)).toEqual(['strips-apart']);
  });
});

describe('coverage', () => {
  it('is sixteen points to a square metre on a full plane, within an area and without', async () => {
    const bare = await files.run('coverage', { cloud: [one] }, { cellM: 1, targetPerM2: 10 }, CRS);
    expect(bare.content.figures.median).toBeCloseTo(16, 6);
    expect([bare.content.voids, bare.content.ordered]).toEqual([[], false]);
    // the ordered area reaches 20 m further east, where there is nothing
    const ring = [
      [467_000, 6_215_000],
      [467_040, 6_215_000],
      [467_040, 6_215_010],
      [467_000, 6_215_010],
      [467_000, 6_215_000],
    ];
    const geometry = { type: 'Polygon', coordinates: [ring] };
    const json = {
      type: 'FeatureCollection',
      crs: { type: 'name', properties: { name: 'urn:ogc:def:crs:EPSG::25832' } },
      features: [{ type: 'Feature', properties: { name: 'Ordered' }, geometry }],
    };
    const outlines = [await files.put('area.geojson', JSON.stringify(json))];
    const { content } = await files.run('coverage', { cloud: [one], outlines }, { cellM: 1, targetPerM2: 10 }, CRS);
    expect(content.figures.areaM2).toBeCloseTo(400, 0);
    expect(content.figures.coveredM2).toBeCloseTo(200, 0);
    expect(content.voids[0].areaM2).toBeCloseTo(200, 0);
    const text = await chapterOf<'coverage'>('coverage', content);
    expect(text).toMatch(/16/);
    expect(await exported('coverage', 'voids', content)).toMatch(/\n1,/);
  });
});

describe('classes', () => {
  it('compared with themselves all agree; with a quarter changed, a quarter does not', async () => {
    const same = await files.run('class-check', { cloud: [one], against: [one] }, {}, CRS);
    expect(same.content.figures.overall).toBe(1);
    const changed = strip(3, 1).map((p, i) => (i % 4 ? p : [...p.slice(0, 3), 5, 1]));
    const other = await files.cloud('other', changed, CRS.crs, MORE);
    const { content } = await files.run('class-check', { cloud: [other], against: [one] }, {}, CRS);
    expect(content.figures.overall).toBeCloseTo(0.75, 9);
    expect(await chapterOf<'class-check'>('class-check', content)).toMatch(/75\.0/);
  });
});

describe('the terrain model', () => {
  it('of a plane has its height everywhere, and no volume of its own', async () => {
    const { content } = await files.run('surface', { cloud: [one] }, { cellM: 0.5, contoursM: 0 }, CRS);
    const { figures } = content;
    expect([figures.height_min_m, figures.height_max_m]).toEqual([expect.closeTo(3, 3), expect.closeTo(3, 3)]);
    expect([figures.points, figures.cells, figures.cell_m, figures.contours]).toEqual([3200, 40 * 20, 0.5, 0]);
    // of a plane no point is lost
    expect(content.tin!.lossMaxM).toBeCloseTo(0, 3);
    const grid = await readFile(files.path(content.grid));
    const heights = new Float32Array(grid.buffer, grid.byteOffset, 800);
    expect(heights.every((h) => Math.abs(h - 3) < 0.001)).toBe(true);
    for (const made of Object.values(content.exports))
      expect((await stat(files.path(made.sha256))).size).toBe(made.bytes);
    const landXml = await readFile(files.path(content.exports.landXml!.sha256), 'utf8');
    expect(landXml.match(/<F\b/g)).toHaveLength(content.tin!.triangles);
  });
});
