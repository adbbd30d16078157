import { cellsForTiles, planTiles, TILE_LEVELS, tilesAt, type Tile, type TilePlan } from '@longheron/core/cloud';
import { part, Problem, type Watch } from '@longheron/core/shared';
import { PieceWriter, type LasFile } from '@longheron/formats/las';

/** How many files are written at once; more than this takes another pass over the cloud. */
const AT_ONCE = 48;
const MAX_PIECES = 5000;

/** A piece of a cloud in a file of its own. */
export interface WrittenPiece {
  name: string;
  path: string;
  /** Points of the piece itself, and those of its neighbours within the buffer. */
  own: number;
  neighbours: number;
  /** Bounds of a tile, in the units of the file. */
  bounds?: { west: number; south: number; east: number; north: number };
  /** Names of the tiles that touch it. */
  touching?: string[];
}

export interface TileSettings {
  /** Lengths in the units of the file. */
  edge: number;
  buffer: number;
  cap: number;
}

interface Pieces {
  names: string[];
  /** Pieces a record belongs to, its own first. */
  of(view: DataView, at: number, out: number[]): number[];
}

async function write(
  file: LasFile,
  keep: Uint8Array,
  pieces: Pieces,
  pathOf: (name: string) => string,
  compress: boolean,
  watch: Watch | undefined,
): Promise<WrittenPiece[]> {
  if (pieces.names.length > MAX_PIECES)
    throw new Problem(`That would make ${pieces.names.length} files.`, {
      code: 'pieces-many',
      file: file.source.name,
      remedy: 'Choose larger tiles.',
    });
  const out: WrittenPiece[] = [];
  const passes = Math.ceil(pieces.names.length / AT_ONCE);
  for (let pass = 0; pass < passes; pass++) {
    const first = pass * AT_ONCE;
    const names = pieces.names.slice(first, first + AT_ONCE);
    const paths = names.map(pathOf);
    const writer = await PieceWriter.create(file, paths, compress);
    const own = new Float64Array(names.length);
    try {
      const { pointBytes: step } = file.header;
      const found: number[] = [];
      const said = part(
        watch,
        pass / passes,
        (pass + 1) / passes,
        `Writing files ${first + 1} to ${first + names.length}`,
      );
      for await (const batch of file.records(said)) {
        const view = new DataView(batch.bytes.buffer, batch.bytes.byteOffset, batch.bytes.byteLength);
        for (let i = 0; i < batch.count; i++) {
          if (!keep[batch.first + i]) continue;
          const o = i * step;
          pieces.of(view, o, found);
          for (let k = 0; k < found.length; k++) {
            const p = found[k] - first;
            if (p < 0 || p >= names.length) continue;
            if (k === 0) own[p]++;
            if (writer.put(p, batch.bytes, o, k > 0)) await writer.flush(p);
          }
        }
      }
      const counts = await writer.finish();
      names.forEach((name, k) => out.push({ name, path: paths[k], own: own[k], neighbours: counts[k] - own[k] }));
    } catch (error) {
      await writer.discard();
      throw error;
    }
  }
  return out;
}

/** Writes each strip (point source) to a file of its own. */
export async function writeStrips(
  file: LasFile,
  keep: Uint8Array,
  pathOf: (name: string) => string,
  compress: boolean,
  watch?: Watch,
): Promise<WrittenPiece[]> {
  const at = file.header.pointFormat >= 6 ? 20 : 18;
  const { pointBytes: step } = file.header;
  const there = new Set<number>();
  for await (const batch of file.records(part(watch, 0, 0.3, 'Counting strips'))) {
    const view = new DataView(batch.bytes.buffer, batch.bytes.byteOffset, batch.bytes.byteLength);
    for (let i = 0; i < batch.count; i++) if (keep[batch.first + i]) there.add(view.getUint16(i * step + at, true));
  }
  const ids = [...there].sort((a, b) => a - b);
  const index = new Map(ids.map((id, k) => [id, k]));
  const pieces: Pieces = {
    names: ids.map((id) => `strip_${id}`),
    of(view, o, out) {
      out.length = 0;
      out.push(index.get(view.getUint16(o + at, true))!);
      return out;
    },
  };
  return write(file, keep, pieces, pathOf, compress, part(watch, 0.3, 1));
}

