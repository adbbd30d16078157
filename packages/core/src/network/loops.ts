import { ecefToGeodetic, ecefToNed, GRS80 } from '../frames/ellipsoid';
import { turned } from './ellipse';
import { type NetworkPoint, type VectorObservation } from './observations';

/** Vectors that lead back to where they began, or from one held point to another. */
export interface Loop {
  /** Points in order; the first comes again at the end of a closed one. */
  names: string[];
  kind: 'closed' | 'between held points';
  lengthM: number;
  /** What is left over, north, east, down, metres. */
  misclosureM: [number, number, number];
  /** What may be left over by the vectors' deviations, taken as independent; 1 SD, metres. */
  sdM: [number, number, number];
}

interface Step {
  index: number;
  /** Point that the step comes from. */
  from: number;
  vector: VectorObservation;
}

/**
 * The independent loops of a network: each vector that is not in the tree grown from the held points closes one, and so
 * do the paths between trees of two held points.
 */
export function loopsOf(points: NetworkPoint[], vectors: VectorObservation[]): Loop[] {
  const at = new Map(points.map((p, i) => [p.name, i]));
  const root = points.map((p, i) => (p.heldM ? i : -1));
  const depth = points.map(() => 0);
  const by: Array<Step | undefined> = points.map(() => undefined);
  const used = new Set<number>();
  const queue = points.flatMap((p, i) => (p.heldM ? [i] : []));
  for (let head = 0; head < queue.length; head++)
    vectors.forEach((vector, index) => {
      const here = queue[head];
      const ends = [at.get(vector.from)!, at.get(vector.to)!];
      if (used.has(index) || !ends.includes(here)) return;
      const there = ends[0] === here ? ends[1] : ends[0];
      if (root[there] >= 0) return;
      used.add(index);
      [root[there], depth[there], by[there]] = [root[here], depth[here] + 1, { index, from: here, vector }];
      queue.push(there);
    });
  return vectors.flatMap((vector, index) => {
    if (used.has(index)) return [];
    return [loop(points, root, by, depth, vector, at.get(vector.from)!, at.get(vector.to)!)];
  });
}

function loop(
  points: NetworkPoint[],
  root: number[],
  by: Array<Step | undefined>,
  depth: number[],
  closing: VectorObservation,
  from: number,
  to: number,
): Loop {
  // up from both ends until they meet, or both stand on their held points
  const [left, right] = [[from], [to]];
  const steps: Array<{ vector: VectorObservation; sign: 1 | -1 }> = [{ vector: closing, sign: 1 }];
  let [a, b] = [from, to];
  while (a !== b && (by[a] || by[b])) {
    const first = by[b] === undefined || (by[a] !== undefined && depth[a] >= depth[b]);
    const here = first ? a : b;
    const { from: next, vector } = by[here]!;
    const down = vector.to === points[here].name ? 1 : -1;
    // the left side is walked from its root to the closing vector, the right side back
    steps.push({ vector, sign: (first ? down : -down) as 1 | -1 });
    if (first) left.unshift((a = next));
    else right.push((b = next));
  }
  const kind = a === b ? 'closed' : 'between held points';
  const sum = new Float64Array(3);
  const covariance = new Float64Array(9);
  let lengthM = 0;
  for (const { vector, sign } of steps) {
    for (let k = 0; k < 3; k++) sum[k] += sign * vector.deltaM[k];
    for (let k = 0; k < 9; k++) covariance[k] += vector.covariance[k];
    lengthM += Math.hypot(vector.deltaM[0], vector.deltaM[1], vector.deltaM[2]);
  }
  const start = points[root[from]].heldM!;
  if (kind !== 'closed') for (let k = 0; k < 3; k++) sum[k] -= points[b].heldM![k] - points[a].heldM![k];
  const geo = ecefToGeodetic(GRS80, start[0], start[1], start[2]);
  const axes = ecefToNed(geo[0], geo[1]);
  const local = turned(axes, covariance);
  const along = (r: number) => axes[3 * r] * sum[0] + axes[3 * r + 1] * sum[1] + axes[3 * r + 2] * sum[2];
  return {
    names: [...left, ...right].map((i) => points[i].name),
    kind,
    lengthM,
    misclosureM: [along(0), along(1), along(2)],
    sdM: [Math.sqrt(local[0]), Math.sqrt(local[4]), Math.sqrt(local[8])],
  };
}
