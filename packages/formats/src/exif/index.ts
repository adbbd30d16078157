import { type Photo } from '@longheron/core/trajectory';

/** What a photograph's file tells of itself. */
export interface ExifFacts {
  /** Camera's clock as seconds from 1970, as if it showed UTC; NaN when not written. */
  takenS: number;
  camera: string;
  serial: string;
}

const TAG = { model: 0x0110, exif: 0x8769, taken: 0x9003, fraction: 0x9291, serial: 0xa431 };
const ASCII = 2;
/** A directory of more entries than this is damaged. */
const MOST_ENTRIES = 1000;

/**
 * Reads time, camera and serial number from the EXIF block of a JPEG (EXIF 2.3, JEITA CP-3451C).
 * @param bytes the file, or its first 64 kB. @returns undefined when there is no EXIF block to be read.
 */
export function readExif(bytes: Uint8Array): ExifFacts | undefined {
  if (bytes[0] !== 0xff || bytes[1] !== 0xd8) return undefined;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let at = 2; at + 10 < bytes.length;) {
    if (bytes[at] !== 0xff) return undefined;
    const length = view.getUint16(at + 2);
    const isExif = bytes[at + 1] === 0xe1 && view.getUint32(at + 4) === 0x45786966;
    if (isExif) return directoryFacts(new DataView(bytes.buffer, bytes.byteOffset + at + 10, bytes.length - at - 10));
    // start of scan: no header follows
    if (bytes[at + 1] === 0xda) return undefined;
    at += 2 + length;
  }
  return undefined;
}

function directoryFacts(tiff: DataView): ExifFacts | undefined {
  try {
    const little = tiff.getUint16(0) === 0x4949;
    const first = directory(tiff, tiff.getUint32(4, little), little);
    const inner = first.get(TAG.exif);
    const exif = inner ? directory(tiff, tiff.getUint32(inner + 8, little), little) : new Map<number, number>();
    const text = (at: number | undefined) => (at === undefined ? '' : ascii(tiff, at, little));
    return {
      takenS: secondsOf(text(exif.get(TAG.taken)), text(exif.get(TAG.fraction))),
      camera: text(first.get(TAG.model)),
      serial: text(exif.get(TAG.serial)),
    };
  } catch (error) {
    // pointers past the end: the block is cut off or damaged
    if (error instanceof RangeError) return undefined;
    throw error;
  }
}

/** Places of the entries of a directory by tag. */
function directory(tiff: DataView, at: number, little: boolean): Map<number, number> {
  const count = tiff.getUint16(at, little);
  if (count > MOST_ENTRIES) throw new RangeError('directory');
  const out = new Map<number, number>();
  for (let k = 0; k < count; k++) out.set(tiff.getUint16(at + 2 + 12 * k, little), at + 2 + 12 * k);
  return out;
}

function ascii(tiff: DataView, entry: number, little: boolean): string {
  if (tiff.getUint16(entry + 2, little) !== ASCII) return '';
  const count = Math.min(256, tiff.getUint32(entry + 4, little));
  const from = count <= 4 ? entry + 8 : tiff.getUint32(entry + 8, little);
  let out = '';
  for (let k = 0; k < count; k++) {
    const c = tiff.getUint8(from + k);
    if (c === 0) break;
    out += String.fromCharCode(c);
  }
  return out.trim();
}

/** `2026:06:16 09:02:11` and the digits after the second. */
function secondsOf(text: string, fraction: string): number {
  const m = /^(\d{4}):(\d\d):(\d\d) (\d\d):(\d\d):(\d\d)/.exec(text);
  if (!m) return Number.NaN;
  const [year, month, day, hour, minute, second] = m.slice(1).map(Number);
  const whole = Date.UTC(year, month - 1, day, hour, minute, second) / 1000;
  return /^\d+$/.test(fraction) ? whole + Number(`0.${fraction}`) : whole;
}

/** A list of photographs as CSV, docs/formats/photos.md: made where the photographs are, without sending them. */
export function photoListCsv(photos: readonly Photo[]): string {
  const time = (s: number) => (Number.isFinite(s) ? new Date(1000 * s).toISOString().replace(/Z$/, '') : '');
  const cell = (s: string) => (/[",\n]/.test(s) ? `"${s.replaceAll('"', '""')}"` : s);
  return `name,taken\n${photos.map((p) => `${cell(p.name)},${time(p.takenS)}\n`).join('')}`;
}
