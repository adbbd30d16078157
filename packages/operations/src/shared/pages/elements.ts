import { type Given } from '@longheron/contract/declare';

/** Small pieces of the report: types, tables, words. */
export type Node = Given | string;

export const mono = (text: string, extra: object = {}): Node => ({ text, font: 'Mono', fontSize: 7.5, ...extra });
export const right = (text: string, extra: object = {}): Node => mono(text, { alignment: 'right', ...extra });
export const h2 = (text: string): Node => ({ text, style: 'h2' });

const alignmentOf = (cell: Node | undefined) =>
  typeof cell === 'object' && cell.alignment === 'right' ? 'right' : 'left';

export function table(header: string[], rows: Node[][], widths: Array<string | number>): Node {
  return {
    table: {
      headerRows: 1,
      // a heading does not stay behind at the foot of a page
      keepWithHeaderRows: rows.length ? 1 : 0,
      widths,
      // a heading stands over its column's figures
      body: [header.map((t, k) => ({ text: t, style: 'th', alignment: alignmentOf(rows[0]?.[k]) })), ...rows],
      dontBreakRows: true,
    },
    layout: 'plain',
    margin: [0, 2, 0, 8],
  };
}
export const facts = (rows: Array<[string, Node]>): Node => ({
  table: { widths: [170, '*'], body: rows.map(([k, v]) => [{ text: k, color: '#53666d' }, v]) },
  layout: 'plain',
  margin: [0, 2, 0, 8],
});

/** Characters that the report's fonts lack are written out. */
export function plain(text: string): string {
  return text
    .replaceAll('\u2032', "'")
    .replaceAll('\u2192', 'to')
    .replaceAll('\u2264', 'at most ')
    .replaceAll('\u2265', 'at least ')
    .replaceAll('\u2212', '-')
    .replace(/[\u2009\u202f\u00a0]/g, ' ');
}

/** A figure in the unit asked for, or "none". */
export const value = (
  v: number | null | undefined | boolean | string,
  u: { factor: number; symbol: string; digits: number },
  extra = 0,
) => (typeof v === 'number' ? `${(v * u.factor).toFixed(u.digits + extra)} ${u.symbol}` : 'none');

/** A figure in the unit of the table's heading; what rounds to nothing has no sign. */
export const figure = (u: { factor: number; digits: number }) => (v: number | null) =>
  v === null ? '-' : (v * u.factor).toFixed(u.digits + 1).replace(/^-(0\.?0*)$/, '$1');
