import { writeFile } from 'node:fs/promises';
import { type Contents } from '@longheron/contract/kinds';
import declaration from '@longheron/contract/operations/class-check';
import { Problem } from '@longheron/core/shared';
import { computation, type OpenedFile } from '../computation/types';
import { outlinesIn } from '../shared/outlines';
import { ReportBuilder } from '../shared/report';
import { jsonHash } from '../shared/store';
import { checkClasses, checkSamples, classNotices, type SampleArea } from './compare';
import { classChapter } from './chapter';
import { classesCsv } from './csv';

async function samplesOf(outlines: OpenedFile<Contents['outlines']>, crs: string): Promise<SampleArea[]> {
  const areas = (await outlinesIn(outlines.path, outlines.name, crs, outlines.content?.crs)).filter(
    (o) => o.kind === 'area',
  );
  const samples = areas.flatMap((o) => (o.cls === undefined ? [] : [{ cls: o.cls, rings: o.parts }]));
  if (samples.length > 0) return samples;
  throw new Problem('No area of the file says of which class its points are.', {
    code: 'classes-samples',
    file: outlines.name,
    place: 'properties',
    remedy: 'Give each area a property "class" with the number of the class, for example 2 for ground.',
  });
}

/** A classification against a reference of the same points, or against areas whose class is known. */
export default computation(
  declaration,
  async ({ cloud, against, outlines }, _settings, context, out, watch) => {
    const builder = new ReportBuilder('class-check', {});
    const found = await cloud.stored(watch);
    const figures = outlines
      ? await checkSamples(await samplesOf(outlines, context.crs ?? cloud.crs), found, watch)
      : await checkClasses(await against!.stored(watch), found, watch);
    builder.notices.push(...classNotices(figures));
    const names = Object.fromEntries(figures.classes.map((c) => [c, context.classNames[c] ?? `class ${c}`]));
    const leastPercent = context.toleranceM;
    const kept = leastPercent === undefined || figures.overall === null || 100 * figures.overall >= leastPercent;
    if (!kept)
      builder.notice({
        code: 'classes-tolerance',
        severity: 'warning',
        text: `${(100 * figures.overall!).toFixed(2)} % of the points agree; ${leastPercent} % were asked for.`,
        remedy: 'Look where they differ, and set the classes there.',
      });
    const content = { figures, names, ...(leastPercent === undefined ? {} : { leastPercent }) };
    if (out.wanted('classes')) await out.file('classes', 'csv', (path) => writeFile(path, classesCsv(figures, names)));
    const said = `${figures.matched} points compared, ${((figures.overall ?? 0) * 100).toFixed(2)} % agree.`;
    return {
      content,
      hash: jsonHash(content),
      report: builder.finish(context.crs ?? null, {
        classes: figures.classes,
        counts: figures.counts,
        recall: figures.recall,
        precision: figures.precision,
        overall: figures.overall,
        type_1: figures.typeI,
        type_2: figures.typeII,
        total: figures.total,
        matched: figures.matched,
        without: figures.without,
        ambiguous: figures.ambiguous,
      }),
      failed: !kept,
      log: [`${figures.matched} points are in both; ${figures.without} of the reference have no partner.`],
      lines: [
        said,
        ...figures.classes.map((c, i) => {
          const share = (v: number | null) => (v === null ? 'none' : `${(100 * v).toFixed(2)} %`);
          return `${c} ${names[c]}: ${share(figures.recall[i])} found, ${share(figures.precision[i])} right of what is called so`;
        }),
      ],
    };
  },
  { chapter: classChapter, exports: { classes: ({ figures, names }) => classesCsv(figures, names) } },
);
