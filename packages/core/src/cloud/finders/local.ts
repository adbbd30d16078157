import { robustPlane } from '../../numeric/plane';
import { median } from '../../numeric/statistics';
import { tick, type Watch } from '../../shared/progress';
import { sortIntoCells } from '../cells';
import { type PointSet } from '../points';
import { NeighbourShapes } from '../shape';
import { VoxelIndex } from '../voxels';

/** Points that are not left out, close together, with their places in the set. */
function compact(
  set: PointSet,
  skip: Uint8Array,
): { x: Float64Array; y: Float64Array; z: Float64Array; at: Int32Array } {
  let n = 0;
  for (let i = 0; i < set.count; i++) if (!skip[i]) n++;
  const out = { x: new Float64Array(n), y: new Float64Array(n), z: new Float64Array(n), at: new Int32Array(n) };
  for (let i = 0, k = 0; i < set.count; i++) {
    if (skip[i]) continue;
    [out.x[k], out.y[k], out.z[k], out.at[k]] = [set.x[i], set.y[i], set.z[i], i];
    k++;
  }
  return out;
}

/** Points with fewer than `fewest` others within a radius. */
export function sparsePoints(
  set: PointSet,
  skip: Uint8Array,
  radiusM: number,
  fewest: number,
  watch?: Watch,
): Uint8Array {
  const p = compact(set, skip);
  const out = new Uint8Array(set.count);
  if (p.x.length === 0) return out;
  // all points of a cube this small lie within the radius of each other
  const index = new VoxelIndex(p.x, p.y, p.z, radiusM / Math.sqrt(3));
  const squared = new Float64Array(fewest);
  const ids = new Int32Array(fewest);
  for (let k = 0; k < p.x.length; k++) {
    if ((k & 0x3fff) === 0) tick(watch, k / p.x.length, 'Counting neighbours');
    if (index.sharing(k) > fewest) continue;
    const found = index.nearest(k, fewest, 2, squared, ids);
    if (found < fewest || squared[fewest - 1] > radiusM * radiusM) out[p.at[k]] = 1;
  }
  return out;
}

/** Spread below which no cell is taken to lie, metres: rough ground is not flatter. */
const MIN_SPREAD_M = 0.005;

/**
 * Points far from the robust plane of their cell, in units of its spread (1.4826 times the median distance from it).
 * @returns marks, and how many cells had too few points for a verdict.
 */
export function cellOutliers(
  set: PointSet,
  skip: Uint8Array,
  settings: { cellM: number; factor: number; fewest: number },
  watch?: Watch,
): { marks: Uint8Array; undecided: number } {
  const cells = sortIntoCells(set, settings.cellM, skip);
  const marks = new Uint8Array(set.count);
  let undecided = 0;
  const total = cells.columns * cells.rows;
  for (let c = 0; c < total; c++) {
    if ((c & 0xfff) === 0) tick(watch, c / total, 'Fitting planes');
    const rows = cells.order.subarray(cells.start[c], cells.start[c + 1]);
    if (rows.length === 0) continue;
    if (rows.length < settings.fewest) {
      undecided++;
      continue;
    }
    const [x0, y0] = [set.x[rows[0]], set.y[rows[0]]];
    const x = Float64Array.from(rows, (i) => set.x[i] - x0);
    const y = Float64Array.from(rows, (i) => set.y[i] - y0);
    const z = Float64Array.from(rows, (i) => set.z[i]);
    const plane = robustPlane(x, y, z);
    if (!plane) {
      undecided++;
      continue;
    }
    const tilt = Math.hypot(1, plane.slopeX, plane.slopeY);
    const off = x.map((_, k) => Math.abs(z[k] - plane.z0 - plane.slopeX * x[k] - plane.slopeY * y[k]) / tilt);
    const limit = settings.factor * Math.max(MIN_SPREAD_M, 1.4826 * median(off));
    rows.forEach((i, k) => {
      if (off[k] > limit) marks[i] = 1;
    });
  }
  return { marks, undecided };
}

/**
 * How much of a line, or of a plane, the neighbours of a point make: (λ1 − λ2)/λ1 and (λ2 − λ3)/λ1 of the covariance of
 * its sixteen nearest within a radius (Weinmann 2015).
 */
export function shapedPoints(
  set: PointSet,
  skip: Uint8Array,
  settings: { what: 'line' | 'plane'; radiusM: number; least: number },
  watch?: Watch,
): Uint8Array {
  const p = compact(set, skip);
  const out = new Uint8Array(set.count);
  if (p.x.length === 0) return out;
  const neighbours = new NeighbourShapes(p, settings.radiusM, 16, 5);
  for (let k = 0; k < p.x.length; k++) {
    if ((k & 0x3fff) === 0) tick(watch, k / p.x.length, 'Looking at shapes');
    const found = neighbours.at(k);
    if (!found) continue;
    const [l1, l2, l3] = found.values;
    const measure = settings.what === 'line' ? (l1 - l2) / l1 : (l2 - l3) / l1;
    if (measure >= settings.least) out[p.at[k]] = 1;
  }
  return out;
}

/** Points at the very place, in steps of the store, and time of one that comes before them. */
export function duplicatePoints(xyz: Int32Array, time: Uint32Array, skip: Uint8Array): Uint8Array {
  const n = time.length;
  const out = new Uint8Array(n);
  let size = 1024;
  while (size < 1.5 * n) size *= 2;
  const table = new Int32Array(size).fill(-1);
  for (let i = 0; i < n; i++) {
    if (skip[i]) continue;
    let h = Math.imul(xyz[3 * i], 73856093) ^ Math.imul(xyz[3 * i + 1], 19349663) ^ Math.imul(xyz[3 * i + 2], 83492791);
    h ^= Math.imul(time[i], 2654435761);
    let s = ((h ^ (h >>> 15)) >>> 0) & (size - 1);
    for (;;) {
      const j = table[s];
      if (j < 0) {
        table[s] = i;
        break;
      }
      if (
        xyz[3 * j] === xyz[3 * i] &&
        xyz[3 * j + 1] === xyz[3 * i + 1] &&
        xyz[3 * j + 2] === xyz[3 * i + 2] &&
        time[j] === time[i]
      ) {
        out[i] = 1;
        break;
      }
      s = (s + 1) & (size - 1);
    }
  }
  return out;
}
