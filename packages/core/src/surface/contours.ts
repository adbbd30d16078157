import { tick, type Watch } from '../shared/progress';
import { type HeightGrid } from './grid';

/** A line of equal height, easting and northing in metres, alternately. Closed lines repeat the first point. */
export interface Contour {
  heightM: number;
  /** Every fifth interval is an index contour. */
  index: boolean;
  coordinates: Float64Array;
}

/**
 * Contours of a grid by marching squares (linear along cell sides; saddles by the mean of the four corners), linked
 * into lines. Lines end at empty cells; nothing is drawn across them.
 * @param intervalM height step; contours lie on its whole multiples.
 */
export function contoursOfGrid(grid: HeightGrid, intervalM: number, watch?: Watch): Contour[] {
  let min = Infinity,
    max = -Infinity;
  for (const h of grid.heightM) {
    if (h < min) min = h;
    if (h > max) max = h;
  }
  const out: Contour[] = [];
  if (!(max >= min)) return out;
  const first = Math.ceil(min / intervalM);
  const last = Math.floor(max / intervalM);
  const buckets = bucketSquares(grid, intervalM, first, last);
  for (let level = first; level <= last; level++) {
    tick(watch, (level - first) / Math.max(1, last - first));
    traceLevel(grid, level, intervalM, buckets[level - first], out);
  }
  return out;
}

/** For each level the squares (by their north-west cell) that it crosses. */
function bucketSquares(grid: HeightGrid, intervalM: number, first: number, last: number): number[][] {
  const buckets: number[][] = Array.from({ length: last - first + 1 }, () => []);
  const { columns, rows, heightM: h } = grid;
  for (let r = 0; r + 1 < rows; r++) {
    for (let c = 0; c + 1 < columns; c++) {
      const i = r * columns + c;
      const a = h[i],
        b = h[i + 1],
        d = h[i + columns],
        e = h[i + columns + 1];
      const low = Math.min(a, b, d, e);
      if (Number.isNaN(low)) continue;
      const high = Math.max(a, b, d, e);
      for (
        let level = Math.max(first, Math.floor(low / intervalM));
        level <= Math.min(last, Math.ceil(high / intervalM));
        level++
      )
        if (low < level * intervalM && high >= level * intervalM) buckets[level - first].push(i);
    }
  }
  return buckets;
}

/**
 * Sides of squares are numbered: side between cell i and its east neighbour 2i, and its south neighbour 2i+1.
 * Each crossed side holds one contour point; squares link pairs of sides.
 */
function traceLevel(grid: HeightGrid, level: number, intervalM: number, squares: number[], out: Contour[]): void {
  const { columns, heightM: h } = grid;
  const value = level * intervalM;
  const links = new Map<number, [number, number]>();
  const link = (s: number, t: number) => {
    const ls = links.get(s);
    if (ls) ls[1] = t;
    else links.set(s, [t, -1]);
    const lt = links.get(t);
    if (lt) lt[1] = s;
    else links.set(t, [s, -1]);
  };
  for (const i of squares) {
    const nw = h[i] >= value,
      ne = h[i + 1] >= value;
    const sw = h[i + columns] >= value,
      se = h[i + columns + 1] >= value;
    const top = 2 * i,
      left = 2 * i + 1,
      bottom = 2 * (i + columns),
      right = 2 * (i + 1) + 1;
    const sides: number[] = [];
    if (nw !== ne) sides.push(top);
    if (ne !== se) sides.push(right);
    if (sw !== se) sides.push(bottom);
    if (nw !== sw) sides.push(left);
    if (sides.length === 2) link(sides[0], sides[1]);
    else if (sides.length === 4) {
      const centre = (h[i] + h[i + 1] + h[i + columns] + h[i + columns + 1]) / 4 >= value;
      if (centre === nw) {
        link(top, right);
        link(bottom, left);
      } else {
        link(top, left);
        link(bottom, right);
      }
    }
  }
  const done = new Set<number>();
  const ends = [...links.keys()].filter((s) => links.get(s)![1] < 0);
  for (const start of [...ends, ...links.keys()]) {
    if (done.has(start)) continue;
    const line: number[] = [start];
    done.add(start);
    let previous = -1;
    let here = start;
    for (;;) {
      const [p, q] = links.get(here)!;
      const next = p !== previous || p === q ? p : q;
      if (next < 0 || (done.has(next) && next !== start)) break;
      line.push(next);
      if (next === start) break;
      done.add(next);
      previous = here;
      here = next;
    }
    if (line.length > 1) out.push({ heightM: value, index: level % 5 === 0, coordinates: place(grid, line, value) });
  }
}

function place(grid: HeightGrid, sides: number[], value: number): Float64Array {
  const { columns, heightM: h, cellM } = grid;
  const out = new Float64Array(2 * sides.length);
  sides.forEach((side, k) => {
    const i = side >> 1;
    const j = side & 1 ? i + columns : i + 1;
    const u = h[j] === h[i] ? 0.5 : (value - h[i]) / (h[j] - h[i]);
    const row = Math.floor(i / columns) + (side & 1 ? u : 0);
    const col = (i % columns) + (side & 1 ? 0 : u);
    out[2 * k] = grid.westM + (col + 0.5) * cellM;
    out[2 * k + 1] = grid.northM - (row + 0.5) * cellM;
  });
  return out;
}
