import { mean, standardDeviation } from '@longheron/core/numeric';
import { part, Problem, type Watch } from '@longheron/core/shared';
import { parseSystem } from '@longheron/formats/crs';
import { LasFile, writeShifted } from '@longheron/formats/las';
import { storeCloud } from './cloudStore';
import { objectPath, Shelf } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

interface CheckedMark {
  name: string;
  role: string;
  cover: string;
  residual_m: number | null;
  flagged: boolean;
  left_out: string | null;
}

const FEWEST = 3;

/**
 * Takes the mean residual of marks out of a cloud's heights. The marks that it is taken from are kept with the cloud:
 * they cannot prove it afterwards.
 */
export async function correct(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const p = r.payload as { las: string; crs: string; by: 'control' | 'check'; check: { marks: CheckedMark[] } };
  const used = p.check.marks.filter(
    (m) => m.role === p.by && m.cover === 'hard' && m.residual_m !== null && !m.flagged && !m.left_out,
  );
  if (used.length < FEWEST)
    throw new Problem(`Only ${used.length} ${p.by} marks on hard ground agree and were found; ${FEWEST} are needed.`, {
      code: 'few-marks',
      remedy: 'Choose the other role, or survey more marks.',
    });
  const residuals = used.map((m) => m.residual_m!);
  const valueM = mean(residuals);
  const sdM = standardDeviation(residuals) / Math.sqrt(used.length);
  const shelf = new Shelf(r.storeFolder);
  const { verticalMetresPerUnit } = parseSystem(p.crs).definition;
  const file = await LasFile.openPath(objectPath(r.storeFolder, p.las));
  let las: { sha256: string; bytes: number };
  try {
    las = await shelf.file(
      (path) => writeShifted(file, path, -valueM / verticalMetresPerUnit, part(watch, 0, 0.3)),
      'las',
    );
  } finally {
    await file.close();
  }
  const stored = await storeCloud(shelf, r.storeFolder, las.sha256, part(watch, 0.3, 1));
  const t = valueM / sdM;
  return {
    content: {
      ...{ las: las.sha256, bytes: las.bytes, ...stored, crs: p.crs },
      corrected: { valueM, sdM, t: Number.isFinite(t) ? t : null, by: p.by, marks: used.map((m) => m.name) },
    },
    contentHash: las.sha256,
    objects: shelf.objects,
    notices: [
      {
        code: 'bias-taken-out',
        severity: 'info',
        text: `All heights were moved by ${(-100 * valueM).toFixed(2)} cm, the mean of ${used.length} ${p.by} marks (1 SD ${(100 * sdM).toFixed(2)} cm).`,
        effect: `These marks cannot prove this cloud: ${used.map((m) => m.name).join(', ')}.`,
        remedy: 'Check it with marks that were not used.',
      },
    ],
    log: [`Moved by ${(-valueM).toFixed(4)} m, from ${used.map((m) => m.name).join(', ')}.`],
  };
}
