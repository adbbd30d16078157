import { part, tick, type Watch } from '../shared/progress';
import { sortedColumns, sortIntoCells, supportedLowest, type Cells, type SortedColumns } from './cells';
import { atMiddles, carryOn } from './clothHeights';
import { heightsOf } from './densify';
import { FORGIVEN, noiseOfCells, withinOf, type TellGround } from './noiseOfCells';
import { type PointSet } from './points';
import { seedGround } from './seed';
import { spreadGround } from './spread';

export interface ClothSettings {
  /** Edge of a cell of the cloth, metres: finer follows more detail, and lets more low things through. */
  clothCellM: number;
  /** 1 gives way (steep and broken land), 2 in between, 3 stays flat (towns on level land). */
  stiffness: 1 | 2 | 3;
  /** A point this near the cloth at rest is ground, metres; 0: as the noise of the cloud says. */
  clothWithinM: number;
}

export const CLOTH_DEFAULTS: ClothSettings = { clothCellM: 0.5, stiffness: 2, clothWithinM: 0 };

/** Deviations of the noise that are still ground, and the least and most that they are taken for, metres. */
const WITHIN = { deviations: 5, minM: 0.1, maxM: 0.3 };

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

/** Rounds in which the cloth settles between its pins. */
const ROUNDS = 100;
/** No part moves further in a round: what comes up slowly is not carried through a roof, metres. */
const FASTEST_M = 0.1;
/** Below this movement of any part in a round the cloth is at rest, metres. */
const AT_REST_M = 0.004;
/** What a round adds to a part that falls, and what it takes of its speed. */
const FALL_M = 0.2 * 0.65 ** 4;
const DAMPING = 0.3;
/** Side of what a cloth of each stiffness spans without touching what lies inside, metres. */
const SPANS_M = { 1: 12, 2: 20, 3: 50 };
/** Parts that hang are laid on the points below as far as these rise no more steeply, as a slope. */
const STEEP = 1;

/**
 * Ground by a cloth that falls onto the cloud turned upside down (Zhang et al. 2016): stiff enough not to sink into
 * houses and trees, soft enough to follow the land. It is pinned where the land is lowest in a window as wide as the
 * cloth spans, and settles from the opened land (`seedGround`) in between. Beside parts that rest it is laid on
 * the points as far as the land goes on from there (`spreadGround`): over the edge of a plateau and down its cliff.
 * @param skip 1 for points to leave out (strays). @param tell hears of the noise that was found.
 * @returns 1 for each ground point.
 */
export function findGroundByCloth(
  points: PointSet,
  settings: ClothSettings = CLOTH_DEFAULTS,
  skip?: Uint8Array,
  watch?: Watch,
  tell?: TellGround,
): Uint8Array {
  const out = new Uint8Array(points.count);
  tick(watch, 0, 'Sorting into cells');
  const cells = sortIntoCells(points, settings.clothCellM, skip);
  const { order, columns, rows, cellM } = cells;
  if (order.length < 3) return out;
  const sorted = sortedColumns(points, cells);
  const seen = heightsOf(sorted, supportedLowest(sorted, cells));
  const land = { columns, rows, cellM, heightM: seen };
  const resting = new Uint8Array(columns * rows);
  const noiseM = noiseOfCells(sorted, cells);
  const withinM = settings.clothWithinM || withinOf(noiseM, WITHIN);
  tell?.({ noiseM, withinM });
  const forgiveM = withinOf(noiseM, FORGIVEN);
  const height = seedGround(land, resting, SPANS_M[settings.stiffness], forgiveM);
  fillUnseen(height, columns, rows);
  const spread = { steep: STEEP, forgiveM };
  spreadGround(land, resting, spread);
  // over cells without points the cloth stays at the opened land; they say nothing of their neighbours
  for (let c = 0; c < resting.length; c++)
    if (Number.isNaN(seen[c])) resting[c] = 1;
    else if (resting[c]) height[c] = seen[c];
  const landed = settle({ columns, rows, lowest: seen, height, resting }, settings, part(watch, 0.2, 0.85));
  for (let c = 0; c < resting.length; c++) if (Number.isNaN(seen[c])) resting[c] = 0;
  spreadGround(land, resting, spread, landed);
  for (let c = 0; c < resting.length; c++) if (resting[c]) height[c] = seen[c];
  atMiddles(sorted, height, resting, cells, withinM);
  carryOn(height, resting, cells);
  tick(watch, 0.9, 'Judging points');
  judge(sorted, height, cells, withinM, out);
  tick(watch, 1);
  return out;
}

