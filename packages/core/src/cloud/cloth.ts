import { tick, type Watch } from '../shared/progress';
import { sortIntoCells, supportedLowest, type Cells } from './cells';
import { type PointSet } from './points';

export interface ClothSettings {
  /** Edge of a cell of the cloth, metres: finer follows more detail, and lets more low things through. */
  clothCellM: number;
  /** 1 gives way (steep and broken land), 2 in between, 3 stays flat (towns on level land). */
  stiffness: 1 | 2 | 3;
  /** A point this near the cloth at rest is ground, metres. */
  clothWithinM: number;
}

export const CLOTH_DEFAULTS: ClothSettings = { clothCellM: 0.5, stiffness: 2, clothWithinM: 0.15 };

/** Usual settings by kind of land, for both methods, with what they are for. */
export const TERRAINS: Record<
  string,
  {
    what: string;
    triangles: { largestObjectM: number; steepestDeg: number };
    cloth: Pick<ClothSettings, 'stiffness' | 'clothCellM'>;
  }
> = {
  'Road and town': {
    what: 'Level ground with houses, bridges and walls',
    triangles: { largestObjectM: 20, steepestDeg: 40 },
    cloth: { stiffness: 3, clothCellM: 0.5 },
  },
  'Hills and banks': {
    what: 'Slopes, cuttings and banks with trees',
    triangles: { largestObjectM: 15, steepestDeg: 55 },
    cloth: { stiffness: 1, clothCellM: 0.5 },
  },
  'Large halls': {
    what: 'Roofs of many tens of metres on level ground',
    triangles: { largestObjectM: 80, steepestDeg: 30 },
    cloth: { stiffness: 3, clothCellM: 1 },
  },
};

/** Rounds to settle in, after those that the cloth needs to come up. */
const SETTLING_ROUNDS = 400;
/** No part moves further in a round: what comes up slowly is not carried through a roof, metres. */
const FASTEST_M = 0.1;
/** Below this movement of any part in a round the cloth is at rest, metres. */
const AT_REST_M = 0.004;
/** What a round adds to a part that falls, metres. */
const FALL_M = 0.2 * 0.65 ** 4;
/** Points this far above the lowest of their cell, more on slopes, make the height of the cell, metres. */
const BAND_M = 0.1;
const DAMPING = 0.01;
/** Banks that the cloth bridges are laid on when the ground rises by no more than this between cells, as a slope. */
const STEEP = 1;

/**
 * Ground by a cloth that falls onto the cloud turned upside down (Zhang et al. 2016): stiff enough not to sink into
 * houses and trees, soft enough to follow the land. Where it hangs free beside parts that rest, it is laid on the
 * points below as far as these rise no more steeply than 45°.
 * @param skip 1 for points to leave out (strays). @returns 1 for each ground point.
 */
export function findGroundByCloth(
  points: PointSet,
  settings: ClothSettings = CLOTH_DEFAULTS,
  skip?: Uint8Array,
  watch?: Watch,
): Uint8Array {
  const out = new Uint8Array(points.count);
  tick(watch, 0, 'Sorting into cells');
  const cells = sortIntoCells(points, settings.clothCellM, skip);
  if (cells.order.length < 3) return out;
  const lowest = lowestHeights(points, cells);
  const { height, resting } = settle(lowest, cells, settings, watch);
  layOn(height, resting, lowest, cells);
  refine(points, height, resting, cells);
  tick(watch, 0.9, 'Judging points');
  const { columns, rows, cellM, minX, minY } = cells;
  for (const i of cells.order) {
    const u = (points.x[i] - minX) / cellM - 0.5;
    const v = (points.y[i] - minY) / cellM - 0.5;
    const c = Math.max(0, Math.min(columns - 2, Math.floor(u)));
    const r = Math.max(0, Math.min(rows - 2, Math.floor(v)));
    const [c1, r1] = [Math.min(columns - 1, c + 1), Math.min(rows - 1, r + 1)];
    const [fu, fv] = [u - c, v - r];
    const at = (row: number, column: number) => height[row * columns + column];
    const surface = (1 - fv) * ((1 - fu) * at(r, c) + fu * at(r, c1)) + fv * ((1 - fu) * at(r1, c) + fu * at(r1, c1));
    if (Math.abs(points.z[i] - surface) <= settings.clothWithinM) out[i] = 1;
  }
  tick(watch, 1);
  return out;
}

