import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { METRES_PER, type SystemDefinition } from '@longheron/core/frames';
import { makeTin, type Contour, type HeightGrid } from '@longheron/core/surface';
import { writeAsciiGrid } from './asciigrid';
import { openFile } from './bytes';
import { parseSystem } from './crs';
import { writeContoursDxf } from './dxf';
import { NO_DATA, writeGeoTiff } from './geotiff';
import { landXmlSize, writeLandXml } from './landxml';
import { readTiff, readTiffPlace } from './tiff';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'surfaces-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));
const at = (name: string) => join(folder, name);
const UTM = parseSystem('EPSG:25832+5773').definition;
/** The same in international feet, plan and height. */
const FEET: SystemDefinition = { ...UTM, metresPerUnit: METRES_PER.foot, verticalMetresPerUnit: METRES_PER.foot };

/** 300 by 270 cells of half a metre, so that tiles are cut off on both sides; a hole in it. */
const grid: HeightGrid = {
  cellM: 0.5,
  westM: 467_000,
  northM: 6_215_135,
  columns: 300,
  rows: 270,
  heightM: Float32Array.from({ length: 300 * 270 }, (_, i) =>
    i % 300 > 100 && i % 300 < 120 && i < 300 * 40 ? Number.NaN : 3 + (i % 300) / 64 + Math.floor(i / 300) / 32,
  ),
};

describe('a grid as GeoTIFF', () => {
  it('comes back value by value, with its place, its holes and its system', async () => {
    await writeGeoTiff(at('g.tif'), grid, UTM);
    const bytes = await readFile(at('g.tif'));
    const back = readTiff(bytes, 'g.tif');
    expect([back.columns, back.rows, back.stepX, back.stepY]).toEqual([300, 270, 0.5, 0.5]);
    // a value belongs to the centre of its cell
    expect([back.left, back.top]).toEqual([467_000.25, 6_215_134.75]);
    expect(back.values).toEqual(grid.heightM);
    const source = await openFile(at('g.tif'));
    const place = await readTiffPlace(source);
    await source.close();
    expect(place).toMatchObject({
      bands: 1,
      bits: 32,
      format: 3,
      horizontal: 25832,
      geographic: false,
      noData: NO_DATA,
      at: { stepX: 0.5, stepY: 0.5, west: 467_000, north: 6_215_135 },
    });
  });

  it('is written in the units of the system', async () => {
    await writeGeoTiff(at('ft.tif'), grid, FEET);
    const back = readTiff(await readFile(at('ft.tif')), 'ft.tif');
    expect(back.stepX).toBeCloseTo(0.5 / 0.3048, 9);
    expect(back.values[0]).toBeCloseTo(3 / 0.3048, 4);
    expect(back.left).toBeCloseTo(467_000.25 / 0.3048, 4);
  });
});

describe('a grid as text', () => {
  it('has the corner in the south-west, the north row first and -9999 where nothing is', async () => {
    await writeAsciiGrid(at('g.asc'), grid);
    const lines = (await readFile(at('g.asc'), 'utf8')).trimEnd().split('\n');
    expect(lines.slice(0, 6)).toEqual([
      'ncols 300',
      'nrows 270',
      'xllcorner 467000',
      'yllcorner 6215000',
      'cellsize 0.5',
      'NODATA_value -9999',
    ]);
    expect(lines).toHaveLength(6 + 270);
    const first = lines[6].split(' ');
    expect([first[0], first[101], first[64]]).toEqual(['3.000', '-9999', '4.000']);
    expect(lines.at(-1)!.split(' ')[299]).toBe((3 + 299 / 64 + 269 / 32).toFixed(3));
  });
});

