import { POINT_BYTES } from './header';
import { COLOUR_OFFSET } from './points';

/** Point formats 6, 7 and 8 hold what the others do, but for wave packets. */
export type WideFormat = 6 | 7 | 8;

const OLD_TIME_AT: Record<number, number> = { 1: 20, 3: 20, 4: 20, 5: 20 };
const INFRARED_AT: Record<number, number> = { 8: 36, 10: 36 };
/** Steps of the scan angle of the newer formats, degrees. */
const ANGLE_STEP_DEG = 0.006;
const OVERLAP_CLASS = 12;
const OVERLAP_BIT = 8;

export const hasWaves = (format: number) => format === 4 || format === 5 || format === 9 || format === 10;

/** The narrowest of the wide formats that holds what all of these hold. */
export function wideFormatOf(formats: number[]): WideFormat {
  if (formats.some((f) => INFRARED_AT[f])) return 8;
  return formats.some((f) => COLOUR_OFFSET[f]) ? 7 : 6;
}

/**
 * Writes a record of any format as one of a wide format (LAS 1.4 R15, tables 7 to 17). The old class 12 becomes the flag
 * of overlap on class 1; the scan angle is taken from whole degrees; what the old record lacks is 0.
 * @param at, to bytes at which the records begin.
 */
export function widenRecord(
  from: Uint8Array,
  view: DataView,
  at: number,
  format: number,
  out: Uint8Array,
  outView: DataView,
  to: number,
  wide: WideFormat,
): void {
  if (format >= 6) out.set(from.subarray(at, at + POINT_BYTES[6]), to);
  else {
    out.set(from.subarray(at, at + 14), to);
    const returns = from[at + 14];
    out[to + 14] = (returns & 7) | (((returns >> 3) & 7) << 4);
    const code = from[at + 15];
    const overlap = (code & 31) === OVERLAP_CLASS;
    // synthetic, key point and withheld; direction and edge of the scan
    out[to + 15] = (code >> 5) | (overlap ? OVERLAP_BIT : 0) | (returns & 0xc0);
    out[to + 16] = overlap ? 1 : code & 31;
    out[to + 17] = from[at + 17];
    outView.setInt16(to + 18, Math.round(view.getInt8(at + 16) / ANGLE_STEP_DEG), true);
    outView.setUint16(to + 20, view.getUint16(at + 18, true), true);
    const timeAt = OLD_TIME_AT[format];
    outView.setFloat64(to + 22, timeAt ? view.getFloat64(at + timeAt, true) : 0, true);
  }
  if (wide < 7) return;
  const colourAt = COLOUR_OFFSET[format];
  if (colourAt) out.set(from.subarray(at + colourAt, at + colourAt + 6), to + 30);
  else out.fill(0, to + 30, to + 36);
  if (wide < 8) return;
  const infraredAt = INFRARED_AT[format];
  outView.setUint16(to + 36, infraredAt ? view.getUint16(at + infraredAt, true) : 0, true);
}
