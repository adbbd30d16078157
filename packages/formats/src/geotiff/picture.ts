import { promisify } from 'node:util';
import { deflate } from 'node:zlib';
import { type SystemDefinition } from '@longheron/core/frames';
import { writeFileWhole, type OutputFile } from '../bytes';
import { directory, directorySize, systemKeys, type Value } from './parts';

const compress = promisify(deflate) as (data: Uint8Array, options: { level: number }) => Promise<Buffer>;
const TILE = 256;
/** The smallest overview has no side longer than this. */
const SMALLEST = 256;

/** A picture in plan: red, green, blue and opacity of each cell, row by row from the north. */
export interface PlanPicture {
  cellM: number;
  westM: number;
  northM: number;
  columns: number;
  rows: number;
  rgba: Uint8Array;
}

interface Level {
  columns: number;
  rows: number;
  rgba: Uint8Array;
}

/**
 * Writes a picture in plan as GeoTIFF 1.1: red, green, blue and opacity, deflate with differences, tiles of 256, and overviews
 * of half the size each; coordinates in the units of the system.
 */
export async function writePictureTiff(
  path: string,
  picture: PlanPicture,
  system: SystemDefinition,
  progress?: (share: number) => void,
): Promise<void> {
  const unit = 1 / system.metresPerUnit;
  const { keys, texts } = systemKeys(system, 'none');
  await writeFileWhole(path, async (out) => {
    await out.write(new Uint8Array(8));
    const directories: Value[][] = [];
    let level: Level = picture;
    for (let k = 0; ; k++) {
      const place: Value[] =
        k > 0
          ? []
          : [
              { tag: 33550, type: 12, values: [picture.cellM * unit, picture.cellM * unit, 0] },
              { tag: 33922, type: 12, values: [0, 0, 0, picture.westM * unit, picture.northM * unit, 0] },
              { tag: 34735, type: 3, values: keys },
              ...(texts ? [{ tag: 34737, type: 2 as const, values: `${texts}\0` }] : []),
            ];
      const tiles = await writeLevel(out, level, (share) => progress?.(k ? 0.75 + 0.25 * share : 0.75 * share));
      const kind: Value = { tag: 254, type: 4, values: [k ? 1 : 0] };
      const all: Value[] = [kind, ...entriesOf(level), ...tiles, ...place];
      directories.push(all.sort((x, y) => x.tag - y.tag));
      if (Math.max(level.columns, level.rows) <= SMALLEST) break;
      level = halved(level);
    }
    const first = out.bytes;
    let at = first;
    for (const [k, entries] of directories.entries()) {
      const next = at + directorySize(entries);
      await out.write(directory(entries, at, k + 1 < directories.length ? next : 0));
      at = next;
    }
    const head = new Uint8Array(8);
    const view = new DataView(head.buffer);
    view.setUint16(0, 0x4949);
    view.setUint16(2, 42, true);
    view.setUint32(4, first, true);
    await out.writeAt(head, 0);
  });
}

const entriesOf = ({ columns, rows }: Level): Value[] => [
  { tag: 256, type: 4, values: [columns] },
  { tag: 257, type: 4, values: [rows] },
  { tag: 258, type: 3, values: [8, 8, 8, 8] },
  { tag: 259, type: 3, values: [8] },
  { tag: 262, type: 3, values: [2] },
  { tag: 277, type: 3, values: [4] },
  { tag: 284, type: 3, values: [1] },
  { tag: 317, type: 3, values: [2] },
  { tag: 322, type: 3, values: [TILE] },
  { tag: 323, type: 3, values: [TILE] },
  { tag: 338, type: 3, values: [2] },
];

/** Writes the tiles of a level, some at a time. */
async function writeLevel(out: OutputFile, level: Level, progress: (share: number) => void): Promise<Value[]> {
  const across = Math.ceil(level.columns / TILE);
  const down = Math.ceil(level.rows / TILE);
  const offsets: number[] = [];
  const lengths: number[] = [];
  for (let ty = 0; ty < down; ty++) {
    const row = await Promise.all(
      Array.from({ length: across }, (_, tx) => compress(tileOf(level, tx, ty), { level: 4 })),
    );
    for (const bytes of row) {
      offsets.push(out.bytes);
      lengths.push(bytes.length);
      await out.write(bytes);
      if (out.bytes % 2) await out.write(new Uint8Array(1));
    }
    progress((ty + 1) / down);
  }
  return [
    { tag: 324, type: 4, values: offsets },
    { tag: 325, type: 4, values: lengths },
  ];
}

/** A tile, each value less the one to its left. */
function tileOf({ columns, rows, rgba }: Level, tx: number, ty: number): Uint8Array {
  const tile = new Uint8Array(4 * TILE * TILE);
  const wide = Math.min(TILE, columns - tx * TILE);
  for (let r = 0; r < Math.min(TILE, rows - ty * TILE); r++) {
    const from = 4 * ((ty * TILE + r) * columns + tx * TILE);
    const to = 4 * TILE * r;
    tile.set(rgba.subarray(from, from + 4 * wide), to);
    for (let k = to + 4 * TILE - 1; k >= to + 4; k--) tile[k] -= tile[k - 4];
  }
  return tile;
}

/** The mean of four cells each, of those that are not empty. */
function halved({ columns, rows, rgba }: Level): Level {
  const out = { columns: Math.ceil(columns / 2), rows: Math.ceil(rows / 2) };
  const half = new Uint8Array(4 * out.columns * out.rows);
  for (let r = 0; r < out.rows; r++)
    for (let c = 0; c < out.columns; c++) {
      let n = 0;
      let red = 0;
      let green = 0;
      let blue = 0;
      for (let y = 2 * r; y < Math.min(rows, 2 * r + 2); y++)
        for (let x = 2 * c; x < Math.min(columns, 2 * c + 2); x++) {
          const k = 4 * (y * columns + x);
          if (!rgba[k + 3]) continue;
          n++;
          red += rgba[k];
          green += rgba[k + 1];
          blue += rgba[k + 2];
        }
      if (!n) continue;
      const to = 4 * (r * out.columns + c);
      half[to] = red / n + 0.5;
      half[to + 1] = green / n + 0.5;
      half[to + 2] = blue / n + 0.5;
      half[to + 3] = 255;
    }
  return { ...out, rgba: half };
}
