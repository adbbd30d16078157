import { type Contents } from '@longheron/contract/kinds';
import { type Chapter } from '../computation/types';
import { figure, h2, plain, right, table, value } from '../shared/pages/elements';

/** The chapter on strips that lie over each other. */
export const stripsChapter: Chapter<Contents['agreement']> = ({ content: s, cloud }, { small }) => {
  const number = figure(small);
  return [
    h2('Strips against each other'),
    {
      text: `${plain(cloud)}: differences along the normal of planes in ${s.cells} cells, the later strip less the earlier; ${value(s.rmsM, small, 1)} RMS of ${s.differences}. "Expected" is what the stated precision of the points lets expect.`,
      style: 'soft',
    },
    table(
      [
        'Strips',
        'Cells',
        `Mean, ${small.symbol}`,
        `SD, ${small.symbol}`,
        `RMS, ${small.symbol}`,
        `Expected, ${small.symbol}`,
        'Within tolerance',
      ],
      s.pairs.map((p) => [
        `${p.second} less ${p.first}`,
        right(String(p.cells)),
        ...[p.meanM, p.sdM, p.rmsM, p.expectedM].map((v) => right(number(v))),
        p.rmsM <= s.toleranceM ? 'yes' : { text: 'no', color: '#a8402e' },
      ]),
      [80, 46, 56, 50, 52, 68, '*'],
    ),
  ];
};
