import { siteObjects } from '../objects';
import { WATER } from '../pictures';
import { groundAt, lastSurface, SITE_LENGTH_M, SITE_WIDTH_M } from '../terrain';

/** The site from above: highest surface and what it is, by square cells. */
export interface Relief {
  cellM: number;
  columns: number;
  rows: number;
  heightM: Float32Array;
  kind: Uint8Array;
  /** Highest of blocks of cells, and their edge in cells. */
  block: number;
  blockColumns: number;
  topM: Float32Array;
}

const CELL_M = 0.2;
const BLOCK = 20;
/** Below this the reach is water. */
const WATER_M = 0.1;

let made: Relief | undefined;

/** The relief of the whole site; made once a process. Wires are too thin to be seen from the air. */
export function siteRelief(): Relief {
  return (made ??= draw());
}

function draw(): Relief {
  const columns = Math.round(SITE_WIDTH_M / CELL_M);
  const rows = Math.round(SITE_LENGTH_M / CELL_M);
  const heightM = new Float32Array(columns * rows);
  const kind = new Uint8Array(columns * rows);
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++) {
      const h = groundAt((c + 0.5) * CELL_M, (r + 0.5) * CELL_M);
      const water = h < WATER_M;
      heightM[r * columns + c] = water ? WATER_M : h;
      kind[r * columns + c] = water ? WATER : lastSurface;
    }
  const relief = { cellM: CELL_M, columns, rows, heightM, kind };
  for (const o of siteObjects()) {
    const b = o.bounds;
    if (o.type === 'wire') continue;
    const cell = (v: number, most: number) => Math.min(most - 1, Math.max(0, Math.floor(v / CELL_M)));
    for (let r = cell(b.minY, rows); r <= cell(b.maxY, rows); r++)
      for (let c = cell(b.minX, columns); c <= cell(b.maxX, columns); c++) {
        const top = topAt(o, (c + 0.5) * CELL_M, (r + 0.5) * CELL_M);
        const k = r * columns + c;
        if (!(top > heightM[k])) continue;
        heightM[k] = top;
        kind[k] = o.kind;
      }
  }
  return { ...relief, ...tops(relief) };
}

/** Where a plumb line comes to an object from above; NaN where it does not. */
function topAt(o: ReturnType<typeof siteObjects>[number], x: number, y: number): number {
  if (o.type === 'convex') {
    let [low, high] = [-Infinity, Infinity];
    for (const [nx, ny, nz, d] of o.planes) {
      const left = d - nx * x - ny * y;
      if (nz > 1e-9) high = Math.min(high, left / nz);
      else if (nz < -1e-9) low = Math.max(low, left / nz);
      else if (left < 0) return Number.NaN;
    }
    return high > low ? high : Number.NaN;
  }
  if (o.type === 'cylinder') return Math.hypot(x - o.x, y - o.y) < o.radius ? o.maxZ : Number.NaN;
  if (o.type === 'deck') return o.bounds.maxZ;
  if (o.type === 'leaves') {
    const [dx, dy] = [(x - o.centre[0]) / o.half[0], (y - o.centre[1]) / o.half[1]];
    if (o.shape === 'box') return Math.abs(dx) < 1 && Math.abs(dy) < 1 ? o.centre[2] + o.half[2] : Number.NaN;
    const rest = 1 - dx * dx - dy * dy;
    return rest > 0 ? o.centre[2] + o.half[2] * Math.sqrt(rest) : Number.NaN;
  }
  return Number.NaN;
}

function tops({ columns, rows, heightM }: Pick<Relief, 'columns' | 'rows' | 'heightM'>) {
  const blockColumns = Math.ceil(columns / BLOCK);
  const topM = new Float32Array(blockColumns * Math.ceil(rows / BLOCK)).fill(-Infinity);
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++) {
      const k = Math.floor(r / BLOCK) * blockColumns + Math.floor(c / BLOCK);
      topM[k] = Math.max(topM[k], heightM[r * columns + c]);
    }
  return { block: BLOCK, blockColumns, topM };
}
