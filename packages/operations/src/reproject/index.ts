import declaration from '@longheron/contract/operations/reproject';
import { part } from '@longheron/core/shared';
import { parseSystem } from '@longheron/formats/crs';
import { computation } from '../computation/types';
import { ReportBuilder } from '../shared/report';
import { storeCloud } from '../shared/stored';
import { systemFrom } from '../shared/words';
import { reprojectCloud } from './reproject';

export { reprojectCloud } from './reproject';

/** A cloud of another system in the one wanted. */
export default computation(declaration, async ({ cloud }, { from }, context, out, watch) => {
  const to = systemFrom(context);
  const builder = new ReportBuilder('reproject', { to: to.label, from });
  const stated = from ? parseSystem(from) : undefined;
  const path = await cloud.las(part(watch, 0, 0.1));
  let made!: Awaited<ReturnType<typeof reprojectCloud>>;
  const las = await out.file('cloud', 'las', async (outPath) => {
    made = await reprojectCloud(path, outPath, to, stated, part(watch, 0.1, out.keeps ? 0.5 : 1), cloud.name);
  });
  const stored = out.keeps ? await storeCloud(out.store, las.sha256, part(watch, 0.5, 1)) : undefined;
  const [a, b] = [made.from.label, to.label];
  builder.notice({
    code: 'reprojected',
    severity: 'info',
    text: `From ${a}${stated ? ' (as stated, the file says nothing)' : ''} to ${b}, over geographic coordinates without a shift of datum. ${made.from.geoid.name === to.geoid.name ? '' : `Heights: ${made.from.geoid.statement} to ${to.geoid.statement}.`}`.trim(),
    effect: 'Frames that move against each other (WGS 84 against ETRS89: some 2.5 cm a year) are taken as one.',
  });
  return {
    name: `${cloud.name} in ${to.label}`,
    content: {
      las: las.sha256,
      bytes: las.bytes,
      ...stored,
      figures: { points: made.written },
      crs: context.crs,
      reprojected: { from: a, to: b, stated: !!stated },
    },
    hash: las.sha256,
    report: builder.finish(to.label, { points: made.written }),
    log: [`${made.written} points carried from ${a} to ${b}.`],
    lines: [`${made.written} points carried from ${a} to ${b}, without a shift of datum.`],
  };
});
