import { promisify } from 'node:util';
import { deflate } from 'node:zlib';
import { type SystemDefinition } from '@longheron/core/frames';
import { type HeightGrid } from '@longheron/core/surface';
import { writeFileWhole } from '../bytes';
import { format } from '../format';
import about from './about';
import { directory, systemKeys, type Value } from './parts';

export * from './picture';

const compress = promisify(deflate) as (data: Uint8Array, options: { level: number }) => Promise<Buffer>;
const TILE = 256;
export const NO_DATA = -9999;

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
  const factor = (depths ? -1 : 1) / system.verticalMetresPerUnit;
  await writeTiles(
    path,
    grid,
    heightTiles(grid, factor),
    { cell: [grid.cellM * unit, grid.cellM * unit], west: grid.westM * unit, north: grid.northM * unit },
    systemKeys(system, depths ? 'down' : 'up'),
  );
}

/** Whole numbers from 1 to 65 535 in cells of a plan, 0 where there is nothing: brightness, for example. */
export async function writeBrightnessTiff(
  path: string,
  grid: Omit<HeightGrid, 'heightM'>,
  values: Uint16Array,
  system: SystemDefinition,
): Promise<void> {
  const unit = 1 / system.metresPerUnit;
  await writeTiles(
    path,
    { columns: grid.columns, rows: grid.rows },
    { bits: 16, format: 1, noData: 0, tile: (tx, ty) => brightnessTile(grid, values, tx, ty) },
    { cell: [grid.cellM * unit, grid.cellM * unit], west: grid.westM * unit, north: grid.northM * unit },
    systemKeys(system, 'none'),
  );
}

function brightnessTile(
  { columns, rows }: { columns: number; rows: number },
  values: Uint16Array,
  tx: number,
  ty: number,
): Uint16Array {
  const tile = new Uint16Array(TILE * TILE);
  for (let r = 0; r < TILE && ty * TILE + r < rows; r++)
    for (let c = 0; c < TILE && tx * TILE + c < columns; c++)
      tile[r * TILE + c] = values[(ty * TILE + r) * columns + tx * TILE + c];
  return tile;
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
    heightTiles(grid, 1),
    { cell: [grid.cellLonDeg, grid.cellLatDeg], west: grid.westDeg, north: grid.northDeg },
    { keys: [1, 1, 1, rows.length, ...rows.flat()], texts: '' },
  );
}

type Heights = Pick<HeightGrid, 'columns' | 'rows' | 'heightM'>;

/** Tiles of one band: bits of a value, its format in TIFF (1 whole, 3 floating), what stands for nothing. */
interface Tiles {
  bits: number;
  format: 1 | 3;
  noData: number;
  tile: (tx: number, ty: number) => Float32Array | Uint16Array;
}

const heightTiles = (grid: Heights, factor: number): Tiles => ({
  bits: 32,
  format: 3,
  noData: NO_DATA,
  tile: (tx, ty) => tileOf(grid, tx, ty, factor),
});

async function writeTiles(
  path: string,
  grid: { columns: number; rows: number },
  { bits, format, noData, tile }: Tiles,
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
        const bytes = await compress(new Uint8Array(tile(tx, ty).buffer), {
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
      { tag: 258, type: 3, values: [bits] },
      { tag: 259, type: 3, values: [8] },
      { tag: 262, type: 3, values: [1] },
      { tag: 277, type: 3, values: [1] },
      { tag: 322, type: 3, values: [TILE] },
      { tag: 323, type: 3, values: [TILE] },
      { tag: 324, type: 4, values: offsets },
      { tag: 325, type: 4, values: lengths },
      { tag: 339, type: 3, values: [format] },
      { tag: 33550, type: 12, values: [place.cell[0], place.cell[1], 0] },
      { tag: 33922, type: 12, values: [0, 0, 0, place.west, place.north, 0] },
      { tag: 34735, type: 3, values: keys },
      ...(texts ? [{ tag: 34737, type: 2 as const, values: `${texts}\0` }] : []),
      { tag: 42113, type: 2, values: `${noData}\0` },
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

/** Grids of heights, written only; read as pictures. */
export default format({ about });
