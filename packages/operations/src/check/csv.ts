import { METRES_PER, UNIT_SYMBOL, type LengthUnit } from '@longheron/core/frames';
import { type CheckFigures } from '@longheron/contract/kinds/residuals';
import { csvCell } from '@longheron/formats/csv';

/** Residuals of a height check as CSV, in the unit of the project, with the unit in each column's name. */
export function residualsCsv(figures: CheckFigures, unit: LengthUnit, crs: string): string {
  const u = UNIT_SYMBOL[unit];
  const factor = 1 / METRES_PER[unit];
  const length = (v: unknown) => (typeof v === 'number' ? (v * factor).toFixed(4) : '');
  const lines = [
    `# crs: ${crs}`,
    '# residual: found minus given; deviations are 1 SD',
    `# check marks: ${String(figures.count)}, RMSE ${length(figures.rmse_m)} ${u}`,
    [
      'name',
      'role',
      'cover',
      'used',
      `easting_${u}`,
      `northing_${u}`,
      `height_${u}`,
      `surface_${u}`,
      `residual_${u}`,
      'method',
      'points',
      'density_per_m2',
      'nearest_m',
      'test_t',
      'flagged',
      'reason',
    ].join(','),
  ];
  for (const m of figures.marks)
    lines.push(
      [
        csvCell(m.name),
        m.role,
        m.cover,
        m.used ? 'yes' : 'no',
        length(m.easting_m),
        length(m.northing_m),
        length(m.height_m),
        length(m.surface_m),
        length(m.residual_m),
        m.method,
        m.points,
        typeof m.density_per_m2 === 'number' ? m.density_per_m2.toFixed(1) : '',
        typeof m.nearest_m === 'number' ? m.nearest_m.toFixed(3) : '',
        typeof m.test_t === 'number' ? m.test_t.toFixed(2) : '',
        m.flagged ? 'yes' : 'no',
        csvCell(m.reason ?? ''),
      ].join(','),
    );
  return `${lines.join('\n')}\n`;
}
