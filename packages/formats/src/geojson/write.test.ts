import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { parseSystem } from '../crs';
import { writeContoursGeoJson } from '.';

let folder: string;
beforeAll(async () => (folder = await mkdtemp(join(tmpdir(), 'contours-'))));
afterAll(() => rm(folder, { recursive: true, force: true }));

const contour = {
  heightM: 12.25,
  index: true,
  closed: false,
  coordinates: Float64Array.of(467000, 6215000, 467010, 6215020),
};

async function written(lonLat: boolean) {
  const path = join(folder, `${lonLat}.geojson`);
  await writeContoursGeoJson(path, [contour], parseSystem('EPSG:25832+5773'), lonLat);
  return JSON.parse(await readFile(path, 'utf8'));
}

it('contours have their height as third coordinate, beside easting and northing', async () => {
  const { features, crs } = await written(false);
  expect(features[0].geometry.coordinates).toEqual([
    [467000, 6215000, 12.25],
    [467010, 6215020, 12.25],
  ]);
  expect(features[0].properties).toEqual({ height_m: 12.25, index: true });
  expect(crs.properties.name).toContain('25832');
});

it('as longitude and latitude they have the height above the ellipsoid, which the geoid stands 40.7 m above', async () => {
  const { features, crs } = await written(true);
  const [longitude, latitude, height] = features[0].geometry.coordinates[0];
  // Krüger's series, reckoned apart
  expect(longitude).toBeCloseTo(8.469795884, 8);
  expect(latitude).toBeCloseTo(56.079010486, 8);
  expect(height - 12.25).toBeCloseTo(40.7, 1);
  expect(crs).toBeUndefined();
});
