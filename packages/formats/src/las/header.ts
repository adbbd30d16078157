import { Problem } from '@longheron/core/shared';
import { type GridName } from '@longheron/core/frames';
import { type ByteSource } from '../bytes';
import { gridNamed, shiftGridNamed, systemFileNamed } from '../crs';

/** Bytes of a point without extra bytes, by point data record format. */
export const POINT_BYTES = [20, 28, 26, 34, 57, 63, 30, 36, 38, 59, 67] as const;

/**
 * Compressed points a byte at the very most, in files of more than so many: a coder needs a bit for each few values that
 * repeat, and points that repeat in all of theirs are no survey.
 */
export const MAX_PACKED_POINTS_A_BYTE = 20;
const SMALL_FILE_POINTS = 1_000_000;

export interface Vlr {
  userId: string;
  recordId: number;
  description: string;
  data: Uint8Array;
}

export interface LasHeader {
  version: [number, number];
  globalEncoding: number;
  systemIdentifier: string;
  generatingSoftware: string;
  /** Creation day of year and year, 0 when unset. */
  creationDay: number;
  creationYear: number;
  headerBytes: number;
  pointOffset: number;
  vlrCount: number;
  pointFormat: number;
  compressed: boolean;
  pointBytes: number;
  pointCount: number;
  scale: [number, number, number];
  offset: [number, number, number];
  min: [number, number, number];
  max: [number, number, number];
  vlrs: Vlr[];
}

function text(bytes: Uint8Array): string {
  const end = bytes.indexOf(0);
  return new TextDecoder('latin1').decode(end < 0 ? bytes : bytes.subarray(0, end)).trim();
}

function bad(
  file: string,
  place: string,
  message: string,
  remedy = 'Ask for the file again, or repair its header.',
): Problem {
  return new Problem(message, { code: 'las-header', file, place, remedy });
}

