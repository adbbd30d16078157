import { readFile } from 'node:fs/promises';
import sharp from 'sharp';
import { operationOf } from '@longheron/contract/operations';
import declaration from '@longheron/contract/operations/report';
import { METRES_PER, UNIT_SYMBOL } from '@longheron/core/frames';
import { tick } from '@longheron/core/shared';
import { loadComputation } from '../computation/load';
import { computation, type Block, type ChapterTools, type OpenedPart, type Output } from '../computation/types';
import { accountOf, pageCount, type Account } from '../shared/pages';
import { pages } from '../shared/pages/pages';
import { writePdf } from '../shared/pages/pdf';
import { notices, referenceLine, staleWarning, trail } from '../shared/pages/sections';
import { ReportBuilder } from '../shared/report';
import { changesChapter, summaryOf } from './changes';
import { lookedChapter } from './looked';
import { lookedPicture } from './lookedPicture';
import { pictures, products, verdict } from './products';

/** The report on a terrain model and its height check, as PDF, with a chapter for each part. */
export default computation(
  declaration,
  async ({ surface: { name, content }, check, parts }, _settings, context, out, watch) => {
    const surface = { name, content: content! };
    const builder = new ReportBuilder('report', {});
    const account = accountOf(context);
    const tools = toolsOf(account, out);
    tick(watch, 0.1, 'Gathering pictures');
    const views: Buffer[] = [];
    for (const v of account.views) views.push(await tools.picture(v.object));
    const images = {
      relief: await tools.picture(surface.content.picture),
      density: account.density ? await tools.picture(account.density.picture) : null,
      views,
    };
    const { figures } = check.content;
    const chapters = await chaptersOf(
      [{ ...check, operation: 'check', cloud: account.clouds[check.name] }, ...parts],
      tools,
    );
    const looked = account.looked ? await lookedPicture(out.store, account.looked) : null;
    tick(watch, 0.5, 'Writing pages');
    const { factor, symbol, small } = tools;
    const summary = summaryOf(account, figures);
    const document = pages(account, `${account.project.name}: heights and terrain model`, [
      { text: 'Heights and terrain model', style: 'h1' },
      { text: account.project.purpose || 'No purpose was stated.', style: 'soft', margin: [0, 0, 0, 6] },
      ...staleWarning(account),
      ...verdict(figures, account.project.toleranceM, small),
      ...changesChapter(account.before, summary),
      ...referenceLine(account),
      ...chapters,
      ...lookedChapter(looked?.looked ?? null, looked?.picture ?? null, account.looked?.cloud ?? '', factor, symbol),
      ...products(surface.content, account.density, figures.contour_interval_m, factor, symbol),
      ...pictures(account, images),
      ...notices(account),
      ...trail(account),
    ]);
    const pdf = await writePdf(document);
    const count = pageCount(pdf);
    const sha = await out.store.bytes(pdf, 'pdf');
    return {
      content: { pdf: sha, bytes: pdf.length, pages: count, figures: { rmse_m: figures.rmse_m ?? null }, summary },
      hash: sha,
      report: builder.finish(context.crs ?? null, { pages: count }),
      log: [`${count} pages.`],
    };
  },
);

/** Widest and highest that a picture is printed from, pixels. */
const MAX_PX = 1400;

function toolsOf({ reference, project }: Account, { store }: Output): ChapterTools {
  const factor = 1 / METRES_PER[reference.unit];
  const symbol = UNIT_SYMBOL[reference.unit];
  return {
    factor,
    symbol,
    toleranceM: project.toleranceM,
    small: reference.unit === 'metre' ? { factor: 100, symbol: 'cm', digits: 1 } : { factor, symbol, digits: 3 },
    picture: async (sha) =>
      sharp(await readFile(store.path(sha)), { limitInputPixels: 1e9 })
        .resize({ width: MAX_PX, height: MAX_PX, fit: 'inside', withoutEnlargement: true })
        .png()
        .toBuffer(),
  };
}

/** The chapters of what is proved, in the order that the operations declare. */
async function chaptersOf(parts: OpenedPart[], tools: ChapterTools): Promise<Block[]> {
  const place = (p: OpenedPart) => operationOf(p.operation)?.chapter ?? Infinity;
  const out: Block[] = [];
  for (const part of [...parts].sort((a, b) => place(a) - place(b))) {
    const { chapter } = await loadComputation(part.operation);
    if (chapter) out.push(...(await chapter(part, tools)));
  }
  return out;
}
