import ExifReader from 'exifreader';

/** Where a photograph says that it was taken. */
export interface ExifPlace {
  latDeg: number;
  lonDeg: number;
  /** Above sea level as the receiver has it, metres; undefined where it is not written. */
  altitudeM?: number;
  /** How good it says that its place is, metres. */
  errorM?: number;
}

/** What a photograph's file tells of itself. */
export interface ExifFacts {
  /** Camera's clock as seconds from 1970, as if it showed UTC; NaN when not written. */
  takenS: number;
  /** How far that clock's zone is ahead of UTC, hours; undefined where it is not written. */
  zoneH?: number;
  camera: string;
  serial: string;
  lens: string;
  lensSerial: string;
  /** Focal length, mm; and in pixels where sensor or the equivalent for 36 × 24 mm say it. */
  focalMm?: number;
  focalPx?: number;
  /** Size of the picture as its frame states it, pixels. */
  widthPx?: number;
  heightPx?: number;
  /** How it is to be turned to be looked at, 1 to 8; 1 is as it stands. */
  orientation: number;
  place?: ExifPlace;
}

const WANTED = [
  'Model',
  'DateTimeOriginal',
  'SubSecTimeOriginal',
  'OffsetTimeOriginal',
  'BodySerialNumber',
  'LensModel',
  'LensSerialNumber',
  'FocalLength',
  'FocalLengthIn35mmFilm',
  'FocalPlaneXResolution',
  'FocalPlaneResolutionUnit',
  'Orientation',
  'GPSLatitude',
  'GPSLatitudeRef',
  'GPSLongitude',
  'GPSLongitudeRef',
  'GPSAltitude',
  'GPSAltitudeRef',
  'GPSHPositioningError',
] as const;

/** What the reader gives for a value that lies past the end. */
const FAULTY = '<faulty value>';
/** A frame of 36 × 24 mm across its corners, millimetres. */
const DIAGONAL_MM = Math.hypot(36, 24);
/** Millimetres of units of resolution: inch and centimetre by the standard. */
const UNIT_MM: { readonly [unit: number]: number } = { 2: 25.4, 3: 10, 4: 1, 5: 0.001 };
/** Focal lengths that a lens may have, mm, and in widths of its picture. */
const MOST_FOCAL_MM = 5000;
const FOCAL_WIDTHS: readonly [number, number] = [0.1, 100];

/** Text of a tag; '' when it is not written. */
const text = (tag: { value?: unknown } | undefined) => {
  const value = Array.isArray(tag?.value) ? tag.value[0] : tag?.value;
  return typeof value === 'string' ? value.replaceAll('\0', '').trim() : '';
};
/** A number, or a ratio; NaN when it is not written or nonsense. */
const number = (tag: { value?: unknown } | undefined): number => {
  const value: unknown = tag?.value;
  if (typeof value === 'number') return value;
  if (!Array.isArray(value)) return Number.NaN;
  const [a, b] = value as unknown[];
  return typeof a !== 'number' ? Number.NaN : typeof b === 'number' ? a / b : a;
};
const sound = (v: number, most = Infinity) => (Number.isFinite(v) && v > 0 && v <= most ? v : undefined);

/**
 * Reads time, camera, lens, size and place from a JPEG (EXIF 2.32, JEITA CP-3451X). What is nonsense counts as not written.
 * @param bytes the file, or its first 128 kB. @returns undefined when there is no EXIF block to be read.
 */
