import { LOOK_CELL_M, type CloudCell } from '@longheron/core/cloud';
import { type Watch } from '@longheron/core/shared';
import { type EditableCloud } from './cloud';
import { streamPoints } from './stream';

/** Cells of a stored cloud that hold points, and how many of them were changed by hand. */
export async function lookCells(cloud: EditableCloud, watch?: Watch): Promise<CloudCell[]> {
  const changed = new Uint8Array(cloud.edits.length ? cloud.count : 0);
  for (const { runs } of cloud.edits)
    for (let r = 0; r < runs.first.length; r++) changed.fill(1, runs.first[r], runs.first[r] + runs.length[r]);
  const cells = new Map<number, CloudCell>();
  const [e0, n0] = cloud.origin;
  let last: CloudCell | undefined;
  await streamPoints(
    cloud,
    (b) => {
      for (let i = 0; i < b.count; i++) {
        // what is rejected was looked at, or must be; strays far off make no place to look at
        if (b.skip[i] && !changed[b.first + i]) continue;
        const x = Math.floor((b.xyz[3 * i] * cloud.scale + e0) / LOOK_CELL_M);
        const y = Math.floor((b.xyz[3 * i + 1] * cloud.scale + n0) / LOOK_CELL_M);
        if (!last || last.x !== x || last.y !== y) {
          const key = x * 2 ** 26 + y;
          last = cells.get(key);
          if (!last) cells.set(key, (last = { x, y, points: 0, changed: 0 }));
        }
        last.points++;
        if (changed[b.first + i]) last.changed++;
      }
    },
    watch,
  );
  return [...cells.values()];
}
