/** Half the side of the window by which pixels are compared. */
export const CENSUS_HALF = 3;
/** Comparisons in a window. */
export const CENSUS_BITS = (2 * CENSUS_HALF + 1) ** 2 - 1;
/** Cost of a place where one of the pictures shows nothing: as good as chance. */
export const UNKNOWN_COST = CENSUS_BITS / 2;

/**
 * Census of a grey picture (Zabih & Woodfill 1994): which pixels of a window of 7 × 7 are darker than its middle, two words of
 * 24 bits a pixel. It does not change with brightness and contrast. @returns zero at the border.
 */
export function censusOf(grey: Uint8Array, columns: number, rows: number): Uint32Array {
  const out = new Uint32Array(2 * columns * rows);
  const offsets: number[] = [];
  for (let j = -CENSUS_HALF; j <= CENSUS_HALF; j++)
    for (let i = -CENSUS_HALF; i <= CENSUS_HALF; i++) if (i || j) offsets.push(j * columns + i);
  const around = Int32Array.from(offsets);
  const half = CENSUS_BITS / 2;
  for (let r = CENSUS_HALF; r < rows - CENSUS_HALF; r++)
    for (let c = CENSUS_HALF; c < columns - CENSUS_HALF; c++) {
      const k = r * columns + c;
      const own = grey[k];
      let a = 0;
      let b = 0;
      // the sign of the difference, without a branch
      for (let n = 0; n < half; n++) a = (a << 1) | ((grey[k + around[n]] - own) >>> 31);
      for (let n = half; n < CENSUS_BITS; n++) b = (b << 1) | ((grey[k + around[n]] - own) >>> 31);
      out[2 * k] = a;
      out[2 * k + 1] = b;
    }
  return out;
}

/** Bits that are set in a word of 24. */
export function bitsOf(v: number): number {
  v -= (v >> 1) & 0x555555;
  v = (v & 0x333333) + ((v >> 2) & 0x333333);
  v = (v + (v >> 4)) & 0x0f0f0f;
  return (v + (v >> 8) + (v >> 16)) & 0x1f;
}

/** What a matching works on: a part of two pictures whose rows are the same. */
export interface MatchPart {
  columns: number;
  rows: number;
  /** Labels of a pixel: label n is found at column `c + shift − n` of the second. */
  labels: number;
  shift: number;
  secondColumns: number;
}

/** Costs of all labels of all pixels, pixel by pixel: how many comparisons differ. */
export function costsOf(
  first: { census: Uint32Array; inside: Uint8Array },
  second: { census: Uint32Array; inside: Uint8Array },
  { columns, rows, labels, shift, secondColumns }: MatchPart,
): Uint8Array {
  const out = new Uint8Array(columns * rows * labels);
  const { census: p } = first;
  const { census: q } = second;
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++) {
      const k = r * columns + c;
      const at = k * labels;
      if (!first.inside[k]) continue;
      const [a, b] = [p[2 * k], p[2 * k + 1]];
      for (let n = 0; n < labels; n++) {
        const o = c + shift - n;
        const m = r * secondColumns + o;
        out[at + n] =
          o < 0 || o >= secondColumns || !second.inside[m]
            ? UNKNOWN_COST
            : bitsOf(a ^ q[2 * m]) + bitsOf(b ^ q[2 * m + 1]);
      }
    }
  return out;
}
