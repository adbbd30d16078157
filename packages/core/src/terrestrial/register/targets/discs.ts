import { type Vector3 } from '../../../numeric/matrix3';
import { quantile } from '../../../numeric/statistics';
import { smallestAxis } from '../../../numeric/smallestAxis';
import { CELL_NUMBERS, Voxels } from '../surfaces/voxels';
import { type FoundTarget } from './found';

const FEWEST = 24;
/** A disc is so many times as bright as what is about it. */
const BRIGHTER = 1.6;
/** Points looked at around a candidate, in radii. */
const AROUND_RADII = 2.2;
/** Of the bright points, the share within this many radii of their middle; and of points well inside, that are bright. */
const WITHIN_RADII = 1.2;
const LEAST_WITHIN = 0.93;
const INSIDE_RADII = 0.8;
const LEAST_INSIDE = 0.9;
/** The radius that the bright points have is the given one to this share. */
const SAME_RADIUS = 0.12;
/** Scatter across the plane is no larger, metres. */
const MOST_SCATTER_M = 0.006;
const COMMON_M = 0.0003;

/**
 * Finds flat discs of a known radius that are brighter than what they hang on: points told apart by their brightness in a
 * plane, round and filled (middle of the bright ones; its deviation from how densely the rim is sampled).
 * @param x, y, z in the scanner's frame, metres. @param brightness of each point, in any unit.
 */
export function findDiscs(
  x: Float64Array,
  y: Float64Array,
  z: Float64Array,
  brightness: ArrayLike<number>,
  radiusM: number,
): FoundTarget[] {
  const voxels = new Voxels(radiusM, x.length >> 4);
  voxels.add(x, y, z);
  const cellOf = new Int32Array(x.length);
  const sum = new Float64Array(voxels.count);
  const per = 1 / radiusM;
  for (let i = 0; i < x.length; i++) {
    const cell = voxels.find(Math.floor(x[i] * per), Math.floor(y[i] * per), Math.floor(z[i] * per));
    cellOf[i] = cell;
    if (cell >= 0) sum[cell] += brightness[i];
  }
  const seeds = brighter(voxels, sum);
  const seedOf = nearSeeds(voxels, seeds);
  const rows = seeds.map((): number[] => []);
  for (let i = 0; i < x.length; i++) {
    const k = cellOf[i] < 0 ? -1 : seedOf[cellOf[i]];
    if (k >= 0) rows[k].push(i);
  }
  const out: FoundTarget[] = [];
  for (const own of rows) {
    const found = discIn(own, x, y, z, brightness, radiusM);
    if (found && !out.some((o) => Math.hypot(...o.atM.map((v, k) => v - found.atM[k])) < radiusM)) out.push(found);
  }
  return out;
}

/** Cells brighter than those two away from them, the brightest of neighbours. */
function brighter(v: Voxels, sum: Float64Array): number[] {
  const p = v.place;
  const found: Array<{ cell: number; ratio: number }> = [];
  for (let cell = 0; cell < v.count; cell++) {
    const own = v.sums[CELL_NUMBERS * cell];
    if (own < 4) continue;
    let [bright, count] = [0, 0];
    for (let i = -3; i <= 3; i++)
      for (let j = -3; j <= 3; j++)
        for (let k = -3; k <= 3; k++) {
          if (Math.max(Math.abs(i), Math.abs(j), Math.abs(k)) < 3) continue;
          const c = v.find(p[3 * cell] + i, p[3 * cell + 1] + j, p[3 * cell + 2] + k);
          if (c < 0) continue;
          bright += sum[c];
          count += v.sums[CELL_NUMBERS * c];
        }
    const ratio = count ? sum[cell] / own / (bright / count) : 0;
    if (ratio > BRIGHTER) found.push({ cell, ratio });
  }
  found.sort((a, b) => b.ratio - a.ratio);
  const out: number[] = [];
  for (const { cell } of found) {
    const near = (o: number) => [0, 1, 2].every((k) => Math.abs(p[3 * o + k] - p[3 * cell + k]) <= 2);
    if (!out.some(near)) out.push(cell);
  }
  return out;
}

