import { type Contents } from '@longheron/contract/kinds';
import { gpsDay } from '@longheron/core/time';
import { type Chapter } from '../computation/types';
import { facts, h2, mono } from '../shared/pages/elements';

const WORDS = {
  shoalest: 'the shoalest sounding',
  median: 'the median',
  mean: 'the mean',
  weighted: 'the mean weighted by uncertainty',
};

/** The chapter on a grid of soundings. */
export const depthChapter: Chapter<Contents['depths']> = ({ content: { figures: f, relativeTo, crs } }, { small }) => {
  const little = (m: number | null) =>
    m === null ? 'not known' : `${(small.factor * m).toFixed(small.digits)} ${small.symbol}`;
  return [
    h2('Depth grid'),
    ...(relativeTo
      ? [
          {
            text: `Heights are relative: they count from ${relativeTo}. They must not be compared with heights of the project.`,
            bold: true,
          },
        ]
      : []),
    facts([
      ['System', crs],
      ['Cells', mono(`${f.cell_m} m, ${f.columns} by ${f.rows}; height of a cell is ${WORDS[f.method]}`)],
      [
        'Soundings',
        mono(
          `${f.soundings}, ${f.left_out} left out; ${f.soundings_a_cell.toFixed(1)} a cell, about ${f.spacing_m.toFixed(2)} m apart`,
        ),
      ],
      ['With soundings', mono(`${f.cells} cells; ${f.filled} filled within ${f.fill_m} m; ${f.empty_cells} empty`)],
      ['Heights', mono(`${f.height_min_m.toFixed(2)} to ${f.height_max_m.toFixed(2)} m`)],
      ['Spread in a cell', mono(`${little(f.spread_m)} (median, 1 SD)`)],
      ['Stated for a cell', mono(`${little(f.sd_m)} (median, 1 SD)`)],
      ['Sounded', gpsDay(f.to_gps)],
    ]),
  ];
};