export function readExif(bytes: Uint8Array): ExifFacts | undefined {
  let tags: ExifReader.Tags;
  try {
    tags = ExifReader.load(Uint8Array.from(bytes).buffer, {
      includeTags: { exif: [...WANTED], file: ['Image Width', 'Image Height'] },
    });
  } catch {
    // of another kind, cut off or damaged: the reader tells them apart by words only
    return undefined;
  }
  const given = WANTED.filter((name) => tags[name]).map((name) => text(tags[name]));
  if (given.length === 0 || given.includes(FAULTY)) return undefined;
  const widthPx = sound(number(tags['Image Width']));
  const heightPx = sound(number(tags['Image Height']));
  const orientation = number(tags.Orientation);
  return {
    takenS: secondsOf(text(tags.DateTimeOriginal), text(tags.SubSecTimeOriginal)),
    zoneH: zoneOf(text(tags.OffsetTimeOriginal)),
    camera: text(tags.Model),
    serial: text(tags.BodySerialNumber),
    lens: text(tags.LensModel),
    lensSerial: text(tags.LensSerialNumber),
    focalMm: sound(number(tags.FocalLength), MOST_FOCAL_MM),
    focalPx: focalPxOf(tags, widthPx, heightPx),
    widthPx,
    heightPx,
    orientation: orientation >= 1 && orientation <= 8 ? orientation : 1,
    place: placeOf(tags),
  };
}

/** Focal length in pixels: by the sensor's pixels to the unit, else by the equivalent of a frame of 36 × 24 mm. */
function focalPxOf(tags: ExifReader.Tags, widthPx?: number, heightPx?: number): number | undefined {
  if (!widthPx || !heightPx) return undefined;
  const mm = number(tags.FocalLength);
  const unit = UNIT_MM[number(tags.FocalPlaneResolutionUnit) || 2];
  const bySensor = (mm * number(tags.FocalPlaneXResolution)) / unit;
  const byFrame = (number(tags.FocalLengthIn35mmFilm) / DIAGONAL_MM) * Math.hypot(widthPx, heightPx);
  return [bySensor, byFrame].find((f) => f > FOCAL_WIDTHS[0] * widthPx && f < FOCAL_WIDTHS[1] * widthPx);
}

function placeOf(tags: ExifReader.Tags): ExifPlace | undefined {
  const angle = (tag: { value?: unknown } | undefined, ref: string, negative: string, most: number) => {
    const parts: unknown = tag?.value;
    if (!Array.isArray(parts)) return Number.NaN;
    const [d, m, s] = (parts as unknown[]).map((p) => (Array.isArray(p) ? Number(p[0]) / Number(p[1]) : Number(p)));
    const deg = d + (m || 0) / 60 + (s || 0) / 3600;
    return deg >= 0 && deg <= most ? (ref.toUpperCase().startsWith(negative) ? -deg : deg) : Number.NaN;
  };
  const latDeg = angle(tags.GPSLatitude, text(tags.GPSLatitudeRef), 'S', 90);
  const lonDeg = angle(tags.GPSLongitude, text(tags.GPSLongitudeRef), 'W', 180);
  // receivers without a fix write nought and nought
  if (!Number.isFinite(latDeg + lonDeg) || (latDeg === 0 && lonDeg === 0)) return undefined;
  const altitude = number(tags.GPSAltitude) * (number(tags.GPSAltitudeRef) === 1 ? -1 : 1);
  const errorM = sound(number(tags.GPSHPositioningError));
  return {
    latDeg,
    lonDeg,
    ...(Math.abs(altitude) < 20_000 ? { altitudeM: altitude } : {}),
    ...(errorM ? { errorM } : {}),
  };
}

/** `+02:00`, hours ahead of UTC. */
function zoneOf(text: string): number | undefined {
  if (text === 'Z') return 0;
  const m = /^([+-])(\d\d):?(\d\d)$/.exec(text);
  return m ? (m[1] === '-' ? -1 : 1) * (Number(m[2]) + Number(m[3]) / 60) : undefined;
}

/** `2026:06:16 09:02:11` and the digits after the second. */
function secondsOf(text: string, fraction: string): number {
  const m = /^(\d{4}):(\d\d):(\d\d) (\d\d):(\d\d):(\d\d)/.exec(text);
  if (!m) return Number.NaN;
  const [year, month, day, hour, minute, second] = m.slice(1).map(Number);
  const whole = Date.UTC(year, month - 1, day, hour, minute, second) / 1000;
  return /^\d+$/.test(fraction) ? whole + Number(`0.${fraction}`) : whole;
}
