import { type Contents } from '@longheron/contract/kinds';
import { type Chapter } from '../computation/types';
import { figure, h2, right, table } from '../shared/pages/elements';

/** The chapter on an adjusted total-station job. */
export const traverseChapter: Chapter<Contents['marks']> = ({ content }, { small }) => {
  const f = content.traverse!;
  const number = figure(small);
  const seconds = (deg: number | null) => (deg === null ? '' : (3600 * deg).toFixed(1));
  const i = f.instrument;
  return [
    h2(`Total-station job${f.job ? `: ${f.job}` : ''}`),
    {
      text:
        `${f.set_ups} set-ups, ${f.readings} readings in ${f.angular_unit}. Sigma nought ${f.sigma0 === null ? 'not known' : f.sigma0.toFixed(2)}` +
        `${f.sigma0_expected ? `, expected ${f.sigma0_expected[0].toFixed(2)} to ${f.sigma0_expected[1].toFixed(2)} with ${f.freedom} observations to spare` : ''}. ` +
        `Angles ${(3600 * i.angle_sd_deg).toFixed(1)} seconds, distances ${(1000 * i.distance_sd_m).toFixed(1)} mm and ${i.distance_ppm} ppm, centring and heights ${(1000 * i.place_sd_m).toFixed(1)} mm (1 SD). ` +
        `Collimation ${seconds(i.collimation_deg)} and index error ${seconds(i.index_deg)} seconds from ${i.pairs} pairs in both faces, taken out. ` +
        `Refraction ${f.applied.refraction} and curvature applied once; heights and zenith angles refer to the ellipsoid's normal. ` +
        `Adjusted in space; the grid's factor is ${f.applied.grid_factor.map((v) => v.toFixed(6)).join(' to ')}, its convergence ${f.applied.convergence_deg.map((v) => v.toFixed(4)).join(' to ')} degrees.`,
      style: 'soft',
    },
    ...(f.closures.length
      ? [
          table(
            ['Traverse', 'Length, m', 'Angle, seconds', `East, ${small.symbol}`, 'North', 'Height', ''],
            f.closures.map((c) => [
              c.stations.join(', '),
              right(c.length_m.toFixed(0)),
              right(seconds(c.angle_deg)),
              right(c.de_m === null ? '' : number(c.de_m)),
              right(c.dn_m === null ? '' : number(c.dn_m)),
              right(c.dh_m === null ? '' : number(c.dh_m)),
              c.ok === null ? 'open' : c.ok ? 'closes' : 'does not close',
            ]),
            ['*', 50, 70, 55, 50, 50, 70],
          ),
        ]
      : []),
    table(
      ['Point', 'Kind', `SD east, ${small.symbol}`, 'north', 'height', 'Rays', ''],
      f.points.map((p) => [
        p.name,
        p.kind,
        right(number(p.sd_e_m)),
        right(number(p.sd_n_m)),
        right(number(p.sd_h_m)),
        right(String(p.rays)),
        p.checked ? '' : 'unchecked',
      ]),
      [60, 60, 70, 50, 50, 40, '*'],
    ),
    ...f.rejected.map((r) => ({ text: `Left out: ${r.says}`, style: 'soft' })),
  ];
};
