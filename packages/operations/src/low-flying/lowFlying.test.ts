import { readFile } from 'node:fs/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { EGM96 } from '@longheron/core/frames';
import { Random } from '@longheron/core/numeric';
import { parseSystem } from '@longheron/formats/crs';
import { OnFiles } from '../test/onFiles';

const CRS = 'EPSG:25832+5773';
const system = parseSystem(CRS);
const [E0, N0] = [467_200, 6_215_300];
/** A slope with a mast of 30 m, and a pond in the east that gives no return. */
const ground = (x: number) => 4 + 0.05 * x;
const MAST = { x: 43.2, y: 61.7, topM: 36 };
const pond = (x: number, y: number) => Math.hypot(x - 120, y - 60) < 18;

const WIDE = JSON.stringify({
  type: 'Feature',
  properties: { name: 'wide' },
  geometry: {
    type: 'Polygon',
    coordinates: [
      [
        [8, 56],
        [9, 56],
        [9, 57],
        [8, 57],
        [8, 56],
      ],
    ],
  },
});

let files: OnFiles;
let cloud: string;
beforeAll(async () => {
  files = await OnFiles.create();
  const r = new Random(3, 'flying');
  const rows: number[][] = [];
  for (let k = 0; k < 20_000; k++) {
    const [x, y] = [r.between(0, 160), r.between(0, 120)];
    if (!pond(x, y)) rows.push([E0 + x, N0 + y, ground(x), 1]);
  }
  rows.push([E0 + MAST.x, N0 + MAST.y, MAST.topM, 1]);
  // a bird, flagged as noise
  rows.push([E0 + 20, N0 + 20, 90, 18]);
  cloud = await files.cloud('site', rows, CRS, ['classification']);
}, 900_000);
afterAll(() => files.remove());

const run = (settings: object, outlines?: string) =>
  files.run('low-flying', { cloud: [cloud], ...(outlines ? { outlines: [outlines] } : {}) }, settings as never, {
    crs: CRS,
  });

/** GeoTIFF as an independent reading of its tags gives it: one tile of floats where it is this small. */
async function tiff(path: string) {
  const bytes = await readFile(path);
  const view = new DataView(bytes.buffer, bytes.byteOffset);
  const at = view.getUint32(4, true);
  const tags = new Map<number, number[]>();
  for (let k = 0; k < view.getUint16(at, true); k++) {
    const o = at + 2 + 12 * k;
    const [type, count] = [view.getUint16(o + 2, true), view.getUint32(o + 4, true)];
    const size = { 3: 2, 4: 4, 12: 8 }[type] ?? 1;
    const from = size * count > 4 ? view.getUint32(o + 8, true) : o + 8;
    tags.set(
      view.getUint16(o, true),
      Array.from({ length: count }, (_, i) =>
        type === 3
          ? view.getUint16(from + 2 * i, true)
          : type === 4
            ? view.getUint32(from + 4 * i, true)
            : type === 12
              ? view.getFloat64(from + 8 * i, true)
              : view.getUint8(from + i),
      ),
    );
  }
  const keys = tags.get(34735)!;
  const key = (id: number) => {
    for (let i = 4; i < keys.length; i += 4) if (keys[i] === id) return keys[i + 3];
    return undefined;
  };
  return { tags, key };
}

describe('the surface for low flying', () => {
  it('is nowhere lower than what stands there, with the margin, in latitude and longitude', async () => {
    const ran = await run({ cellM: 5, marginM: 12, fillM: 30 });
    const f = ran.content.figures;
    expect(f.holes).toBe(0);
    expect(f.filled).toBeGreaterThan(10);
    // the mast, above EGM96 as the cloud is, to the centimetres that the two readings of that geoid differ by
    expect(Math.abs(f.height_max_m - MAST.topM - 12)).toBeLessThan(0.02);
    expect(f.height_min_m).toBeGreaterThan(ground(0) + 12 - 0.02);
    // a cell is five metres either way at 56° north
    expect(f.cell_lat_deg * 111_347).toBeCloseTo(5, 1);
    expect(f.cell_lon_deg * 62_250).toBeCloseTo(5, 1);
    const { tags, key } = await tiff(ran.path('geotiff'));
    expect([key(1024), key(2048), key(4096)]).toEqual([2, 4326, 5773]);
    expect(tags.get(33922)!.slice(3, 5)).toEqual([f.west_deg, f.north_deg]);
    const geo = new Float64Array(3);
    system.unproject(E0, N0, 4, geo);
    const deg = 180 / Math.PI;
    expect(f.west_deg).toBeLessThan(geo[1] * deg);
    expect(Math.abs(f.west_deg - geo[1] * deg)).toBeLessThan(0.0003);
    // above the ellipsoid: by the geoid's height more
    const other = await run({ cellM: 5, marginM: 12, fillM: 30, heights: 'ellipsoid' });
    expect(other.content.figures.height_max_m - f.height_max_m).toBeCloseTo(EGM96.undulation(geo[0], geo[1]), 1);
    const above = await tiff(other.path('geotiff'));
    expect([above.key(2048), above.key(4096)]).toEqual([4979, undefined]);
    expect(other.notices.map((n) => n.code)).toContain('low-flying-frame');
    // a cell of one metre over a continent
    await expect(run({ cellM: 0.5 }, await files.put('wide.geojson', WIDE))).rejects.toMatchObject({
      code: 'low-flying-cells',
    });
  });

  it('is refused where a hole stays, with its place; filled or left open when asked', async () => {
    await expect(run({ cellM: 4, fillM: 4 })).rejects.toMatchObject({
      code: 'low-flying-holes',
      place: expect.stringMatching(/^56\.0\d+, 8\.4\d+$/) as string,
    });
    const open = await run({ cellM: 4, fillM: 4, allowHoles: true });
    expect(open.content.figures.holes).toBeGreaterThan(10);
    expect(open.notices.find((n) => n.code === 'low-flying-filled')!.severity).toBe('warning');
  });

  it('covers the mission’s area, and no more', async () => {
    const corner = (x: number, y: number) => {
      const geo = new Float64Array(3);
      system.unproject(E0 + x, N0 + y, 4, geo);
      return [(geo[1] * 180) / Math.PI, (geo[0] * 180) / Math.PI];
    };
    const area = (x0: number, x1: number) => {
      const ring = [corner(x0, 30), corner(x1, 30), corner(x1, 90), corner(x0, 90), corner(x0, 30)];
      const feature = {
        type: 'Feature',
        properties: { name: 'mission' },
        geometry: { type: 'Polygon', coordinates: [ring] },
      };
      return JSON.stringify({ type: 'FeatureCollection', features: [feature] });
    };
    const inside = await run({ cellM: 5, fillM: 10 }, await files.put('in.geojson', area(20, 80)));
    // 60 m by 60 m in cells of five
    expect(Math.abs(inside.content.figures.cells - 144)).toBeLessThan(14);
    await expect(run({ cellM: 5, fillM: 10 }, await files.put('out.geojson', area(60, 260)))).rejects.toMatchObject({
      code: 'low-flying-holes',
    });
  });

  it('says when what stands on the ground is not in the cloud', async () => {
    const rows = Array.from({ length: 2500 }, (_, k) => [E0 + (k % 50), N0 + Math.floor(k / 50), 3, 2]);
    const bare = await files.cloud('bare', rows, CRS, ['classification']);
    const ran = await files.run('low-flying', { cloud: [bare] }, { cellM: 4 }, { crs: CRS });
    expect(ran.notices.map((n) => n.code)).toContain('low-flying-ground');
  });
});
