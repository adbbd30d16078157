/** Places in a picture that can be found again in others, each with a binary description. */
export interface Features {
  count: number;
  uPx: Float64Array;
  vPx: Float64Array;
  /** How clearly each stands out, in any one unit. */
  strength: Float32Array;
  /** Descriptions: `wordsEach` numbers of 32 bits for each. */
  words: Uint32Array;
  wordsEach: number;
}

/** Some of a picture's features. */
export function featuresOf(f: Features, kept: readonly number[] | Int32Array): Features {
  const words = new Uint32Array(kept.length * f.wordsEach);
  kept.forEach((i, k) => words.set(f.words.subarray(i * f.wordsEach, (i + 1) * f.wordsEach), k * f.wordsEach));
  return {
    count: kept.length,
    uPx: Float64Array.from(kept, (i) => f.uPx[i]),
    vPx: Float64Array.from(kept, (i) => f.vPx[i]),
    strength: Float32Array.from(kept, (i) => f.strength[i]),
    words,
    wordsEach: f.wordsEach,
  };
}

/** Cells along each side of a picture over which its features are spread. */
const CELLS = 12;

/**
 * The strongest features, spread over the picture: every cell has its share before any has more.
 * @returns indices, in order of their turn: of a shorter list the beginning is taken.
 */
export function spread(f: Features, widthPx: number, heightPx: number, most: number): Int32Array {
  const order = Int32Array.from({ length: f.count }, (_, i) => i).sort((a, b) => f.strength[b] - f.strength[a]);
  const cells: number[][] = Array.from({ length: CELLS * CELLS }, () => []);
  for (const i of order) {
    const c = Math.min(CELLS - 1, Math.max(0, Math.floor((f.uPx[i] / widthPx) * CELLS)));
    const r = Math.min(CELLS - 1, Math.max(0, Math.floor((f.vPx[i] / heightPx) * CELLS)));
    cells[r * CELLS + c].push(i);
  }
  const out: number[] = [];
  for (let turn = 0; out.length < most; turn++) {
    const own = cells.flatMap((c) => (turn < c.length ? [c[turn]] : []));
    if (!own.length) break;
    own.sort((a, b) => f.strength[b] - f.strength[a]);
    out.push(...own.slice(0, most - out.length));
  }
  return Int32Array.from(out);
}
