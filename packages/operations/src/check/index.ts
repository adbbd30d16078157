import { writeFile } from 'node:fs/promises';
import declaration from '@longheron/contract/operations/check';
import { checkMarks } from '@longheron/core/accuracy';
import { part, Problem } from '@longheron/core/shared';
import { parseSystem } from '@longheron/formats/crs';
import { computation, type OpenedMarks } from '../computation/types';
import { indicesOfClass, type LoadedCloud } from '../shared/cloud';
import { ReportBuilder } from '../shared/report';
import { jsonHash } from '../shared/store';
import { centimetres } from '../shared/words';
import { checkFigures, checkNotices, neighbourhoods, statedHeightSdM } from './check';
import { accuracyOfHeights } from './chapter';
import { residualsCsv } from './csv';

export { checkFigures, checkNotices, neighbourhoods, statedHeightSdM } from './check';

/** Heights of a cloud against marks. */
export default computation(
  declaration,
  async ({ cloud, marks: lists }, settings, context, out, watch) => {
    const { toleranceM } = context;
    const builder = new ReportBuilder('check', { class: settings.class, tolerance_m: toleranceM ?? null });
    const loaded = await cloud.load(part(watch, 0, 0.6));
    try {
      for (const list of lists) refuseOtherSystem(builder, list, loaded);
      const marks = lists.flatMap((l) => l.marks).map((m) => ({ ...m, usedFor: context.usedMarks[m.name] }));
      const indices = pointsThatCount(builder, loaded, settings.class);
      const near = neighbourhoods(loaded.set, indices, marks);
      const found = checkMarks(marks, (m) => near.get(m)!, await statedHeightSdM(loaded.file), toleranceM);
      builder.notices.push(...checkNotices(found));
      const { statistics } = found;
      const within = statistics.count && toleranceM !== undefined ? statistics.rmseM <= toleranceM : null;
      const figures = { ...checkFigures(found), tolerance_m: toleranceM ?? 0, within_tolerance: within };
      const crs = context.crs ?? loaded.system?.label ?? '';
      if (out.wanted('residuals'))
        await out.file('residuals', 'csv', (path) => writeFile(path, residualsCsv(figures, 'metre', crs)));
      return {
        content: { figures, crs },
        hash: jsonHash(figures),
        report: builder.finish(loaded.system?.label ?? context.crs ?? null, {
          ...figures,
          within_tolerance: toleranceM === undefined ? null : within,
        }),
        log: [`${statistics.count} check marks, RMSE ${statistics.rmseM.toFixed(4)} m.`],
        lines: linesOf(found, figures),
        failed: toleranceM !== undefined && within !== true,
      };
    } finally {
      await loaded.file.close();
    }
  },
  {
    chapter: accuracyOfHeights,
    exports: { residuals: ({ figures, crs }, { unit }) => residualsCsv(figures, unit, crs) },
  },
);

function refuseOtherSystem(builder: ReportBuilder, { name, crs }: OpenedMarks, { system }: LoadedCloud): void {
  if (!crs || !system || normal(crs) === system.label) return;
  builder.notice({
    code: 'crs-differs',
    severity: 'warning',
    file: name,
    text: `The marks are in ${crs}, the cloud in ${system.label}.`,
    effect: 'Residuals compare coordinates of two systems.',
    remedy: 'Transform one of them.',
  });
}

/** Points of the class that counts; all that are not rejected when there are none of it. */
function pointsThatCount(builder: ReportBuilder, { points, file }: LoadedCloud, cls: number): Int32Array {
  const wanted = indicesOfClass(points, cls);
  if (wanted.length) return wanted;
  const all = indicesOfClass(points, undefined);
  if (all.length === 0)
    throw new Problem('Every point of the cloud is rejected.', {
      code: 'las-empty',
      file: file.source.name,
      remedy: 'Choose another cloud.',
    });
  builder.notice({
    code: 'no-ground',
    severity: 'warning',
    text: `The cloud has no point of class ${cls}; all ${all.length} points that are not rejected are used.`,
    effect: 'Things above the ground enter the residuals.',
    remedy: 'Classify the ground first.',
  });
  return all;
}

function linesOf(
  { residuals, statistics: s }: ReturnType<typeof checkMarks>,
  figures: ReturnType<typeof checkFigures>,
) {
  const sorted = [...residuals].sort((a, b) => Math.abs(b.residualM || 0) - Math.abs(a.residualM || 0));
  const lines = sorted.map(
    (r) =>
      `${r.mark.name.padEnd(8)} ${r.mark.role.padEnd(8)} ${Number.isFinite(r.residualM) ? `${(1000 * r.residualM).toFixed(0).padStart(6)} mm` : '    not found'}  ${r.surface.method}${r.flagged ? '  FLAGGED' : ''}${r.reason ? `  (${r.reason})` : ''}`,
  );
  lines.push(
    s.count
      ? `${s.count} check marks: mean ${centimetres(s.meanM)}, SD ${centimetres(s.sdM)}, RMSE ${centimetres(s.rmseM)}, ${centimetres(s.minM)} to ${centimetres(s.maxM)}; class ${figures.class_2014_cm} cm (ASPRS 2014), ${figures.class_2024_cm} cm (2024); contours from ${figures.contour_interval_m} m.`
      : 'No check mark was found on the cloud.',
  );
  return lines;
}

/** A system's text as it is always written; what names none that is known stays as it is. */
function normal(crs: string): string {
  try {
    return parseSystem(crs).label;
  } catch {
    return crs.replace(/\s/g, '');
  }
}