function nearSeeds(v: Voxels, seeds: readonly number[]): Int32Array {
  const of = new Int32Array(v.count).fill(-1);
  const p = v.place;
  seeds.forEach((cell, s) => {
    for (let i = -3; i <= 3; i++)
      for (let j = -3; j <= 3; j++)
        for (let k = -3; k <= 3; k++) {
          const c = v.find(p[3 * cell] + i, p[3 * cell + 1] + j, p[3 * cell + 2] + k);
          if (c >= 0) of[c] = s;
        }
  });
  return of;
}

function discIn(
  rows: readonly number[],
  x: Float64Array,
  y: Float64Array,
  z: Float64Array,
  brightness: ArrayLike<number>,
  radiusM: number,
): FoundTarget | undefined {
  if (rows.length < 2 * FEWEST) return undefined;
  const levels = rows.map((i) => brightness[i]);
  const [low, high] = [quantile(levels, 0.1), quantile(levels, 0.98)];
  if (high < BRIGHTER * low) return undefined;
  const limit = (low + high) / 2;
  let bright = rows.filter((i) => brightness[i] > limit);
  // the brightest thing near the seed, not others at the edge of what is looked at
  for (let round = 0; round < 3; round++) {
    if (bright.length < FEWEST) return undefined;
    const at = meanOf(bright, x, y, z);
    bright = bright.filter((i) => Math.hypot(x[i] - at[0], y[i] - at[1], z[i] - at[2]) < AROUND_RADII * radiusM);
  }
  const n = bright.length;
  if (n < FEWEST) return undefined;
  const at = meanOf(bright, x, y, z);
  const c = new Float64Array(6);
  for (const i of bright) {
    const d = [x[i] - at[0], y[i] - at[1], z[i] - at[2]];
    c[0] += d[0] * d[0];
    c[1] += d[0] * d[1];
    c[2] += d[0] * d[2];
    c[3] += d[1] * d[1];
    c[4] += d[1] * d[2];
    c[5] += d[2] * d[2];
  }
  const axis = new Float64Array(6);
  smallestAxis(c[0], c[1], c[2], c[3], c[4], c[5], axis);
  const scatter = Math.sqrt(Math.max(0, axis[0]) / (n - 3));
  if (scatter > MOST_SCATTER_M) return undefined;
  const normal = [axis[3], axis[4], axis[5]];
  const awayOf = (i: number): number => {
    const d = [x[i] - at[0], y[i] - at[1], z[i] - at[2]];
    const off = d[0] * normal[0] + d[1] * normal[1] + d[2] * normal[2];
    return Math.sqrt(Math.max(0, d[0] ** 2 + d[1] ** 2 + d[2] ** 2 - off ** 2));
  };
  // of a filled disc the mean square of distances from its middle is half the radius squared, alike both ways
  const radius = Math.sqrt((2 * (axis[1] + axis[2])) / n);
  const round = Math.sqrt(axis[1] / axis[2]);
  if (Math.abs(radius / radiusM - 1) > SAME_RADIUS || round < 0.85) return undefined;
  const within = bright.filter((i) => awayOf(i) < WITHIN_RADII * radiusM).length;
  const inside = rows.filter((i) => awayOf(i) < INSIDE_RADII * radiusM);
  const filled = inside.filter((i) => brightness[i] > limit).length;
  if (within < LEAST_WITHIN * n || filled < LEAST_INSIDE * inside.length) return undefined;
  const spacing = radiusM * Math.sqrt(Math.PI / n);
  const rim = Math.sqrt((2 * Math.PI * radiusM) / spacing);
  return {
    kind: 'disc',
    atM: at,
    sdM: Math.hypot(spacing / rim, scatter / Math.sqrt(n), COMMON_M),
    points: n,
    rmsM: scatter,
  };
}

function meanOf(rows: readonly number[], x: Float64Array, y: Float64Array, z: Float64Array): Vector3 {
  const sum: Vector3 = [0, 0, 0];
  for (const i of rows) {
    sum[0] += x[i];
    sum[1] += y[i];
    sum[2] += z[i];
  }
  return [sum[0] / rows.length, sum[1] / rows.length, sum[2] / rows.length];
}
