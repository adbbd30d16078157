import declaration from '@longheron/contract/operations/merge';
import { part } from '@longheron/core/shared';
import { computation } from '../computation/types';
import { ReportBuilder } from '../shared/report';
import { storeCloud } from '../shared/stored';
import { mergeClouds } from './merge';

export { mergeClouds } from './merge';

/** Several clouds as one, with what was done to them by hand. */
export default computation(declaration, async ({ clouds }, { strips }, context, out, watch) => {
  const builder = new ReportBuilder('merge', { strips });
  const files: Array<{ path: string; name: string }> = [];
  for (const [i, cloud] of clouds.entries()) {
    const own = part(watch, (0.2 * i) / clouds.length, (0.2 * (i + 1)) / clouds.length);
    files.push({ path: await cloud.las(own), name: cloud.name });
  }
  let made!: Awaited<ReturnType<typeof mergeClouds>>;
  const las = await out.file('cloud', 'las', async (path) => {
    made = await mergeClouds(files, path, new Date(), strips, part(watch, 0.2, out.keeps ? 0.6 : 1));
  });
  const stored = out.keeps ? await storeCloud(out.store, las.sha256, part(watch, 0.6, 1)) : undefined;
  if (made.lost.length)
    builder.notice({
      code: 'merge-lost',
      severity: 'warning',
      text: `Not carried over: ${made.lost.join('; ')}.`,
      effect: 'The merged cloud does not hold it; the clouds that it was made of do.',
    });
  const moved = made.stripsMovedBy.flatMap((by, i) => (by ? [`${files[i].name} by ${by}`] : []));
  if (moved.length)
    builder.notice({
      code: 'merge-strips',
      severity: 'info',
      text: `Strip numbers were moved up so that strips stay apart: ${moved.join(', ')}.`,
      effect: 'Strips of these clouds have other numbers here.',
    });
  const said = `${made.written} points of ${files.length} clouds, point format ${made.pointFormat}.`;
  return {
    content: {
      las: las.sha256,
      bytes: las.bytes,
      ...stored,
      figures: { points: made.written, clouds: files.length, point_format: made.pointFormat },
      crs: context.crs ?? '',
      merged: files.map(({ name }, i) => ({ name, points: made.points[i], stripsMovedBy: made.stripsMovedBy[i] })),
    },
    hash: las.sha256,
    report: builder.finish(context.crs ?? '', { points: made.written, not_carried_over: made.lost }),
    log: [said],
    lines: [
      said,
      ...made.stripsMovedBy.flatMap((by, i) => (by ? [`Strips of ${files[i].name} were moved up by ${by}.`] : [])),
      ...(made.lost.length ? [`Not carried over: ${made.lost.join('; ')}.`] : []),
    ],
  };
});
