import { LAS_CLASS, type PointSet } from '../points';

/** Heights of the ground in square cells, NaN where it is too far away. */
export interface GroundGrid {
  cellM: number;
  minX: number;
  minY: number;
  columns: number;
  rows: number;
  heightM: Float32Array;
}

/** Cells of this edge hold the mean of their ground points, metres. */
export const GROUND_CELL_M = 0.5;
/** Ground is carried on into cells without any up to this far, metres. */
const CARRIED_M = 20;
const MAX_CELLS = 60e6;

/** The ground under a cloud from its points of class ground; empty cells take the mean of neighbours, ring by ring. */
export function groundGrid(set: PointSet, cls: Uint8Array, skip: Uint8Array): GroundGrid | undefined {
  let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
  let any = false;
  for (let i = 0; i < set.count; i++) {
    if (skip[i]) continue;
    any ||= cls[i] === LAS_CLASS.ground;
    if (set.x[i] < minX) minX = set.x[i];
    if (set.x[i] > maxX) maxX = set.x[i];
    if (set.y[i] < minY) minY = set.y[i];
    if (set.y[i] > maxY) maxY = set.y[i];
  }
  if (!any) return undefined;
  // a wide cloud takes wider cells
  const cellM = Math.max(GROUND_CELL_M, Math.sqrt(((maxX - minX) * (maxY - minY)) / MAX_CELLS));
  const columns = Math.floor((maxX - minX) / cellM) + 1;
  const rows = Math.floor((maxY - minY) / cellM) + 1;
  const sum = new Float64Array(columns * rows);
  const count = new Uint32Array(columns * rows);
  for (let i = 0; i < set.count; i++) {
    if (skip[i] || cls[i] !== LAS_CLASS.ground) continue;
    const c = Math.floor((set.y[i] - minY) / cellM) * columns + Math.floor((set.x[i] - minX) / cellM);
    sum[c] += set.z[i];
    count[c]++;
  }
  const heightM = Float32Array.from(sum, (s, c) => (count[c] ? s / count[c] : Number.NaN));
  carryOn(heightM, columns, rows, Math.round(CARRIED_M / cellM));
  return { cellM, minX, minY, columns, rows, heightM };
}

/** Fills empty cells from their filled neighbours, one ring at a time. */
function carryOn(h: Float32Array, columns: number, rows: number, rings: number): void {
  const neighbours = (c: number) => {
    const x = c % columns;
    return [x > 0 ? c - 1 : -1, x + 1 < columns ? c + 1 : -1, c - columns, c + columns < h.length ? c + columns : -1];
  };
  let edge: number[] = [];
  const queued = new Uint8Array(h.length);
  const enqueue = (c: number, into: number[]) => {
    for (const o of neighbours(c))
      if (o >= 0 && Number.isNaN(h[o]) && !queued[o]) {
        queued[o] = 1;
        into.push(o);
      }
  };
  for (let c = 0; c < columns * rows; c++) if (!Number.isNaN(h[c])) enqueue(c, edge);
  for (let ring = 0; ring < rings && edge.length; ring++) {
    const values = edge.map((c) => {
      let [sum, n] = [0, 0];
      for (const o of neighbours(c))
        if (o >= 0 && !Number.isNaN(h[o])) {
          sum += h[o];
          n++;
        }
      return sum / n;
    });
    edge.forEach((c, k) => (h[c] = values[k]));
    const next: number[] = [];
    for (const c of edge) enqueue(c, next);
    edge = next;
  }
}

/** Height of a place above the ground, straight between the middles of cells, metres; NaN where there is no ground. */
export function heightAbove(g: GroundGrid, x: number, y: number, z: number): number {
  const u = (x - g.minX) / g.cellM - 0.5;
  const v = (y - g.minY) / g.cellM - 0.5;
  const c = Math.max(0, Math.min(g.columns - 1, Math.floor(u)));
  const r = Math.max(0, Math.min(g.rows - 1, Math.floor(v)));
  const [c1, r1] = [Math.min(g.columns - 1, c + 1), Math.min(g.rows - 1, r + 1)];
  const [fu, fv] = [Math.max(0, Math.min(1, u - c)), Math.max(0, Math.min(1, v - r))];
  const at = (row: number, column: number) => g.heightM[row * g.columns + column];
  const value = (1 - fv) * ((1 - fu) * at(r, c) + fu * at(r, c1)) + fv * ((1 - fu) * at(r1, c) + fu * at(r1, c1));
  if (!Number.isNaN(value)) return z - value;
  const own = at(Math.min(g.rows - 1, Math.round(v)), Math.min(g.columns - 1, Math.round(u)));
  return z - own;
}
