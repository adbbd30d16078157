import { tick, type Watch } from '../shared/progress';
import { type PointSet } from './points';
import { VoxelIndex } from './voxels';

export interface StraySettings {
  /** Neighbours looked at. Groups of up to this many strays are found. */
  neighbours: number;
  /** A point with its k-th neighbour nearer than this is never a stray, metres. */
  keepWithinM: number;
  /** How many times farther its neighbours must be than theirs are from each other. */
  ratio: number;
  /** With fewer than k neighbours this near, a point stands alone, metres. */
  aloneBeyondM: number;
}

export const STRAY_DEFAULTS: StraySettings = { neighbours: 6, keepWithinM: 0.6, ratio: 3, aloneBeyondM: 2.5 };

/**
 * Stray points by distance to the k-th neighbour relative to the same distance at those neighbours: local spacing
 * decides, not the mean of the whole cloud, so thin wires and far, sparse points stay (after the local outlier
 * factor of Breunig et al. 2000, with the k-distance in place of the density). Points in a cube whose diagonal is
 * `keepWithinM` with k others are passed without a search, which gives the same answer.
 * @returns 1 for each stray, in the order of the points.
 */
export function findStrays(points: PointSet, settings: StraySettings = STRAY_DEFAULTS, watch?: Watch): Uint8Array {
  const { count } = points;
  const k = settings.neighbours;
  const stray = new Uint8Array(count);
  if (count === 0) return stray;
  tick(watch, 0, 'Indexing points');
  const index = new VoxelIndex(points.x, points.y, points.z, settings.keepWithinM / Math.sqrt(3));
  const rings = Math.ceil(settings.aloneBeyondM / index.edgeM);
  const keepSquared = settings.keepWithinM ** 2;
  const aloneSquared = settings.aloneBeyondM ** 2;
  const squared = new Float64Array(k);
  const ids = new Int32Array(k);
  const innerSquared = new Float64Array(k);
  const innerIds = new Int32Array(k);
  const theirs = new Float64Array(k);
  /** Memo of k-th distances, squared; 0 unknown. */
  const known = new Map<number, number>();
  const kth = (i: number, s: Float64Array, j: Int32Array): number => {
    if (index.sharing(i) > k) return 0;
    const memo = known.get(i);
    if (memo !== undefined) return memo;
    const found = index.nearest(i, k, rings, s, j);
    const value = found < k ? Infinity : s[k - 1];
    known.set(i, value);
    return value;
  };
  for (let i = 0; i < count; i++) {
    if ((i & 0x3fff) === 0) tick(watch, 0.3 + (0.7 * i) / count, 'Comparing spacing');
    if (index.sharing(i) > k) continue;
    const found = index.nearest(i, k, rings, squared, ids);
    if (found < k || squared[k - 1] > aloneSquared) {
      stray[i] = 1;
      continue;
    }
    if (squared[k - 1] <= keepSquared) continue;
    for (let m = 0; m < k; m++) theirs[m] = kth(ids[m], innerSquared, innerIds);
    theirs.sort();
    const typical = Math.max(
      Math.sqrt((theirs[(k - 1) >> 1] + theirs[k >> 1]) / 2),
      settings.keepWithinM / settings.ratio,
    );
    if (Math.sqrt(squared[k - 1]) > settings.ratio * typical) stray[i] = 1;
  }
  tick(watch, 1);
  return stray;
}
