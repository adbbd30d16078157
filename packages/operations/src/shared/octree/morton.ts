/** Bits of an axis in a Morton code; a code is two words of 30 bits. */
export const AXIS_BITS = 20;
/** Cells along the edge of a node; each holds at most one of its points. */
export const NODE_CELL_BITS = 6;
export const MAX_LEVELS = AXIS_BITS - NODE_CELL_BITS;

/** The ten bits of v, each followed by two zeros. */
const SPREAD = Uint32Array.from({ length: 1024 }, (_, v) => {
  let out = 0;
  for (let b = 0; b < 10; b++) if (v & (1 << b)) out |= 1 << (3 * b);
  return out;
});

export interface Codes {
  /** Upper ten bits of each axis, interleaved x, y, z. */
  high: Uint32Array;
  low: Uint32Array;
}

/** Morton code of cell (x, y, z), each below 2^20, into row i. */
export function encode(codes: Codes, i: number, x: number, y: number, z: number): void {
  codes.high[i] = (SPREAD[x >> 10] << 2) | (SPREAD[y >> 10] << 1) | SPREAD[z >> 10];
  codes.low[i] = (SPREAD[x & 1023] << 2) | (SPREAD[y & 1023] << 1) | SPREAD[z & 1023];
}

/** Leading bits of an axis that two codes share on all three axes, 0…20. */
export function sharedBits(highA: number, lowA: number, highB: number, lowB: number): number {
  const h = highA ^ highB;
  if (h !== 0) return Math.floor((Math.clz32(h) - 2) / 3);
  const l = lowA ^ lowB;
  return l !== 0 ? 10 + Math.floor((Math.clz32(l) - 2) / 3) : AXIS_BITS;
}

const DIGIT = 12;

/**
 * Row numbers in ascending order of code (radix sort, least significant digit first; stable).
 * @param bits leading bits of each axis that count; what differs only below them stays in the order given.
 */
export function sortByCode(codes: Codes, count: number, bits = AXIS_BITS): Uint32Array {
  let rows = new Uint32Array(count);
  for (let i = 0; i < count; i++) rows[i] = i;
  let other = new Uint32Array(count);
  const starts = new Uint32Array(1 << DIGIT);
  const pass = (word: Uint32Array, shift: number, width: number) => {
    const mask = (1 << width) - 1;
    starts.fill(0);
    for (let i = 0; i < count; i++) starts[(word[i] >>> shift) & mask]++;
    let sum = 0;
    for (let b = 0; b <= mask; b++) {
      const n = starts[b];
      // all in one bucket: the order stands
      if (n === count) return;
      starts[b] = sum;
      sum += n;
    }
    for (let i = 0; i < count; i++) {
      const row = rows[i];
      other[starts[(word[row] >>> shift) & mask]++] = row;
    }
    [rows, other] = [other, rows];
  };
  const lowBits = Math.max(0, 3 * (bits - 10));
  for (let at = 30 - lowBits; at < 30; at += DIGIT) pass(codes.low, at, Math.min(DIGIT, 30 - at));
  for (let at = 30 - Math.min(30, 3 * bits); at < 30; at += DIGIT) pass(codes.high, at, Math.min(DIGIT, 30 - at));
  return rows;
}
