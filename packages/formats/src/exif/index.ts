import ExifReader from 'exifreader';
import { type Photo } from '@longheron/core/trajectory';

/** What a photograph's file tells of itself. */
export interface ExifFacts {
  /** Camera's clock as seconds from 1970, as if it showed UTC; NaN when not written. */
  takenS: number;
  camera: string;
  serial: string;
}

const WANTED = ['Model', 'DateTimeOriginal', 'SubSecTimeOriginal', 'BodySerialNumber'] as const;

/** What the reader gives for a value that lies past the end. */
const FAULTY = '<faulty value>';

/** Text of a tag; '' when it is not written. */
const text = (tag: { value?: unknown } | undefined) => {
  const value = Array.isArray(tag?.value) ? tag.value[0] : tag?.value;
  return typeof value === 'string' ? value.replaceAll('\0', '').trim() : '';
};

/**
 * Reads time, camera and serial number from the EXIF block of a JPEG (EXIF 2.3, JEITA CP-3451C).
 * @param bytes the file, or its first 128 kB. @returns undefined when there is no EXIF block to be read.
 */
export function readExif(bytes: Uint8Array): ExifFacts | undefined {
  let tags: ExifReader.Tags;
  try {
    tags = ExifReader.load(Uint8Array.from(bytes).buffer, { includeTags: { exif: [...WANTED] } });
  } catch {
    // of another kind, cut off or damaged: the reader tells them apart by words only
    return undefined;
  }
  const given = WANTED.filter((name) => tags[name]).map((name) => text(tags[name]));
  if (given.length === 0 || given.includes(FAULTY)) return undefined;
  return {
    takenS: secondsOf(text(tags.DateTimeOriginal), text(tags.SubSecTimeOriginal)),
    camera: text(tags.Model),
    serial: text(tags.BodySerialNumber),
  };
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
