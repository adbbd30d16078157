import { quantileOfSorted } from '../../numeric/statistics';
import { squaredDistances } from './distance';
import { type CoverageCounter, type CoverageGrid } from './grid';

export interface CoverageSettings {
  /** Edge of a cell, metres. */
  cellM: number;
  /** Density wanted on the surface, points/m². */
  targetPerM2: number;
  /** Cells with fewer points are empty. */
  fewest: number;
  /** Smaller voids are not listed, m². */
  leastVoidM2: number;
  /** Without an outline: gaps up to twice this wide belong to the area, metres. */
  closeM: number;
}

export const COVERAGE_DEFAULTS: CoverageSettings = {
  cellM: 1,
  targetPerM2: 100,
  fewest: 1,
  leastVoidM2: 4,
  closeM: 5,
};

/** A connected group of empty cells (edge to edge). Places are metres about the cloud's origin. */
export interface CoverageVoid {
  areaM2: number;
  /** Widest: diameter of the largest circle in it, to a cell. */
  widthM: number;
  /** Middle of that circle. */
  x: number;
  y: number;
  /** Whether it reaches the edge of the area. */
  atEdge: boolean;
}

export interface Coverage {
  grid: CoverageGrid;
  /** 1 for the cells of the area. */
  area: Uint8Array;
  /** Points per m² of surface; NaN outside the area. */
  perM2: Float32Array;
  /** RMS of the stated deviations of height, metres; NaN where nothing is stated, or outside. */
  sdM: Float32Array;
  areaM2: number;
  coveredM2: number;
  /** Of covered cells, points/m² of surface. */
  median: number;
  p5: number;
  /** Share of the area (voids with it) that is below the target. */
  belowShare: number;
  /** Cells on slopes steeper than 20°: their area in plan, median density, and the share below the target. */
  steep: { areaM2: number; median: number; belowShare: number };
  /** Largest first; all of them count in `voidM2`, small ones are not listed. */
  voids: CoverageVoid[];
  voidM2: number;
  voidCount: number;
  /** Of covered cells with stated deviations, metres; NaN when none. */
  precision: { median: number; p95: number; statedM2: number };
}

const STEEP = Math.tan((20 * Math.PI) / 180);
/** A cell's points are a surface when they lie within this part of its edge about their plane. */
const ROUGHEST = 0.1;

/**
 * How an area is covered: density on the surface (a slope has more of it than its plan shows), voids, and the stated
 * precision by cell.
 * @param inside tells whether a place is in the area that was ordered; without it the area is where points are, with
 *   gaps closed.
 */
export function judgeCoverage(
  counter: CoverageCounter,
  settings: CoverageSettings,
  inside?: (x: number, y: number) => boolean,
): Coverage {
  const { grid, count } = counter;
  const { cellM, columns, rows } = grid;
  const total = columns * rows;
  const covered = Uint8Array.from(count, (n) => (n >= Math.max(1, settings.fewest) ? 1 : 0));
  const area = inside ? cellsWithin(grid, inside) : closed(covered, columns, rows, settings.closeM / cellM);
  const perM2 = new Float32Array(total).fill(Number.NaN);
  const sdM = new Float32Array(total).fill(Number.NaN);
  const a = cellM * cellM;
  const densities: number[] = [];
  const steep: number[] = [];
  const deviations: number[] = [];
  let [cells, below, voidCells] = [0, 0, 0];
  const empty = new Uint8Array(total);
  for (let k = 0; k < total; k++) {
    if (!area[k]) continue;
    cells++;
    const slope = covered[k] ? counter.slopeOf(k, ROUGHEST * cellM) : 0;
    const density = count[k] / (a * Math.hypot(1, slope));
    perM2[k] = density;
    if (density < settings.targetPerM2) below++;
    if (!covered[k]) {
      empty[k] = 1;
      voidCells++;
      continue;
    }
    densities.push(density);
    if (slope > STEEP) steep.push(density);
    sdM[k] = counter.sdOf(k);
    if (sdM[k] > 0) deviations.push(sdM[k]);
  }
  const sorted = Float64Array.from(densities).sort();
  const steepSorted = Float64Array.from(steep).sort();
  const sds = Float64Array.from(deviations).sort();
  const at = (v: Float64Array, q: number) => (v.length ? quantileOfSorted(v, q) : Number.NaN);
  const found = voidsOf(empty, area, grid);
  return {
    grid,
    area,
    perM2,
    sdM,
    areaM2: cells * a,
    coveredM2: sorted.length * a,
    median: at(sorted, 0.5),
    p5: at(sorted, 0.05),
    belowShare: cells ? below / cells : 0,
    steep: {
      areaM2: steep.length * a,
      median: at(steepSorted, 0.5),
      belowShare: steep.length ? steep.filter((d) => d < settings.targetPerM2).length / steep.length : 0,
    },
    voids: found.filter((v) => v.areaM2 >= settings.leastVoidM2).sort((p, q) => q.areaM2 - p.areaM2),
    voidM2: voidCells * a,
    voidCount: found.length,
    precision: { median: at(sds, 0.5), p95: at(sds, 0.95), statedM2: sds.length * a },
  };
}

