import { writeFile } from 'node:fs/promises';
import sharp from 'sharp';
import { type Contents } from '@longheron/contract/kinds';
import { type KeptSight } from '@longheron/contract/kinds/plan-check';
import declaration from '@longheron/contract/operations/plan-check';
import { part } from '@longheron/core/shared';
import { parseSystem } from '@longheron/formats/crs';
import { type Measurement } from '@longheron/formats/measurements';
import { openAs } from '@longheron/formats/registry';
import { statedHeightSdM } from '../check/check';
import { computation } from '../computation/types';
import { ReportBuilder } from '../shared/report';
import { jsonHash } from '../shared/store';
import { crsFrom, millimetres } from '../shared/words';
import { accuracyOfPlan } from './chapter';
import { planCsv } from './csv';
import { planFigures } from './figures';
import { findMarks } from './find';
import { findInPicture } from './pictured';
import { PATCH_CELL_M, PATCH_CELLS, PATCH_M, type Patch } from './patch';

export { planFigures } from './figures';
export { findMarks, type PlanSettings } from './find';

/** What plan is judged by where no tolerance was given, metres. */
const TOLERANCE_M = 0.03;

/** Where the targets of marks lie in a cloud against where they were surveyed; pictures to pick in. */
export default computation(
  declaration,
  async ({ cloud, marks: lists, picture, measured: files }, settings, context, out, watch) => {
    const builder = new ReportBuilder('plan-check', settings);
    const toleranceM = context.toleranceM ?? TOLERANCE_M;
    const measured: Measurement[] = [];
    for (const m of files) measured.push(...(await openAs('measurements', m.path, m.name)));
    const loaded = await cloud.load(part(watch, 0, 0.5));
    try {
      const marks = lists.flatMap((l) => l.marks);
      const crs = context.crs ?? loaded.system?.label ?? crsFrom(context);
      const found = await findMarks(loaded, marks, settings, part(watch, 0.5, 0.95));
      const pictured = picture && (await findInPicture(picture, marks, settings));
      const sights: KeptSight[] = [];
      for (const { patch, ...own } of found.marks) {
        const seen = pictured?.of.get(own.mark);
        // plan from the picture alone, so that one thing is proved at a time; the ground stays the cloud's
        const { fit: _fit, reason: _reason, ...ground } = own;
        const sight = seen ? { ...ground, ...(seen.fit ? { fit: seen.fit } : { reason: seen.reason }) } : own;
        const png = seen ? seen.png : patch && (await pictureOf(patch));
        sights.push({
          ...sight,
          usedFor: context.usedMarks[sight.mark.name],
          picture: png && out.keeps ? await out.store.bytes(png, 'png') : undefined,
        });
      }
      const kept = {
        sights,
        measured,
        cloudSdM: pictured ? 0 : found.cloudSdM,
        cloudSdHM: await statedHeightSdM(loaded.file),
        picks: [],
        toleranceM,
        crs,
        settings,
        patch: pictured ? { edgeM: pictured.edgeM, cellM: pictured.cellM } : { edgeM: PATCH_M, cellM: PATCH_CELL_M },
      };
      const { cloudSdM, cloudSdHM } = kept;
      const { figures, notices } = planFigures(sights, [], measured, cloudSdM, cloudSdHM, toleranceM, parseSystem(crs));
      builder.notices.push(...notices);
      const content: Contents['plan-check'] = { ...kept, figures };
      if (out.wanted('plan')) await out.file('plan', 'csv', (path) => writeFile(path, planCsv(figures, 'metre', crs)));
      const fitted = sights.filter((m) => m.fit).length;
      const { statistics: s } = figures;
      return {
        content,
        hash: jsonHash([figures, settings]),
        report: builder.finish(crs, {
          marks: figures.marks,
          distances: figures.distances,
          statements: figures.statements,
          count: s.count,
          rmse_e_m: s.rmseE,
          rmse_n_m: s.rmseN,
          rmse_r_m: s.rmseR,
          within_tolerance: figures.within,
        }),
        log: [`${fitted} of ${marks.length} targets found.`],
        lines: [
          `${fitted} of ${marks.length} targets found.`,
          s.count
            ? `${s.count} check marks: RMSE east ${millimetres(s.rmseE)}, north ${millimetres(s.rmseN)}, both ${millimetres(s.rmseR)}.`
            : `No check mark was found ${picture ? 'in the orthophoto' : 'on the cloud'}.`,
        ],
        failed: context.toleranceM !== undefined && figures.within !== true,
      };
    } finally {
      await loaded.file.close();
    }
  },
  { chapter: accuracyOfPlan, exports: { plan: ({ figures, crs }, { unit }) => planCsv(figures, unit, crs) } },
);

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
