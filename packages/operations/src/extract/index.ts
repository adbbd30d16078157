import declaration from '@longheron/contract/operations/extract';
import { part, Problem } from '@longheron/core/shared';
import { computation } from '../computation/types';
import { ReportBuilder } from '../shared/report';
import { selectRows, sourcesOf, storeCloud, writePart } from '../shared/stored';

/** A selection as a cloud of its own, thinned where that is asked for. */
export default computation(declaration, async ({ cloud }, settings, _context, out, watch) => {
  const { selection, thinM, keep } = settings;
  const builder = new ReportBuilder('extract', { thin_m: thinM ?? null, keep });
  const path = await cloud.las();
  const stored = await cloud.stored();
  const sources = await sourcesOf(out.store, selection);
  const { runs } = await selectRows(stored, selection, part(watch, 0, 0.2), sources);
  if (runs.count === 0)
    throw new Problem('The selection holds no points.', {
      code: 'selection-empty',
      remedy: 'Show the classes that are meant, or draw it anew.',
    });
  const thinning = thinM ? { edgeM: thinM, keep } : undefined;
  let written = 0;
  const las = await out.file('cloud', 'las', async (outPath) => {
    written = await writePart(path, await cloud.order(), stored, runs, thinning, outPath, part(watch, 0.2, 0.5));
  });
  const kept = out.keeps ? await storeCloud(out.store, las.sha256, part(watch, 0.5, 1)) : undefined;
  const figures = { points: written, selected: runs.count, thin_m: thinM ?? null, keep: thinM ? keep : null };
  return {
    content: { las: las.sha256, bytes: las.bytes, ...kept, figures, crs: cloud.crs },
    hash: las.sha256,
    report: builder.finish(cloud.crs || null, figures),
    log: [`${written} points of ${runs.count} selected.`],
  };
});
