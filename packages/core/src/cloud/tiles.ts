/** Counts of points in square cells; row 0 is the southernmost. */
export interface CellCounts {
  west: number;
  south: number;
  /** Edge of a cell. */
  cell: number;
  columns: number;
  rows: number;
  counts: Float64Array;
}

/** A square tile, aligned to whole multiples of its edge. */
export interface Tile {
  /** Lower left corner and edge as in "467000_6214500_500". */
  name: string;
  west: number;
  south: number;
  edge: number;
  /** Points of the tile itself. */
  own: number;
  /** At most so many with its buffer, counted by whole cells. */
  most: number;
}

export interface TilePlan {
  tiles: Tile[];
  /** Tile of each cell, -1 where there are no points. */
  tileOf: Int32Array;
  /** Names of tiles that stay above the cap at the smallest edge. */
  overCap: string[];
}

/** Times that a tile may be halved. */
export const TILE_LEVELS = 6;

/** Cells to count in for tiles of this edge over an extent, aligned to the tiles. */
export function cellsForTiles(
  edge: number,
  extent: { west: number; south: number; east: number; north: number },
): Omit<CellCounts, 'counts'> {
  const west = Math.floor(extent.west / edge) * edge;
  const south = Math.floor(extent.south / edge) * edge;
  const cell = edge / 2 ** TILE_LEVELS;
  const across = Math.max(1, Math.floor((extent.east - west) / edge) + 1);
  const up = Math.max(1, Math.floor((extent.north - south) / edge) + 1);
  return { west, south, cell, columns: across << TILE_LEVELS, rows: up << TILE_LEVELS };
}

/**
 * Divides a cloud into square tiles of one edge; a tile that holds more points than the cap, its buffer counted in, is
 * quartered until it does not, or until its edge is the smallest that may be. Lengths in one unit, that of the counts.
 * @param buffer width of the strip of neighbours' points that each tile gets besides; no smaller edge than this is made.
 */
export function planTiles(cells: CellCounts, edge: number, buffer: number, cap: number): TilePlan {
  const { columns, rows, cell, counts } = cells;
  const sums = summed(cells);
  const within = (c0: number, r0: number, c1: number, r1: number) => {
    const [a, b] = [Math.max(0, c0), Math.min(columns, c1)];
    const [c, d] = [Math.max(0, r0), Math.min(rows, r1)];
    const at = (col: number, row: number) => sums[row * (columns + 1) + col];
    return b > a && d > c ? at(b, d) - at(a, d) - at(b, c) + at(a, c) : 0;
  };
  const around = Math.ceil(buffer / cell);
  const plan: TilePlan = { tiles: [], tileOf: new Int32Array(counts.length).fill(-1), overCap: [] };
  const divide = (col: number, row: number, size: number) => {
    const own = within(col, row, col + size, row + size);
    if (own === 0) return;
    const most = within(col - around, row - around, col + size + around, row + size + around);
    const half = size >> 1;
    if (most > cap && half >= 1 && half * cell >= buffer) {
      for (const dr of [0, half]) for (const dc of [0, half]) divide(col + dc, row + dr, half);
      return;
    }
    const tile: Tile = {
      name: '',
      west: cells.west + col * cell,
      south: cells.south + row * cell,
      edge: size * cell,
      own,
      most,
    };
    tile.name = [tile.west, tile.south, tile.edge].map((v) => String(+v.toFixed(3))).join('_');
    if (most > cap) plan.overCap.push(tile.name);
    for (let r = row; r < row + size; r++)
      plan.tileOf.fill(plan.tiles.length, r * columns + col, r * columns + col + size);
    plan.tiles.push(tile);
  };
  const size = Math.round(edge / cell);
  for (let row = 0; row < rows; row += size) for (let col = 0; col < columns; col += size) divide(col, row, size);
  return plan;
}

/** Sums of the counts below and left of each corner. */
function summed({ columns, rows, counts }: CellCounts): Float64Array {
  const out = new Float64Array((columns + 1) * (rows + 1));
  for (let r = 0; r < rows; r++) {
    let row = 0;
    for (let c = 0; c < columns; c++) {
      row += counts[r * columns + c];
      out[(r + 1) * (columns + 1) + c + 1] = out[r * (columns + 1) + c + 1] + row;
    }
  }
  return out;
}

/**
 * Tiles that a place belongs to: its own first, then those whose buffer it lies in.
 * @param buffer as the plan was made with.
 */
export function tilesAt(
  plan: TilePlan,
  cells: Omit<CellCounts, 'counts'>,
  buffer: number,
  x: number,
  y: number,
  out: number[],
): number[] {
  out.length = 0;
  const tile = (px: number, py: number) => {
    const c = Math.floor((px - cells.west) / cells.cell);
    const r = Math.floor((py - cells.south) / cells.cell);
    return c >= 0 && r >= 0 && c < cells.columns && r < cells.rows ? plan.tileOf[r * cells.columns + c] : -1;
  };
  out.push(tile(x, y));
  if (buffer <= 0) return out;
  // no tile's edge is shorter than the buffer, so one that meets the square around the place holds one of these
  for (let k = 0; k < 9; k++) {
    if (k === 4) continue;
    const t = tile(x + ((k % 3) - 1) * buffer, y + (Math.floor(k / 3) - 1) * buffer);
    if (t >= 0 && !out.includes(t)) out.push(t);
  }
  return out;
}
