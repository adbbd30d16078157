import { promisify } from 'node:util';
import { deflate } from 'node:zlib';
import { gridText, isAboveGeoid, type SystemDefinition } from '@longheron/core/frames';
import { type HeightGrid } from '@longheron/core/surface';
import { writeFileWhole } from '../bytes';
import { format } from '../format';
import about from './about';

const compress = promisify(deflate) as (data: Uint8Array, options: { level: number }) => Promise<Buffer>;
const TILE = 256;
export const NO_DATA = -9999;

type Value = { tag: number; type: 2 | 3 | 4 | 12; values: number[] | string };

/**
 * Writes heights as GeoTIFF 1.1: Float32, deflate, tiles of 256, PixelIsArea, no-data −9999, keys 3072 and 4096.
 * Coordinates in the units of the system. @param depths the values are turned, positive down, and the citation says so.
 */
export async function writeGeoTiff(
  path: string,
  grid: HeightGrid,
  system: SystemDefinition,
  depths = false,
): Promise<void> {
  const unit = 1 / system.metresPerUnit;
  await writeTiles(
    path,
    grid,
    (depths ? -1 : 1) / system.verticalMetresPerUnit,
    { cell: [grid.cellM * unit, grid.cellM * unit], west: grid.westM * unit, north: grid.northM * unit },
    systemKeys(system, depths),
  );
}

/** Heights in cells of longitude and latitude. */
export interface GeographicGrid {
  columns: number;
  rows: number;
  /** Row by row from the north, metres; NaN where there is none. */
  heightM: Float32Array;
  westDeg: number;
  northDeg: number;
  cellLonDeg: number;
  cellLatDeg: number;
}

/** WGS 84 with ellipsoidal heights, and in plan; heights above EGM96; degree, metre. */
const [WGS84_3D, WGS84, EGM96_HEIGHT, DEGREE, METRE] = [4979, 4326, 5773, 9102, 9001];

/** Writes heights in longitude and latitude of WGS 84, above its ellipsoid or above EGM96, as {@link writeGeoTiff} does. */
export async function writeGeographicTiff(
  path: string,
  grid: GeographicGrid,
  heights: 'ellipsoid' | 'EGM96',
): Promise<void> {
  const rows = [
    [1024, 0, 1, 2],
    [1025, 0, 1, 1],
    [2048, 0, 1, heights === 'ellipsoid' ? WGS84_3D : WGS84],
    [2054, 0, 1, DEGREE],
    ...(heights === 'EGM96' ? [[4096, 0, 1, EGM96_HEIGHT]] : []),
    [4099, 0, 1, METRE],
  ];
  await writeTiles(
    path,
    grid,
    1,
    { cell: [grid.cellLonDeg, grid.cellLatDeg], west: grid.westDeg, north: grid.northDeg },
    { keys: [1, 1, 1, rows.length, ...rows.flat()], texts: '' },
  );
}

type Heights = Pick<HeightGrid, 'columns' | 'rows' | 'heightM'>;

async function writeTiles(
  path: string,
  grid: Heights,
  factor: number,
  place: { cell: [number, number]; west: number; north: number },
  { keys, texts }: { keys: number[]; texts: string },
): Promise<void> {
  await writeFileWhole(path, async (out) => {
    const across = Math.ceil(grid.columns / TILE);
    const down = Math.ceil(grid.rows / TILE);
    const offsets: number[] = [];
    const lengths: number[] = [];
    await out.write(new Uint8Array(8));
    for (let ty = 0; ty < down; ty++) {
      for (let tx = 0; tx < across; tx++) {
        const bytes = await compress(new Uint8Array(tileOf(grid, tx, ty, factor).buffer), {
          level: 6,
        });
        offsets.push(out.bytes);
        lengths.push(bytes.length);
        await out.write(bytes);
        if (out.bytes % 2) await out.write(new Uint8Array(1));
      }
    }
    const entries: Value[] = [
      { tag: 256, type: 4, values: [grid.columns] },
      { tag: 257, type: 4, values: [grid.rows] },
      { tag: 258, type: 3, values: [32] },
      { tag: 259, type: 3, values: [8] },
      { tag: 262, type: 3, values: [1] },
      { tag: 277, type: 3, values: [1] },
      { tag: 322, type: 3, values: [TILE] },
      { tag: 323, type: 3, values: [TILE] },
      { tag: 324, type: 4, values: offsets },
      { tag: 325, type: 4, values: lengths },
      { tag: 339, type: 3, values: [3] },
      { tag: 33550, type: 12, values: [place.cell[0], place.cell[1], 0] },
      { tag: 33922, type: 12, values: [0, 0, 0, place.west, place.north, 0] },
      { tag: 34735, type: 3, values: keys },
      ...(texts ? [{ tag: 34737, type: 2 as const, values: `${texts}\0` }] : []),
      { tag: 42113, type: 2, values: `${NO_DATA}\0` },
    ];
    const directoryAt = out.bytes;
    await out.write(directory(entries, directoryAt));
    const head = new Uint8Array(8);
    const view = new DataView(head.buffer);
    view.setUint16(0, 0x4949);
    view.setUint16(2, 42, true);
    view.setUint32(4, directoryAt, true);
    await out.writeAt(head, 0);
  });
}

