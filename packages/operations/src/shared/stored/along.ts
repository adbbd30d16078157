import { open } from 'node:fs/promises';
import { applyEdits, LAS_CLASS, POSITION_BYTES } from '@longheron/core/cloud';
import { positionsIn, type EditableCloud } from './cloud';
import { type Place } from './near';

/** A line of sight: from a place to where it is looked at from, about the origin of the cloud, metres. */
export interface Sight {
  from: Place;
  to: Place;
}

/** Half the diagonal of a cube by its edge. */
const HALF_DIAGONAL = Math.sqrt(3) / 2;

/**
 * Points that stand in lines of sight, line by line; rejected points and noise do not. Only nodes that a line passes are read.
 * @param radiusM how near a point must come to a line. @param skipM at its beginning that belongs to the place itself.
 */
export async function pointsAlong(
  cloud: EditableCloud,
  sights: readonly Sight[],
  radiusM: number,
  skipM: number,
): Promise<Int32Array> {
  const out = new Int32Array(sights.length);
  const lines = sights.map(({ from, to }) => {
    const way = [to[0] - from[0], to[1] - from[1], to[2] - from[2]];
    const lengthM = Math.hypot(way[0], way[1], way[2]);
    return { from, way: way.map((v) => v / lengthM), lengthM };
  });
  const files = await Promise.all([open(cloud.paths.position, 'r'), open(cloud.paths.classes, 'r')]);
  try {
    for (let i = 0; i < cloud.nodes.length; i += 6) {
      const [level, x, y, z, first, count] = cloud.nodes.slice(i, i + 6);
      const edgeM = cloud.rootM / 2 ** level;
      const middle = [(x + 0.5) * edgeM, (y + 0.5) * edgeM, (z + 0.5) * edgeM];
      const passed = lines.flatMap((l, k) => (offLine(l, middle, 0) <= radiusM + HALF_DIAGONAL * edgeM ? [k] : []));
      if (!passed.length || count === 0) continue;
      const position = Buffer.alloc(POSITION_BYTES * count);
      const classes = new Uint8Array(count);
      await files[0].read(position, 0, position.length, POSITION_BYTES * first);
      await files[1].read(classes, 0, count, first);
      const flags = new Uint8Array(count);
      applyEdits(cloud.edits, first, classes, flags);
      const xyz = positionsIn(position, count);
      const at = [0, 0, 0];
      for (let p = 0; p < count; p++) {
        if (flags[p] & 1 || classes[p] === LAS_CLASS.lowNoise || classes[p] === LAS_CLASS.highNoise) continue;
        for (let k = 0; k < 3; k++) at[k] = xyz[3 * p + k] * cloud.scale;
        for (const k of passed) if (offLine(lines[k], at, skipM) <= radiusM) out[k]++;
      }
    }
  } finally {
    await Promise.all(files.map((f) => f.close()));
  }
  return out;
}

/** How far a place is from a line; from what lies before `skipM` or behind its end it is far. */
function offLine(
  { from, way, lengthM }: { from: Place; way: readonly number[]; lengthM: number },
  at: readonly number[],
  skipM: number,
): number {
  const [x, y, z] = [at[0] - from[0], at[1] - from[1], at[2] - from[2]];
  const along = x * way[0] + y * way[1] + z * way[2];
  if (skipM > 0 && (along < skipM || along > lengthM)) return Infinity;
  const on = Math.min(lengthM, Math.max(0, along));
  return Math.hypot(x - on * way[0], y - on * way[1], z - on * way[2]);
}
