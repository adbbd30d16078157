import { EGM96 } from '../frames/geoid';
import { type ReferenceSystem } from '../frames/referenceSystem';
import { Problem } from '../shared/problem';
import { tick, type Watch } from '../shared/progress';
import { type PointSet } from '../cloud/points';

export interface LowFlyingRules {
  /** Edge of a cell, metres. */
  cellM: number;
  /** Added to every height. */
  marginM: number;
  /** Cells without points take the highest of what lies as near as this, metres. */
  fillM: number;
  heights: 'ellipsoid' | 'EGM96';
}

/** Highest heights in cells of longitude and latitude. */
export interface LowFlyingSurface {
  columns: number;
  rows: number;
  /** Row by row from the north, the margin added; NaN outside and in holes. */
  heightM: Float32Array;
  westDeg: number;
  northDeg: number;
  cellLonDeg: number;
  cellLatDeg: number;
  /** Cells of the area, those filled, and those that stay empty with the place of the first, degrees. */
  inside: number;
  filled: number;
  holes: number;
  hole: { latDeg: number; lonDeg: number } | null;
  lowestM: number;
  highestM: number;
}

const DEG = 180 / Math.PI;
/** Half a cell's diagonal in edges, and a little: a cell takes all points that may lie in it, however it is turned. */
const REACH = 0.75;
const MOST_CELLS = 4e7;

/**
 * The surface to fly over: for each cell of longitude and latitude the highest point that may lie in it, never lower; cells
 * without points filled from the highest near by; the margin on top.
 * @param rejected 1 for points that do not count. @param area whether a place of the plan belongs to the mission; without it
 * all that has points on every side.
 */
export function lowFlyingSurface(
  set: PointSet,
  rejected: Uint8Array | undefined,
  system: ReferenceSystem,
  rules: LowFlyingRules,
  area?: { within: (eastingM: number, northingM: number) => boolean; box: readonly [number, number, number, number] },
  watch?: Watch,
): LowFlyingSurface {
  const top = highestInPlan(set, rejected, rules.cellM / 2, area?.box);
  tick(watch, 0.4, 'Laying cells of longitude and latitude');
  const out = geographicCells(top, system, rules.cellM);
  const place = new Float64Array(3);
  const belongs = new Uint8Array(out.columns * out.rows);
  const plan = new Float64Array(2 * out.columns * out.rows);
  for (let r = 0; r < out.rows; r++) {
    if (r % 64 === 0) tick(watch, 0.4 + (0.4 * r) / out.rows, 'Laying cells of longitude and latitude');
    for (let c = 0; c < out.columns; c++) {
      const k = r * out.columns + c;
      const lat = (out.northDeg - (r + 0.5) * out.cellLatDeg) / DEG;
      const lon = (out.westDeg + (c + 0.5) * out.cellLonDeg) / DEG;
      system.project(lat, lon, 0, place);
      plan[2 * k] = place[0];
      plan[2 * k + 1] = place[1];
      if (area?.within(place[0], place[1])) belongs[k] = 1;
      out.heightM[k] = top.within(place[0], place[1], REACH * rules.cellM);
    }
  }
  if (!area) enclosed(out, belongs);
  fill(out, belongs, rules);
  finish(out, belongs, plan, system, rules);
  return out;
}

interface Top {
  west: number;
  south: number;
  east: number;
  north: number;
  within(e: number, n: number, reachM: number): number;
}

function highestInPlan(
  { count, x, y, z, origin }: PointSet,
  rejected: Uint8Array | undefined,
  cellM: number,
  box: readonly [number, number, number, number] | undefined,
): Top {
  let [west, south, east, north] = box ?? [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < count; i++) {
    if (rejected?.[i]) continue;
    west = Math.min(west, x[i] + origin[0]);
    east = Math.max(east, x[i] + origin[0]);
    south = Math.min(south, y[i] + origin[1]);
    north = Math.max(north, y[i] + origin[1]);
  }
  const columns = Math.floor((east - west) / cellM) + 1;
  const rows = Math.floor((north - south) / cellM) + 1;
  if (!(columns * rows <= MOST_CELLS))
    throw new Problem(
      `An area of ${((east - west) / 1000).toFixed(1)} by ${((north - south) / 1000).toFixed(1)} km has too many cells of ${2 * cellM} m.`,
      { code: 'low-flying-cells', remedy: 'Take larger cells, or the area of one mission.' },
    );
  const height = new Float32Array(columns * rows).fill(-Infinity);
  for (let i = 0; i < count; i++) {
    if (rejected?.[i]) continue;
    const c = Math.floor((x[i] + origin[0] - west) / cellM);
    const r = Math.floor((y[i] + origin[1] - south) / cellM);
    const h = z[i] + origin[2];
    if (h > height[r * columns + c]) height[r * columns + c] = h;
  }
  return {
    west,
    south,
    east,
    north,
    within(e, n, reachM) {
      const from = (v: number, least: number) => Math.max(0, Math.floor((v - reachM - least) / cellM));
      const to = (v: number, least: number, most: number) =>
        Math.min(most - 1, Math.floor((v + reachM - least) / cellM));
      let highest = -Infinity;
      for (let r = from(n, south); r <= to(n, south, rows); r++)
        for (let c = from(e, west); c <= to(e, west, columns); c++)
          highest = Math.max(highest, height[r * columns + c]);
      return highest > -Infinity ? highest : Number.NaN;
    },
  };
}

