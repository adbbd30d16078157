import { type SystemDefinition } from '@longheron/core/frames';
import { wktOfSystem } from '../crs';
import { vlr } from './records';

const PROJECTION = 'LASF_Projection';
/** WKT of a transform and of the system, GeoTIFF keys with their numbers and texts. */
const RECORDS = new Set([2111, 2112, 34735, 34736, 34737]);
/** Bit of the global encoding: the system is given as WKT. */
const WKT_BIT = 16;

export const isSystemRecord = (userId: string, recordId: number) => userId === PROJECTION && RECORDS.has(recordId);

/** The coordinate system as a record: WKT for point formats 6 and up, GeoTIFF keys for the older ones, as LAS 1.4 asks. */
export function systemRecord(definition: SystemDefinition, pointFormat: number): Uint8Array {
  if (pointFormat >= 6) {
    const wkt = new TextEncoder().encode(`${wktOfSystem(definition)}\0`);
    return vlr(PROJECTION, 2112, 'OGC WKT coordinate system', wkt);
  }
  const keys: Array<[number, number]> = [
    [1024, 1],
    [3072, definition.horizontalCode],
    ...(definition.verticalCode ? [[4096, definition.verticalCode] as [number, number]] : []),
  ];
  const words = new Uint16Array(4 + 4 * keys.length);
  words.set([1, 1, 0, keys.length]);
  keys.forEach(([id, value], i) => words.set([id, 0, 1, value], 4 + 4 * i));
  return vlr(PROJECTION, 34735, 'GeoTIFF keys', new Uint8Array(words.buffer));
}

/** Sets in a head how the system is given. */
export function markSystem(head: Uint8Array, pointFormat: number): void {
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
  const bits = view.getUint16(6, true);
  view.setUint16(6, pointFormat >= 6 ? bits | WKT_BIT : bits & ~WKT_BIT, true);
}
