import { median } from '../../numeric/statistics';
import { tick, type Watch } from '../../shared/progress';
import { sortIntoCells, type Cells } from '../cells';
import { LAS_CLASS, type PointSet } from '../points';

export interface WaterSettings {
  cellM: number;
  /** Spread of heights within a cell, and step to the next: waves and noise, metres. */
  roughM: number;
  /** Water rises by no more than this, metres on 100 m. */
  slopeM: number;
  leastM2: number;
}

/** Of cells beside it this share lies higher: water gathers at the bottom. */
const HIGHER_SHARE = 0.85;
/** Returns off water are sparse: cells this far apart still belong together. */
const REACH = 2;

/**
 * Points of level surfaces that lie lower than what is beside them: as far as geometry tells, water. Cells whose points
 * spread little are joined where they step little; what is joined is level as a whole and has higher cells around it.
 * @param skip 1 for points that are not looked at.
 */
export function waterPoints(set: PointSet, skip: Uint8Array, s: WaterSettings, watch?: Watch): Uint8Array {
  const out = new Uint8Array(set.count);
  const cells = sortIntoCells(set, s.cellM, skip);
  const { columns, rows, start, order } = cells;
  const total = columns * rows;
  tick(watch, 0.2, 'Looking at cells');
  const height = new Float64Array(total).fill(Number.NaN);
  const calm = new Uint8Array(total);
  for (let c = 0; c < total; c++) {
    const n = start[c + 1] - start[c];
    if (n === 0) continue;
    let [sum, square] = [0, 0];
    for (let k = start[c]; k < start[c + 1]; k++) sum += set.z[order[k]];
    height[c] = sum / n;
    for (let k = start[c]; k < start[c + 1]; k++) square += (set.z[order[k]] - height[c]) ** 2;
    calm[c] = Math.sqrt(square / n) <= s.roughM ? 1 : 0;
  }
  tick(watch, 0.5, 'Joining level cells');
  const group = new Int32Array(total).fill(-1);
  for (let seed = 0; seed < total; seed++) {
    if (!calm[seed] || group[seed] >= 0) continue;
    const members = [seed];
    group[seed] = seed;
    for (let head = 0; head < members.length; head++)
      forNear(members[head], REACH, columns, rows, (o) => {
        if (!calm[o] || group[o] >= 0 || Math.abs(height[o] - height[members[head]]) > s.roughM) return;
        group[o] = seed;
        members.push(o);
      });
    if (members.length * s.cellM ** 2 < s.leastM2) continue;
    if (isLevel(members, height, cells, s) && liesLow(members, seed, group, height, cells, s.roughM))
      for (const c of members) for (let k = start[c]; k < start[c + 1]; k++) out[order[k]] = 1;
  }
  tick(watch, 1);
  return out;
}

function forNear(c: number, reach: number, columns: number, rows: number, visit: (o: number) => void): void {
  const x = c % columns;
  const y = (c - x) / columns;
  for (let r = Math.max(0, y - reach); r <= Math.min(rows - 1, y + reach); r++)
    for (let q = Math.max(0, x - reach); q <= Math.min(columns - 1, x + reach); q++)
      if (r !== y || q !== x) visit(r * columns + q);
}

/** Whether the plane of least squares through cells rises by no more than water does. */
function isLevel(members: number[], height: Float64Array, { columns, cellM }: Cells, s: WaterSettings): boolean {
  const n = members.length;
  const at = (c: number) => [(c % columns) * cellM, Math.floor(c / columns) * cellM];
  const [mx, my, mz] = members.reduce(
    ([x, y, z], c) => [x + at(c)[0] / n, y + at(c)[1] / n, z + height[c] / n],
    [0, 0, 0],
  );
  let [xx, xy, yy, xz, yz] = [0, 0, 0, 0, 0];
  for (const c of members) {
    const [x, y, z] = [at(c)[0] - mx, at(c)[1] - my, height[c] - mz];
    xx += x * x;
    xy += x * y;
    yy += y * y;
    xz += x * z;
    yz += y * z;
  }
  const det = xx * yy - xy * xy;
  if (!(det > 1e-6 * xx * yy)) return false;
  return 100 * Math.hypot((yy * xz - xy * yz) / det, (xx * yz - xy * xz) / det) <= s.slopeM;
}

/** Whether most of the cells beside a group lie higher. */
function liesLow(
  members: number[],
  seed: number,
  group: Int32Array,
  height: Float64Array,
  { columns, rows }: Cells,
  roughM: number,
): boolean {
  const beside = new Map<number, boolean>();
  for (const c of members)
    forNear(c, 1, columns, rows, (o) => {
      if (group[o] !== seed && Number.isFinite(height[o])) beside.set(o, height[o] > height[c] + roughM / 2);
    });
  const higher = [...beside.values()].filter(Boolean).length;
  return beside.size > 0 && higher >= HIGHER_SHARE * beside.size;
}

export interface ShoreSettings {
  cellM: number;
  /** Level where no point is of class water; metres, as the points' heights. */
  levelM: number;
  withinM: number;
}

/**
 * Ground points at the edge of water: near its level, in cells beside one with points of class water, or without any
 * point (water often returns nothing).
 * @returns marks, and the level that was taken, metres about the set's origin.
 */
export function shorePoints(
  set: PointSet,
  cls: Uint8Array,
  skip: Uint8Array,
  { cellM, levelM, withinM }: ShoreSettings,
): { marks: Uint8Array; levelM: number; fromWater: boolean } {
  const water: number[] = [];
  for (let i = 0; i < set.count; i++) if (!skip[i] && cls[i] === LAS_CLASS.water) water.push(set.z[i]);
  const level = water.length ? median(water) : levelM - set.origin[2];
  const cells = sortIntoCells(set, cellM, skip);
  const { columns, rows, start, order } = cells;
  const marks = new Uint8Array(set.count);
  const wet = (c: number) => {
    if (start[c] === start[c + 1]) return true;
    for (let k = start[c]; k < start[c + 1]; k++) if (cls[order[k]] === LAS_CLASS.water) return true;
    return false;
  };
  for (let c = 0; c < columns * rows; c++) {
    let near = false;
    for (let k = start[c]; k < start[c + 1]; k++) {
      const i = order[k];
      if (cls[i] !== LAS_CLASS.ground || Math.abs(set.z[i] - level) > withinM) continue;
      if (!near) {
        const [x, y] = [c % columns, Math.floor(c / columns)];
        // beyond the last points lies nothing too
        near = x === 0 || y === 0 || x === columns - 1 || y === rows - 1;
        forNear(c, 1, columns, rows, (o) => (near ||= wet(o)));
        if (!near) break;
      }
      marks[i] = 1;
    }
  }
  return { marks, levelM: level, fromWater: water.length > 0 };
}
