import { readFile } from 'node:fs/promises';
import { smoothSurfaces, type SmoothSettings } from '@longheron/core/cloud';
import { part, type Watch } from '@longheron/core/shared';
import { LasFile, writeMoved } from '@longheron/formats/las';
import { readPoints, type EditableCloud } from '../shared/stored/cloud';

/** What smoothing did: points in all and moved, metres. */
export interface SmoothFigures {
  points: number;
  moved: number;
  rmsM: number;
  mostM: number;
}

/**
 * Writes a cloud with its surfaces smoothed; see `smoothSurfaces`. Rejected points and noise stay where they are.
 * @param lasPath file with the edits in it. @param units metres of a unit of the file, in plan and in height.
 */
export async function writeSmoothed(
  lasPath: string,
  orderPath: string,
  cloud: EditableCloud,
  settings: SmoothSettings,
  units: { plan: number; height: number },
  outPath: string,
  watch?: Watch,
): Promise<SmoothFigures> {
  const { set, skip } = await readPoints(cloud);
  const { dx, dy, dz, moved, rmsM, mostM } = smoothSurfaces(set, skip, settings, part(watch, 0, 0.8));
  const bytes = await readFile(orderPath);
  const rowOf = new Uint32Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 4);
  const by = [new Float32Array(set.count), new Float32Array(set.count), new Float32Array(set.count)] as const;
  for (let k = 0; k < rowOf.length; k++) {
    by[0][rowOf[k]] = dx[k] / units.plan;
    by[1][rowOf[k]] = dy[k] / units.plan;
    by[2][rowOf[k]] = dz[k] / units.height;
  }
  const file = await LasFile.openPath(lasPath);
  try {
    await writeMoved(file, outPath, by, part(watch, 0.8, 1));
  } finally {
    await file.close();
  }
  return { points: set.count, moved, rmsM, mostM };
}
