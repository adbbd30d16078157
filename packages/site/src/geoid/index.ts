import { DEG, EGM96 } from '@longheron/core/frames';

/** Grid around the site, degrees; a value every three hundredths. */
const SOUTH = 55.93;
const WEST = 8.2;
const STEP = 0.03;
const ROWS = 11;
const COLUMNS = 19;

/** The made-up local geoid: EGM96, lifted and tilted by some centimetres. */
export function localUndulationM(latDeg: number, lonDeg: number): number {
  return EGM96.undulation(latDeg * DEG, lonDeg * DEG) + 0.031 + 0.08 * (latDeg - 56.08) - 0.05 * (lonDeg - 8.47);
}

/** The local geoid as a GTX file: head, then rows from south to north, big-endian. */
export function localGeoidGrid(): Uint8Array {
  const v = new DataView(new ArrayBuffer(40 + 4 * ROWS * COLUMNS));
  [SOUTH, WEST, STEP, STEP].forEach((x, k) => v.setFloat64(8 * k, x));
  v.setInt32(32, ROWS);
  v.setInt32(36, COLUMNS);
  for (let r = 0; r < ROWS; r++)
    for (let c = 0; c < COLUMNS; c++)
      v.setFloat32(40 + 4 * (r * COLUMNS + c), localUndulationM(SOUTH + r * STEP, WEST + c * STEP));
  return new Uint8Array(v.buffer);
}
