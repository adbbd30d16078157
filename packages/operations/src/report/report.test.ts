import { readFile } from 'node:fs/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type FolderStore } from '../shared/store';
import { type EditedCloud } from '../shared/stored';
import { account } from '../test/account';
import { ask } from '../test/ask';
import { wordsOf } from '../test/chapter';
import { OnFiles } from '../test/onFiles';
import { lookedChapter } from './looked';
import { lookedPicture } from './lookedPicture';
import { products, verdict } from './products';

const CRS = 'EPSG:25832+5773';
const CM = { factor: 100, symbol: 'cm', digits: 1 };
/** A plane at height 3, 20 by 10 m, sixteen points to a square metre, half of it strip 2, 4 cm higher; marks 1 to 3 cm below. */
const POINTS = Array.from({ length: 80 * 40 }, (_, i) => {
  const [x, y] = [0.125 + 0.25 * (i % 80), 0.125 + 0.25 * Math.floor(i / 80)];
  return [467_000 + x, 6_215_000 + y, 3, 2, 1];
});

let files: OnFiles;
let store: FolderStore;
let cloud: string;
let marks: string;
const keeps = { keeps: true, crs: CRS, toleranceM: 0.03 };
beforeAll(async () => {
  files = await OnFiles.create();
  ({ store } = files);
  cloud = await files.cloud('c', POINTS, CRS, ['classification', 'source']);
  const rows = [1, 2, 3].map((k) => `K${k},check,${467_000 + 5 * k},6215005,${3 - k / 100},0.002\n`);
  marks = await files.put('m.csv', `name,role,easting_m,northing_m,height_m,sd_h_m\n${rows.join('')}`);
});
afterAll(() => files.remove());

describe('the report', () => {
  it('is a sealed PDF with its figures, and says what has changed since the one before', async () => {
    const surface = await files.run('surface', { cloud: [cloud] }, { cellM: 0.5, contoursM: 0.25 }, keeps);
    const check = await files.run('check', { cloud: [cloud], marks: [marks] }, {}, keeps);
    const coverage = await files.run('coverage', { cloud: [cloud] }, { cellM: 1 }, keeps);
    const parts = [{ name: 'Coverage', content: coverage.content, operation: 'coverage', cloud: 'c.las' }];
    const write = (change: Parameters<typeof account>[0]) =>
      files.run(
        'report',
        {},
        {},
        {
          ...keeps,
          account: account({ clouds: { Check: 'c.las, revision 1' }, ...change }),
          beside: {
            surface: { name: 'Terrain', content: surface.content },
            check: { name: 'Check', content: check.content },
            parts,
          },
        },
      );
    const first = await write({});
    const pdf = await readFile(files.path(first.content.pdf));
    expect(pdf.subarray(0, 5).toString()).toBe('%PDF-');
    expect(pdf.length).toBe(first.content.bytes);
    expect(first.content.pages).toBeGreaterThanOrEqual(3);
    // the root of the mean of the squares of 1, 2 and 3 cm
    expect(first.content.figures.rmse_m).toBeCloseTo(Math.sqrt(14 / 3) / 100, 4);
    expect(first.content.summary).toMatchObject({ toleranceM: 0.03, checkMarks: 3, reference: { horizontal: 25832 } });
    const later = await write({ before: { ...first.content.summary!, toleranceM: 0.05 }, revision: 2 });
    expect(later.content.bytes).not.toBe(first.content.bytes);
  });

  it('has the verdict in words: within, out of tolerance, or none', async () => {
    const { content } = await files.run('check', { cloud: [cloud], marks: [marks] }, {}, keeps);
    expect(wordsOf(verdict(content.figures, 0.03, CM))).toMatch(/Within tolerance.* 2\.16 cm at 3 check marks/);
    expect(wordsOf(verdict(content.figures, 0.02, CM))).toMatch(/Out of tolerance/);
    expect(wordsOf(verdict({ ...content.figures, count: 0 }, 0.02, CM))).toMatch(/no statement on accuracy/);
  });

  it('has the terrain model, its files and how it was filled', async () => {
    const { content } = await files.run('surface', { cloud: [cloud] }, { cellM: 0.5, contoursM: 0.25 }, keeps);
    const words = wordsOf(products(content, null, 0.5, 1, 'm'));
    expect(words).toMatch(/3200, 0\.5 m; 40 x 20 cells, 0 empty/);
    expect(words).toMatch(/finer than the 0\.5 m that the height check supports/);
    expect(words).toMatch(/Filled across wider gaps: 0 cells/);
    const feet = wordsOf(products(content, null, null, 1 / 0.3048, 'ft'));
    expect(feet).toMatch(/from 9\.84 to 9\.84 ft/);
    const old = { ...content, figures: { ...content.figures, bridged_cells: undefined }, tin: undefined };
    expect(wordsOf(products(old, null, null, 1, 'm'))).not.toMatch(/Filled across|TIN for delivery/);
  });
});

describe('where the cloud was looked at', () => {
  it('is said by area, with a picture; nothing without anybody who looked', async () => {
    const { sha256 } = await store.take(await files.cloud('l', POINTS, CRS, ['classification', 'source']));
    const { content } = await ask('open-cloud', { object: sha256, name: 'l.las', crs: CRS }, store);
    const edited: EditedCloud = { las: content.las!, index: content.index!, order: content.order! };
    const cells = (await ask('look-cells', { cloud: edited }, store)).content.cells;
    expect(cells).toHaveLength(8);
    const { looked, picture } = await lookedPicture(store, { cloud: 'l', edited, looks: [] });
    expect(looked.neverM2).toBe(looked.coveredM2);
    expect(picture.subarray(1, 4).toString()).toBe('PNG');
    const words = wordsOf(lookedChapter(looked, picture, 'l, revision 1', 1, 'm'));
    expect(words).toMatch(/Never 200 m² \(100 %\)/);
    expect(words).toMatch(/Last never/);
    expect(lookedChapter(null, null, '', 1, 'm')).toEqual([]);
  });
});
