import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { loadComputation } from '../computation';
import { chapterOf } from '../test/chapter';
import { OnFiles } from '../test/onFiles';

const CRS = 'EPSG:25832+5773';
/** 10 by 10 m, a point every half metre: ground, but class 5 in a strip at the east end, noise in one point of a hundred. */
const POINTS = Array.from({ length: 400 }, (_, i) => {
  const [x, y] = [0.25 + 0.5 * (i % 20), 0.25 + 0.5 * Math.floor(i / 20)];
  return [467_000 + x, 6_215_000 + y, 4, i % 100 === 50 ? 7 : x > 8 ? 5 : 2];
});
let files: OnFiles;
let cloud: string;
beforeAll(async () => {
  files = await OnFiles.create();
  cloud = await files.cloud('c', POINTS, CRS, ['classification']);
});
afterAll(() => files.remove());

const area = (west: number, east: number, properties: object) => ({
  type: 'Feature',
  properties,
  geometry: {
    type: 'Polygon',
    coordinates: [
      [
        [467_000 + west, 6_215_000],
        [467_000 + east, 6_215_000],
        [467_000 + east, 6_215_010],
        [467_000 + west, 6_215_010],
        [467_000 + west, 6_215_000],
      ],
    ],
  },
});
async function against(...features: object[]) {
  const crs = { type: 'name', properties: { name: 'urn:ogc:def:crs:EPSG::25832' } };
  const outlines = [await files.put('areas.geojson', JSON.stringify({ type: 'FeatureCollection', crs, features }))];
  return files.run('class-check', { cloud: [cloud], outlines }, {}, { keeps: true, crs: CRS });
}

describe('classes against areas whose class is known', () => {
  it('agree as far as their points are called so', async () => {
    const { content, made, text } = await against(area(0, 5, { class: 2 }), area(8, 10, { class: 5 }));
    const { figures: f } = content;
    // ten columns of twenty points, two of them noise; four columns of twenty, none of them
    const noise = POINTS.filter(([e, , , c]) => c === 7 && (e < 467_005 || e > 467_008)).length;
    expect(f.matched).toBe(280);
    expect(f.overall).toBeCloseTo((280 - noise) / 280, 9);
    expect(made.lines![0]).toMatch(/^280 points compared/);
    expect(await text('classes')).toMatch(/2/);
    expect(await chapterOf<'class-check'>('class-check', content)).toMatch(/280/);
    const { exports } = await loadComputation('class-check');
    expect(exports!.classes(content as never, { name: 'x', unit: 'metre', path: (sha) => sha })).toBe(
      await text('classes'),
    );
  });

  it('that overlap with two classes decide nothing there', async () => {
    const { content } = await against(area(0, 4, { class: 2 }), area(2, 6, { class: 6 }));
    expect(content.figures.ambiguous).toBe(80);
    expect(content.figures.matched).toBe(160);
  });

  it('that name no class, or lie beside the cloud, are refused with the remedy', async () => {
    await expect(against(area(0, 5, { name: 'meadow' }))).rejects.toMatchObject({
      code: 'classes-samples',
      file: 'areas.geojson',
      place: 'properties',
    });
    await expect(against(area(100, 105, { class: 2 }))).rejects.toMatchObject({ code: 'classes-apart' });
  });
});

describe('classes against another cloud', () => {
  it('of other points are refused; both references at once, or none, too', async () => {
    const moved = await files.cloud(
      'moved',
      POINTS.map(([e, n, h, c]) => [e + 0.1, n, h, c]),
      CRS,
      ['classification'],
    );
    await expect(
      files.run('class-check', { cloud: [cloud], against: [moved] }, {}, { crs: CRS }),
    ).rejects.toMatchObject({
      code: 'classes-apart',
    });
    await expect(files.run('class-check', { cloud: [cloud] }, {}, { crs: CRS })).rejects.toThrow(/one of them/);
  });

  it('with points that it does not hold counts them', async () => {
    const half = await files.cloud('half', POINTS.slice(0, 200), CRS, ['classification']);
    const { content } = await files.run('class-check', { cloud: [half], against: [cloud] }, {}, { crs: CRS });
    expect(content.figures).toMatchObject({ matched: 200, without: 200, overall: 1 });
  });
});
