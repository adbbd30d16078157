import { METRES_PER, UNIT_SYMBOL } from '@longheron/core/frames';
import { accuracy } from './accuracy';
import { type ReportData } from './content';
import { type Looked } from '@longheron/core/cloud';
import { changesChapter, summaryOf } from './changes';
import { classChapter } from './classes';
import { coverageChapter } from './coverage';
import { type Figures } from './elements';
import { lookedChapter } from './looked';
import { planAccuracy, stripAgreementOf } from './proofs';
import { pages } from './pages';
import { type PlotUnit } from './plots';
import { notices, pictures, products, referenceLine, staleWarning, trail, verdict } from './sections';

/** Pictures of the report as PNG. */
export interface ReportImages {
  relief: Buffer;
  density: Buffer | null;
  coverage: Buffer | null;
  views: Buffer[];
  looked: { looked: Looked; picture: Buffer } | null;
}

/** The report as a document definition. Only characters of the fonts' latin subset are used. */
export function reportDocument(data: ReportData, images: ReportImages) {
  const factor = 1 / METRES_PER[data.reference.unit];
  const symbol = UNIT_SYMBOL[data.reference.unit];
  const small: PlotUnit =
    data.reference.unit === 'metre' ? { factor: 100, symbol: 'cm', digits: 1 } : { factor, symbol, digits: 3 };
  const figures = data.check.figures as unknown as Figures;
  return pages(data, `${data.project.name}: heights and terrain model`, [
    { text: 'Heights and terrain model', style: 'h1' },
    { text: data.project.purpose || 'No purpose was stated.', style: 'soft', margin: [0, 0, 0, 6] },
    ...staleWarning(data),
    ...verdict(figures, data, small),
    ...changesChapter(data, summaryOf(data)),
    ...referenceLine(data),
    ...accuracy(figures, data, small, factor, symbol),
    ...planAccuracy(data.plan, small, factor, symbol),
    ...stripAgreementOf(data.strips, small),
    ...coverageChapter(data.coverage, images.coverage, factor, symbol),
    ...classChapter(data.classes),
    ...lookedChapter(
      images.looked?.looked ?? null,
      images.looked?.picture ?? null,
      data.looked?.cloud ?? '',
      factor,
      symbol,
    ),
    ...products(data, factor, symbol, figures),
    ...pictures(data, images),
    ...notices(data),
    ...trail(data),
  ]);
}