const USER_DEFINED = 32767;
const UNIT_CODES = new Map([
  [1, 9001],
  [0.3048, 9002],
]);
const US_SURVEY_FOOT = 9003;

const TEXTS = 34737;

const heightsCitation = ({ grid, verticalName }: SystemDefinition) =>
  grid ? `${verticalName.replace(/(geoid) \S+$/, '$1')} ${gridText(grid)}` : verticalName;

/** GeoTIFF keys of a system in plan and height; what has no code is user-defined and named by its citation. */
function systemKeys(system: SystemDefinition, depths: boolean): { keys: number[]; texts: string } {
  let texts = '';
  const rows = [
    [1024, 0, 1, 1],
    [1025, 0, 1, 1],
    [3072, 0, 1, system.file ? USER_DEFINED : system.horizontalCode],
  ];
  const cite = (id: number, text: string) => {
    const plain = text.replace(/[^\x20-\x7e]/g, '?').replace(/\|/g, '/');
    rows.push([id, TEXTS, plain.length + 1, texts.length]);
    texts += `${plain}|`;
  };
  const by = [
    ...(system.file ? [`defined by ${gridText(system.file)}`] : []),
    ...(system.shift ? [`shifted by ${gridText(system.shift)}`] : []),
  ];
  if (by.length) cite(3073, `${system.horizontalName}, ${by.join(', ')}`);
  if (isAboveGeoid(system)) {
    const named = system.grid !== undefined || system.heightsOfFile === true;
    rows.push([4096, 0, 1, named ? USER_DEFINED : system.verticalCode]);
    if (named) cite(4097, `${heightsCitation(system)}, ${depths ? 'depths positive down' : 'heights positive up'}`);
    rows.push([4099, 0, 1, UNIT_CODES.get(system.verticalMetresPerUnit) ?? US_SURVEY_FOOT]);
  }
  return { keys: [1, 1, 1, rows.length, ...rows.flat()], texts };
}

function tileOf(grid: Heights, tx: number, ty: number, factor: number): Float32Array {
  const tile = new Float32Array(TILE * TILE).fill(NO_DATA);
  for (let r = 0; r < TILE && ty * TILE + r < grid.rows; r++) {
    for (let c = 0; c < TILE && tx * TILE + c < grid.columns; c++) {
      const h = grid.heightM[(ty * TILE + r) * grid.columns + tx * TILE + c];
      if (!Number.isNaN(h)) tile[r * TILE + c] = h * factor;
    }
  }
  return tile;
}

const SIZE = { 2: 1, 3: 2, 4: 4, 12: 8 } as const;

function directory(entries: Value[], at: number): Uint8Array {
  let extra = 0;
  for (const e of entries) {
    const bytes = e.values.length * SIZE[e.type];
    if (bytes > 4) extra += bytes + (bytes % 2);
  }
  const table = 2 + 12 * entries.length + 4;
  const out = new Uint8Array(table + extra);
  const view = new DataView(out.buffer);
  view.setUint16(0, entries.length, true);
  let data = table;
  entries.forEach((e, i) => {
    const o = 2 + 12 * i;
    view.setUint16(o, e.tag, true);
    view.setUint16(o + 2, e.type, true);
    view.setUint32(o + 4, e.values.length, true);
    const bytes = e.values.length * SIZE[e.type];
    const place = bytes > 4 ? data : o + 8;
    if (bytes > 4) {
      view.setUint32(o + 8, at + data, true);
      data += bytes + (bytes % 2);
    }
    for (let k = 0; k < e.values.length; k++) {
      const v = typeof e.values === 'string' ? e.values.charCodeAt(k) : e.values[k];
      const p = place + k * SIZE[e.type];
      if (e.type === 2) out[p] = v;
      else if (e.type === 3) view.setUint16(p, v, true);
      else if (e.type === 4) view.setUint32(p, v, true);
      else view.setFloat64(p, v, true);
    }
  });
  return out;
}

/** Grids of heights, written only; read as pictures. */
export default format({ about });
