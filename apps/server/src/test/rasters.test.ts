import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { factsOf, type DatasetDto, type NoticeDto, type RunDto } from '@longheron/contract/api';
import { contentOf, type TestServer, testServer } from './server';

/** A plain GeoTIFF of one strip, after TIFF 6.0 and GeoTIFF 1.1; cells of 0.5 m from a corner of the site. */
function geoTiff(
  columns: number,
  rows: number,
  bands: number,
  cells: Uint8Array,
  kind: 'byte' | 'float',
  epsg: number,
) {
  const bits = kind === 'byte' ? 8 : 32;
  const entries: Array<[number, 3 | 4 | 12, number[]]> = [
    [256, 4, [columns]],
    [257, 4, [rows]],
    [258, 3, Array.from({ length: bands }, () => bits)],
    [259, 3, [1]],
    [262, 3, [bands === 3 ? 2 : 1]],
    [273, 4, [0]],
    [277, 3, [bands]],
    [278, 4, [rows]],
    [279, 4, [cells.length]],
    [339, 3, Array.from({ length: bands }, () => (kind === 'byte' ? 1 : 3))],
    [33550, 12, [0.5, 0.5, 0]],
    [33922, 12, [0, 0, 0, 467_000, 6_215_100, 0]],
    [34735, 3, [1, 1, 0, 2, 1024, 0, 1, 1, 3072, 0, 1, epsg]],
  ];
  const size = { 3: 2, 4: 4, 12: 8 };
  const long = entries.map(([, type, v]) => (v.length * size[type] > 4 ? v.length * size[type] : 0));
  const head = 8 + 2 + 12 * entries.length + 4;
  const data = head + long.reduce((a, b) => a + b, 0);
  const out = Buffer.alloc(data + cells.length);
  out.write('II');
  out.writeUInt16LE(42, 2);
  out.writeUInt32LE(8, 4);
  out.writeUInt16LE(entries.length, 8);
  let free = head;
  entries.forEach(([tag, type, values], k) => {
    const e = 10 + 12 * k;
    out.writeUInt16LE(tag, e);
    out.writeUInt16LE(type, e + 2);
    out.writeUInt32LE(values.length, e + 4);
    let at = e + 8;
    if (long[k]) {
      out.writeUInt32LE(free, e + 8);
      at = free;
      free += long[k];
    }
    (tag === 273 ? [data] : values).forEach((v, i) => {
      if (type === 3) out.writeUInt16LE(v, at + 2 * i);
      else if (type === 4) out.writeUInt32LE(v, at + 4 * i);
      else out.writeDoubleLE(v, at + 8 * i);
    });
  });
  out.set(cells, data);
  return out;
}

const [W, H] = [600, 400];
let s: TestServer;
const root = mkdtempSync(join(tmpdir(), 'longheron-rasters-'));
const taken = async (name: string) => {
  await s.send('POST', '/projects/1/take', { paths: [join(root, name)] });
  return s.until(async () => (await s.get<DatasetDto[]>('/projects/1/datasets')).find((d) => d.name === name));
};
const tile = async (d: DatasetDto, path: string) => {
  const r = await fetch(`${s.base}/api/projects/1/datasets/${d.id}/tiles/${path}`);
  if (!r.ok) return r.status;
  const { data, info } = await sharp(Buffer.from(await r.arrayBuffer()))
    .raw()
    .toBuffer({ resolveWithObject: true });
  expect([info.width, info.height, info.channels]).toEqual([256, 256, 4]);
  return (x: number, y: number) => [...data.subarray(4 * (y * 256 + x), 4 * (y * 256 + x) + 4)];
};
const codes = async (d: DatasetDto) =>
  (await s.get<NoticeDto[]>('/projects/1/notices')).filter((n) => n.datasetId === d.id).map((n) => n.code);

beforeAll(async () => {
  const rgb = new Uint8Array(3 * W * H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) rgb.set([x & 255, y & 255, 10 * Math.floor(x / 100)], 3 * (y * W + x));
  writeFileSync(join(root, 'ortho.tif'), geoTiff(W, H, 3, rgb, 'byte', 25832));
  const heights = Float32Array.from({ length: W * H }, (_, i) => (i % W < 50 ? Number.NaN : 10 + (i % W) / 100));
  writeFileSync(join(root, 'heights.tif'), geoTiff(W, H, 1, new Uint8Array(heights.buffer), 'float', 25832));
  writeFileSync(join(root, 'far.tif'), geoTiff(W, H, 3, rgb, 'byte', 25833));
  writeFileSync(join(root, 'cut.tif'), geoTiff(W, H, 3, rgb, 'byte', 25832).subarray(0, 90));
  s = await testServer('none', [root]);
  await s.send('POST', '/projects', { name: 'Pictures' });
  await s.send('PUT', '/projects/1/reference', { horizontal: 25832, vertical: 5773, unit: 'metre', time: 'gps' });
}, 900_000);
afterAll(async () => {
  await s.stop();
  rmSync(root, { recursive: true });
});

