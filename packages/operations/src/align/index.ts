import declaration from '@longheron/contract/operations/align';
import { placeByPoints, planFactor, type PlacingScale } from '@longheron/core/frames';
import { part, Problem } from '@longheron/core/shared';
import { computation } from '../computation/types';
import { ReportBuilder } from '../shared/report';
import { storeCloud } from '../shared/stored';
import { systemFrom } from '../shared/words';
import { placeCloud } from './align';

/** A cloud in a frame of its own, placed by marks that are known in it. */
export default computation(declaration, async ({ cloud, marks: lists }, settings, context, out, watch) => {
  const { pairs, scale: kind, level } = settings;
  const builder = new ReportBuilder('align', settings);
  const to = systemFrom(context);
  const marks = lists.flatMap((l) => l.marks);
  const known = pairs.map(({ mark }) => {
    const found = marks.find((m) => m.name === mark);
    if (found) return found;
    throw new Problem(`There is no mark ${mark}.`, {
      code: 'align-mark',
      place: mark,
      remedy: 'Choose the file of marks that holds it.',
    });
  });
  const given = known.map((m): [number, number, number] => [m.eastingM, m.northingM, m.heightM]);
  const middle = (k: number) => given.reduce((s, g) => s + g[k] / given.length, 0);
  const scale: PlacingScale =
    kind === 'plan' ? { kind, factor: planFactor(to, [middle(0), middle(1), middle(2)]) } : { kind };
  const placing = placeByPoints(
    pairs.map(({ x, y, z }) => [x, y, z] as const),
    given,
    { scale, level },
  );
  const path = await cloud.las();
  let written = 0;
  const las = await out.file('cloud', 'las', async (outPath) => {
    ({ written } = await placeCloud(path, outPath, to, placing, part(watch, 0, 0.5), cloud.name));
  });
  const stored = out.keeps ? await storeCloud(out.store, las.sha256, part(watch, 0.5, 1)) : undefined;
  const { residuals, missesM, sdM, redundancy, stretch, headingDeg, tiltDeg } = placing;
  const points = known.map((m, i) => ({ mark: m.name, ...residuals[i], missM: missesM[i] }));
  const used = known.map((m) => m.name).join(', ');
  builder.notice({
    code: 'aligned',
    severity: 'info',
    text: `Placed by ${used}${sdM === null ? '; nothing is left over to judge it by' : `: 1 SD of a coordinate ${(100 * sdM).toFixed(1)} cm`}.`,
    effect: 'These marks cannot prove this cloud.',
  });
  if (redundancy === 0 || points.every((q) => q.missM === null))
    builder.notice({
      code: 'align-few',
      severity: 'warning',
      text: `${points.length} points place the cloud, none checks another.`,
      effect: 'A point that was picked wrongly would not show.',
      remedy: 'Add a point.',
    });
  return {
    name: `${cloud.name} placed`,
    content: {
      las: las.sha256,
      bytes: las.bytes,
      ...stored,
      figures: { points: written },
      crs: context.crs,
      aligned: { points, sdM, redundancy, stretch, headingDeg, tiltDeg, scale: kind, level },
    },
    hash: las.sha256,
    report: builder.finish(to.label, { points: written, sd_m: sdM, redundancy, marks: points }),
    log: [`${written} points placed by ${used}.`],
  };
});
