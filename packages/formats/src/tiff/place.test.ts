import { describe, expect, it } from 'vitest';
import { memorySource } from '../bytes';
import { readTiffPlace } from '.';

type Tag = [tag: number, type: number, values: number[]];
/** A TIFF of tags alone, laid out after TIFF 6.0. */
function tiff(tags: Tag[], little = true, version = 42): Uint8Array {
  const size: Record<number, number> = { 2: 1, 3: 2, 4: 4, 12: 8 };
  const long = tags.reduce((s, [, type, v]) => s + (v.length * size[type] > 4 ? v.length * size[type] : 0), 0);
  const out = new Uint8Array(8 + 2 + 12 * tags.length + 4 + long);
  const view = new DataView(out.buffer);
  out.set(little ? [0x49, 0x49] : [0x4d, 0x4d]);
  view.setUint16(2, version, little);
  view.setUint32(4, 8, little);
  view.setUint16(8, tags.length, little);
  let free = 8 + 2 + 12 * tags.length + 4;
  tags.forEach(([tag, type, values], k) => {
    const e = 10 + 12 * k;
    view.setUint16(e, tag, little);
    view.setUint16(e + 2, type, little);
    view.setUint32(e + 4, values.length, little);
    const bytes = values.length * size[type];
    let at = e + 8;
    if (bytes > 4) {
      view.setUint32(e + 8, free, little);
      at = free;
      free += bytes;
    }
    values.forEach((v, i) => {
      if (type === 12) view.setFloat64(at + 8 * i, v, little);
      else if (type === 4) view.setUint32(at + 4 * i, v, little);
      else if (type === 3) view.setUint16(at + 2 * i, v, little);
      else view.setUint8(at + i, v);
    });
  });
  return out;
}
const text = (s: string) => [...`${s}\0`].map((c) => c.charCodeAt(0));
const PICTURE: Tag[] = [
  [256, 4, [400]],
  [257, 4, [300]],
  [258, 3, [8, 8, 8]],
  [277, 3, [3]],
];
const PLACE: Tag[] = [
  [33550, 12, [0.05, 0.05, 0]],
  [33922, 12, [0, 0, 0, 467_100, 6_215_400, 0]],
];
const KEYS = (...more: number[]): Tag => [34735, 3, [1, 1, 1, more.length / 4, ...more]];
const read = (bytes: Uint8Array) => readTiffPlace(memorySource(bytes, 'o.tif'));

describe('the place of a picture', () => {
  it.each([true, false])('is read in either order of bytes (little: %s)', async (little) => {
    const got = await read(
      tiff([...PICTURE, ...PLACE, KEYS(1024, 0, 1, 1, 3072, 0, 1, 25832, 4096, 0, 1, 5773)], little),
    );
    expect(got).toEqual({
      columns: 400,
      rows: 300,
      bands: 3,
      bits: 8,
      format: 1,
      horizontal: 25832,
      vertical: 5773,
      geographic: false,
      noData: null,
      about: '',
      at: { stepX: 0.05, stepY: 0.05, west: 467_100, north: 6_215_400 },
    });
  });

  it('allows for values on corners, tie points inside, matrices and no-data', async () => {
    const tie: Tag = [33922, 12, [10, 20, 0, 467_100.5, 6_215_399, 0]];
    const onPoint = await read(tiff([...PICTURE, PLACE[0], tie, KEYS(1025, 0, 1, 2), [42113, 2, text('-9999')]]));
    expect(onPoint.at!.west).toBeCloseTo(467_100.5 - 10.5 * 0.05, 9);
    expect(onPoint.at!.north).toBeCloseTo(6_215_399 + 20.5 * 0.05, 9);
    expect([onPoint.noData, onPoint.horizontal, onPoint.vertical]).toEqual([-9999, null, null]);
    const matrix: Tag = [34264, 12, [0.2, 0, 0, 467_000, 0, -0.25, 0, 6_215_000, 0, 0, 0, 0, 0, 0, 0, 1]];
    expect((await read(tiff([...PICTURE, matrix]))).at).toEqual({
      stepX: 0.2,
      stepY: 0.25,
      west: 467_000,
      north: 6_215_000,
    });
    expect((await read(tiff(PICTURE))).at).toBeUndefined();
  });

  it('is refused where it cannot be', async () => {
    const turned: Tag = [34264, 12, [0.2, 0.01, 0, 0, 0.01, -0.2, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1]];
    await expect(read(tiff([...PICTURE, turned]))).rejects.toThrow(/turned/);
    await expect(read(tiff(PICTURE, true, 43))).rejects.toThrow(/BigTIFF/);
    await expect(read(Uint8Array.of(1, 2, 3))).rejects.toThrow(/no TIFF/);
    await expect(read(tiff([...PICTURE, ...PLACE]).slice(0, 100))).rejects.toThrow(/ends at byte 100/);
    await expect(read(tiff(PICTURE.slice(1)))).rejects.toThrow(/Tag 256/);
    const vast: Tag[] = PICTURE.map(([tag, type, values]) => [tag, type, tag < 258 ? [60_000] : values]);
    await expect(read(tiff([...vast, ...PLACE]))).rejects.toThrow(/60000 by 60000 cells, more than/);
    await expect(read(tiff([...PICTURE, [33550, 12, [0, 0, 0]], PLACE[1]]))).rejects.toThrow(/no size/);
  });
});
