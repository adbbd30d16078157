import { afterAll, beforeAll, expect, it } from 'vitest';
import { LasFile } from '@longheron/formats/las';
import { OnFiles } from '../test/onFiles';

const CRS = 'EPSG:25832+5773';
const grid = (east: number, strip: number, time: number) =>
  Array.from({ length: 100 }, (_, i) => [
    467_000 + east + (i % 10),
    6_215_000 + Math.floor(i / 10),
    4,
    strip,
    time + i / 10,
  ]);
let files: OnFiles;
let clouds: string[];
beforeAll(async () => {
  files = await OnFiles.create();
  clouds = [
    await files.cloud('a', grid(0, 1, 1000), CRS, ['source', 'time']),
    await files.cloud('b', grid(10, 1, 90_000), CRS, ['source', 'time']),
  ];
});
afterAll(() => files.remove());

async function merged(strips: string) {
  const ran = await files.run('merge', { clouds }, { strips }, { keeps: true, crs: CRS });
  const file = await LasFile.openPath(ran.path('cloud'));
  const { pointSourceId } = await file.readAll();
  await file.close();
  return { ...ran, strips: new Set(pointSourceId), count: pointSourceId.length };
}

it('keeps strips of one number apart where they are of other times, and says so', async () => {
  const apart = await merged('by time');
  expect(apart.count).toBe(200);
  expect(apart.strips).toEqual(new Set([1, 2]));
  expect(apart.content.figures).toMatchObject({ points: 200, clouds: 2 });
  expect(apart.content.merged).toEqual([
    { name: 'a.las', points: 100, stripsMovedBy: 0 },
    { name: 'b.las', points: 100, stripsMovedBy: 1 },
  ]);
  expect(apart.notices.map((n) => n.code)).toContain('merge-strips');
  expect(apart.made.lines!.join('\n')).toContain('Strips of b.las were moved up by 1.');
});

it('takes them for one where they are tiles of a delivery', async () => {
  const same = await merged('same');
  expect(same.strips).toEqual(new Set([1]));
  expect(same.notices).toEqual([]);
});

it('needs two clouds, of one system', async () => {
  await expect(files.run('merge', { clouds: [clouds[0]] }, {}, { crs: CRS })).rejects.toThrow(/Two clouds/);
  const other = await files.cloud('c', grid(0, 1, 1000), 'EPSG:25833+5773', ['source', 'time']);
  await expect(files.run('merge', { clouds: [clouds[0], other] }, {}, { crs: CRS })).rejects.toMatchObject({
    code: 'merge-systems',
    file: 'c.las',
  });
});
