/** Finding points by themselves: groups, outliers, heights above ground, lines and planes. */
import { Problem } from '../../shared/problem';
import { part, type Watch } from '../../shared/progress';
import { LAS_CLASS, type PointSet } from '../points';
import { groundGrid, heightAbove, type GroundGrid } from './aboveGround';
import { connectedGroup, isolatedGroups } from './groups';
import { cellOutliers, duplicatePoints, shapedPoints, sparsePoints } from './local';
import { movingPoints } from './moving';
import { FINDERS, type FinderName } from './plans';
import { shorePoints, waterPoints } from './water';

export * from './plans';
export { groundGrid, heightAbove, type GroundGrid } from './aboveGround';

/** A cloud in memory for finders. */
export interface FinderCloud {
  set: PointSet;
  cls: Uint8Array;
  /** 1 for points that are not looked at: rejected, noise. */
  skip: Uint8Array;
  /** Places in steps of the store, and times; for duplicates alone. */
  xyz: Int32Array;
  time: Uint32Array;
  /** Strip of each point, 0 when in none; for what moves alone. */
  strip: Uint16Array;
}

/** Settings of a finder, completed with the usual values. @throws Problem for a value out of range. */
export function finderSettings(name: FinderName, given: Record<string, unknown>): Record<string, number> {
  const out: Record<string, number> = {};
  for (const s of FINDERS[name].settings) {
    const value = given[s.key] ?? s.usual;
    if (typeof value !== 'number' || !(value >= s.min && value <= s.max))
      throw new Problem(`"${s.label}" of ${FINDERS[name].title} lies between ${s.min} and ${s.max}.`, {
        code: 'setting',
        place: s.key,
        remedy: 'Choose a value within the range.',
      });
    out[s.key] = value;
  }
  return out;
}

/** @param row of the picked point. @returns 1 for each point found, and what else is to be said. */
export function findPoints(
  cloud: FinderCloud,
  name: FinderName,
  settings: Record<string, number>,
  row?: number,
  watch?: Watch,
): { marks: Uint8Array; note: string } {
  const { set, cls, skip } = cloud;
  const only = (marks: Uint8Array, note = '') => ({ marks, note });
  if (name === 'groups') return only(isolatedGroups(set, skip, settings.gapM, settings.most, watch));
  if (name === 'connected') {
    if (row === undefined || row < 0 || row >= set.count)
      throw new Problem('No point is picked.', {
        code: 'finder-point',
        remedy: 'Click a point of the thing in the cloud view first.',
      });
    return only(connectedGroup(set, skip, settings.gapM, row, watch));
  }
  if (name === 'sparse') return only(sparsePoints(set, skip, settings.radiusM, settings.fewest, watch));
  if (name === 'duplicates') return only(duplicatePoints(cloud.xyz, cloud.time, skip));
  if (name === 'water') {
    const { cellM, roughM, slopeM, leastM2 } = settings;
    return only(waterPoints(set, skip, { cellM, roughM, slopeM, leastM2 }, watch));
  }
  if (name === 'shore') {
    const { cellM, levelM, withinM } = settings;
    const found = shorePoints(set, cls, skip, { cellM, levelM, withinM });
    const level = `${(found.levelM + set.origin[2]).toFixed(2)} m`;
    return only(found.marks, `Level ${level}, ${found.fromWater ? 'the median of class water' : 'as stated'}.`);
  }
  if (name === 'cells') {
    const { cellM, factor, fewest } = settings;
    const { marks, undecided } = cellOutliers(set, skip, { cellM, factor, fewest }, watch);
    return only(
      marks,
      undecided ? `${undecided} cell${undecided === 1 ? ' has' : 's have'} too few points for a verdict.` : '',
    );
  }
  const ground = groundGrid(set, cls, skip);
  if (!ground)
    throw new Problem('The cloud has no ground points.', {
      code: 'no-ground',
      remedy: 'Find the ground first, under Ground.',
    });
  if (name === 'moving') {
    const { cellM, fromM, toM, fewest } = settings;
    const { marks, onePass } = movingPoints(
      ...([set, cls, skip, cloud.strip, ground] as const),
      { cellM, fromM, toM, fewest },
      watch,
    );
    const strips = new Set(cloud.strip);
    strips.delete(0);
    const few = strips.size < 2 ? 'The cloud has fewer than two strips: nothing can be compared. ' : '';
    return only(
      marks,
      `${few}${onePass ? `In ${onePass} cells with things one pass alone has seen the place: no verdict.` : ''}`,
    );
  }
  if (name === 'below') return only(between(cloud, ground, -Infinity, -settings.byM, true));
  if (name === 'above') return only(between(cloud, ground, settings.fromM, settings.toM, false));
  const high = between(cloud, ground, settings.aboveM, Infinity, false);
  const low = high.map((v) => (v ? 0 : 1));
  const what = name === 'lines' ? 'line' : 'plane';
  return only(shapedPoints(set, low, { what, radiusM: settings.radiusM, least: settings.least }, part(watch, 0.2, 1)));
}

/** Points between two heights above ground. @param withGround whether points of class ground count too. */
function between(
  { set, cls, skip }: FinderCloud,
  ground: GroundGrid,
  fromM: number,
  toM: number,
  withGround: boolean,
): Uint8Array {
  const out = new Uint8Array(set.count);
  for (let i = 0; i < set.count; i++) {
    if (skip[i] || (!withGround && cls[i] === LAS_CLASS.ground)) continue;
    const h = heightAbove(ground, set.x[i], set.y[i], set.z[i]);
    if (h >= fromM && h <= toM) out[i] = 1;
  }
  return out;
}