describe('a georeferenced image', () => {
  it('is told by its tags, and shown cell by cell where they put it', async () => {
    const ortho = await taken('ortho.tif');
    expect(ortho.kind).toBe('raster');
    expect(factsOf(ortho)).toMatchObject({
      extent: { min: [467_000, 6_214_900, 0], max: [467_300, 6_215_100, 0], crs: 'EPSG:25832' },
      details: [
        ['Size', '600 by 400 cells'],
        ['Bands', '3 of 8 bits'],
        ['Cell', '0.5 by 0.5'],
        ['System', expect.any(String)],
      ],
    });
    const at = (await tile(ortho, '0/1/1')) as (x: number, y: number) => number[];
    expect(at(0, 0)).toEqual([0, 0, 20, 255]);
    expect(at(44, 100)).toEqual([44, 100, 30, 255]);
    // the picture ends 144 rows into the second row of squares, 88 columns into the third column
    expect(at(100, 144)[3]).toBe(0);
    const edge = (await tile(ortho, '0/2/0')) as (x: number, y: number) => number[];
    expect([edge(87, 255)[3], edge(88, 0)[3]]).toEqual([255, 0]);
    expect(await tile(ortho, '0/3/0')).toBe(404);
    // half as fine, the whole height in one square
    const coarse = (await tile(ortho, '1/0/0')) as (x: number, y: number) => number[];
    expect([coarse(0, 199)[3], coarse(0, 200)[3]]).toEqual([255, 0]);
    expect(Math.abs(coarse(50, 10)[2] - 10)).toBeLessThanOrEqual(5);
  });

  it('of numbers has one stretch at every zoom, and nothing where it says so', async () => {
    const heights = await taken('heights.tif');
    const [low, high] = contentOf(heights, 'raster').raster!.stretch!;
    // 2nd and 98th percentile of 10.50 to 15.99
    expect(low).toBeCloseTo(10.61, 1);
    expect(high).toBeCloseTo(15.88, 1);
    const at = (await tile(heights, '0/0/0')) as (x: number, y: number) => number[];
    expect(at(49, 5)).toEqual([0, 0, 0, 0]);
    const grey = (v: number) => (255 * (v - low)) / (high - low);
    expect(Math.abs(at(200, 5)[0] - grey(12))).toBeLessThan(1.5);
    const coarse = (await tile(heights, '2/0/0')) as (x: number, y: number) => number[];
    expect(Math.abs(coarse(75, 5)[0] - grey(13))).toBeLessThan(2.5);
  });

  it('in another system or cut off is said to be so', async () => {
    const far = await taken('far.tif');
    await s.until(async () => (await codes(far)).length > 0);
    const notice = (await s.get<NoticeDto[]>('/projects/1/notices')).find((n) => n.datasetId === far.id)!;
    expect([notice.code, notice.text]).toEqual([
      'other-system',
      "This names another system than the project's. plan: ETRS89 / UTM zone 33N (25833), the project ETRS89 / UTM zone 32N (25832).",
    ]);
    // taking its system turns the notice over to the others; keeping ours brings it back
    const set = (horizontal: number) =>
      s.send('PUT', '/projects/1/reference', { horizontal, vertical: 5773, unit: 'metre', time: 'gps' });
    await set(25833);
    expect(await codes(far)).toEqual([]);
    const ortho = (await s.get<DatasetDto[]>('/projects/1/datasets')).find((d) => d.name === 'ortho.tif')!;
    expect(await codes(ortho)).toEqual(['other-system']);
    await set(25832);
    expect(await codes(far)).toEqual(['other-system']);
    await s.send('POST', '/projects/1/take', { paths: [join(root, 'cut.tif')] });
    const failed = await s.until(async () =>
      (await s.get<RunDto[]>('/projects/1/runs')).find((r) => r.title === 'Import cut.tif' && r.status === 'failed'),
    );
    expect(failed.error).toMatchObject({ file: 'cut.tif', remedy: expect.stringContaining('copy it again') });
  });
});
