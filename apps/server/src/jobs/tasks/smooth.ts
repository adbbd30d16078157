import { type SmoothSettings } from '@longheron/core/cloud';
import { part, type Watch } from '@longheron/core/shared';
import { LasFile } from '@longheron/formats/las';
import { systemOfHeader } from '@longheron/operations/cloud';
import { writeSmoothed, type SmoothFigures } from '@longheron/operations/edit';
import { storeCloud } from './cloudStore';
import { cloudOf, type EditedCloud } from './edit';
import { objectPath, Shelf } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

/** A cloud with the noise of its surfaces taken out, beside the one it was made of. */
export async function smooth(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const p = r.payload as unknown as {
    cloud: EditedCloud;
    las: string;
    crs: string;
    name: string;
    settings: SmoothSettings;
  };
  const at = (sha: string) => objectPath(r.storeFolder, sha);
  const file = await LasFile.openPath(at(p.las));
  const system = systemOfHeader(file.header, p.name, [])?.definition;
  await file.close();
  const units = { plan: system?.metresPerUnit ?? 1, height: system?.verticalMetresPerUnit ?? 1 };
  const shelf = new Shelf(r.storeFolder);
  let f!: SmoothFigures;
  const las = await shelf.file(async (path) => {
    const cloud = await cloudOf(r.storeFolder, p.cloud);
    f = await writeSmoothed(at(p.las), at(p.cloud.order), cloud, p.settings, units, path, part(watch, 0, 0.6));
  }, 'las');
  const stored = await storeCloud(shelf, r.storeFolder, las.sha256, part(watch, 0.6, 1));
  const share = `${((100 * f.moved) / Math.max(1, f.points)).toFixed(1)} %`;
  const cm = (v: number) => `${(100 * v).toFixed(2)} cm`;
  return {
    name: `${p.name}, smoothed`,
    content: {
      ...{ las: las.sha256, bytes: las.bytes, ...stored, crs: p.crs },
      figures: { points: f.points, moved: f.moved, rms_m: f.rmsM, most_m: f.mostM },
      smoothed: p.settings,
    },
    contentHash: las.sha256,
    objects: shelf.objects,
    notices: [
      {
        ...{ code: 'smoothed', severity: 'info' },
        text: `${f.moved} of ${f.points} points (${share}) were moved onto the plane of their neighbours, by ${cm(f.rmsM)} RMS and ${cm(f.mostM)} at most.`,
        effect:
          'Its noise says no more how precise it is, and steps finer than the radius are rounded. Clearances are measured in the cloud before.',
        remedy: 'Prove accuracy with the cloud that it was made of.',
      },
    ],
    log: [`${f.moved} of ${f.points} points moved, ${cm(f.rmsM)} RMS.`],
  };
}
