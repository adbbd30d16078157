import { inflateSync } from 'node:zlib';
import { Problem } from '@longheron/core/shared';
import { geoKeys, tagNumber, TAG_BYTES } from './tags';

/** One band of a raster file, and where it lies. */
export interface TiffRaster {
  columns: number;
  rows: number;
  /** Row after row from the top, NaN where the file says there is nothing. */
  values: Float32Array;
  /** Step of a column and of a row in the units of the file's system, both positive. */
  stepX: number;
  stepY: number;
  /** Centre of the upper left value. */
  left: number;
  top: number;
  /** Whether its coordinates are degrees of latitude and longitude. */
  geographic: boolean;
  /** Items of the metadata by name, as the open geodetic grid convention writes them; of a band as `name 0`, `name 1`. */
  items: Map<string, string>;
  /** All bands, the first one among them. */
  bands: Float32Array[];
}

/** Values of a small grid, and so many a byte at the very most beyond it: heights that change take more. */
const [SMALL_GRID_VALUES, MAX_VALUES_A_BYTE] = [4_000_000, 16];
const MAX_VALUES = 200_000_000;
const MAX_TILE_EDGE = 1 << 16;
const MAX_METADATA = 20_000;
const MAX_BANDS = 16;
const TAG = {
  width: 256,
  height: 257,
  bits: 258,
  compression: 259,
  stripOffsets: 273,
  samples: 277,
  rowsPerStrip: 278,
  stripBytes: 279,
  planar: 284,
  predictor: 317,
  tileWidth: 322,
  tileHeight: 323,
  tileOffsets: 324,
  tileBytes: 325,
  format: 339,
  scale: 33550,
  tie: 33922,
  keys: 34735,
  noData: 42113,
  metadata: 42112,
};
const DEFLATE = [8, 32946];

/**
 * Reads a GeoTIFF of one band (TIFF 6.0, GeoTIFF 1.1): floating point or whole numbers, in strips or tiles, plain or
 * deflated, with or without predictor. @throws Problem naming what cannot be read.
 */
export const readTiff = (bytes: Uint8Array, file: string): TiffRaster => readAll(bytes, file, true)[0];

/**
 * Reads every grid of a GeoTIFF with all bands, beside each other or apart: finer grids stand in directories of their own,
 * as the open geodetic grid convention has it. @throws Problem naming what cannot be read.
 */
export const readTiffs = (bytes: Uint8Array, file: string): TiffRaster[] => readAll(bytes, file, false);

/** More grids in one file than this are none that is meant. */
const MAX_DIRECTORIES = 2000;

function readAll(bytes: Uint8Array, file: string, single: boolean): TiffRaster[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const refuse = (text: string, place: string, remedy = 'Write it as a plain GeoTIFF with one band of numbers.') =>
    new Problem(text, { code: 'tiff', file, place, remedy });
  const little = bytes[0] === 0x49;
  if (view.byteLength < 8 || view.getUint16(2, little) !== 42) throw refuse('This is no TIFF file.', 'byte 0');
  try {
    const out: TiffRaster[] = [];
    for (let at = view.getUint32(4, little); at;) {
      const { tags, next } = directory(view, at, little, refuse);
      out.push(decode(bytes, tags, little, single, refuse));
      if (out.length > MAX_DIRECTORIES) throw refuse('Its directories have no end.', `byte ${at}`);
      // each lies behind the one before, or the chain would turn in a circle
      at = single || next <= at ? 0 : next;
    }
    return out;
  } catch (error) {
    if (error instanceof RangeError)
      throw refuse(
        'The file ends before its data do.',
        'end of file',
        'It was cut off: copy it again from its origin.',
      );
    throw error;
  }
}

type Refuse = (text: string, place: string, remedy?: string) => Problem;

