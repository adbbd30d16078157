import { writeFile } from 'node:fs/promises';
import { type Contents } from '@longheron/contract/kinds';
import declaration from '@longheron/contract/operations/agreement';
import { computation } from '../computation/types';
import { gridPicture, onScale } from '../shared/pictures';
import { ReportBuilder } from '../shared/report';
import { jsonHash } from '../shared/store';
import { finite } from '../shared/words';
import { agreementNotices, agreementOf } from './agreement';
import { stripsChapter } from './chapter';
import { pairsCsv } from './csv';

/** Colours from the most negative difference by none to the most positive. */
const SIGNED = [
  [29, 79, 145],
  [95, 143, 196],
  [179, 205, 227],
  [233, 233, 228],
  [232, 207, 160],
  [201, 147, 54],
  [138, 90, 0],
];
const MAX_VALUES = 20_000;
/** A pair of strips that differs by less is no worse than the store's own steps, metres. */
const MIN_LIMIT_M = 0.01;

/** How overlapping strips agree: table, map and what is behind the histogram. */
export default computation(
  declaration,
  async ({ cloud }, settings, context, out, watch) => {
    const { groundOnly, ...how } = settings;
    const toleranceM = context.toleranceM ?? 0;
    const builder = new ReportBuilder('agreement', settings);
    const stored = await cloud.stored(watch);
    const found = await agreementOf(stored, how, groundOnly, watch);
    builder.notices.push(...agreementNotices(found, toleranceM || Infinity));
    const { map } = found;
    const step = Math.max(1, Math.ceil(found.differencesM.length / MAX_VALUES));
    const values = Array.from(
      found.differencesM.filter((_, i) => i % step === 0),
      (v) => Number(v.toFixed(5)),
    );
    const limitM = Math.max(toleranceM, MIN_LIMIT_M);
    const picture = gridPicture(map, false, (k) =>
      Number.isNaN(map.valueM[k]) ? undefined : onScale(SIGNED, 0.5 + map.valueM[k] / (2 * limitM)),
    );
    const pairs = found.pairs.map((p) => ({ ...p, sdM: finite(p.sdM), expectedM: finite(p.expectedM) }));
    const content: Contents['agreement'] = {
      pairs,
      cells: found.cells,
      rough: found.rough,
      apart: found.apart,
      rmsM: finite(found.rmsM),
      differences: found.differencesM.length,
      settings: { ...how, groundOnly },
      toleranceM,
      limitM,
      crs: context.crs ?? cloud.crs,
      picture: found.cells ? await out.store.bytes(await picture, 'png') : null,
      layout: {
        cellM: map.cellM,
        columns: map.columns,
        rows: map.rows,
        westM: map.minX + stored.origin[0],
        northM: map.minY + stored.origin[1] + map.rows * map.cellM,
      },
      values: await out.store.json(values, 'differences'),
    };
    if (out.wanted('pairs')) await out.file('pairs', 'csv', (path) => writeFile(path, pairsCsv(content, 'metre')));
    const said = `${content.differences} differences of ${pairs.length} pairs of strips in ${found.cells} cells.`;
    const mm = (v: number | null) => (v === null ? 'unknown' : `${(1000 * v).toFixed(1)} mm`);
    return {
      content,
      hash: jsonHash(content),
      report: builder.finish(content.crs || null, {
        cells: found.cells,
        cells_rough: found.rough,
        cells_apart: found.apart,
        rms_m: content.rmsM,
        pairs: pairs.map((p) => ({
          first: p.first,
          second: p.second,
          cells: p.cells,
          mean_m: p.meanM,
          sd_m: p.sdM,
          rms_m: p.rmsM,
          median_m: p.medianM,
          p95_m: p.p95M,
          expected_m: p.expectedM,
        })),
      }),
      log: [said],
      lines: [
        said,
        ...pairs.map(
          (p) =>
            `Strips ${p.first} and ${p.second}: ${p.cells} cells, mean ${mm(p.meanM)}, RMS ${mm(p.rmsM)}, expected ${mm(p.expectedM)}`,
        ),
      ],
      failed: context.toleranceM !== undefined && pairs.some((p) => p.rmsM > toleranceM),
    };
  },
  { chapter: stripsChapter, exports: { pairs: (content, { unit }) => pairsCsv(content, unit) } },
);
