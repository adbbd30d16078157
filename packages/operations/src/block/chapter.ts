import { type Contents } from '@longheron/contract/kinds';
import { UNIT_SYMBOL, fromMetres } from '@longheron/core/frames';
import { type Chapter } from '../computation/types';
import { figure, h2, right, table } from '../shared/pages/elements';

/** The chapter on a block of photographs. */
export const blockChapter: Chapter<Contents['block']> = ({ content: { figures: f } }, { small }) => {
  const number = figure(small);
  const marks = [
    ...f.control.map((m) => ({ ...m, role: 'control' })),
    ...f.check.map((m) => ({ ...m, role: 'check' })),
  ];
  return [
    h2('Block of photographs'),
    {
      text: `${f.oriented} of ${f.images} photographs oriented by ${f.rays} rays to ${f.points} points; sigma nought ${f.sigma0 === null ? 'not known' : f.sigma0.toFixed(2)}, ${f.picks_rejected + f.ties_rejected} left out.`,
      style: 'soft',
    },
    table(
      ['Camera', 'Photographs', 'Focal length, px', 'Change, %', 'Change over the picture, px RMS'],
      Object.entries(f.cameras).map(([name, c]) => [
        name,
        right(String(c.images)),
        ...(c.model === 'sphere'
          ? ['full panorama', '', '']
          : [
              right(c.focal_px.toFixed(2)),
              right(c.focal_change_percent.toFixed(2)),
              right(c.change_rms_px.toFixed(1)),
            ]),
      ]),
      [80, 60, 90, 60, '*'],
    ),
    ...(marks.length
      ? [
          table(
            ['Mark', 'Role', 'Picks', `East, ${small.symbol}`, 'North', 'Height', ''],
            marks.map((m) => [
              m.name,
              m.role,
              right(String(m.rays)),
              right(number(m.de_m)),
              right(number(m.dn_m)),
              right(number(m.dh_m)),
              m.flagged ? 'left out' : '',
            ]),
            [70, 50, 40, 60, 60, 60, '*'],
          ),
        ]
      : []),
    ...f.distances.map((d) => ({
      text: `Distance ${d.from} to ${d.to} (${d.use}): taped ${d.given} ${UNIT_SYMBOL[d.unit]}, found ${d.found_m === null ? 'not at all' : `${fromMetres(d.found_m, d.unit).toFixed(4)} ${UNIT_SYMBOL[d.unit]}`}.`,
      style: 'soft',
    })),
  ];
};
