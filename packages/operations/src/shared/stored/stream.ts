import { open } from 'node:fs/promises';
import {
  applyEdits,
  ATTRIBUTE_BYTES,
  attributesOf,
  CLASS_BYTES,
  LAS_CLASS,
  POSITION_BYTES,
  type Attributes,
} from '@longheron/core/cloud';
import { Problem, tick, type Watch } from '@longheron/core/shared';
import { positionsIn, type EditableCloud } from './cloud';

/** Points of a stored cloud that follow each other, with what was done to them by hand. */
export interface PointBlock {
  /** Row of the first. */
  first: number;
  count: number;
  /** Places in steps of the store about the cloud's origin, three a point. */
  xyz: Int32Array;
  attributes: Attributes;
  classes: Uint8Array;
  /** 1 for what is rejected by hand. */
  rejected: Uint8Array;
  /** 1 for what is rejected or noise. */
  skip: Uint8Array;
}

const MAX_AT_ONCE = 1 << 19;
const BYTES = [POSITION_BYTES, ATTRIBUTE_BYTES, CLASS_BYTES] as const;
const NAMES = ['positions', 'attributes', 'classes'] as const;

/** Hands the points of a stored cloud out in their order, block by block; the arrays are used anew for each block. */
export async function streamPoints(
  cloud: EditableCloud,
  each: (block: PointBlock) => void,
  watch?: Watch,
  doing = 'Reading the cloud',
): Promise<void> {
  const { paths } = cloud;
  const files = await Promise.all([paths.position, paths.attributes, paths.classes].map((p) => open(p, 'r')));
  const buffers = BYTES.map((b) => Buffer.alloc(b * MAX_AT_ONCE));
  const [rejected, skip] = [new Uint8Array(MAX_AT_ONCE), new Uint8Array(MAX_AT_ONCE)];
  try {
    for (let first = 0; first < cloud.count; first += MAX_AT_ONCE) {
      tick(watch, first / cloud.count, doing);
      const count = Math.min(MAX_AT_ONCE, cloud.count - first);
      for (let k = 0; k < files.length; k++) {
        const { bytesRead } = await files[k].read(buffers[k], 0, count * BYTES[k], first * BYTES[k]);
        if (bytesRead !== count * BYTES[k])
          throw new Problem(`The stored cloud lacks ${NAMES[k]} from point ${first} on.`, {
            code: 'cloud-store',
            place: `point ${first}`,
            remedy: 'Take the cloud in again, or run the job that made it.',
          });
      }
      const [position, attributes, stored] = buffers;
      const classes = stored.subarray(0, count);
      rejected.fill(0, 0, count);
      applyEdits(cloud.edits, first, classes, rejected.subarray(0, count));
      for (let i = 0; i < count; i++) {
        const cls = classes[i];
        rejected[i] &= 1;
        skip[i] = rejected[i] || cls === LAS_CLASS.lowNoise || cls === LAS_CLASS.highNoise ? 1 : 0;
      }
      each({
        first,
        count,
        classes,
        rejected: rejected.subarray(0, count),
        skip: skip.subarray(0, count),
        xyz: positionsIn(position, count),
        attributes: attributesOf(attributes, count),
      });
    }
  } finally {
    await Promise.all(files.map((f) => f.close()));
  }
}
