import { FIELD_BYTES } from './fields';
import { VARIABLE } from './chunkTable';
import { LayeredChunks } from './layered';
import { PointwiseChunks } from './pointwise';

/** Points in a chunk, at most: what other writers of the format use, a second's work to find one point in. */
export const CHUNK_POINTS = 50000;
export const LAZ_USER = 'laszip encoded';
export const LAZ_RECORD = 22204;

/** Kinds of fields by point format: kind, bytes. */
const ITEMS: Record<number, [number, number][]> = {
  0: [[6, 20]],
  1: [
    [6, 20],
    [7, 8],
  ],
  2: [
    [6, 20],
    [8, 6],
  ],
  3: [
    [6, 20],
    [7, 8],
    [8, 6],
  ],
  6: [[10, 30]],
  7: [
    [10, 30],
    [11, 6],
  ],
  8: [
    [10, 30],
    [12, 8],
  ],
};

/** Whether points of this format can be written compressed. */
export const canCompress = (format: number) => format in FIELD_BYTES;

/**
 * Whether each chunk is to be of one scanner channel, and so of any number of points: with colours or extra bytes of
 * several channels in one chunk some readers lose the channel.
 */
export const oneChannel = (format: number, pointBytes: number) => format >= 6 && pointBytes > FIELD_BYTES[6];

export interface ChunkEncoder {
  /** @param records `count` records, at least one. */
  encode(records: Uint8Array, count: number): Uint8Array;
}

export function chunkEncoder(format: number, pointBytes: number): ChunkEncoder {
  return format >= 6 ? new LayeredChunks(format, pointBytes) : new PointwiseChunks(format, pointBytes);
}

/** The data of the compression record (variable length record "laszip encoded" 22204). */
export function compressionRecord(format: number, pointBytes: number): Uint8Array {
  const layered = format >= 6;
  const extra = pointBytes - FIELD_BYTES[format];
  const items = [...ITEMS[format], ...(extra > 0 ? [[layered ? 14 : 0, extra]] : [])];
  const out = new Uint8Array(34 + 6 * items.length);
  const view = new DataView(out.buffer);
  view.setUint16(0, layered ? 3 : 2, true);
  out[4] = layered ? 3 : 2;
  out[5] = layered ? 4 : 2;
  view.setUint32(12, oneChannel(format, pointBytes) ? VARIABLE : CHUNK_POINTS, true);
  view.setBigInt64(16, -1n, true);
  view.setBigInt64(24, -1n, true);
  view.setUint16(32, items.length, true);
  items.forEach(([kind, bytes], k) => {
    view.setUint16(34 + 6 * k, kind, true);
    view.setUint16(36 + 6 * k, bytes, true);
    view.setUint16(38 + 6 * k, layered ? 3 : 2, true);
  });
  return out;
}
