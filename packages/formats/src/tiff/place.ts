import { type GridName } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { type ByteSource } from '../bytes';
import { systemFileNamed } from '../crs/named';
import { geoKeys, tagNumber, TAG_BYTES } from './tags';

/** What the tags of a TIFF say of its picture and of where that lies; its cells are not read. */
export interface TiffPlace {
  columns: number;
  rows: number;
  bands: number;
  bits: number;
  /** 1 whole, 2 signed, 3 floating point. */
  format: number;
  /** Edge of a cell and the outer edges of the picture, in the units of the file's system; absent without a place. */
  at?: { stepX: number; stepY: number; west: number; north: number };
  /** Code of a projected system; null when none is named. */
  horizontal: number | null;
  /** Code of the system of heights; null when none is named. */
  vertical: number | null;
  /** The file that defines the system, where its citation names one. */
  file?: GridName;
  geographic: boolean;
  noData: number | null;
  /** What its metadata say. */
  about: string;
}

const MAX_TAG_VALUES = 4096;
/** Bytes of a small picture, unpacked, and so many a byte of the file beyond it: large ones are not of one colour. */
const [SMALL_PICTURE_BYTES, MAX_EXPANSION] = [256e6, 500];
const WANTED = new Set([256, 257, 258, 277, 339, 33550, 33922, 34264, 34735, 34737, 42112, 42113]);

/** @throws Problem when it is no TIFF, a big one (more than 4 GB), turned, or cut off. */
export async function readTiffPlace(source: ByteSource): Promise<TiffPlace> {
  const refuse = (text: string, place: string, remedy: string) =>
    new Problem(text, { code: 'tiff', file: source.name, place, remedy });
  const head = await source.read(0, Math.min(8, source.size));
  const little = head[0] === 0x49;
  const version = head.length === 8 ? new DataView(head.buffer, head.byteOffset).getUint16(2, little) : 0;
  if (version === 43)
    throw refuse(
      'This is a BigTIFF, which is not read here.',
      'byte 2',
      'Write it as a TIFF of less than 4 GB, or in tiles.',
    );
  if (version !== 42) throw refuse('This is no TIFF file.', 'byte 0', 'Choose a GeoTIFF.');
  const tags = await directory(source, new DataView(head.buffer, head.byteOffset).getUint32(4, little), little);
  const one = (tag: number, missing?: number): number => {
    const v = tags.get(tag)?.[0] ?? missing;
    if (v === undefined) throw refuse(`Tag ${tag} is missing.`, 'first directory', 'Write the file anew.');
    return v;
  };
  const [columns, rows, bands, bits] = [one(256), one(257), one(277, 1), one(258, 1)];
  if ((columns * rows * bands * bits) / 8 > Math.max(SMALL_PICTURE_BYTES, MAX_EXPANSION * source.size))
    throw refuse(
      `It declares ${columns} by ${rows} cells, more than a file of ${source.size} bytes can hold.`,
      'first directory',
      'It was cut off or damaged: copy it again from its origin.',
    );
  const keys = geoKeys(tags.get(34735));
  const code = keys.get(3072) ?? 0;
  const empty = tags.get(42113);
  const noData = empty
    ? Number(
        String.fromCharCode(...empty)
          .replaceAll('\0', '')
          .trim(),
      )
    : Number.NaN;
  return {
    columns,
    rows,
    bands,
    bits,
    format: one(339, 1),
    ...place(tags, keys.get(1025) === 2, refuse),
    horizontal: known(code),
    vertical: known(keys.get(4096) ?? 0),
    file: systemFileNamed(String.fromCharCode(...(tags.get(34737) ?? []))),
    geographic: keys.get(1024) === 2,
    noData: Number.isFinite(noData) ? noData : null,
    about: String.fromCharCode(...(tags.get(42112) ?? [])),
  };
}

const known = (code: number) => (code > 0 && code < 32767 ? code : null);

type Refuse = (text: string, place: string, remedy: string) => Problem;

function place(tags: Map<number, number[]>, onPoint: boolean, refuse: Refuse): Pick<TiffPlace, 'at'> {
  const [scale, tie, matrix] = [tags.get(33550), tags.get(33922), tags.get(34264)];
  // a value that stands on its corner has its cell around it
  const half = onPoint ? 0.5 : 0;
  if (matrix && matrix.length >= 8) {
    if (matrix[1] !== 0 || matrix[4] !== 0 || !(matrix[0] > 0) || !(matrix[5] < 0))
      throw refuse('The picture is turned against its system.', 'tag 34264', 'Write it north up.');
    const [stepX, stepY] = [matrix[0], -matrix[5]];
    return { at: { stepX, stepY, west: matrix[3] - half * stepX, north: matrix[7] + half * stepY } };
  }
  if (!scale || !tie || tie.length < 6) return {};
  const [stepX, stepY] = scale;
  if (!(stepX > 0 && stepY > 0)) throw refuse('Its cells have no size.', 'tag 33550', 'Write the file anew.');
  return {
    at: { stepX, stepY, west: tie[3] - (tie[0] + half) * stepX, north: tie[4] + (tie[1] + half) * stepY },
  };
}

async function directory(source: ByteSource, at: number, little: boolean): Promise<Map<number, number[]>> {
  const view = (b: Uint8Array) => new DataView(b.buffer, b.byteOffset, b.byteLength);
  const count = view(await source.read(at, 2)).getUint16(0, little);
  const entries = view(await source.read(at + 2, 12 * count));
  const out = new Map<number, number[]>();
  for (let e = 0; e < 12 * count; e += 12) {
    const [tag, type, n] = [
      entries.getUint16(e, little),
      entries.getUint16(e + 2, little),
      entries.getUint32(e + 4, little),
    ];
    const size = TAG_BYTES[type];
    if (!WANTED.has(tag) || !size || n > MAX_TAG_VALUES) continue;
    const bytes = n * size;
    const values =
      bytes <= 4
        ? new DataView(entries.buffer, entries.byteOffset + e + 8, 4)
        : view(await source.read(entries.getUint32(e + 8, little), bytes));
    out.set(
      tag,
      Array.from({ length: n }, (_, i) => tagNumber(values, i * size, type, little)),
    );
  }
  return out;
}

/** Whether a file begins as a TIFF does, in either order of bytes. */
export const isTiff = (head: Uint8Array) =>
  (head[0] === 0x49 && head[1] === 0x49 && head[2] === 42) || (head[0] === 0x4d && head[1] === 0x4d && head[3] === 42);

/** One band in latitude and longitude is a geoid; all else is a picture. */
export const isGeoidTiff = (place: TiffPlace) => place.geographic && place.bands === 1;

/** Two bands or more in latitude and longitude that say they are offsets of them: a grid of datum shifts. */
export const isShiftTiff = ({ geographic, bands, about }: TiffPlace) =>
  geographic && bands >= 2 && /HORIZONTAL_OFFSET|latitude_offset/.test(about);
