import { type LasHeader } from './header';

/** Points of a LAS file in columns; coordinates are the file's own integers. */
export interface LasPoints {
  count: number;
  x: Int32Array;
  y: Int32Array;
  z: Int32Array;
  intensity: Uint16Array;
  returnNumber: Uint8Array;
  returnCount: Uint8Array;
  classification: Uint8Array;
  /** Bit 0 synthetic, 1 key point, 2 withheld, 3 overlap. */
  flags: Uint8Array;
  scannerChannel: Uint8Array;
  userData: Uint8Array;
  pointSourceId: Uint16Array;
  /** As stored: adjusted standard GPS time when bit 0 of the global encoding is set, else seconds of week. */
  gpsTime: Float64Array;
  red?: Uint16Array;
  green?: Uint16Array;
  blue?: Uint16Array;
}

export const WITHHELD = 4;

export function allocatePoints(count: number, colour = false): LasPoints {
  return {
    count,
    x: new Int32Array(count),
    y: new Int32Array(count),
    z: new Int32Array(count),
    intensity: new Uint16Array(count),
    returnNumber: new Uint8Array(count),
    returnCount: new Uint8Array(count),
    classification: new Uint8Array(count),
    flags: new Uint8Array(count),
    scannerChannel: new Uint8Array(count),
    userData: new Uint8Array(count),
    pointSourceId: new Uint16Array(count),
    gpsTime: new Float64Array(count),
    ...(colour ? { red: new Uint16Array(count), green: new Uint16Array(count), blue: new Uint16Array(count) } : {}),
  };
}

const GPS_OFFSET: Record<number, number> = { 1: 20, 3: 20, 4: 20, 5: 20 };
/** Byte of a record at which its colours begin, by point format. */
export const COLOUR_OFFSET: Record<number, number> = { 2: 20, 3: 28, 5: 28, 7: 30, 8: 30, 10: 30 };

export function hasColour(format: number): boolean {
  return COLOUR_OFFSET[format] !== undefined;
}

export function hasTime(format: number): boolean {
  return format >= 6 || GPS_OFFSET[format] !== undefined;
}

/** Decodes `count` records into `out` from index `at`. */
export function decodeRecords(header: LasHeader, records: Uint8Array, count: number, out: LasPoints, at: number): void {
  const view = new DataView(records.buffer, records.byteOffset, records.byteLength);
  const { pointBytes: step, pointFormat: format } = header;
  const modern = format >= 6;
  const gpsAt = modern ? 22 : GPS_OFFSET[format];
  const colourAt = COLOUR_OFFSET[format];
  for (let i = 0, o = 0; i < count; i++, o += step) {
    const k = at + i;
    out.x[k] = view.getInt32(o, true);
    out.y[k] = view.getInt32(o + 4, true);
    out.z[k] = view.getInt32(o + 8, true);
    out.intensity[k] = view.getUint16(o + 12, true);
    const returns = records[o + 14];
    if (modern) {
      out.returnNumber[k] = returns & 15;
      out.returnCount[k] = returns >> 4;
      const flags = records[o + 15];
      out.flags[k] = flags & 15;
      out.scannerChannel[k] = (flags >> 4) & 3;
      out.classification[k] = records[o + 16];
      out.userData[k] = records[o + 17];
      out.pointSourceId[k] = view.getUint16(o + 20, true);
    } else {
      out.returnNumber[k] = returns & 7;
      out.returnCount[k] = (returns >> 3) & 7;
      const cls = records[o + 15];
      out.classification[k] = cls & 31;
      out.flags[k] = cls >> 5;
      out.userData[k] = records[o + 17];
      out.pointSourceId[k] = view.getUint16(o + 18, true);
    }
    if (gpsAt !== undefined) out.gpsTime[k] = view.getFloat64(o + gpsAt, true);
    if (colourAt !== undefined && out.red && out.green && out.blue) {
      out.red[k] = view.getUint16(o + colourAt, true);
      out.green[k] = view.getUint16(o + colourAt + 2, true);
      out.blue[k] = view.getUint16(o + colourAt + 4, true);
    }
  }
}

/** Among withheld flags: keep what the record says. */
export const AS_IT_WAS = 2;

/** Sets class and withheld flag in raw records, leaving every other byte as it was. */
export function patchRecords(
  header: LasHeader,
  records: Uint8Array,
  count: number,
  classification: Uint8Array,
  withheld: Uint8Array | undefined,
  at: number,
): void {
  const { pointBytes: step, pointFormat: format } = header;
  for (let i = 0, o = 0; i < count; i++, o += step) {
    const cls = classification[at + i];
    const out = withheld ? withheld[at + i] : AS_IT_WAS;
    if (format >= 6) {
      records[o + 16] = cls;
      if (out !== AS_IT_WAS) records[o + 15] = (records[o + 15] & ~WITHHELD) | (out ? WITHHELD : 0);
    } else {
      records[o + 15] = (records[o + 15] & 0xe0) | (cls & 31);
      if (out !== AS_IT_WAS) records[o + 15] = (records[o + 15] & 0x7f) | (out ? 0x80 : 0);
    }
  }
}

/** An extra-bytes dimension of a file (LAS 1.4, VLR LASF_Spec 4). */
export interface ExtraDimension {
  name: string;
  type: number;
  /** Byte offset in the record. */
  at: number;
  scale: number;
  offset: number;
}

const TYPE_BYTES = [0, 1, 1, 2, 2, 4, 4, 8, 8, 4, 8];

export function extraDimensions(header: LasHeader, baseBytes: number): ExtraDimension[] {
  const vlr = header.vlrs.find((v) => v.userId === 'LASF_Spec' && v.recordId === 4);
  if (!vlr) return [];
  const out: ExtraDimension[] = [];
  const view = new DataView(vlr.data.buffer, vlr.data.byteOffset, vlr.data.byteLength);
  let at = baseBytes;
  for (let o = 0; o + 192 <= vlr.data.length; o += 192) {
    const type = vlr.data[o + 2];
    const options = vlr.data[o + 3];
    const name = new TextDecoder('latin1').decode(vlr.data.subarray(o + 4, o + 36)).replace(/\0.*$/s, '');
    const scale = options & 8 ? view.getFloat64(o + 112, true) : 1;
    const offset = options & 16 ? view.getFloat64(o + 136, true) : 0;
    const bytes = type === 0 ? options : (TYPE_BYTES[type] ?? 0);
    if (at + bytes > header.pointBytes) break;
    out.push({ name, type, at, scale, offset });
    at += bytes;
  }
  return out;
}

/** Reads one extra dimension (unsigned and signed integers, floats) of `count` records as numbers. */
export function decodeExtra(
  header: LasHeader,
  records: Uint8Array,
  count: number,
  dimension: ExtraDimension,
  out: Float32Array,
  at: number,
): void {
  const view = new DataView(records.buffer, records.byteOffset, records.byteLength);
  const read =
    [
      () => 0,
      (o: number) => view.getUint8(o),
      (o: number) => view.getInt8(o),
      (o: number) => view.getUint16(o, true),
      (o: number) => view.getInt16(o, true),
      (o: number) => view.getUint32(o, true),
      (o: number) => view.getInt32(o, true),
      (o: number) => Number(view.getBigUint64(o, true)),
      (o: number) => Number(view.getBigInt64(o, true)),
      (o: number) => view.getFloat32(o, true),
      (o: number) => view.getFloat64(o, true),
    ][dimension.type] ?? (() => 0);
  for (let i = 0, o = dimension.at; i < count; i++, o += header.pointBytes)
    out[at + i] = read(o) * dimension.scale + dimension.offset;
}
