import { readFile } from 'node:fs/promises';
import sharp from 'sharp';
import { type Mark } from '@longheron/core/accuracy';
import { part, type Watch } from '@longheron/core/shared';
import { parseSystem } from '@longheron/formats/crs';
import { readMeasurements, type Measurement } from '@longheron/formats/measurements';
import { loadCloud } from '@longheron/operations/cloud';
import { statedHeightSdM } from '@longheron/operations/check';
import {
  findMarks,
  PATCH_CELL_M,
  PATCH_CELLS,
  PATCH_M,
  planFigures,
  type KeptSight,
  type Patch,
  type PlanSettings,
} from '@longheron/operations/plan';
import { jsonHash, objectPath, Shelf } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

/** Where the targets of marks lie in a cloud against where they were surveyed; pictures to pick in. */
export async function planCheck(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const p = r.payload as unknown as PlanSettings & {
    las: string;
    marks: Mark[];
    usedFor: Record<string, string>;
    measured: Array<{ path: string; name: string }>;
    crs: string;
    toleranceM: number;
  };
  const shelf = new Shelf(r.storeFolder);
  const measured: Measurement[] = [];
  for (const m of p.measured) measured.push(...readMeasurements(await readFile(m.path), m.name));
  const cloud = await loadCloud(objectPath(r.storeFolder, p.las), undefined, part(watch, 0, 0.5));
  try {
    const { target, edgeM, radiusM, searchM } = p;
    const found = await findMarks(cloud, p.marks, { target, edgeM, radiusM, searchM }, part(watch, 0.5, 0.95));
    const sights: KeptSight[] = [];
    for (const { patch, ...sight } of found.marks)
      sights.push({
        ...sight,
        usedFor: p.usedFor[sight.mark.name],
        picture: patch && (await shelf.bytes(await pictureOf(patch), 'png')),
      });
    const kept = {
      ...{ sights, measured, cloudSdM: found.cloudSdM, cloudSdHM: await statedHeightSdM(cloud.file) },
      ...{ picks: [], toleranceM: p.toleranceM, crs: p.crs },
      settings: { target, edgeM, radiusM, searchM },
      patch: { edgeM: PATCH_M, cellM: PATCH_CELL_M },
    };
    const { figures, notices } = planFigures(
      sights,
      [],
      measured,
      kept.cloudSdM,
      kept.cloudSdHM,
      p.toleranceM,
      parseSystem(p.crs),
    );
    const fitted = found.marks.filter((m) => m.fit).length;
    return {
      content: { ...kept, figures },
      contentHash: jsonHash([figures, kept.settings]),
      objects: shelf.objects,
      notices,
      log: [`${fitted} of ${p.marks.length} targets found.`],
    };
  } finally {
    await cloud.file.close();
  }
}

/** Grey picture of a patch; cells without points are of the paper's colour. */
function pictureOf(patch: Patch): Promise<Buffer> {
  const out = new Uint8Array(4 * patch.cells.length);
  patch.cells.forEach((v, i) => {
    if (v === 0) return;
    out.fill(v, 4 * i, 4 * i + 3);
    out[4 * i + 3] = 255;
  });
  return sharp(out, { raw: { width: PATCH_CELLS, height: PATCH_CELLS, channels: 4 } })
    .png()
    .toBuffer();
}
