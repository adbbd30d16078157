import { type Contents } from '@longheron/contract/kinds';
import { type Chapter } from '../computation/types';
import { facts, h2, plain, right, table, value, type Node } from '../shared/pages/elements';
import { histogramSvg, residualMapSvg, type PlotMark, type PlotUnit } from '../shared/pages/plots';

type Figures = Contents['residuals']['figures'];

function tiltRow(f: Figures, small: PlotUnit): Array<[string, Node]> {
  const { trend: t } = f;
  if (!t) return [];
  const side = (k: 'east' | 'north') =>
    `${value(t[`${k}_m_per_100m`], small, 1)} (1 SD ${value(t[`sd_${k}_m_per_100m`], small, 1)})`;
  return [
    [
      'Tilt per 100 m',
      `${side('east')} to the east, ${side('north')} to the north, ${t.significant ? 'significant' : 'not significant'} (Fisher, 5 %)`,
    ],
  ];
}

/** The chapter on the accuracy of heights. */
export const accuracyOfHeights: Chapter<Contents['residuals']> = (
  { content: { figures: f }, cloud },
  { small, factor, symbol, toleranceM },
) => {
  const { marks } = f;
  const sorted = [...marks].sort(
    (a, b) => Number(b.flagged) - Number(a.flagged) || Math.abs(b.residual_m ?? -1) - Math.abs(a.residual_m ?? -1),
  );
  const used = sorted.filter((m) => m.used && m.residual_m !== null);
  const plot: PlotMark[] = marks
    .filter((m) => m.residual_m !== null)
    .map((m) => ({
      name: m.name,
      role: m.role,
      eastingM: m.easting_m,
      northingM: m.northing_m,
      residualM: m.residual_m,
      used: m.used,
      flagged: m.flagged,
    }));
  const out: Node[] = [
    h2('Accuracy of heights'),
    {
      text: `Found minus given: positive where the cloud is high. ${cloud}, ground points. Only check marks enter the statistics; deviations are 1 SD.`,
      style: 'soft',
    },
    facts([
      ['Check marks', `${String(f.count)}`],
      ['Mean, median', `${value(f.mean_m, small, 1)}, ${value(f.median_m, small, 1)}`],
      ['SD (n - 1), RMSE (n)', `${value(f.sd_m, small, 1)}, ${value(f.rmse_m, small, 1)}`],
      ['Range', `from ${value(f.min_m, small, 1)} to ${value(f.max_m, small, 1)}`],
      ['95 % of absolute residuals within', value(f.p95_m, small, 1)],
      [
        'Bias',
        `t = ${typeof f.bias_t === 'number' ? f.bias_t.toFixed(2) : 'none'}, ${f.bias_significant ? 'significant' : 'not significant'} (two-sided, 5 %)`,
      ],
      ...tiltRow(f, small),
      [
        'Smallest supportable contour interval',
        typeof f.contour_interval_m === 'number' ? `${f.contour_interval_m} m (3.2898 RMSE, rounded up)` : 'none',
      ],
    ]),
    ...f.statements.map((s) => ({
      text: `${s.standard}: class ${s.class_cm.toFixed(1)} cm; RMSE ${(100 * s.rmse_m).toFixed(2)} cm${s.p95_m === null ? '' : `, 95 % ${(100 * s.p95_m).toFixed(2)} cm`}${s.caveat ? `. ${s.caveat[0].toUpperCase()}${s.caveat.slice(1)}: no verdict of conformity.` : '.'}`,
      margin: [0, 0, 0, 2],
    })),
  ];
  if (plot.length)
    out.push({
      stack: [
        {
          columns: [
            { svg: residualMapSvg(plot, small), width: 262 },
            used.length
              ? {
                  svg: histogramSvg(
                    used.map((m) => m.residual_m!),
                    toleranceM,
                    small,
                  ),
                  width: 240,
                }
              : '',
          ],
        },
      ],
      unbreakable: true,
      margin: [0, 8, 0, 4],
    });
  const state = (m: (typeof marks)[number]) =>
    m.left_out
      ? `left out: ${m.left_out}`
      : m.used_for
        ? `not independent: ${m.used_for}`
        : m.flagged
          ? `does not agree: ${m.reason ?? ''}`
          : m.residual_m === null
            ? `not found: ${m.reason ?? ''}`
            : m.used
              ? 'in statistics'
              : `${m.role}, apart`;
  out.push(
    table(
      [
        'Mark',
        'Role',
        'Cover',
        `Found - given, ${small.symbol}`,
        `Given H, ${symbol}`,
        'Found by',
        'Points',
        'per m²',
        'Nearest, m',
        't',
        'State',
      ],
      sorted.map((m) => [
        plain(m.name),
        m.role,
        m.cover,
        right(m.residual_m === null ? '-' : (m.residual_m * small.factor).toFixed(small.digits)),
        right((m.height_m * factor).toFixed(3)),
        m.method === 'none' ? 'not found' : m.method,
        right(String(m.points)),
        right(m.density_per_m2.toFixed(0)),
        right(m.nearest_m === null ? '-' : m.nearest_m.toFixed(2)),
        right(m.test_t === null ? '-' : m.test_t.toFixed(1)),
        { text: plain(state(m)), color: m.flagged ? '#a8402e' : '#15262c', fontSize: 7.5 },
      ]),
      [24, 32, 26, 42, 38, 36, 28, 28, 34, 20, '*'],
    ),
  );
  return out;
};
