import { open } from 'node:fs/promises';
import { applyEdits, LAS_CLASS, POSITION_BYTES } from '@longheron/core/cloud';
import { positionsIn, type EditableCloud } from './cloud';

/** A place about the cloud's origin, metres. */
export type Place = readonly [number, number, number];

/**
 * Points near a place, as places about the cloud's origin; rejected points and noise are left out. Only nodes that
 * reach there are read.
 * @param inPlan whether the radius is in plan (a standing cylinder) or in space. @param groundOnly class ground points only.
 */
export async function pointsNear(
  cloud: EditableCloud,
  at: Place,
  radiusM: number,
  inPlan: boolean,
  groundOnly = false,
): Promise<Float64Array[]> {
  const out: Float64Array[] = [];
  const files = await Promise.all([open(cloud.paths.position, 'r'), open(cloud.paths.classes, 'r')]);
  try {
    for (let i = 0; i < cloud.nodes.length; i += 6) {
      const [level, ...rest] = cloud.nodes.slice(i, i + 6);
      const [first, count] = rest.slice(3);
      const edgeM = cloud.rootM / 2 ** level;
      if (count === 0 || !reaches(at, rest, edgeM, radiusM, inPlan)) continue;
      const position = Buffer.alloc(POSITION_BYTES * count);
      const classes = new Uint8Array(count);
      await files[0].read(position, 0, position.length, POSITION_BYTES * first);
      await files[1].read(classes, 0, count, first);
      const flags = new Uint8Array(count);
      applyEdits(cloud.edits, first, classes, flags);
      const xyz = positionsIn(position, count);
      for (let k = 0; k < count; k++) {
        const cls = classes[k];
        if (flags[k] & 1 || cls === LAS_CLASS.lowNoise || cls === LAS_CLASS.highNoise) continue;
        if (groundOnly && cls !== LAS_CLASS.ground) continue;
        const p = Float64Array.of(xyz[3 * k], xyz[3 * k + 1], xyz[3 * k + 2]).map((v) => v * cloud.scale);
        const d = inPlan
          ? Math.hypot(p[0] - at[0], p[1] - at[1])
          : Math.hypot(p[0] - at[0], p[1] - at[1], p[2] - at[2]);
        if (d <= radiusM) out.push(p);
      }
    }
  } finally {
    await Promise.all(files.map((f) => f.close()));
  }
  return out;
}

/** Whether a cube lies within the radius of a place. */
function reaches(at: Place, cell: number[], edgeM: number, radiusM: number, inPlan: boolean): boolean {
  let square = 0;
  for (let k = 0; k < (inPlan ? 2 : 3); k++) {
    const low = cell[k] * edgeM;
    square += Math.max(0, low - at[k], at[k] - low - edgeM) ** 2;
  }
  return square <= radiusM * radiusM;
}