function decode(
  bytes: Uint8Array,
  tags: Map<number, number[]>,
  little: boolean,
  single: boolean,
  refuse: Refuse,
): TiffRaster {
  const one = (tag: number, missing?: number) => {
    const v = tags.get(tag)?.[0] ?? missing;
    if (v === undefined) throw refuse(`Tag ${tag} is missing.`, 'first directory');
    return v;
  };
  const [columns, rows] = [one(TAG.width), one(TAG.height)];
  if (!(columns > 1 && rows > 1 && columns * rows <= MAX_VALUES))
    throw refuse(`It holds ${columns} by ${rows} values.`, 'first directory');
  if (columns * rows > Math.max(SMALL_GRID_VALUES, MAX_VALUES_A_BYTE * bytes.length))
    throw refuse(
      `It declares ${columns} by ${rows} values, more than a file of ${bytes.length} bytes can hold.`,
      'first directory',
      'It was cut off or damaged: copy it again from its origin.',
    );
  const bits = one(TAG.bits, 8);
  const format = one(TAG.format, 1);
  const compression = one(TAG.compression, 1);
  const samples = one(TAG.samples, 1);
  const predictor = one(TAG.predictor, 1);
  const read = reader(bits, format);
  if (!read) throw refuse(`Its values are of ${bits} bits in format ${format}.`, 'first directory');
  if (compression !== 1 && !DEFLATE.includes(compression))
    throw refuse(
      `Its compression (${compression}) is not read here.`,
      'first directory',
      'Write it plain or deflated.',
    );
  if (samples < 1 || samples > MAX_BANDS || (single && samples !== 1))
    throw refuse(`It has ${samples} bands.`, 'first directory');
  // bands of a value beside each other, or each band in blocks of its own
  const together = one(TAG.planar, 1) === 1 ? samples : 1;
  const tiled = tags.has(TAG.tileOffsets);
  const width = tiled ? one(TAG.tileWidth) : columns;
  const height = tiled ? one(TAG.tileHeight) : Math.min(rows, one(TAG.rowsPerStrip, rows));
  const offsets = tags.get(tiled ? TAG.tileOffsets : TAG.stripOffsets) ?? [];
  const lengths = tags.get(tiled ? TAG.tileBytes : TAG.stripBytes) ?? [];
  if (!(width > 0 && height > 0 && width <= MAX_TILE_EDGE && height <= MAX_TILE_EDGE))
    throw refuse(`Its tiles are ${width} by ${height} values.`, 'first directory');
  const across = Math.ceil(columns / width);
  const ofBand = across * Math.ceil(rows / height);
  const blocks = (ofBand * samples) / together;
  if (offsets.length !== blocks || lengths.length !== blocks)
    throw refuse(
      `It has ${offsets.length} blocks with ${lengths.length} lengths, ${blocks} are needed.`,
      'first directory',
    );
  // each block has its own bytes
  if (lengths.reduce((sum, n) => sum + n, 0) > bytes.length)
    throw refuse(
      'Its blocks share their bytes: together they are longer than the file.',
      'tags 279 and 325',
      'Ask for the file again.',
    );
  const size = bits / 8;
  const bands = Array.from({ length: samples }, () => new Float32Array(columns * rows).fill(Number.NaN));
  const empty = tags.get(TAG.noData);
  const noData = empty ? Number(String.fromCharCode(...empty).replaceAll('\0', '')) : Number.NaN;
  offsets.forEach((offset, k) => {
    if (offset + lengths[k] > bytes.length) throw new RangeError('block');
    const raw = bytes.subarray(offset, offset + lengths[k]);
    const wide = width * together;
    const most = wide * height * size;
    const plain = compression === 1 ? Uint8Array.from(raw) : inflated(raw, most, k, refuse);
    const [block, first] = [k % ofBand, Math.floor(k / ofBand)];
    const [x0, y0] = [(block % across) * width, Math.floor(block / across) * height];
    const filled = Math.min(height, Math.floor(plain.length / (wide * size)));
    for (let y = 0; y < filled && y0 + y < rows; y++) {
      const row = plain.subarray(y * wide * size, (y + 1) * wide * size);
      const real = undo(row, wide, size, predictor, together, little);
      const cells = new DataView(real.buffer, real.byteOffset, real.byteLength);
      for (let x = 0; x < width && x0 + x < columns; x++)
        for (let b = 0; b < together; b++) {
          const v = read(cells, (x * together + b) * size, predictor === 3 ? false : little);
          if (v !== noData) bands[first + b][(y0 + y) * columns + x0 + x] = v;
        }
    }
  });
  const scale = tags.get(TAG.scale);
  const tie = tags.get(TAG.tie);
  if (!scale || !tie || tie.length < 6) throw refuse('It does not say where it lies.', 'tags 33550 and 33922');
  const keys = geoKeys(tags.get(TAG.keys));
  // a value belongs to its cell's centre unless the file says that it stands on the corner
  const half = keys.get(1025) === 2 ? 0 : 0.5;
  return {
    columns,
    rows,
    values: bands[0],
    bands,
    stepX: scale[0],
    stepY: scale[1],
    geographic: keys.get(1024) === 2,
    items: itemsOf(tags.get(TAG.metadata)),
    left: tie[3] + (half - tie[0]) * scale[0],
    top: tie[4] - (half - tie[1]) * scale[1],
  };
}