describe('contours as DXF', () => {
  const contours: Contour[] = [
    {
      heightM: 3,
      index: true,
      coordinates: Float64Array.of(467_000, 6_215_000, 467_010, 6_215_000, 467_010, 6_215_010, 467_000, 6_215_000),
    },
    { heightM: 3.25, index: false, coordinates: Float64Array.of(467_000, 6_215_001, 467_005.5, 6_215_002.25) },
  ];
  /** Pairs of code and value, line by line, as the format has them. */
  const pairs = async (name: string) => {
    const lines = (await readFile(at(name), 'utf8')).trimEnd().split('\n');
    expect(lines.length % 2).toBe(0);
    return Array.from({ length: lines.length / 2 }, (_, i) => [Number(lines[2 * i]), lines[2 * i + 1]] as const);
  };

  it('are polylines with an elevation, closed where they close, on two layers', async () => {
    await writeContoursDxf(at('c.dxf'), contours, UTM);
    const all = await pairs('c.dxf');
    const value = (name: string) => all[all.findIndex(([, v]) => v === name) + 1];
    expect(value('$ACADVER')).toEqual([1, 'AC1015']);
    expect(value('$INSUNITS')).toEqual([70, '6']);
    expect(all.at(-1)).toEqual([0, 'EOF']);
    const starts = all.flatMap(([c, v], i) => (c === 0 && v === 'LWPOLYLINE' ? [i] : []));
    const of = (start: number) => {
      const end = all.findIndex(([c], i) => i > start && c === 0);
      return all.slice(start, end);
    };
    const lines = starts.map((s) => {
      const e = of(s);
      const one = (code: number) => e.find(([c]) => c === code)?.[1];
      const many = (code: number) => e.filter(([c]) => c === code).map(([, v]) => Number(v));
      return {
        layer: one(8),
        count: Number(one(90)),
        closed: one(70),
        height: Number(one(38)),
        x: many(10),
        y: many(20),
      };
    });
    expect(lines).toEqual([
      {
        layer: 'CONTOUR_INDEX',
        count: 3,
        closed: '1',
        height: 3,
        x: [467_000, 467_010, 467_010],
        y: [6_215_000, 6_215_000, 6_215_010],
      },
      { layer: 'CONTOUR', count: 2, closed: '0', height: 3.25, x: [467_000, 467_005.5], y: [6_215_001, 6_215_002.25] },
    ]);
    const handles = all.filter(([c]) => c === 5).map(([, v]) => v);
    expect(new Set(handles).size).toBe(handles.length);
  });

  it('in feet say so and are in them', async () => {
    await writeContoursDxf(at('ft.dxf'), contours, FEET);
    const all = await pairs('ft.dxf');
    expect(all[all.findIndex(([, v]) => v === '$INSUNITS') + 1]).toEqual([70, '2']);
    expect(Number(all.find(([c]) => c === 38)![1])).toBeCloseTo(3 / 0.3048, 4);
    expect(Number(all.find(([c]) => c === 10)![1])).toBeCloseTo(467_000 / 0.3048, 3);
  });
});

describe('a TIN as LandXML', () => {
  const x = Float64Array.of(0, 10, 0, 10, 40);
  const y = Float64Array.of(0, 0, 10, 10, 5);
  const z = Float64Array.of(3, 3.5, 4, 4.5, 6);
  const tin = makeTin(x, y, z, 15);
  const options = { name: 'Ground <1>', originE: 467_000, originN: 6_215_000, system: UTM, date: new Date(0) };

  it('has northing before easting, every triangle but holes once, and its system', async () => {
    await writeLandXml(at('t.xml'), tin, options);
    const text = await readFile(at('t.xml'), 'utf8');
    expect(text).toContain('<Surface name="Ground &lt;1&gt;">');
    expect(text).toContain('epsgCode="25832"');
    expect(text).toContain('linearUnit="meter"');
    const points = [...text.matchAll(/<P id="(\d+)">([^<]+)<\/P>/g)].map((m) => [
      Number(m[1]),
      ...m[2].split(' ').map(Number),
    ]);
    expect(points).toEqual([0, 1, 2, 3, 4].map((i) => [i + 1, 6_215_000 + y[i], 467_000 + x[i], z[i]]));
    const faces = [...text.matchAll(/<F>([^<]+)<\/F>/g)].map((m) => m[1].split(' ').map(Number));
    // the square makes two triangles; those to the far point have an edge of 30 m
    expect(faces).toHaveLength(2);
    expect(new Set(faces.flat())).toEqual(new Set([1, 2, 3, 4]));
    expect(text).not.toContain('SourceData');
  });

  it('can list its points, in feet where the system is, and its size is told beforehand', async () => {
    await writeLandXml(at('p.xml'), tin, { ...options, system: FEET, withSourcePoints: true });
    const text = await readFile(at('p.xml'), 'utf8');
    expect(text).toContain('linearUnit="foot"');
    const list = /<PntList3D>([^<]+)<\/PntList3D>/.exec(text)![1].trim().split(' ').map(Number);
    expect(list).toHaveLength(15);
    expect(list[0]).toBeCloseTo(6_215_000 / 0.3048, 3);
    expect(list[2]).toBeCloseTo(3 / 0.3048, 3);
    const told = landXmlSize(tin, true);
    expect(Math.abs(told / text.length - 1)).toBeLessThan(0.35);
  });
});
