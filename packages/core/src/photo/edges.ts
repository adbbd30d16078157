import { quantile } from '../numeric/statistics';

/** A grey image, rows from the top; NaN where nothing is known. */
export interface Grey {
  columns: number;
  rows: number;
  value: Float32Array;
}

/** By how much one image lies beside another. */
export interface EdgeShift {
  /** To the right and down, in cells. */
  dx: number;
  dy: number;
  /** How well edges lie over each other there, −1 to 1. */
  correlation: number;
}

/** Peaks below this tell nothing. */
const LEAST_CORRELATION = 0.12;
/** Cells that both images need at a shift. */
const FEWEST_CELLS = 400;
/** Of the first look, one row in so many is compared. */
const COARSE_ROWS = 3;
/** Steps uphill, at most. */
const MOST_STEPS = 12;

/** Strength of edges: length of the gradient over two cells either way, strong ones no more than the strongest twentieth. */
function edgesOf({ columns, rows, value }: Grey): Float32Array {
  const out = new Float32Array(columns * rows).fill(Number.NaN);
  const sample: number[] = [];
  for (let r = 1; r < rows - 1; r++)
    for (let c = 1; c < columns - 1; c++) {
      const k = r * columns + c;
      const strength = Math.hypot(value[k + 1] - value[k - 1], value[k + columns] - value[k - columns]);
      out[k] = strength;
      if (strength >= 0 && (k & 7) === 0) sample.push(strength);
    }
  if (!sample.length) return out;
  const limit = quantile(sample, 0.95);
  for (let k = 0; k < out.length; k++) if (out[k] > limit) out[k] = limit;
  return out;
}

/** Correlation of two images where both are known, the second moved by whole cells; every so many rows are compared. */
function correlationAt(
  a: Float32Array,
  b: Float32Array,
  columns: number,
  rows: number,
  dx: number,
  dy: number,
  everyRow: number,
): number {
  let n = 0;
  let sa = 0;
  let sb = 0;
  let saa = 0;
  let sbb = 0;
  let sab = 0;
  const from = Math.max(0, dx);
  const to = Math.min(columns, columns + dx);
  for (let r = Math.max(0, dy); r < Math.min(rows, rows + dy); r += everyRow) {
    const first = (r - dy) * columns - dx;
    const second = r * columns;
    for (let c = from; c < to; c++) {
      const p = a[first + c];
      const q = b[second + c];
      if (!(p >= 0) || !(q >= 0)) continue;
      n++;
      sa += p;
      sb += q;
      saa += p * p;
      sbb += q * q;
      sab += p * q;
    }
  }
  if (n * everyRow < FEWEST_CELLS) return Number.NaN;
  const va = saa - (sa * sa) / n;
  const vb = sbb - (sb * sb) / n;
  return va > 0 && vb > 0 ? (sab - (sa * sb) / n) / Math.sqrt(va * vb) : Number.NaN;
}

/**
 * Shift of the second image against the first by the correlation of their edges, to a fraction of a cell by parabolas
 * through the highest value. Brightness may mean different things in both, or even be reversed: edges lie where they are.
 * @param mostCells looked for. @returns undefined where edges tell nothing.
 */
export function edgeShift(first: Grey, second: Grey, mostCells = 8): EdgeShift | undefined {
  const { columns, rows } = first;
  const [a, b] = [edgesOf(first), edgesOf(second)];
  const side = 2 * mostCells + 1;
  const found = new Float64Array(side * side);
  found.fill(Number.NaN);
  let best = -1;
  const at = (dx: number, dy: number) => (dy + mostCells) * side + dx + mostCells;
  const look = (dx: number, dy: number, everyRow: number) => {
    if (Math.abs(dx) > mostCells || Math.abs(dy) > mostCells) return;
    const k = at(dx, dy);
    found[k] = correlationAt(a, b, columns, rows, dx, dy, everyRow);
    if (found[k] >= 0 && (best < 0 || found[k] > found[best])) best = k;
  };
  // every second shift by a third of the rows tells where the peak is, then all about it by all rows
  for (let dy = -mostCells; dy <= mostCells; dy += 2)
    for (let dx = -mostCells; dx <= mostCells; dx += 2) look(dx, dy, COARSE_ROWS);
  if (best < 0) return undefined;
  for (let step = 0; step < MOST_STEPS; step++) {
    const [x, y] = [(best % side) - mostCells, Math.floor(best / side) - mostCells];
    if (step === 0) {
      found.fill(Number.NaN);
      best = -1;
    }
    const before = best;
    for (let dy = y - 1; dy <= y + 1; dy++)
      for (let dx = x - 1; dx <= x + 1; dx++)
        if (Math.abs(dx) <= mostCells && Math.abs(dy) <= mostCells && Number.isNaN(found[at(dx, dy)])) look(dx, dy, 1);
    if (best === before) break;
  }
  if (best < 0 || found[best] < LEAST_CORRELATION) return undefined;
  const [x, y] = [best % side, Math.floor(best / side)];
  if (x === 0 || y === 0 || x === side - 1 || y === side - 1) return undefined;
  const top = (before: number, peak: number, after: number) => {
    const bend = before - 2 * peak + after;
    return bend < 0 ? (0.5 * (before - after)) / bend : 0;
  };
  const peak = found[best];
  return {
    dx: x - mostCells + top(found[best - 1], peak, found[best + 1]),
    dy: y - mostCells + top(found[best - side], peak, found[best + side]),
    correlation: peak,
  };
}
