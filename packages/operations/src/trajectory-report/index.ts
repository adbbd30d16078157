import { readFile } from 'node:fs/promises';
import declaration from '@longheron/contract/operations/trajectory-report';
import { Problem, tick } from '@longheron/core/shared';
import { computation } from '../computation/types';
import { accountOf, pageCount } from '../shared/pages';
import { writePdf } from '../shared/pages/pdf';
import { ReportBuilder } from '../shared/report';
import { shareWithin, trajectoryDocument, type Preview, type SkyFigures } from './trajectory';

/** The report on a trajectory, as PDF. */
export default computation(declaration, async ({ trajectory }, _settings, context, out, watch) => {
  const builder = new ReportBuilder('trajectory-report', {});
  const account = accountOf(context);
  const { preview: plots, sky, point, figures } = trajectory.content ?? {};
  if (!plots)
    throw new Problem('This trajectory has no plots yet.', {
      code: 'trajectory-preview',
      file: trajectory.name,
      remedy: 'Set the reference line of the project; they are then drawn.',
    });
  const read = async (sha: string) => readFile(out.store.path(sha), 'utf8');
  tick(watch, 0.2, 'Drawing plots');
  const preview = JSON.parse(await read(plots)) as Preview;
  const document = trajectoryDocument(account, {
    name: trajectory.name,
    point: point ?? 'imu',
    figures,
    preview,
    sky: sky ? (JSON.parse(await read(sky)) as SkyFigures) : null,
  });
  tick(watch, 0.5, 'Writing pages');
  const pdf = await writePdf(document);
  const sha = await out.store.bytes(pdf, 'pdf');
  const pages = pageCount(pdf);
  const within = shareWithin(preview, account.project.toleranceM);
  return {
    name: `${trajectory.name}, report`,
    content: { pdf: sha, bytes: pdf.length, pages, figures: { within_tolerance: within } },
    hash: sha,
    report: builder.finish(context.crs ?? null, { pages, within_tolerance: within }),
    log: [`${pages} pages.`],
  };
});
