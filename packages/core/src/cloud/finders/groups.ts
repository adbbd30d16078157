import { tick, type Watch } from '../../shared/progress';
import { type PointSet } from '../points';
import { VoxelSet } from './voxelSet';

/** The thirteen neighbours of a cube that come after it; the others are met from the other side. */
const NEIGHBOURS = [
  [1, -1, -1],
  [1, -1, 0],
  [1, -1, 1],
  [1, 0, -1],
  [1, 0, 0],
  [1, 0, 1],
  [1, 1, -1],
  [1, 1, 0],
  [1, 1, 1],
  [0, 1, -1],
  [0, 1, 0],
  [0, 1, 1],
  [0, 0, 1],
] as const;

/** Groups of cubes that touch: the number of a group stands at its cubes, the points in it at the group. */
function joined(voxels: VoxelSet, watch?: Watch): { group: Int32Array; points: Float64Array } {
  const parent = Int32Array.from({ length: voxels.count }, (_, i) => i);
  const root = (v: number) => {
    while (parent[v] !== v) v = parent[v] = parent[parent[v]];
    return v;
  };
  for (let v = 0; v < voxels.count; v++) {
    if ((v & 0xffff) === 0) tick(watch, 0.3 + (0.6 * v) / voxels.count, 'Joining groups');
    for (const [dx, dy, dz] of NEIGHBOURS) {
      const o = voxels.find(voxels.at[3 * v] + dx, voxels.at[3 * v + 1] + dy, voxels.at[3 * v + 2] + dz);
      if (o < 0) continue;
      const [a, b] = [root(v), root(o)];
      if (a !== b) parent[Math.max(a, b)] = Math.min(a, b);
    }
  }
  const points = new Float64Array(voxels.count);
  for (let v = 0; v < voxels.count; v++) {
    parent[v] = root(v);
    points[parent[v]] += voxels.points[v];
  }
  return { group: parent, points };
}

/**
 * Points of groups that hold few of them: points belong together when cubes of an edge of `gapM` that hold them touch.
 * @returns 1 for each such point.
 */
export function isolatedGroups(set: PointSet, skip: Uint8Array, gapM: number, most: number, watch?: Watch): Uint8Array {
  tick(watch, 0, 'Sorting into cubes');
  const voxels = new VoxelSet(set, skip, gapM);
  const { group, points } = joined(voxels, watch);
  const out = new Uint8Array(set.count);
  for (let i = 0; i < set.count; i++) {
    const v = voxels.of[i];
    if (v >= 0 && points[group[v]] <= most) out[i] = 1;
  }
  return out;
}

/** All points that hang together with one, by cubes as above. @returns none when that point itself is left out. */
export function connectedGroup(set: PointSet, skip: Uint8Array, gapM: number, seed: number, watch?: Watch): Uint8Array {
  tick(watch, 0, 'Sorting into cubes');
  const voxels = new VoxelSet(set, skip, gapM);
  const out = new Uint8Array(set.count);
  const first = voxels.of[seed] ?? -1;
  if (first < 0) return out;
  const reached = new Uint8Array(voxels.count);
  reached[first] = 1;
  const stack = [first];
  while (stack.length) {
    const v = stack.pop()!;
    for (const [dx, dy, dz] of NEIGHBOURS)
      for (const sign of [1, -1]) {
        const o = voxels.find(
          voxels.at[3 * v] + sign * dx,
          voxels.at[3 * v + 1] + sign * dy,
          voxels.at[3 * v + 2] + sign * dz,
        );
        if (o < 0 || reached[o]) continue;
        reached[o] = 1;
        stack.push(o);
      }
  }
  for (let i = 0; i < set.count; i++) if (voxels.of[i] >= 0 && reached[voxels.of[i]]) out[i] = 1;
  return out;
}
