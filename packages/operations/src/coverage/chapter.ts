import { type Contents } from '@longheron/contract/kinds';
import { type Chapter } from '../computation/types';
import { facts, h2, plain, right, table } from '../shared/pages/elements';

const MAX_LISTED = 12;

/** The chapter on density, voids and stated precision. */
export const coverageChapter: Chapter<Contents['coverage']> = async ({ content: c, cloud }, tools) => {
  const { factor, symbol } = tools;
  const picture = await tools.picture(c.pictures.density);
  const { figures: f, settings: s } = c;
  const none = 'none';
  const square = factor * factor;
  const area = (v: number | null) => (v === null ? none : `${(v * square).toFixed(0)} ${symbol}²`);
  const density = (v: number | null) =>
    v === null ? none : `${(v / square).toFixed(v / square < 10 ? 1 : 0)} points/${symbol}²`;
  const share = (v: number | null) => (v === null ? none : `${(100 * v).toFixed(1)} %`);
  const length = (v: number | null, digits = 3) => (v === null ? none : `${(v * factor).toFixed(digits)} ${symbol}`);
  const covered = f.areaM2 ? (f.coveredM2 ?? 0) / f.areaM2 : null;
  const listed = c.voids.slice(0, MAX_LISTED);
  return [
    h2('Density and voids'),
    {
      text: `${plain(cloud)}${s.groundOnly ? ', ground points only' : ''}, in cells of ${length(s.cellM, 2)}. Densities are of the surface: on slopes of the slope, not of its plan. ${c.ordered ? 'The area is the ordered one.' : 'No area was ordered: it is where the points are, gaps closed.'}`,
      style: 'soft',
    },
    facts([
      ['Area', `${area(f.areaM2)}, covered ${area(f.coveredM2)} (${share(covered)})`],
      ['Density', `median ${density(f.median)}, 95 of 100 cells above ${density(f.p5)}`],
      ['Below the wanted density', `${share(f.belowShare)} of the area below ${density(s.targetPerM2)}`],
      [
        'Slopes beyond 20°',
        `${area(f.steep.areaM2)}, median ${density(f.steep.median)}, ${share(f.steep.belowShare)} below`,
      ],
      [
        'Distance to the nearest point',
        `median ${length(f.spacing.medianM)}, 95 of 100 below ${length(f.spacing.p95M)}`,
      ],
      [
        'Stated deviation of height (1 SD)',
        `median ${length(f.precision.median)}, 95 of 100 cells below ${length(f.precision.p95)}`,
      ],
      [
        'Voids',
        `${f.voidCount ?? 0} with ${area(f.voidM2)} together; ${c.voids.length} of ${area(s.leastVoidM2)} or more`,
      ],
    ]),
    ...(listed.length
      ? [
          table(
            ['Void', `Easting, ${symbol}`, `Northing, ${symbol}`, `Area, ${symbol}²`, `Width, ${symbol}`, 'Place'],
            listed.map((v, i) => [
              String(i + 1),
              ...[v.eastingM, v.northingM].map((m) => right((m * factor).toFixed(1))),
              right((v.areaM2 * square).toFixed(0)),
              right((v.widthM * factor).toFixed(1)),
              v.atEdge ? 'at the edge' : 'within',
            ]),
            [28, 76, 76, 60, 60, '*'],
          ),
        ]
      : []),
    ...(c.voids.length > listed.length
      ? [{ text: `${c.voids.length - listed.length} smaller ones are in the list of voids (CSV).`, style: 'soft' }]
      : []),
    {
      stack: [
        { image: `data:image/png;base64,${picture.toString('base64')}`, fit: [505, 300], margin: [0, 4, 0, 2] },
        {
          text: `Blue from ${density(s.targetPerM2)}, ochre below, red-brown where there are no points.`,
          style: 'soft',
        },
      ],
      unbreakable: true,
    },
  ];
};