/** The lowest supported height of each cell; empty ones take the lowest of their neighbours, ring by ring. */
function lowestHeights(points: PointSet, cells: Cells): Float32Array {
  const index = supportedLowest(points, cells);
  const h = Float32Array.from(index, (i) => (i < 0 ? Number.NaN : points.z[i]));
  let empty = [...h.keys()].filter((c) => Number.isNaN(h[c]));
  const { columns, rows } = cells;
  while (empty.length) {
    const found: Array<[number, number]> = [];
    const left: number[] = [];
    for (const c of empty) {
      const x = c % columns;
      let low = Infinity;
      if (x > 0 && h[c - 1] < low) low = h[c - 1];
      if (x + 1 < columns && h[c + 1] < low) low = h[c + 1];
      if (c >= columns && h[c - columns] < low) low = h[c - columns];
      if (c + columns < columns * rows && h[c + columns] < low) low = h[c + columns];
      if (low < Infinity) found.push([c, low]);
      else left.push(c);
    }
    for (const [c, low] of found) h[c] = low;
    if (found.length === 0) break;
    empty = left;
  }
  return h;
}

/** Lets the cloth rise from below all points until it is at rest against their lowest heights. */
function settle(
  lowest: Float32Array,
  { columns, rows }: Cells,
  { stiffness }: ClothSettings,
  watch?: Watch,
): { height: Float32Array; resting: Uint8Array } {
  const n = columns * rows;
  let floor = Infinity;
  let top = -Infinity;
  for (let c = 0; c < n; c++) {
    if (lowest[c] < floor) floor = lowest[c];
    if (lowest[c] > top) top = lowest[c];
  }
  const rounds = SETTLING_ROUNDS + Math.ceil((top - floor) / FASTEST_M);
  const height = new Float32Array(n).fill(floor - 0.05);
  const before = height.slice();
  const resting = new Uint8Array(n);
  // a stiffer cloth evens out its threads more often in a round: done at once by these shares
  const both = 0.5 * (1 - 0.4 ** stiffness);
  const one = 1 - 0.7 ** stiffness;
  let free: Int32Array = Int32Array.from({ length: n }, (_, c) => c);
  let pulling = free;
  for (let round = 0; round < rounds; round++) {
    let most = 0;
    let landed = 0;
    for (const c of free) {
      if (resting[c]) continue;
      const step = Math.min(FASTEST_M, (height[c] - before[c]) * (1 - DAMPING) + FALL_M);
      before[c] = height[c];
      height[c] += step;
    }
    pull(height, resting, pulling, columns, rows, both, one);
    for (const c of free) {
      if (resting[c]) {
        landed++;
        continue;
      }
      if (height[c] >= lowest[c]) {
        height[c] = lowest[c];
        resting[c] = 1;
      }
      const moved = Math.abs(height[c] - before[c]);
      if (moved > most) most = moved;
    }
    // what rests moves no more: it is left out, and so are the threads between parts that rest
    if (landed > free.length / 8) {
      free = free.filter((c) => !resting[c]);
      pulling = startsOfFreeThreads(resting, columns, rows);
    }
    if ((round & 7) === 0) tick(watch, 0.2 + (0.65 * round) / rounds, 'Letting the cloth settle');
    if (round > 10 && most < AT_REST_M) break;
  }
  return { height, resting };
}

