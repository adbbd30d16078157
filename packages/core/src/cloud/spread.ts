/** Land as square cells: the lowest height of each, NaN where there is none. Row 0 is the southernmost. */
export interface CellLand {
  columns: number;
  rows: number;
  cellM: number;
  heightM: Float32Array;
}

export interface SpreadSettings {
  /** Steepest rise from one cell to the next, as a slope (not an angle). */
  steep: number;
  /** Noise of the heights that is forgiven, metres. */
  forgiveM: number;
}

/** Empty cells that are stepped over at most. */
const GAP_CELLS = 3;
/** Over a gap no more than this much is forgiven beside the slope that goes on, metres. */
const MAX_M = 0.4;

const WAYS_EAST = [1, -1, 0, 0, 1, -1, 1, -1];
const WAYS_NORTH = [0, 0, 1, -1, 1, 1, -1, -1];

/**
 * Lets ground spread from the cells that are ground already. To a neighbour it goes on when this stands where the slope
 * of the ground so far leads, give or take; what lies lower is ground too, since nothing lies under it. So a plateau is
 * filled from its middle out to the edge of the cliff, and the cliff down from the plateau, while a house, which ground
 * would have to climb, is left out (the idea of a region that grows, Adams & Bischof 1994, on slopes instead of greys).
 * @param ground 1 for cells that are ground; changed in place. @param from cells to spread from; all ground without it.
 * @returns how many cells joined.
 */
export function spreadGround(
  land: CellLand,
  ground: Uint8Array,
  settings: SpreadSettings,
  from?: ArrayLike<number>,
): number {
  const { columns, rows, cellM, heightM } = land;
  const { steep, forgiveM } = settings;
  const queue = new Int32Array(ground.length);
  let tail = 0;
  if (from) for (; tail < from.length; tail++) queue[tail] = from[tail];
  else for (let c = 0; c < ground.length; c++) if (ground[c]) queue[tail++] = c;
  const first = tail;
  for (let head = 0; head < tail; head++) {
    const c = queue[head];
    const x = c % columns;
    const y = (c - x) / columns;
    const east = slopeOf(land, ground, c, 1, x, columns, steep);
    const north = slopeOf(land, ground, c, columns, y, rows, steep);
    for (let way = 0; way < 8; way++) {
      const dx = WAYS_EAST[way];
      const dy = WAYS_NORTH[way];
      for (let step = 1; step <= GAP_CELLS + 1; step++) {
        const u = x + step * dx;
        const v = y + step * dy;
        if (u < 0 || v < 0 || u >= columns || v >= rows) break;
        const n = v * columns + u;
        const height = heightM[n];
        if (Number.isNaN(height)) continue;
        if (!ground[n]) {
          const ex = step * dx * cellM;
          const ey = step * dy * cellM;
          const half = 0.5 * steep * Math.sqrt(ex * ex + ey * ey);
          // at the foot of a steep slope the land may lie level again
          const off = height - heightM[c] - Math.max(-half, east * ex + north * ey);
          const room = forgiveM + Math.min(MAX_M, half);
          if (off <= room) {
            ground[n] = 1;
            queue[tail++] = n;
          }
        }
        break;
      }
    }
  }
  return tail - first;
}

/** Slope of the ground so far at a cell along one axis, from cells up to two away, held within the steepest. */
function slopeOf(
  { heightM, cellM }: CellLand,
  ground: Uint8Array,
  c: number,
  stride: number,
  place: number,
  length: number,
  steep: number,
): number {
  let [before, after] = [0, 0];
  for (let k = 2; k >= 1 && !before; k--) if (place >= k && ground[c - k * stride]) before = k;
  for (let k = 2; k >= 1 && !after; k--) if (place + k < length && ground[c + k * stride]) after = k;
  if (before + after === 0) return 0;
  const slope = (heightM[c + after * stride] - heightM[c - before * stride]) / ((before + after) * cellM);
  return Math.max(-steep, Math.min(steep, slope));
}