function cellsWithin({ cellM, minX, minY, columns, rows }: CoverageGrid, inside: (x: number, y: number) => boolean) {
  const out = new Uint8Array(columns * rows);
  for (let r = 0, k = 0; r < rows; r++)
    for (let c = 0; c < columns; c++, k++) out[k] = inside(minX + (c + 0.5) * cellM, minY + (r + 0.5) * cellM) ? 1 : 0;
  return out;
}

/** Cells with points and the gaps between them: grown by a radius, then shrunk by it, in cells. */
function closed(covered: Uint8Array, columns: number, rows: number, radius: number): Uint8Array {
  const pad = Math.ceil(radius) + 1;
  const [w, h] = [columns + 2 * pad, rows + 2 * pad];
  const wide = new Uint8Array(w * h);
  for (let r = 0; r < rows; r++) wide.set(covered.subarray(r * columns, (r + 1) * columns), (r + pad) * w + pad);
  const near = squaredDistances(wide, w, h);
  const square = radius * radius + 1e-9;
  const beyond = Uint8Array.from(near, (d) => (d > square ? 1 : 0));
  const off = squaredDistances(beyond, w, h);
  const out = new Uint8Array(columns * rows);
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++) out[r * columns + c] = off[(r + pad) * w + c + pad] > square ? 1 : 0;
  return out.map((v, k) => v | covered[k]);
}

function voidsOf(empty: Uint8Array, area: Uint8Array, grid: CoverageGrid): CoverageVoid[] {
  const { cellM, minX, minY, columns, rows } = grid;
  // a frame of cells that are no void, so that the widest circle ends at the edge of the grid
  const [w, h] = [columns + 2, rows + 2];
  const filled = new Uint8Array(w * h).fill(1);
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++) if (empty[r * columns + c]) filled[(r + 1) * w + c + 1] = 0;
  const distance = squaredDistances(filled, w, h);
  const seen = new Uint8Array(empty.length);
  const stack: number[] = [];
  const out: CoverageVoid[] = [];
  for (let first = 0; first < empty.length; first++) {
    if (!empty[first] || seen[first]) continue;
    let [cells, deepest, deepestAt, atEdge] = [0, -1, first, false];
    seen[first] = 1;
    stack.push(first);
    while (stack.length) {
      const k = stack.pop()!;
      const [r, c] = [Math.floor(k / columns), k % columns];
      cells++;
      const d = distance[(r + 1) * w + c + 1];
      if (d > deepest) [deepest, deepestAt] = [d, k];
      const visit = (there: boolean, n: number) => {
        if (!there || !area[n]) atEdge = true;
        else if (empty[n] && !seen[n]) {
          seen[n] = 1;
          stack.push(n);
        }
      };
      visit(c > 0, k - 1);
      visit(c + 1 < columns, k + 1);
      visit(r > 0, k - columns);
      visit(r + 1 < rows, k + columns);
    }
    out.push({
      areaM2: cells * cellM * cellM,
      widthM: (2 * Math.sqrt(deepest) - 1) * cellM,
      atEdge,
      x: minX + ((deepestAt % columns) + 0.5) * cellM,
      y: minY + (Math.floor(deepestAt / columns) + 0.5) * cellM,
    });
  }
  return out;
}