/** Cells, in order, from which a thread goes out that can still move: itself free, or one that it holds. */
function startsOfFreeThreads(resting: Uint8Array, columns: number, rows: number): Int32Array {
  const holds = new Uint8Array(resting.length);
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++) {
      const a = r * columns + c;
      if (resting[a]) continue;
      // a cell draws the threads (a, right), (a, up), (a, up right), (right, up), (a, two right), (a, two up)
      holds[a] = 1;
      if (c > 0) holds[a - 1] = 1;
      if (c > 1) holds[a - 2] = 1;
      if (r > 0) holds[a - columns] = 1;
      if (r > 0 && c > 0) holds[a - columns - 1] = 1;
      if (r > 1) holds[a - 2 * columns] = 1;
    }
  return Int32Array.from(holds.keys()).filter((a) => holds[a]);
}

/** Each thread pulls its ends towards one height: both where both are free, else the free one. */
function pull(
  h: Float32Array,
  resting: Uint8Array,
  starts: Int32Array,
  columns: number,
  rows: number,
  both: number,
  one: number,
): void {
  const lastRow = (rows - 1) * columns;
  const lastButOne = lastRow - columns;
  for (const a of starts) {
    const right = columns - 1 - (a % columns);
    // to the next and to the one after it, which keeps the cloth from folding
    if (right > 0) thread(h, resting, a, a + 1, both, one);
    if (a < lastRow) {
      thread(h, resting, a, a + columns, both, one);
      if (right > 0) {
        thread(h, resting, a, a + columns + 1, both, one);
        thread(h, resting, a + 1, a + columns, both, one);
      }
    }
    if (right > 1) thread(h, resting, a, a + 2, both, one);
    if (a < lastButOne) thread(h, resting, a, a + 2 * columns, both, one);
  }
}

function thread(h: Float32Array, resting: Uint8Array, a: number, b: number, both: number, one: number): void {
  const d = h[b] - h[a];
  if (resting[a]) {
    if (!resting[b]) h[b] -= one * d;
  } else if (resting[b]) h[a] += one * d;
  else {
    h[a] += both * d;
    h[b] -= both * d;
  }
}

/** Lays free parts on the points where these go on from parts that rest without a step. */
function layOn(h: Float32Array, resting: Uint8Array, lowest: Float32Array, { columns, rows, cellM }: Cells): void {
  const queue: number[] = [];
  for (let c = 0; c < h.length; c++) if (resting[c]) queue.push(c);
  for (let head = 0; head < queue.length; head++) {
    const c = queue[head];
    const x = c % columns;
    const near = [
      x > 0 ? c - 1 : -1,
      x + 1 < columns ? c + 1 : -1,
      c - columns,
      c + columns < columns * rows ? c + columns : -1,
    ];
    for (const o of near) {
      if (o < 0 || resting[o] || Math.abs(lowest[o] - lowest[c]) > STEEP * cellM) continue;
      resting[o] = 1;
      h[o] = lowest[o];
      queue.push(o);
    }
  }
}

/** The lowest point of a cell lies below its middle: where the cloth rests, heights become means of what lies on it. */
function refine(
  points: PointSet,
  h: Float32Array,
  resting: Uint8Array,
  { columns, rows, cellM, start, order }: Cells,
): void {
  const low = h.slice();
  for (let c = 0; c < h.length; c++) {
    if (!resting[c] || start[c + 1] === start[c]) continue;
    const [x, y] = [c % columns, Math.floor(c / columns)];
    const [w, e] = [x > 0 ? c - 1 : c, x + 1 < columns ? c + 1 : c];
    const [s, n] = [y > 0 ? c - columns : c, y + 1 < rows ? c + columns : c];
    const slope = Math.hypot(
      (low[e] - low[w]) / (Math.max(1, e - w) * cellM),
      (low[n] - low[s]) / (Math.max(1, (n - s) / columns) * cellM),
    );
    const top = low[c] + BAND_M + Math.min(STEEP, slope) * cellM * Math.SQRT2;
    let sum = 0;
    let count = 0;
    for (let k = start[c]; k < start[c + 1]; k++) {
      const z = points.z[order[k]];
      if (z > top) continue;
      sum += z;
      count++;
    }
    if (count) h[c] = sum / count;
  }
}
