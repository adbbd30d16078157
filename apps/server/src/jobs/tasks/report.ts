import { readFile } from 'node:fs/promises';
import sharp from 'sharp';
import { tick, type Watch } from '@longheron/core/shared';
import { type ReportData } from '../../report/content';
import { reportDocument } from '../../report/document';
import { writePdf } from '../../report/pdf';
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
    views: await Promise.all(data.pictures.views.map((v) => picture(v.object))),
  };
  tick(watch, 0.5, 'Writing pages');
  const pdf = await writePdf(reportDocument(data, images));
  const pages = (pdf.toString('latin1').match(/\/Type\s*\/Page\b(?!s)/g) ?? []).length;
  const sha = await shelf.bytes(pdf, 'pdf');
  return {
    content: {
      pdf: sha,
      bytes: pdf.length,
      pages,
      figures: { rmse_m: (data.check.figures as { rmse_m?: number }).rmse_m ?? null },
    },
    contentHash: sha,
    objects: shelf.objects,
    notices: [],
    log: [`${pages} pages.`],
  };
}
