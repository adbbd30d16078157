import { type Contents } from '@longheron/contract/kinds';
import { type Chapter } from '../computation/types';
import { h2, right, table } from '../shared/pages/elements';

/** The chapter on a tested mounting. */
export const patchChapter: Chapter<Contents['patch']> = ({ content: { figures: f } }, { small }) => {
  const length = (m: number) => `${(small.factor * m).toFixed(small.digits)} ${small.symbol}`;
  const row = (name: string, unit: string, digits: number, before: number, after: number, sd: number | null) => [
    name,
    right(`${before.toFixed(digits)}${unit}`),
    right(sd === null ? 'held' : `${after.toFixed(digits)}${unit}`),
    right(sd === null ? '' : `${sd.toFixed(digits)}${unit}`),
  ];
  return [
    h2('Mounting of the echo sounder, tested'),
    {
      text: `${f.lines.length} lines in ${f.cells} cells of ${f.cell_m.toFixed(2)} m. One line differs from another by ${length(f.before_m)} before and ${length(f.after_m)} after (RMS). Deviations are 1 SD.`,
      style: 'soft',
    },
    table(
      ['', 'Before', 'After', 'SD'],
      [
        row('Roll', '°', 3, f.before.roll_deg, f.after.roll_deg, f.roll_deg_sd),
        row('Pitch', '°', 3, f.before.pitch_deg, f.after.pitch_deg, f.pitch_deg_sd),
        row('Heading', '°', 3, f.before.heading_deg, f.after.heading_deg, f.heading_deg_sd),
        row('Latency', ' s', 4, f.before.latency_s, f.after.latency_s, f.latency_s_sd),
      ],
      ['*', 80, 80, 80],
    ),
    ...f.held.map(({ term, needs }) => ({ text: `${term} is held: run ${needs}.`, style: 'soft' })),
    ...f.together.map(({ a, b, correlation }) => ({
      text: `${a} and ${b} are hardly told apart (correlation ${correlation.toFixed(2)}).`,
      style: 'soft',
    })),
  ];
};
