import { type Contents } from '@longheron/contract/kinds';
import { type Chapter } from '../computation/types';
import { h2, right, table } from '../shared/pages/elements';

const RULE = {
  order: 'the line on top',
  best: 'the best seen',
  mean: 'the mean of decibels',
  power: 'the mean of power',
  strongest: 'the strongest echo',
};

/** The chapter on a side-scan mosaic. */
export const sidescanChapter: Chapter<Contents['mosaic']> = ({ content: { figures: f } }) => [
  h2('Side-scan mosaic'),
  {
    text: `Channel ${f.channel}, cells of ${f.cell_m} m; where lines overlap, ${RULE[f.overlap]}. Ranges corrected on ${f.bed === 'grid' ? 'the depth grid' : 'a flat bed'}; gains by angle and range. Pings lie ${f.ping_spacing_m.toFixed(2)} m apart, samples ${f.sample_spacing_m.toFixed(3)} m.`,
    style: 'soft',
  },
  table(
    ['Line, bottom of the stack first', 'Pings', 'First return sure, %', 'Altitude, m'],
    f.lines.map((l) => [
      l.file,
      right(String(l.pings)),
      right((100 * l.tracked_share).toFixed(1)),
      right(l.altitude_m.map((v) => v.toFixed(1)).join(' to ')),
    ]),
    ['*', 60, 100, 90],
  ),
];
