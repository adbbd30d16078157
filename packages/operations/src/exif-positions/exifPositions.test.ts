import { readFile } from 'node:fs/promises';
import { zipSync } from 'fflate';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DEG } from '@longheron/core/frames';
import { parseSystem } from '@longheron/formats/crs';
import { readPhotoPositions } from '@longheron/formats/photo-set';
import { OnFiles } from '../test/onFiles';

const CRS = 'EPSG:25832+5773';
let files: OnFiles;
beforeAll(async () => {
  files = await OnFiles.create();
});
afterAll(() => files.remove());

/** A photograph that says where it was taken; nothing without minutes. */
async function photo(minutes: number | undefined, error?: string): Promise<Uint8Array> {
  const place =
    minutes === undefined
      ? {}
      : {
          GPSLatitudeRef: 'N',
          GPSLatitude: `56/1 ${minutes}/1 0/1`,
          GPSLongitudeRef: 'E',
          GPSLongitude: '8/1 30/1 0/1',
          GPSAltitude: '120/1',
          GPSAltitudeRef: '0',
          ...(error ? { GPSHPositioningError: error } : {}),
        };
  const grey = { create: { width: 32, height: 24, channels: 3 as const, background: '#888' } };
  return new Uint8Array(
    await sharp(grey)
      .withExif({ IFD0: { Model: 'hand' }, IFD3: place })
      .jpeg()
      .toBuffer(),
  );
}
async function run(name: string, photos: { [name: string]: Uint8Array }, settings = {}, crs?: string) {
  const set = await files.put(name, zipSync(photos));
  return files.run('exif-positions', { photos: [set] }, settings, { keeps: true, ...(crs ? { crs } : {}) });
}

describe('positions that photographs state themselves', () => {
  it('become a list with heights above the ellipsoid and deviations of an axis', async () => {
    const photos = { 'a.jpg': await photo(4), 'b.jpg': await photo(5, '4/1'), 'c.jpg': await photo(undefined) };
    const made = await run('set.zip', photos, {}, CRS);
    const { rows, without, point } = readPhotoPositions(await readFile(files.path(made.content.object)), 'p.csv');
    expect([point, without]).toEqual(['camera', ['c.jpg']]);
    expect(rows[1].latRad / DEG).toBeCloseTo(56 + 5 / 60, 8);
    const undulation = parseSystem(CRS).geoid.undulation(rows[0].latRad, rows[0].lonRad);
    expect(undulation).toBeGreaterThan(30);
    expect(rows[0].hEllM).toBeCloseTo(120 + undulation, 3);
    expect(rows[0].sdM).toEqual([3, 3, 8]);
    // 68 % lie within 4 m: an axis has that over the root of two
    expect(rows[1].sdM).toEqual([2.828, 2.828, 8]);
    expect(made.notices.map((n) => n.code)).toEqual(['exif-without']);
    const asReceived = await run('set.zip', photos, { heights: 'ellipsoid' });
    const plain = readPhotoPositions(await readFile(files.path(asReceived.content.object)), 'p.csv');
    expect(plain.rows[0].hEllM).toBe(120);
  });

  it('of one place for all are named, and of none refused', async () => {
    const one = await photo(4);
    const made = await run('same.zip', { 'a.jpg': one, 'b.jpg': one, 'c.jpg': one }, {}, CRS);
    expect(made.notices.map((n) => [n.code, n.severity])).toEqual([['positions-same', 'error']]);
    await expect(run('none.zip', { 'a.jpg': await photo(undefined) }, {}, CRS)).rejects.toMatchObject({
      code: 'exif-places',
    });
  });
});