/** `<Item name="interpolation_method">biquadratic</Item>` and the like; `sample="1"` says of which band it is. */
function itemsOf(codes: number[] | undefined): Map<string, string> {
  const text = codes ? String.fromCharCode(...codes.slice(0, MAX_METADATA)) : '';
  const found = [...text.matchAll(/<Item name="([^"]+)"([^>]*)>([^<]*)<\/Item>/g)];
  return new Map(
    found.map(([, name, more, value]) => {
      const band = /sample="(\d+)"/.exec(more)?.[1];
      return [band === undefined ? name : `${name} ${band}`, value.trim()];
    }),
  );
}

function inflated(raw: Uint8Array, maxBytes: number, block: number, refuse: Refuse): Uint8Array {
  try {
    return Uint8Array.from(inflateSync(raw, { maxOutputLength: maxBytes }));
  } catch {
    throw refuse(
      `Block ${block + 1} cannot be unpacked.`,
      `block ${block + 1}`,
      'The file was damaged on its way: copy it again from its origin.',
    );
  }
}

function directory(
  view: DataView,
  at: number,
  little: boolean,
  refuse: Refuse,
): { tags: Map<number, number[]>; next: number } {
  const count = view.getUint16(at, little);
  const tags = new Map<number, number[]>();
  for (let k = 0; k < count; k++) {
    const e = at + 2 + 12 * k;
    const [tag, type, n] = [view.getUint16(e, little), view.getUint16(e + 2, little), view.getUint32(e + 4, little)];
    const size = TAG_BYTES[type];
    if (!size) continue;
    if (n > 10_000_000) throw refuse(`Tag ${tag} has ${n} values.`, 'first directory');
    const from = n * size <= 4 ? e + 8 : view.getUint32(e + 8, little);
    tags.set(
      tag,
      Array.from({ length: n }, (_, i) => tagNumber(view, from + i * size, type, little)),
    );
  }
  return { tags, next: view.getUint32(at + 2 + 12 * count, little) };
}

function reader(bits: number, format: number) {
  const of =
    (name: 'getFloat32' | 'getFloat64' | 'getInt16' | 'getUint16' | 'getInt32') =>
    (v: DataView, at: number, little: boolean) =>
      v[name](at, little);
  if (format === 3) return bits === 32 ? of('getFloat32') : bits === 64 ? of('getFloat64') : undefined;
  if (format === 2) return bits === 16 ? of('getInt16') : bits === 32 ? of('getInt32') : undefined;
  return bits === 16 ? of('getUint16') : undefined;
}

/**
 * Undoes the predictor of a row: 2 differences of whole numbers, 3 differences of bytes by their rank; each against the
 * same band of the value before.
 */
function undo(
  row: Uint8Array,
  wide: number,
  size: number,
  predictor: number,
  bands: number,
  little: boolean,
): Uint8Array {
  if (predictor === 3) {
    for (let i = bands; i < row.length; i++) row[i] = (row[i] + row[i - bands]) & 255;
    const out = new Uint8Array(row.length);
    for (let x = 0; x < wide; x++) for (let b = 0; b < size; b++) out[x * size + b] = row[b * wide + x];
    return out;
  }
  if (predictor !== 2) return row;
  const view = new DataView(row.buffer, row.byteOffset, row.byteLength);
  for (let x = bands; x < wide; x++) {
    const [at, before] = [size * x, size * (x - bands)];
    if (size === 2) view.setUint16(at, view.getUint16(at, little) + view.getUint16(before, little), little);
    else if (size === 4) view.setUint32(at, view.getUint32(at, little) + view.getUint32(before, little), little);
  }
  return row;
}
