import { type Features } from './features';

/** Pairs of features that describe the same place: index in the first picture, in the second. */
export interface Matches {
  first: Int32Array;
  second: Int32Array;
}

/** Of 486 bits so many may differ, as a share; two unlike places differ by half of them. */
const MOST_DIFFERENT = 0.27;
/** The best differs by less than this share of what the next best elsewhere differs by. */
const CLEARER = 0.78;
/** Features nearer than this to the best are the same place described again, pixels. */
const SAME_PX = 4;
const CELL_PX = 24;

/** Where a feature of the first picture may lie in the second: within a distance of a line between two places. */
export interface Window {
  u0: number;
  v0: number;
  u1: number;
  v1: number;
  withinPx: number;
}

/** Bits by which two descriptions differ, or more than `most`. */
function different(a: Uint32Array, at: number, b: Uint32Array, bt: number, words: number, most: number): number {
  let sum = 0;
  for (let k = 0; k < words && sum <= most; k++) {
    let x = a[at + k] ^ b[bt + k];
    x -= (x >>> 1) & 0x55555555;
    x = (x & 0x33333333) + ((x >>> 2) & 0x33333333);
    sum += Math.imul((x + (x >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24;
  }
  return sum;
}

/** Features of a picture by where they lie. */
export class FeatureGrid {
  private readonly start: Int32Array;
  private readonly list: Int32Array;
  private readonly columns: number;
  private readonly rows: number;
  readonly features: Features;

  constructor(features: Features, widthPx: number, heightPx: number) {
    this.features = features;
    this.columns = Math.max(1, Math.ceil(widthPx / CELL_PX));
    this.rows = Math.max(1, Math.ceil(heightPx / CELL_PX));
    const cell = Int32Array.from({ length: features.count }, (_, i) => this.cellOf(features.uPx[i], features.vPx[i]));
    this.start = new Int32Array(this.columns * this.rows + 1);
    for (const c of cell) this.start[c + 1]++;
    for (let c = 0; c < this.columns * this.rows; c++) this.start[c + 1] += this.start[c];
    const next = this.start.slice();
    this.list = new Int32Array(features.count);
    cell.forEach((c, i) => (this.list[next[c]++] = i));
  }

  private column(u: number): number {
    return Math.min(this.columns - 1, Math.max(0, Math.floor(u / CELL_PX)));
  }

  private row(v: number): number {
    return Math.min(this.rows - 1, Math.max(0, Math.floor(v / CELL_PX)));
  }

  private cellOf(u: number, v: number): number {
    return this.row(v) * this.columns + this.column(u);
  }

  /** Features within a window, into `out`. @returns how many. */
  within({ u0, v0, u1, v1, withinPx: d }: Window, out: Int32Array): number {
    const { features, list, start } = this;
    const [du, dv] = [u1 - u0, v1 - v0];
    const length2 = du * du + dv * dv;
    let count = 0;
    const [left, right] = [this.column(Math.min(u0, u1) - d), this.column(Math.max(u0, u1) + d)];
    const [top, bottom] = [this.row(Math.min(v0, v1) - d), this.row(Math.max(v0, v1) + d)];
    for (let r = top; r <= bottom; r++)
      for (let k = start[r * this.columns + left]; k < start[r * this.columns + right + 1]; k++) {
        const i = list[k];
        const [x, y] = [features.uPx[i] - u0, features.vPx[i] - v0];
        const s = length2 > 0 ? Math.min(1, Math.max(0, (x * du + y * dv) / length2)) : 0;
        if ((x - s * du) ** 2 + (y - s * dv) ** 2 <= d * d) out[count++] = i;
      }
    return count;
  }
}

/**
 * Matches descriptions of two pictures: each is the other's best, clearly better than what lies elsewhere.
 * @param windowOf where a feature of the first may lie in the second, undefined: nowhere; without it all are compared.
 */
export function matchFeatures(
  first: Features,
  grid: FeatureGrid,
  windowOf?: (feature: number) => Window | undefined,
): Matches {
  const second = grid.features;
  const words = first.wordsEach;
  const limit = Math.floor(32 * words * MOST_DIFFERENT);
  const best = new Int32Array(first.count).fill(-1);
  const backBest = new Int32Array(second.count).fill(-1);
  const backDistance = new Float64Array(second.count).fill(Number.POSITIVE_INFINITY);
  const clear = new Uint8Array(first.count);
  const all = Int32Array.from({ length: second.count }, (_, i) => i);
  const some = new Int32Array(second.count);
  const distance = new Int32Array(second.count);
  for (let i = 0; i < first.count; i++) {
    let list = all;
    let count = second.count;
    if (windowOf) {
      const window = windowOf(i);
      if (!window) continue;
      list = some;
      count = grid.within(window, some);
    }
    let [at, d] = [-1, limit + 1];
    // what differs by more than the best over that share has no say
    let most = limit / CLEARER;
    for (let k = 0; k < count; k++) {
      const j = list[k];
      const x = different(first.words, i * words, second.words, j * words, words, most);
      distance[k] = x;
      if (x <= most && x < backDistance[j]) {
        backDistance[j] = x;
        backBest[j] = i;
      }
      if (x < d) {
        [at, d] = [j, x];
        most = Math.min(most, d / CLEARER);
      }
    }
    if (at < 0) continue;
    best[i] = at;
    let other = true;
    for (let k = 0; k < count && other; k++) {
      const j = list[k];
      if (distance[k] * CLEARER >= d || j === at) continue;
      other = Math.hypot(second.uPx[j] - second.uPx[at], second.vPx[j] - second.vPx[at]) < SAME_PX;
    }
    clear[i] = other ? 1 : 0;
  }
  const kept = [...best.keys()].filter((i) => best[i] >= 0 && clear[i] && backBest[best[i]] === i);
  return { first: Int32Array.from(kept), second: Int32Array.from(kept, (i) => best[i]) };
}
