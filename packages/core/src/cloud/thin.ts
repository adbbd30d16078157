import { VoxelSet } from './finders/voxelSet';
import { type PointSet } from './points';

/**
 * One point of each cube: the one of lowest rank (a deviation, say), or the first.
 * @param skip 1 for points to leave out. @returns 1 for each point kept.
 */
export function thinPoints(set: PointSet, skip: Uint8Array, edgeM: number, rank?: ArrayLike<number>): Uint8Array {
  const voxels = new VoxelSet(set, skip, edgeM);
  const best = new Int32Array(voxels.count).fill(-1);
  for (let i = 0; i < set.count; i++) {
    const v = voxels.of[i];
    if (v < 0) continue;
    if (best[v] < 0 || (rank && rank[i] < rank[best[v]])) best[v] = i;
  }
  const keep = new Uint8Array(set.count);
  for (const i of best) keep[i] = 1;
  return keep;
}