/** Reads header and variable length records of LAS 1.2–1.4 (and LAZ), checking every count against the file's size. */
export async function readLasHeader(source: ByteSource): Promise<LasHeader> {
  const file = source.name;
  if (source.size < 227)
    throw new Problem(`The file has ${source.size} bytes; a LAS header needs at least 227.`, {
      code: 'file-truncated',
      file,
      place: 'header',
      remedy: 'The file was cut off: copy it again from its origin.',
    });
  const head = await source.read(0, Math.min(375, source.size));
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
  if (text(head.subarray(0, 4)) !== 'LASF')
    throw bad(file, 'byte 0', 'This is not a LAS file: it does not begin with "LASF".', 'Choose a LAS or LAZ file.');
  const version: [number, number] = [head[24], head[25]];
  if (version[0] !== 1 || version[1] < 0 || version[1] > 4)
    throw bad(
      file,
      'byte 24',
      `LAS version ${version.join('.')} is not known.`,
      'Convert the file to LAS 1.2, 1.3 or 1.4.',
    );
  const headerBytes = view.getUint16(94, true);
  const rawFormat = head[104];
  const compressed = (rawFormat & 0x80) !== 0;
  const pointFormat = rawFormat & 0x3f;
  const pointBytes = view.getUint16(105, true);
  if (pointFormat > 10) throw bad(file, 'byte 104', `Point data record format ${pointFormat} is not known.`);
  if (pointBytes < POINT_BYTES[pointFormat])
    throw bad(
      file,
      'byte 105',
      `The header gives ${pointBytes} bytes a point; format ${pointFormat} needs at least ${POINT_BYTES[pointFormat]}.`,
    );
  const long = version[1] === 4;
  if (headerBytes < (long ? 375 : 227) || headerBytes > source.size)
    throw bad(file, 'byte 94', `A header size of ${headerBytes} bytes is not possible.`);
  const pointOffset = view.getUint32(96, true);
  const vlrCount = view.getUint32(100, true);
  let pointCount = view.getUint32(107, true);
  if (long) {
    const big = Number(view.getBigUint64(247, true));
    if (big > 0) pointCount = big;
  }
  if (pointOffset < headerBytes || pointOffset > source.size)
    throw bad(file, 'byte 96', `Points are said to begin at byte ${pointOffset} of a file of ${source.size} bytes.`);
  const triple = (at: number): [number, number, number] => [
    view.getFloat64(at, true),
    view.getFloat64(at + 8, true),
    view.getFloat64(at + 16, true),
  ];
  const scale = triple(131);
  const offset = triple(155);
  if (
    ![...scale, ...offset].every((v) => Number.isFinite(v) && Math.abs(v) < MAX_OFFSET) ||
    scale.some((s) => s < MIN_SCALE || s > MAX_SCALE)
  )
    throw bad(file, 'byte 131', `The scale or offset of the coordinates is not a usable number (${scale.join(', ')}).`);
  const header: LasHeader = {
    version,
    globalEncoding: view.getUint16(6, true),
    systemIdentifier: text(head.subarray(26, 58)),
    generatingSoftware: text(head.subarray(58, 90)),
    creationDay: view.getUint16(90, true),
    creationYear: view.getUint16(92, true),
    headerBytes,
    pointOffset,
    vlrCount,
    pointFormat,
    compressed,
    pointBytes,
    pointCount,
    scale,
    offset,
    max: [view.getFloat64(179, true), view.getFloat64(195, true), view.getFloat64(211, true)],
    min: [view.getFloat64(187, true), view.getFloat64(203, true), view.getFloat64(219, true)],
    vlrs: [],
  };
  if (!compressed) {
    const there = Math.floor((source.size - pointOffset) / pointBytes);
    if (pointCount > there)
      throw new Problem(`The header declares ${pointCount} points, but the file has room for ${there}.`, {
        code: 'las-count',
        file,
        place: `byte ${pointOffset + there * pointBytes}`,
        remedy: 'The file was cut off or its header is wrong: copy it again from its origin.',
      });
  } else if (pointCount > 0 && pointOffset + 8 >= source.size) {
    throw bad(
      file,
      `byte ${pointOffset}`,
      'The compressed points are missing.',
      'The file was cut off: copy it again from its origin.',
    );
  }
  if (compressed && pointCount > Math.max(SMALL_FILE_POINTS, MAX_PACKED_POINTS_A_BYTE * source.size))
    throw new Problem(`The header declares ${pointCount} points, more than a file of ${source.size} bytes can hold.`, {
      code: 'las-count',
      file,
      place: long ? 'byte 247' : 'byte 107',
      remedy: 'The file was cut off or its header is wrong: copy it again from its origin.',
    });
  header.vlrs = await readVlrs(source, header);
  return header;
}

async function readVlrs(source: ByteSource, header: LasHeader): Promise<Vlr[]> {
  const out: Vlr[] = [];
  let at = header.headerBytes;
  for (let i = 0; i < header.vlrCount; i++) {
    if (at + 54 > header.pointOffset)
      throw bad(
        source.name,
        `byte ${at}`,
        `Variable length record ${i + 1} of ${header.vlrCount} reaches into the points.`,
      );
    const head = await source.read(at, 54);
    const view = new DataView(head.buffer);
    const length = view.getUint16(20, true);
    if (at + 54 + length > header.pointOffset)
      throw bad(
        source.name,
        `byte ${at}`,
        `Variable length record ${i + 1} of ${header.vlrCount} reaches into the points.`,
      );
    out.push({
      userId: text(head.subarray(2, 18)),
      recordId: view.getUint16(18, true),
      description: text(head.subarray(22, 54)),
      data: await source.read(at + 54, length),
    });
    at += 54 + length;
  }
  return out;
}

export function findVlr(header: LasHeader, userId: string, recordId: number): Vlr | undefined {
  return header.vlrs.find((v) => v.userId === userId && v.recordId === recordId);
}