/** Writes a cloud as square tiles under a cap of points; see `planTiles`. */
export async function writeTiles(
  file: LasFile,
  keep: Uint8Array,
  { edge, buffer, cap }: TileSettings,
  pathOf: (name: string) => string,
  compress: boolean,
  watch?: Watch,
): Promise<{ pieces: WrittenPiece[]; plan: TilePlan }> {
  const { header } = file;
  const place = (view: DataView, o: number, k: number) =>
    view.getInt32(o + 4 * k, true) * header.scale[k] + header.offset[k];
  // the extent in the header may lie
  const lo = [Infinity, Infinity];
  const hi = [-Infinity, -Infinity];
  for await (const batch of file.records(part(watch, 0, 0.15, 'Measuring'))) {
    const view = new DataView(batch.bytes.buffer, batch.bytes.byteOffset, batch.bytes.byteLength);
    for (let i = 0; i < batch.count; i++) {
      if (!keep[batch.first + i]) continue;
      for (let k = 0; k < 2; k++) {
        const v = place(view, i * header.pointBytes, k);
        if (v < lo[k]) lo[k] = v;
        if (v > hi[k]) hi[k] = v;
      }
    }
  }
  if (!(hi[0] >= lo[0]))
    throw new Problem('No point is left to write.', {
      code: 'las-empty',
      file: file.source.name,
      remedy: 'Choose more classes or strips.',
    });
  const cells = cellsForTiles(edge, { west: lo[0], south: lo[1], east: hi[0], north: hi[1] });
  if (cells.columns * cells.rows > 50e6)
    throw new Problem(
      `Tiles of this size would divide ${Math.ceil(hi[0] - lo[0])} by ${Math.ceil(hi[1] - lo[1])} units into ${(cells.columns * cells.rows) / 4 ** TILE_LEVELS} squares.`,
      {
        code: 'pieces-many',
        file: file.source.name,
        remedy: 'Choose larger tiles, or cut far noise points off first.',
      },
    );
  const counts = new Float64Array(cells.columns * cells.rows);
  for await (const batch of file.records(part(watch, 0.15, 0.3, 'Counting'))) {
    const view = new DataView(batch.bytes.buffer, batch.bytes.byteOffset, batch.bytes.byteLength);
    for (let i = 0; i < batch.count; i++) {
      if (!keep[batch.first + i]) continue;
      const c = Math.floor((place(view, i * header.pointBytes, 0) - cells.west) / cells.cell);
      const r = Math.floor((place(view, i * header.pointBytes, 1) - cells.south) / cells.cell);
      counts[r * cells.columns + c]++;
    }
  }
  const plan = planTiles({ ...cells, counts }, edge, buffer, cap);
  const pieces: Pieces = {
    names: plan.tiles.map((t) => t.name),
    of: (view, o, out) => tilesAt(plan, cells, buffer, place(view, o, 0), place(view, o, 1), out),
  };
  const written = await write(file, keep, pieces, pathOf, compress, part(watch, 0.3, 1));
  written.forEach((w, k) => {
    const t = plan.tiles[k];
    w.bounds = { west: t.west, south: t.south, east: t.west + t.edge, north: t.south + t.edge };
    w.touching = plan.tiles.filter((u) => u !== t && touches(t, u)).map((u) => u.name);
  });
  return { pieces: written, plan };
}

const touches = (a: Tile, b: Tile) =>
  a.west <= b.west + b.edge && b.west <= a.west + a.edge && a.south <= b.south + b.edge && b.south <= a.south + a.edge;

/** The index of tiles as GeoJSON: outline, counts, file and neighbours of each, in the coordinates of the file. */
export function tileIndex(pieces: WrittenPiece[], fileName: (name: string) => string, crs: string): string {
  return JSON.stringify(
    {
      type: 'FeatureCollection',
      crs_label: crs,
      note: 'Coordinates are in the system named, not longitude and latitude. Points whose user data is 1 belong to a neighbour.',
      features: pieces.map((p) => {
        const { west, south, east, north } = p.bounds!;
        return {
          type: 'Feature',
          properties: {
            name: p.name,
            file: fileName(p.name),
            points_own: p.own,
            points_of_neighbours: p.neighbours,
            touching: p.touching,
          },
          geometry: {
            type: 'Polygon',
            coordinates: [
              [
                [west, south],
                [east, south],
                [east, north],
                [west, north],
                [west, south],
              ],
            ],
          },
        };
      }),
    },
    undefined,
    1,
  );
}
