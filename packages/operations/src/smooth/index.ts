import declaration from '@longheron/contract/operations/smooth';
import { part } from '@longheron/core/shared';
import { LasFile } from '@longheron/formats/las';
import { computation } from '../computation/types';
import { systemOfHeader } from '../shared/cloud';
import { ReportBuilder } from '../shared/report';
import { storeCloud } from '../shared/stored';
import { writeSmoothed, type SmoothFigures } from './smooth';

/** A cloud with the noise of its surfaces taken out, beside the one it was made of. */
export default computation(declaration, async ({ cloud }, settings, _context, out, watch) => {
  const builder = new ReportBuilder('smooth', settings);
  const path = await cloud.las();
  const file = await LasFile.openPath(path);
  const system = systemOfHeader(file.header, cloud.name, [])?.definition;
  await file.close();
  const units = { plan: system?.metresPerUnit ?? 1, height: system?.verticalMetresPerUnit ?? 1 };
  let f!: SmoothFigures;
  const las = await out.file('cloud', 'las', async (outPath) => {
    const stored = await cloud.stored();
    const own = part(watch, 0, out.keeps ? 0.6 : 1);
    f = await writeSmoothed(path, await cloud.order(), stored, settings, units, outPath, own);
  });
  const stored = out.keeps ? await storeCloud(out.store, las.sha256, part(watch, 0.6, 1)) : undefined;
  const share = `${((100 * f.moved) / Math.max(1, f.points)).toFixed(1)} %`;
  const cm = (v: number) => `${(100 * v).toFixed(2)} cm`;
  builder.notice({
    code: 'smoothed',
    severity: 'info',
    text: `${f.moved} of ${f.points} points (${share}) were moved onto the plane of their neighbours, by ${cm(f.rmsM)} RMS and ${cm(f.mostM)} at most.`,
    effect:
      'Its noise says no more how precise it is, and steps finer than the radius are rounded. Clearances are measured in the cloud before.',
    remedy: 'Prove accuracy with the cloud that it was made of.',
  });
  const figures = { points: f.points, moved: f.moved, rms_m: f.rmsM, most_m: f.mostM };
  return {
    name: `${cloud.name}, smoothed`,
    content: { las: las.sha256, bytes: las.bytes, ...stored, crs: cloud.crs, figures, smoothed: settings },
    hash: las.sha256,
    report: builder.finish(cloud.crs || null, figures),
    log: [`${f.moved} of ${f.points} points moved, ${cm(f.rmsM)} RMS.`],
  };
});
