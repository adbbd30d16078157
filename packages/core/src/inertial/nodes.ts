import { type InertialData } from './inertialData';
import { type AidingPosition } from './settings';

/** Where a run stops to move its covariance on and to take positions in. */
export interface Nodes {
  count: number;
  /** Sample of each. */
  sample: Int32Array;
  /** Position taken in at each, −1: none. */
  aid: Int32Array;
}

/** Samples nearest to the positions, and others so that no two nodes are further apart than `nodeS`. */
export function planNodes(data: InertialData, first: number, aiding: AidingPosition[], nodeS: number): Nodes {
  const half = 0.5 / data.rateHz;
  const end = aiding[aiding.length - 1].sow + half;
  const room = Math.min(
    data.sow.length - first,
    aiding.length + Math.ceil((end - data.sow[first]) / (nodeS - half)) + 2,
  );
  const sample = new Int32Array(room);
  const aidAt = new Int32Array(room);
  let count = 0;
  let aid = 0;
  let last = -Infinity;
  for (let i = first; i < data.sow.length && data.sow[i] <= end; i++) {
    while (aid < aiding.length && aiding[aid].sow < data.sow[i] - half - 1e-9) aid++;
    const near = aid < aiding.length && aiding[aid].sow <= data.sow[i] + half;
    if (!near && data.sow[i] - last < nodeS - half) continue;
    sample[count] = i;
    aidAt[count++] = near ? aid : -1;
    last = data.sow[i];
    if (near) aid++;
  }
  return { count, sample: sample.slice(0, count), aid: aidAt.slice(0, count) };
}
