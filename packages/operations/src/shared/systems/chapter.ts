import { type Contents } from '@longheron/contract/kinds';
import { type Chapter } from '../../computation/types';
import { facts, figure, h2, plain, right, table } from '../pages/elements';

/** The chapter on a system of its own: what it is made of, and how its marks agree. */
export const systemChapter: Chapter<Contents['system']> = ({ content: { site } }, { small }) => {
  if (!site) return [];
  const number = figure(small);
  const of = (v: number | null) => right(number(v));
  return [
    h2(plain(site.name)),
    facts(site.facts.map(([k, v]) => [k, plain(v)])),
    ...(site.marks.length
      ? [
          {
            text: 'Computed less given. "Missed" is by how much the mark would be missed were it not used itself.',
            style: 'soft',
          },
          table(
            [
              'Mark',
              `E, ${small.symbol}`,
              `N, ${small.symbol}`,
              `Missed in plan, ${small.symbol}`,
              `Height, ${small.symbol}`,
              `Missed in height, ${small.symbol}`,
              '',
            ],
            site.marks.map((m) => [
              m.name,
              ...[m.eM, m.nM, m.missPlanM, m.hM, m.missHeightM].map(of),
              m.says ? { text: plain(m.says), color: '#a8402e' } : '',
            ]),
            [70, 50, 50, 66, 54, 70, '*'],
          ),
        ]
      : []),
  ];
};
