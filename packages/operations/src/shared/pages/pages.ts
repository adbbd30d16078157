import { type Account } from './account';
import { type Node } from './elements';

/** A document definition with the paper, type, header and footer of all reports. */
export function pages(data: Account, title: string, content: Node[]) {
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
    info: { title, creator: `Long Heron ${data.version}` },
    header: { text: `${data.project.name}`, margin: [44, 22, 44, 0], style: 'soft' },
    footer: (page: number, pages: number) => ({
      columns: [
        { text: `Long Heron ${data.version}, ${data.date}`, style: 'soft' },
        { text: `${page} of ${pages}`, alignment: 'right', style: 'soft' },
      ],
      margin: [44, 12, 44, 0],
    }),
    content,
  };
}
