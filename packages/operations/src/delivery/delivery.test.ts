import { afterAll, beforeAll, expect, it } from 'vitest';
import { loadComputation } from '../computation';
import { OnFiles } from '../test/onFiles';

/** Squares of 10 m with four points to a square metre, from easting 0 and 10; the second may begin later. */
const square = (east: number, gapM = 0) =>
  Array.from({ length: 400 }, (_, i): [number, number, number] => [
    467_000 + east + 0.25 + 0.5 * (i % 20),
    6_215_000.25 + 0.5 * Math.floor(i / 20),
    4,
  ]).filter(([e]) => e > 467_000 + east + gapM);
const CRS = 'EPSG:25832+5773';
const area = (file: string, west: number, points?: number) => ({
  type: 'Feature',
  properties: { name: file.replace('.las', ''), file, ...(points === undefined ? {} : { points_own: points }) },
  geometry: {
    type: 'Polygon',
    coordinates: [
      [
        [west, 6_215_000],
        [west + 10, 6_215_000],
        [west + 10, 6_215_010],
        [west, 6_215_010],
        [west, 6_215_000],
      ],
    ],
  },
});

let files: OnFiles;
let whole: string[];
beforeAll(async () => {
  files = await OnFiles.create();
  whole = [await files.cloud('a', square(0), CRS), await files.cloud('b', square(10).slice(1), CRS)];
});
afterAll(() => files.remove());

const index = (...features: object[]) =>
  files.put('index.geojson', JSON.stringify({ type: 'FeatureCollection', crs_label: CRS, features }));

it('a whole delivery, against its index, has no fault', async () => {
  const outlines = [await index(area('a.las', 467_000), area('b.las', 467_010))];
  const { content, made } = await files.run('delivery', { clouds: whole, outlines }, {}, { keeps: true, crs: CRS });
  expect(content.check).toMatchObject({ tiles: 2, points: 799, mostPoints: 400, findings: [] });
  expect(made.failed).toBe(false);
  expect(content.index).toHaveLength(2);
});

it('a tile that is not there, one too many, and one above the cap are named, in words and as a table', async () => {
  const outlines = [await index(area('a.las', 467_000), area('c.las', 467_020))];
  const ran = await files.run('delivery', { clouds: whole, outlines }, { capPoints: 300 }, { keeps: true, crs: CRS });
  const faults = ran.content.check.findings.map((f) => `${f.fault} ${f.tiles.join(' ')}`);
  expect(faults.some((f) => /c/.test(f))).toBe(true);
  expect(faults.some((f) => /b/.test(f))).toBe(true);
  expect(ran.content.check.findings.length).toBeGreaterThanOrEqual(4);
  expect(ran.made.failed).toBe(true);
  expect(ran.notices.map((n) => n.code)).toEqual(['delivery']);
  const csv = await ran.text('faults');
  expect(csv.split('\n')[0]).toBe(`# crs: ${CRS}`);
  expect(csv.trim().split('\n')).toHaveLength(3 + ran.content.check.findings.length);
  const { exports } = await loadComputation('delivery');
  const again = exports!.delivery(ran.content as never, { name: 'x', unit: 'metre', path: (sha) => sha });
  expect(again).toBe(csv);
});

it('the same tile twice, and a gap between two, show without an index', async () => {
  const twice = await files.run('delivery', { clouds: [...whole, whole[1]] }, {}, { crs: CRS });
  expect(twice.content.index).toBeNull();
  expect(twice.content.check.findings.length).toBeGreaterThan(0);
  const later = await files.cloud('later', square(10, 4), CRS);
  const open = await files.run('delivery', { clouds: [whole[0], later] }, {}, { crs: CRS });
  const seam = open.content.check.findings.find((f) => f.tiles.length === 2)!;
  expect(seam.at![0]).toBeCloseTo(467_009.75, 1);
  expect(seam.at![2]).toBeCloseTo(467_014.25, 1);
});
