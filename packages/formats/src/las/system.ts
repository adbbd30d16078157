import { gridText, type SystemDefinition } from '@longheron/core/frames';
import { wktOfSystem } from '../crs';
import { vlr } from './records';

const PROJECTION = 'LASF_Projection';
/** WKT of a transform and of the system, GeoTIFF keys with their numbers and texts. */
const RECORDS = new Set([2111, 2112, 34735, 34736, 34737]);
/** Bit of the global encoding: the system is given as WKT. */
const WKT_BIT = 16;
const USER_DEFINED = 32767;
const TEXTS = 34737;

export const isSystemRecord = (userId: string, recordId: number) => userId === PROJECTION && RECORDS.has(recordId);

/**
 * The coordinate system as records: WKT for point formats 6 and up, GeoTIFF keys for the older ones, as LAS 1.4 asks. What
 * has no code there, a file's system or a geoid grid, stands in the citations by name and content.
 */
export function systemRecords(definition: SystemDefinition, pointFormat: number): Uint8Array[] {
  if (pointFormat >= 6) {
    const wkt = new TextEncoder().encode(`${wktOfSystem(definition)}\0`);
    return [vlr(PROJECTION, 2112, 'OGC WKT coordinate system', wkt)];
  }
  const { file, shift, grid, heightsOfFile, verticalName } = definition;
  let texts = '';
  const keys: number[][] = [[1024, 0, 1, 1]];
  const cite = (id: number, text: string) => {
    keys.push([id, TEXTS, text.length + 1, texts.length]);
    texts += `${text}|`;
  };
  keys.push([3072, 0, 1, file ? USER_DEFINED : definition.horizontalCode]);
  const by = [...(file ? [`defined by ${gridText(file)}`] : []), ...(shift ? [`shifted by ${gridText(shift)}`] : [])];
  if (by.length) cite(3073, `${ascii(definition.horizontalName)}, ${by.join(', ')}`);
  // a file of its own may have heights: that they are left for ellipsoidal ones is said
  const left = file !== undefined && !grid && !heightsOfFile && !definition.verticalCode;
  if (left) {
    keys.push([4096, 0, 1, USER_DEFINED]);
    cite(4097, 'Ellipsoidal height');
  } else if (grid || heightsOfFile) {
    keys.push([4096, 0, 1, USER_DEFINED]);
    cite(4097, grid ? `${ascii(verticalName)}, heights of ${gridText(grid)}` : ascii(verticalName));
  } else if (definition.verticalCode) keys.push([4096, 0, 1, definition.verticalCode]);
  const words = new Uint16Array([1, 1, 0, keys.length, ...keys.flat()]);
  const out = [vlr(PROJECTION, 34735, 'GeoTIFF keys', new Uint8Array(words.buffer))];
  if (texts) out.push(vlr(PROJECTION, TEXTS, 'GeoTIFF texts', new TextEncoder().encode(`${texts}\0`)));
  return out;
}

const ascii = (text: string) => text.replace(/[^\x20-\x7e]/g, '?').replace(/\|/g, '/');

/** Sets in a head how the system is given. */
export function markSystem(head: Uint8Array, pointFormat: number): void {
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
  const bits = view.getUint16(6, true);
  view.setUint16(6, pointFormat >= 6 ? bits | WKT_BIT : bits & ~WKT_BIT, true);
}
