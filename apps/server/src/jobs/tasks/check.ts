import { checkMarks, type Mark } from '@longheron/core/accuracy';
import { LAS_CLASS } from '@longheron/core/cloud';
import { part, Problem, type Watch } from '@longheron/core/shared';
import { checkFigures, checkNotices, neighbourhoods, statedHeightSdM } from '@longheron/operations/check';
import { indicesOfClass, loadCloud } from '@longheron/operations/cloud';
import { jsonHash, objectPath } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

export async function check(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const p = r.payload as {
    las: string;
    marks: Mark[];
    usedFor: Record<string, string>;
    crs: string;
    toleranceM: number;
  };
  const marks = p.marks.map((m) => ({ ...m, usedFor: p.usedFor[m.name] }));
  const cloud = await loadCloud(objectPath(r.storeFolder, p.las), undefined, part(watch, 0, 0.6));
  try {
    const indices = indicesOfClass(cloud.points, LAS_CLASS.ground);
    if (indices.length === 0)
      throw new Problem('The cloud has no ground points.', {
        code: 'no-ground',
        remedy: 'Find the ground first, in the stage Clean.',
      });
    const near = neighbourhoods(cloud.set, indices, marks);
    const found = checkMarks(marks, (m) => near.get(m)!, await statedHeightSdM(cloud.file));
    const figures = {
      ...checkFigures(found),
      tolerance_m: p.toleranceM,
      within_tolerance: found.statistics.count ? found.statistics.rmseM <= p.toleranceM : null,
    };
    return {
      content: { figures, crs: p.crs },
      contentHash: jsonHash(figures),
      objects: [],
      notices: checkNotices(found),
      log: [`${found.statistics.count} check marks, RMSE ${found.statistics.rmseM.toFixed(4)} m.`],
    };
  } finally {
    await cloud.file.close();
  }
}
