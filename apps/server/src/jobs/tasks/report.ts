import { readFile } from 'node:fs/promises';
import sharp from 'sharp';
import { tick, type Watch } from '@longheron/core/shared';
import { type ReportData, type TrajectoryReportData } from '../../report/content';
import { summaryOf } from '../../report/changes';
import { reportDocument } from '../../report/document';
import { writePdf } from '../../report/pdf';
import { shareWithin, trajectoryDocument, type Preview, type SkyFigures } from '../../report/trajectory';
import { lookedChapterData } from './looks';
import { objectPath, Shelf } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

/** Writes the report on a terrain model and its height check as PDF. */
export async function writeReport(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const { data } = r.payload as { data: ReportData };
  const shelf = new Shelf(r.storeFolder);
  tick(watch, 0.1, 'Gathering pictures');
  const picture = async (sha: string, most = 1400) =>
    sharp(await readFile(objectPath(r.storeFolder, sha)), { limitInputPixels: 1e9 })
      .resize({ width: most, height: most, fit: 'inside', withoutEnlargement: true })
      .png()
      .toBuffer();
  const images = {
    relief: await picture(data.pictures.relief),
    density: data.pictures.density ? await picture(data.pictures.density) : null,
    coverage: data.pictures.coverage ? await picture(data.pictures.coverage) : null,
    looked: data.looked
      ? await lookedChapterData(r.storeFolder, { cloud: data.looked.edited, looks: data.looked.looks })
      : null,
    views: await Promise.all(data.pictures.views.map((v) => picture(v.object))),
  };
  tick(watch, 0.5, 'Writing pages');
  const pdf = await writePdf(reportDocument(data, images));
  const pages = pageCount(pdf);
  const sha = await shelf.bytes(pdf, 'pdf');
  return {
    content: {
      pdf: sha,
      bytes: pdf.length,
      pages,
      figures: { rmse_m: (data.check.figures as { rmse_m?: number }).rmse_m ?? null },
      summary: summaryOf(data),
    },
    contentHash: sha,
    objects: shelf.objects,
    notices: [],
    log: [`${pages} pages.`],
  };
}

/** Writes the report on a trajectory as PDF. */
export async function writeTrajectoryReport(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const { data } = r.payload as { data: TrajectoryReportData };
  const shelf = new Shelf(r.storeFolder);
  const json = async (sha: string) => JSON.parse(await readFile(objectPath(r.storeFolder, sha), 'utf8')) as unknown;
  tick(watch, 0.2, 'Drawing plots');
  const preview = (await json(data.trajectory.preview)) as Preview;
  const sky = data.trajectory.sky ? ((await json(data.trajectory.sky)) as SkyFigures) : null;
  const document = trajectoryDocument(data, preview, sky);
  tick(watch, 0.5, 'Writing pages');
  const pdf = await writePdf(document);
  const sha = await shelf.bytes(pdf, 'pdf');
  const pages = pageCount(pdf);
  return {
    name: `${data.trajectory.name}, report`,
    content: {
      ...{ pdf: sha, bytes: pdf.length, pages },
      figures: { within_tolerance: shareWithin(preview, data.project.toleranceM) },
    },
    contentHash: sha,
    objects: shelf.objects,
    notices: [],
    log: [`${pages} pages.`],
  };
}

const pageCount = (pdf: Buffer) => (pdf.toString('latin1').match(/\/Type\s*\/Page\b(?!s)/g) ?? []).length;
