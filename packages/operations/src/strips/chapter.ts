import { type Contents } from '@longheron/contract/kinds';
import { type Chapter } from '../computation/types';
import { figure, h2, right, table, value } from '../shared/pages/elements';

/** The chapter on the adjustment of strips. */
export const adjustmentChapter: Chapter<Contents['adjustment']> = ({ content: { figures: f } }, { small }) => {
  const number = figure(small);
  const angle = (v: number | null) => (v === null ? '–' : v.toFixed(4));
  const isAngle = (name: string) => ['roll', 'pitch', 'heading'].includes(name);
  return [
    h2('Adjustment of the strips'),
    {
      text: `${f.strips.length} strips; differences along the normal of planes: ${value(f.before_m, small, 1)} RMS before, ${value(f.after_m, small, 1)} after; the scatter of the points lets ${value(f.noise_m, small, 1)} expect.`,
      style: 'soft',
    },
    table(
      ['Head', 'Parameter', 'Before', 'After', '1 SD', ''],
      f.parameters
        .filter((p) => p.held !== 'not asked')
        .map((p) => {
          const show = isAngle(p.name) ? angle : number;
          return [
            p.head,
            p.name,
            right(show(p.before)),
            right(show(p.after)),
            right(show(p.sd)),
            p.solved ? (isAngle(p.name) ? '°' : small.symbol) : 'held',
          ];
        }),
      [80, 70, 60, 60, 50, '*'],
    ),
    ...f.held.map((h) => ({ text: `Held: ${h.what} – ${h.reason}.`, style: 'soft' })),
  ];
};