/** Cells about as long as wide on the ground, over all of the plan's rectangle. */
function geographicCells(top: Top, system: ReferenceSystem, cellM: number): LowFlyingSurface {
  const geo = new Float64Array(3);
  let [west, south, east, north] = [Infinity, Infinity, -Infinity, -Infinity];
  const STEPS = 8;
  for (let i = 0; i <= STEPS; i++)
    for (let j = 0; j <= STEPS; j++) {
      const e = top.west + ((top.east - top.west) * i) / STEPS;
      const n = top.south + ((top.north - top.south) * j) / STEPS;
      system.unproject(e, n, 0, geo);
      west = Math.min(west, geo[1] * DEG);
      east = Math.max(east, geo[1] * DEG);
      south = Math.min(south, geo[0] * DEG);
      north = Math.max(north, geo[0] * DEG);
    }
  const middle = (south + north) / 2 / DEG;
  const { a, f } = system.ellipsoid;
  const e2 = f * (2 - f);
  const w = Math.sqrt(1 - e2 * Math.sin(middle) ** 2);
  const cellLatDeg = (cellM / ((a * (1 - e2)) / w ** 3)) * DEG;
  const cellLonDeg = (cellM / ((a / w) * Math.cos(middle))) * DEG;
  const columns = Math.ceil((east - west) / cellLonDeg) + 2;
  const rows = Math.ceil((north - south) / cellLatDeg) + 2;
  return {
    columns,
    rows,
    heightM: new Float32Array(columns * rows).fill(Number.NaN),
    westDeg: west - cellLonDeg,
    northDeg: north + cellLatDeg,
    cellLonDeg,
    cellLatDeg,
    inside: 0,
    filled: 0,
    holes: 0,
    hole: null,
    lowestM: Number.NaN,
    highestM: Number.NaN,
  };
}

/** Cells that have points to the west and east of them, and to the north and south. */
function enclosed({ columns, rows, heightM }: LowFlyingSurface, out: Uint8Array): void {
  const mark = (start: number, step: number, count: number, bit: number) => {
    let first = -1;
    let last = -1;
    for (let i = 0; i < count; i++)
      if (!Number.isNaN(heightM[start + i * step])) {
        if (first < 0) first = i;
        last = i;
      }
    for (let i = Math.max(0, first); first >= 0 && i <= last; i++) out[start + i * step] |= bit;
  };
  for (let r = 0; r < rows; r++) mark(r * columns, 1, columns, 2);
  for (let c = 0; c < columns; c++) mark(c, columns, rows, 4);
  for (let k = 0; k < out.length; k++) out[k] = out[k] === 6 ? 1 : 0;
}

function fill(out: LowFlyingSurface, belongs: Uint8Array, { fillM, cellM }: LowFlyingRules): void {
  const { columns, rows, heightM } = out;
  const given = heightM.slice();
  const reach = Math.floor(fillM / cellM);
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++) {
      const k = r * columns + c;
      if (!belongs[k] || !Number.isNaN(given[k])) continue;
      let highest = -Infinity;
      for (let y = Math.max(0, r - reach); y <= Math.min(rows - 1, r + reach); y++)
        for (let x = Math.max(0, c - reach); x <= Math.min(columns - 1, c + reach); x++) {
          if ((x - c) ** 2 + (y - r) ** 2 > reach * reach) continue;
          const h = given[y * columns + x];
          if (h > highest) highest = h;
        }
      if (highest > -Infinity) {
        heightM[k] = highest;
        out.filled++;
      } else {
        out.holes++;
        out.hole ??= {
          latDeg: out.northDeg - (r + 0.5) * out.cellLatDeg,
          lonDeg: out.westDeg + (c + 0.5) * out.cellLonDeg,
        };
      }
    }
}

/** Heights as they were asked for, the margin on top; what does not belong is left out. */
function finish(
  out: LowFlyingSurface,
  belongs: Uint8Array,
  plan: Float64Array,
  system: ReferenceSystem,
  { heights, marginM }: LowFlyingRules,
): void {
  const geo = new Float64Array(3);
  let [lowest, highest] = [Infinity, -Infinity];
  for (let k = 0; k < belongs.length; k++) {
    if (!belongs[k]) {
      out.heightM[k] = Number.NaN;
      continue;
    }
    out.inside++;
    if (Number.isNaN(out.heightM[k])) continue;
    system.unproject(plan[2 * k], plan[2 * k + 1], out.heightM[k], geo);
    const h = geo[2] - (heights === 'EGM96' ? EGM96.undulation(geo[0], geo[1]) : 0) + marginM;
    out.heightM[k] = h;
    lowest = Math.min(lowest, h);
    highest = Math.max(highest, h);
  }
  out.lowestM = lowest;
  out.highestM = highest;
}
