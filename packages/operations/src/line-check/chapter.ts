import { type Contents } from '@longheron/contract/kinds';
import { type Chapter } from '../computation/types';
import { h2, right, table } from '../shared/pages/elements';

/** The chapter on lines against each other and the orders of survey. */
export const lineCheckChapter: Chapter<Contents['line-check']> = ({ content: { figures: f }, cloud }, { small }) => {
  const little = (m: number) => right((small.factor * m).toFixed(small.digits));
  const length = (m: number) => `${(small.factor * m).toFixed(small.digits)} ${small.symbol}`;
  return [
    h2('Lines of soundings against each other'),
    {
      text: `${cloud}: ${f.cells} cells of ${f.cell_m.toFixed(2)} m are shared by lines. A sounding less the other lines: mean ${length(f.all.mean_m)}, SD ${length(f.all.sd_m)}, 95 % within ${length(f.all.p95_m)}.`,
      style: 'soft',
    },
    table(
      ['Beam angle', 'Soundings', `Mean, ${small.symbol}`, `SD, ${small.symbol}`, `95 %, ${small.symbol}`],
      f.by_angle.map((b) => [
        `${b.from_deg} to ${b.to_deg}°`,
        right(String(b.n)),
        little(b.mean_m),
        little(b.sd_m),
        little(b.p95_m),
      ]),
      ['*', 70, 65, 65, 65],
    ),
    table(
      ['IHO S-44, edition 6, by what soundings state', 'Vertical, %', 'Horizontal, %', 'Both, %'],
      f.orders.map((o) => [
        o.order,
        ...[o.vertical, o.horizontal, o.both].map((v) => right(((100 * v) / o.soundings).toFixed(1))),
      ]),
      ['*', 70, 80, 60],
    ),
    ...f.bends.map((b) => ({
      text: `Outer beams of line ${b.line} lie ${length(Math.abs(b.outer_m))} too ${b.outer_m > 0 ? 'high' : 'low'} against the other lines.`,
      style: 'soft',
    })),
  ];
};
