import { type CellLand } from './spread';

/** At least this share of the ground under a window must have been seen for its lowest cell to count. */
const SEEN = 0.5;
/** Patches that say what was seen, cells along a side. */
const PATCH = 4;

/**
 * Cells that are ground for certain: those that are lowest in some square window larger than anything without ground
 * inside it, wherever that window lies (a morphological opening, as in Zhang et al. 2003, of which only what it leaves
 * untouched is taken). Windows that lie partly outside the cloud, or over much that was never seen, say nothing,
 * unless there are no others.
 * @param ground set to 1 at the seeds. @param windowM side of the window, metres. @param forgiveM so much higher than
 * the lowest is as low, metres: the noise.
 * @returns the opened land: the highest of the lowest heights of all windows that hold a cell, seen or not.
 */
export function seedGround(land: CellLand, ground: Uint8Array, windowM: number, forgiveM: number): Float32Array {
  const { columns, rows, cellM, heightM } = land;
  const wide = Math.max(1, Math.round(windowM / cellM));
  const [w, h] = [Math.min(wide, columns), Math.min(wide, rows)];
  const filled = heightM.map((z) => (Number.isNaN(z) ? Infinity : z));
  const least = minOfWindows(filled, columns, rows, w, h);
  const opened = highestOfWindows(least, columns, rows, w, h);
  hideUnseen(least, heightM, columns, rows, w, h);
  const certain = highestOfWindows(least, columns, rows, w, h);
  // with so little seen anywhere, what there is must do
  const found = mark(heightM, certain, forgiveM, ground);
  if (!found) mark(heightM, opened, 0, ground);
  return opened;
}

function mark(heightM: Float32Array, limit: Float32Array, forgiveM: number, ground: Uint8Array): number {
  let count = 0;
  for (let c = 0; c < heightM.length; c++)
    if (heightM[c] <= limit[c] + forgiveM) {
      ground[c] = 1;
      count++;
    }
  return count;
}

/** The highest of the windows that hold each cell; those of infinite height say nothing. */
function highestOfWindows(least: Float32Array, columns: number, rows: number, w: number, h: number): Float32Array {
  const [across, down] = [columns - w + 1, rows - h + 1];
  // room around, so that sliding covers all cells; turned over, the highest are the least
  const width = across + 2 * (w - 1);
  const turned = new Float32Array(width * (down + 2 * (h - 1))).fill(Infinity);
  for (let r = 0; r < down; r++)
    for (let c = 0, at = (r + h - 1) * width + w - 1; c < across; c++, at++)
      if (least[r * across + c] < Infinity) turned[at] = -least[r * across + c];
  const out = minOfWindows(turned, width, down + 2 * (h - 1), w, h);
  for (let c = 0; c < out.length; c++) out[c] = -out[c];
  return out;
}

/**
 * Least of each window that lies inside: along rows, then along columns. Each needs three looks whatever the size of the
 * window: from the last multiple of the size forwards, and from the next one backwards (van Herk 1992).
 */
function minOfWindows(values: Float32Array, columns: number, rows: number, w: number, h: number): Float32Array {
  const across = columns - w + 1;
  const down = rows - h + 1;
  const between = new Float32Array(across * rows);
  const forward = new Float32Array(columns);
  const backward = new Float32Array(columns);
  for (let r = 0; r < rows; r++) {
    const at = r * columns;
    for (let i = 0, k = 0; i < columns; i++, k = k + 1 === w ? 0 : k + 1) {
      const v = values[at + i];
      forward[i] = k > 0 && forward[i - 1] < v ? forward[i - 1] : v;
    }
    for (let i = columns - 1, k = columns % w; i >= 0; i--, k = k === 0 ? w - 1 : k - 1) {
      const v = values[at + i];
      backward[i] = k !== 0 && i + 1 < columns && backward[i + 1] < v ? backward[i + 1] : v;
    }
    for (let i = 0; i < across; i++) {
      const v = forward[i + w - 1];
      between[r * across + i] = backward[i] < v ? backward[i] : v;
    }
  }
  const up = between.slice();
  for (let r = 1; r < rows; r++) {
    if (r % h === 0) continue;
    for (let c = r * across; c < (r + 1) * across; c++) if (up[c - across] < up[c]) up[c] = up[c - across];
  }
  for (let r = rows - 2; r >= 0; r--) {
    if ((r + 1) % h === 0) continue;
    for (let c = r * across; c < (r + 1) * across; c++)
      if (between[c + across] < between[c]) between[c] = between[c + across];
  }
  const out = new Float32Array(across * down);
  for (let c = 0; c < out.length; c++) {
    const v = up[c + (h - 1) * across];
    out[c] = between[c] < v ? between[c] : v;
  }
  return out;
}

/** Takes the word from windows over which too few patches hold a point. */
function hideUnseen(
  least: Float32Array,
  heightM: Float32Array,
  columns: number,
  rows: number,
  w: number,
  h: number,
): void {
  const wide = Math.ceil(columns / PATCH);
  const high = Math.ceil(rows / PATCH);
  const sums = new Int32Array((wide + 1) * (high + 1));
  const seen = new Uint8Array(wide * high);
  for (let c = 0; c < heightM.length; c++) {
    if (Number.isNaN(heightM[c])) continue;
    const x = c % columns;
    seen[Math.floor((c - x) / columns / PATCH) * wide + Math.floor(x / PATCH)] = 1;
  }
  for (let r = 0; r < high; r++)
    for (let c = 0, row = 0; c < wide; c++) {
      row += seen[r * wide + c];
      sums[(r + 1) * (wide + 1) + c + 1] = sums[r * (wide + 1) + c + 1] + row;
    }
  const across = columns - w + 1;
  const width = wide + 1;
  for (let at = 0, y = 0; at < least.length; y++) {
    const south = Math.floor(y / PATCH) * width;
    const north = Math.ceil((y + h) / PATCH) * width;
    const down = (north - south) / width;
    for (let x = 0; x < across; x++, at++) {
      const west = Math.floor(x / PATCH);
      const east = Math.ceil((x + w) / PATCH);
      const count = sums[north + east] - sums[south + east] - sums[north + west] + sums[south + west];
      if (count < SEEN * down * (east - west)) least[at] = -Infinity;
    }
  }
}
