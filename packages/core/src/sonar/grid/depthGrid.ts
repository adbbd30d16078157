import { extremes, median } from '../../numeric/statistics';
import { tick, type Watch } from '../../shared/progress';
import { emptyGrid, type HeightGrid } from '../../surface/grid';

/** What a cell's height is made of its soundings. */
export const DEPTH_METHODS = ['shoalest', 'median', 'mean', 'weighted'] as const;
export type DepthMethod = (typeof DEPTH_METHODS)[number];

/** Soundings that count, metres; heights positive up. */
export interface GriddedSoundings {
  eastingM: Float64Array;
  northingM: Float64Array;
  heightM: Float64Array;
  /** 1 SD of each height; undefined when none is stated. */
  sdHM?: Float32Array;
  /** GPS seconds since 1980. */
  gpsS: Float64Array;
}

/** A grid of heights of the bed with what it rests on; all of one shape. */
export interface DepthGrid {
  grid: HeightGrid;
  /** Soundings in each cell; 0 where it is empty or filled. */
  count: Uint32Array;
  /** Spread of the soundings of a cell, 1 SD; of a single one what it states, else NaN. */
  spreadM: Float32Array;
  /** 1 SD of the height of the cell by what its soundings state; NaN where nothing is stated. */
  sdM: Float32Array;
  /** Latest time of a cell's soundings, GPS seconds since 1980; NaN where there is none. */
  latestS: Float64Array;
  /** 1 where the height was interpolated over a hole. */
  filled: Uint8Array;
}

/**
 * Puts soundings into cells. *shoalest*: the highest; *median*: the middle one (of two in the middle their mean); *mean*;
 * *weighted*: mean with weights 1/SD².
 */
export function gridSoundings(s: GriddedSoundings, cellM: number, method: DepthMethod, watch?: Watch): DepthGrid {
  const n = s.eastingM.length;
  const [x0, x1] = extremes(s.eastingM);
  const [y0, y1] = extremes(s.northingM);
  // the outermost sounding must lie within a cell, also on its edge
  const grid = emptyGrid(x0, y0, x1 + cellM * 1e-6, y1 + cellM * 1e-6, cellM);
  const { westM, northM, columns, rows } = grid;
  const southM = northM - rows * cellM;
  const cells = columns * rows;
  const cellOf = new Int32Array(n);
  const count = new Uint32Array(cells);
  for (let i = 0; i < n; i++) {
    const c = Math.min(columns - 1, Math.max(0, Math.floor((s.eastingM[i] - westM) / cellM)));
    const r = Math.min(rows - 1, Math.max(0, rows - 1 - Math.floor((s.northingM[i] - southM) / cellM)));
    count[(cellOf[i] = r * columns + c)]++;
  }
  tick(watch, 0.3);
  // soundings in the order of their cells
  const start = new Uint32Array(cells + 1);
  for (let c = 0; c < cells; c++) start[c + 1] = start[c] + count[c];
  const next = start.slice(0, cells);
  const order = new Uint32Array(n);
  for (let i = 0; i < n; i++) order[next[cellOf[i]]++] = i;
  tick(watch, 0.6);
  const spreadM = new Float32Array(cells).fill(Number.NaN);
  const sdM = new Float32Array(cells).fill(Number.NaN);
  const latestS = new Float64Array(cells).fill(Number.NaN);
  const values = new Float64Array(count.reduce((most, k) => Math.max(most, k), 0));
  for (let c = 0; c < cells; c++) {
    if ((c & 0xffff) === 0) tick(watch, 0.6 + (0.4 * c) / cells);
    const from = start[c];
    const k = count[c];
    if (k === 0) continue;
    let [sum, squares, weights, weighted, variance, latest, highest] = [0, 0, 0, 0, 0, -Infinity, -1];
    const base = s.heightM[order[from]];
    for (let j = 0; j < k; j++) {
      const i = order[from + j];
      const h = s.heightM[i] - base;
      values[j] = h;
      sum += h;
      squares += h * h;
      const sd = s.sdHM ? s.sdHM[i] : Number.NaN;
      const w = sd > 0 ? 1 / (sd * sd) : 1;
      weights += w;
      weighted += w * h;
      variance += sd * sd;
      if (s.gpsS[i] > latest) latest = s.gpsS[i];
      if (highest < 0 || h > values[highest]) highest = j;
    }
    const mean = sum / k;
    const stated = s.sdHM ? s.sdHM[order[from + highest]] : Number.NaN;
    spreadM[c] = k > 1 ? Math.sqrt(Math.max(0, (squares - sum * mean) / (k - 1))) : stated;
    latestS[c] = latest;
    let h: number;
    if (method === 'shoalest') {
      h = values[highest];
      sdM[c] = stated;
    } else if (method === 'median') {
      h = median(values.subarray(0, k));
      // of normal errors the median has π/2 times the variance of the mean, from three on
      sdM[c] = (Math.sqrt(variance) / k) * (k > 2 ? Math.sqrt(Math.PI / 2) : 1);
    } else if (method === 'mean') {
      h = mean;
      sdM[c] = Math.sqrt(variance) / k;
    } else {
      h = weighted / weights;
      sdM[c] = s.sdHM ? 1 / Math.sqrt(weights) : Number.NaN;
    }
    grid.heightM[c] = base + h;
  }
  return { grid, count, spreadM, sdM, latestS, filled: new Uint8Array(cells) };
}

