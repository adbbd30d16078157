import { writeFile } from 'node:fs/promises';
import { type Contents } from '@longheron/contract/kinds';
import declaration from '@longheron/contract/operations/coverage';
import { part, Problem } from '@longheron/core/shared';
import { computation } from '../computation/types';
import { areaRings, outlinesIn } from '../shared/outlines';
import { densityColour, gridPicture, onScale } from '../shared/pictures';
import { ReportBuilder } from '../shared/report';
import { jsonHash } from '../shared/store';
import { finite } from '../shared/words';
import { coverageNotices, coverageOf } from './coverage';
import { coverageChapter } from './chapter';
import { voidsCsv } from './csv';

/** From precise to not: pale green by ochre to dark red. */
const PRECISION_SCALE = [
  [208, 231, 214],
  [122, 178, 140],
  [222, 190, 110],
  [201, 120, 54],
  [140, 40, 30],
];
const VOID = [168, 64, 46];
const MAX_VOIDS = 500;
/** What precision is compared with where no tolerance was given, metres. */
const TOLERANCE_M = 0.03;

const plain = <K extends string>(o: Record<K, number>): Record<K, number | null> => {
  const out = { ...o } as Record<K, number | null>;
  for (const k in o) out[k] = finite(o[k]);
  return out;
};

/** How a cloud covers the ordered area: figures, list of voids, maps of density and precision. */
export default computation(
  declaration,
  async ({ cloud, outlines }, given, context, out, watch) => {
    const { groundOnly, area, ...settings } = given;
    const builder = new ReportBuilder('coverage', given);
    const toleranceM = context.toleranceM ?? TOLERANCE_M;
    const crs = context.crs ?? cloud.crs;
    const areas = outlines
      ? areaRings(await outlinesIn(outlines.path, outlines.name, crs, outlines.content?.crs), area)
      : [];
    if (outlines && areas.length === 0)
      throw new Problem(area ? `There is no area "${area}" in the file.` : 'The file holds no area, only lines.', {
        code: 'coverage-area',
        file: outlines.name,
        remedy: 'Choose one of its areas, or another file.',
      });
    const stored = await cloud.stored(watch);
    const c = await coverageOf(stored, settings, areas, groundOnly, part(watch, 0, 0.95));
    const ordered = areas.length > 0;
    builder.notices.push(...coverageNotices(c, settings, ordered, toleranceM, stored.origin));
    const { grid } = c;
    const sdMostM = 2 * toleranceM;
    const density = await gridPicture(grid, false, (k) =>
      !c.area[k] ? undefined : c.perM2[k] > 0 ? densityColour(c.perM2[k], settings.targetPerM2) : VOID,
    );
    const precision = await gridPicture(grid, false, (k) =>
      c.sdM[k] > 0 ? onScale(PRECISION_SCALE, c.sdM[k] / sdMostM) : undefined,
    );
    const { areaM2, coveredM2, median, p5, belowShare, voidM2, voidCount, points } = c;
    const content: Contents['coverage'] = {
      figures: {
        ...plain({ areaM2, coveredM2, median, p5, belowShare, voidM2, voidCount, points, listed: c.voids.length }),
        steep: plain(c.steep),
        precision: plain(c.precision),
        spacing: plain(c.spacing),
      },
      voids: c.voids.slice(0, MAX_VOIDS).map(({ x, y, ...v }) => ({
        ...v,
        eastingM: stored.origin[0] + x,
        northingM: stored.origin[1] + y,
      })),
      settings: given,
      ordered,
      crs,
      toleranceM,
      sdMostM,
      pictures: {
        density: await out.store.bytes(density, 'png'),
        precision: c.precision.statedM2 ? await out.store.bytes(precision, 'png') : null,
      },
      layout: {
        cellM: grid.cellM,
        columns: grid.columns,
        rows: grid.rows,
        westM: grid.minX + stored.origin[0],
        northM: grid.minY + stored.origin[1] + grid.rows * grid.cellM,
      },
    };
    if (out.wanted('voids')) await out.file('voids', 'csv', (path) => writeFile(path, voidsCsv(content, 'metre')));
    const f = content.figures;
    return {
      content,
      hash: jsonHash(content),
      report: builder.finish(crs || null, {
        points,
        area_m2: f.areaM2,
        covered_m2: f.coveredM2,
        void_m2: f.voidM2,
        voids: content.voids,
        median_per_m2: f.median,
        p5_per_m2: f.p5,
        below_share: f.belowShare,
        spacing_median_m: f.spacing.medianM,
        sd_h_median_m: f.precision.median,
        sd_h_p95_m: f.precision.p95,
      }),
      log: [`${points} points counted in ${grid.columns} by ${grid.rows} cells; ${voidCount} voids.`],
      lines: [
        `${points} points; ${coveredM2.toFixed(0)} of ${areaM2.toFixed(0)} m² covered, ${voidCount} voids of together ${voidM2.toFixed(0)} m².`,
        `Density on the surface: median ${median.toFixed(1)} points/m², ${(100 * belowShare).toFixed(1)} % of the area below ${settings.targetPerM2}.`,
      ],
    };
  },
  { chapter: coverageChapter, exports: { voids: (content, { unit }) => voidsCsv(content, unit) } },
);