/** The coordinate system as WKT, when the file has one. */
export function wktOf(header: LasHeader): string | undefined {
  const vlr = findVlr(header, 'LASF_Projection', 2112);
  return vlr ? new TextDecoder().decode(vlr.data).replace(/\0+$/, '') : undefined;
}

/** A system as records name it: codes, files and grids by their content. */
export interface NamedCodes {
  horizontal?: number;
  vertical?: number;
  /** Of plan, with heights of its own unless `vertical` or `grid` say otherwise. */
  file?: GridName;
  grid?: GridName;
  shift?: GridName;
}

/** The system from its record: WKT (outermost authorities), or GeoTIFF keys 3072 and 4096 with their citations. */
export function crsCodesOf(header: LasHeader): NamedCodes {
  const wkt = wktOf(header);
  if (wkt) {
    const [plan, height] = splitCompound(wkt);
    const grid = height ? gridNamed(height) : undefined;
    const file = systemFileNamed(wkt);
    const ellipsoidal = height !== undefined && /^VERT\w*\s*\[\s*"Ellipsoidal height"/i.test(height);
    // the unit of a grid's heights has a code too, which is none of a system
    return {
      horizontal: file ? undefined : lastCode(plan),
      vertical: ellipsoidal ? 0 : height && !grid && !file ? lastCode(height) : systemCode(height),
      file,
      grid,
      shift: shiftGridNamed(wkt),
    };
  }
  const keys = findVlr(header, 'LASF_Projection', 34735);
  if (!keys) return {};
  const view = new DataView(keys.data.buffer, keys.data.byteOffset, keys.data.byteLength);
  const texts = findVlr(header, 'LASF_Projection', 34737);
  const said = texts ? new TextDecoder().decode(texts.data) : '';
  const out: NamedCodes = { file: systemFileNamed(said), grid: gridNamed(said), shift: shiftGridNamed(said) };
  if (/(^|\|)Ellipsoidal height\|/.test(said)) out.vertical = 0;
  for (let at = 8; at + 8 <= view.byteLength; at += 8) {
    const id = view.getUint16(at, true);
    const value = view.getUint16(at + 6, true);
    if (view.getUint16(at + 2, true) !== 0 || value === 32767) continue;
    if (id === 3072) out.horizontal = value;
    if (id === 4096) out.vertical = value;
  }
  return out;
}

/** The code of a height system, and not of its unit: the last authority when it stands at the very end. */
function systemCode(height: string | undefined): number | undefined {
  const match = /AUTHORITY\s*\[\s*"EPSG"\s*,\s*"?(\d+)"?\s*\]\s*\]\s*$/i.exec(height ?? '');
  return match ? Number(match[1]) : undefined;
}

function splitCompound(wkt: string): [string, string | undefined] {
  const at = wkt.search(/,\s*(VERT_CS|VERTCRS|VERTICALCRS)\s*\[/i);
  if (at < 0) return [wkt, undefined];
  const plan = wkt.slice(0, at);
  let depth = 0;
  let end = wkt.length;
  for (let i = at + 1; i < wkt.length; i++) {
    if (wkt[i] === '[') depth++;
    if (wkt[i] === ']' && --depth === 0) {
      end = i + 1;
      break;
    }
  }
  return [plan, wkt.slice(at + 1, end)];
}

function lastCode(wkt: string): number | undefined {
  const codes = [...wkt.matchAll(/(?:AUTHORITY\s*\[\s*"EPSG"\s*,\s*"?|ID\s*\[\s*"EPSG"\s*,\s*)(\d+)/gi)];
  return codes.length ? Number(codes.at(-1)![1]) : undefined;
}

/** Steps of coordinates that any survey has, and offsets, in the units of the file. */
const MIN_SCALE = 1e-12;
const MAX_SCALE = 1e3;
const MAX_OFFSET = 1e12;

/** Decimals that coordinates or values of this scale have as text. */
export const decimalsOf = (scale: number) => Math.max(0, Math.min(9, Math.ceil(-Math.log10(scale) - 1e-9)));