/**
 * Spacing of soundings where they lie: root of the area of squares over the soundings in them, by the median of squares
 * that hold some.
 */
export function soundingSpacingM({ eastingM, northingM }: Pick<GriddedSoundings, 'eastingM' | 'northingM'>): number {
  const n = eastingM.length;
  if (n < 2) return Number.NaN;
  const [x0, x1] = extremes(eastingM);
  const [y0, y1] = extremes(northingM);
  const area = Math.max(1e-6, (x1 - x0) * (y1 - y0));
  // about sixteen in a square where they lie everywhere; more where they lie in lines
  const side = Math.sqrt((16 * area) / n);
  const columns = Math.floor((x1 - x0) / side) + 1;
  const counts = new Map<number, number>();
  for (let i = 0; i < n; i++) {
    const at = Math.floor((northingM[i] - y0) / side) * columns + Math.floor((eastingM[i] - x0) / side);
    counts.set(at, (counts.get(at) ?? 0) + 1);
  }
  return side / Math.sqrt(median(Float64Array.from(counts.values())));
}

/** Directions in pairs that face each other: column, row. */
const PAIRS = [
  [1, 0],
  [0, 1],
  [1, 1],
  [1, -1],
] as const;

/**
 * Fills holes between soundings: an empty cell that has soundings within a distance on two sides that face each other gets
 * the mean of these ends by nearness. Nothing is carried beyond the rim.
 * @param withinM to either side, metres; 0: nothing is filled. @returns cells filled.
 */
export function fillHoles({ grid, count, filled }: DepthGrid, withinM: number): number {
  const { columns, rows, cellM, heightM } = grid;
  const most = Math.floor(withinM / cellM + 1e-9);
  if (most < 1) return 0;
  let made = 0;
  const ends = (c: number, r: number, dc: number, dr: number): [number, number] => {
    const long = dc && dr ? Math.SQRT2 : 1;
    for (let k = 1; k * long <= most; k++) {
      const [cc, rr] = [c + k * dc, r + k * dr];
      if (cc < 0 || rr < 0 || cc >= columns || rr >= rows) break;
      if (count[rr * columns + cc] > 0) return [heightM[rr * columns + cc], k * long];
    }
    return [0, 0];
  };
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++) {
      const at = r * columns + c;
      if (count[at] > 0) continue;
      let [sum, weights] = [0, 0];
      for (const [dc, dr] of PAIRS) {
        const [ha, a] = ends(c, r, dc, dr);
        if (a === 0) continue;
        const [hb, b] = ends(c, r, -dc, -dr);
        if (b === 0) continue;
        // straight between both ends; short pairs count more
        const w = 1 / (a + b) ** 2;
        sum += (w * (ha * b + hb * a)) / (a + b);
        weights += w;
      }
      if (weights === 0) continue;
      heightM[at] = sum / weights;
      filled[at] = 1;
      made++;
    }
  return made;
}
