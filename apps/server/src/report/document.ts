import { METRES_PER, UNIT_SYMBOL } from '@longheron/core/frames';
import { accuracy } from './accuracy';
import { type ReportData } from './content';
import { type Figures } from './elements';
import { type PlotUnit } from './plots';
import { notices, pictures, products, referenceLine, staleWarning, trail, verdict } from './sections';

/** The report as a document definition. Only characters of the fonts' latin subset are used. */
export function reportDocument(data: ReportData, images: { relief: Buffer; density: Buffer | null; views: Buffer[] }) {
  const factor = 1 / METRES_PER[data.reference.unit];
  const symbol = UNIT_SYMBOL[data.reference.unit];
  const small: PlotUnit =
    data.reference.unit === 'metre' ? { factor: 100, symbol: 'cm', digits: 1 } : { factor, symbol, digits: 3 };
  const figures = data.check.figures as unknown as Figures;
  return {
    pageSize: 'A4',
    pageMargins: [44, 52, 44, 48],
    defaultStyle: { font: 'Sans', fontSize: 9, color: '#15262c', lineHeight: 1.2 },
    styles: {
      h1: { fontSize: 19, bold: true },
      h2: { fontSize: 12, bold: true, margin: [0, 12, 0, 2] },
      th: { bold: true, fontSize: 8, color: '#53666d' },
      soft: { color: '#53666d', fontSize: 8 },
    },
    info: { title: `${data.project.name}: heights and terrain model`, creator: `Long Heron ${data.version}` },
    header: { text: `${data.project.name}`, margin: [44, 22, 44, 0], style: 'soft' },
    footer: (page: number, pages: number) => ({
      columns: [
        { text: `Long Heron ${data.version}, ${data.date}`, style: 'soft' },
        { text: `${page} of ${pages}`, alignment: 'right', style: 'soft' },
      ],
      margin: [44, 12, 44, 0],
    }),
    content: [
      { text: 'Heights and terrain model', style: 'h1' },
      { text: data.project.purpose || 'No purpose was stated.', style: 'soft', margin: [0, 0, 0, 6] },
      ...staleWarning(data),
      ...verdict(figures, data, small),
      ...referenceLine(data),
      ...accuracy(figures, data, small, factor, symbol),
      ...products(data, factor, symbol, figures),
      ...pictures(data, images),
      ...notices(data),
      ...trail(data),
    ],
  };
}