/** 1 for points this near to the cloth, along its normal. */
function judge(
  { x, y, z }: SortedColumns,
  height: Float32Array,
  { columns, rows, cellM, order }: Cells,
  withinM: number,
  out: Uint8Array,
): void {
  for (let k = 0; k < order.length; k++) {
    const u = x[k] / cellM - 0.5;
    const v = y[k] / cellM - 0.5;
    const c = Math.max(0, Math.min(columns - 2, Math.floor(u)));
    const r = Math.max(0, Math.min(rows - 2, Math.floor(v)));
    const at = r * columns + c;
    const right = columns > 1 ? 1 : 0;
    const up = rows > 1 ? columns : 0;
    const fu = u - c;
    const fv = v - r;
    const sw = height[at];
    const se = height[at + right];
    const nw = height[at + up];
    const ne = height[at + up + right];
    const south = sw + fu * (se - sw);
    const north = nw + fu * (ne - nw);
    const dz = Math.abs(z[k] - south - fv * (north - south));
    if (dz <= withinM) out[order[k]] = 1;
    else {
      const ex = ((1 - fv) * (se - sw) + fv * (ne - nw)) / cellM;
      const ey = (north - south) / cellM;
      if (dz * dz <= withinM * withinM * (1 + ex * ex + ey * ey)) out[order[k]] = 1;
    }
  }
}

/** Where no window held a point, heights go on from the last ones, along rows and then columns. */
function fillUnseen(height: Float32Array, columns: number, rows: number): void {
  const carry = (from: number, stride: number, count: number): void => {
    let last = -Infinity;
    for (let k = 0, c = from; k < count; k++, c += stride)
      if (height[c] === -Infinity) height[c] = last;
      else last = height[c];
  };
  for (let r = 0; r < rows; r++) {
    carry(r * columns, 1, columns);
    carry((r + 1) * columns - 1, -1, columns);
  }
  for (let c = 0; c < columns; c++) {
    carry(c, columns, rows);
    carry((rows - 1) * columns + c, -columns, rows);
  }
}

interface Cloth {
  columns: number;
  rows: number;
  lowest: Float32Array;
  height: Float32Array;
  /** 1 where it lies on the points. */
  resting: Uint8Array;
}

/**
 * Lets the cloth rise from where it is until it is at rest against the lowest heights, or its rounds are over.
 * @returns cells that landed.
 */
function settle(cloth: Cloth, { stiffness }: ClothSettings, watch?: Watch): number[] {
  const { columns, rows, lowest, height, resting } = cloth;
  const before = height.slice();
  const on: number[] = [];
  // a stiffer cloth evens out its threads more often in a round: done at once by these shares
  const both = 0.5 * (1 - 0.4 ** stiffness);
  const one = 1 - 0.7 ** stiffness;
  let free = cellsMarked(resting, 0);
  let pulling = startsOfFreeThreads(resting, columns, rows);
  for (let round = 0; round < ROUNDS; round++) {
    let most = 0;
    let landed = 0;
    for (const c of free) {
      if (resting[c]) continue;
      const step = Math.max(-FASTEST_M, Math.min(FASTEST_M, (height[c] - before[c]) * (1 - DAMPING) + FALL_M));
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
        on.push(c);
      }
      const moved = Math.abs(height[c] - before[c]);
      if (moved > most) most = moved;
    }
    // what rests moves no more: it is left out, and so are the threads between parts that rest
    if (landed > free.length / 8) {
      free = cellsMarked(resting, 0);
      pulling = startsOfFreeThreads(resting, columns, rows);
    }
    if ((round & 7) === 0) tick(watch, round / ROUNDS, 'Letting the cloth settle');
    if (round > 10 && most < AT_REST_M) break;
  }
  return on;
}

/** Cells, in order, with this mark. */
function cellsMarked(marks: Uint8Array, value: number): Int32Array {
  const out = new Int32Array(marks.length);
  let count = 0;
  for (let c = 0; c < marks.length; c++) if (marks[c] === value) out[count++] = c;
  return out.subarray(0, count);
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
  return cellsMarked(holds, 1);
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
