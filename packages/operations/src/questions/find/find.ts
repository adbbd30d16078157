import { findPoints, groundGrid, RunBuilder, type FinderName, type GroundGrid, type Runs } from '@longheron/core/cloud';
import { Problem, tick, type Watch } from '@longheron/core/shared';
import { readPoints, type EditableCloud } from '../../shared/stored/cloud';

/** Points that a finder finds in a stored cloud, all of it in memory. @param row of a picked point. */
export async function findRows(
  cloud: EditableCloud,
  name: FinderName,
  settings: Record<string, number>,
  row: number | undefined,
  watch?: Watch,
): Promise<{ runs: Runs; note: string }> {
  tick(watch, 0, 'Reading the cloud');
  const { set, xyz, classes, skip, time, strip } = await readPoints(cloud);
  const { marks, note } = findPoints({ set, cls: classes, skip, xyz, time, strip }, name, settings, row, watch);
  const rows = new RunBuilder();
  for (let i = 0; i < marks.length; i++) if (marks[i]) rows.add(i);
  return { runs: rows.finish(), note };
}

/** The ground under a stored cloud, heights about its zero. @throws Problem when it has no points of class ground. */
export async function groundOf(cloud: EditableCloud, watch?: Watch): Promise<GroundGrid> {
  tick(watch, 0, 'Reading the cloud');
  const { set, classes, skip } = await readPoints(cloud);
  tick(watch, 0.5, 'Laying the ground');
  const ground = groundGrid(set, classes, skip);
  if (ground) return ground;
  throw new Problem('The cloud has no ground points.', { code: 'no-ground', remedy: 'Find the ground first.' });
}
