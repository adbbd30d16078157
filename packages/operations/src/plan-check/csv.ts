import { type PlanFigures } from '@longheron/contract/kinds/plan-check';
import { METRES_PER, UNIT_SYMBOL, type LengthUnit } from '@longheron/core/frames';
import { csvCell } from '@longheron/formats/csv';

/** Residuals of a check of plan and what was taped, as CSV in the unit of the project, units in the columns' names. */
export function planCsv(figures: PlanFigures, unit: LengthUnit, crs: string): string {
  const u = UNIT_SYMBOL[unit];
  const factor = 1 / METRES_PER[unit];
  const length = (v: number | null | undefined) => (typeof v === 'number' ? (v * factor).toFixed(4) : '');
  const s = figures.statistics;
  const lines = [
    `# crs: ${crs}`,
    '# residuals: found minus given; deviations are 1 SD',
    `# check marks: ${s.count}, RMSE east ${length(s.rmseE)}, north ${length(s.rmseN)}, both ${length(s.rmseR)} ${u}`,
    [
      'name',
      'role',
      'used',
      'place_by',
      `easting_${u}`,
      `northing_${u}`,
      `height_${u}`,
      `east_${u}`,
      `north_${u}`,
      `up_${u}`,
      `sd_east_${u}`,
      `sd_north_${u}`,
      'test_t',
      'flagged',
      'note',
    ].join(','),
  ];
  for (const m of figures.marks)
    lines.push(
      [
        csvCell(m.name),
        m.role,
        m.used ? 'yes' : 'no',
        m.how ?? 'none',
        ...[...m.given, m.dE, m.dN, m.dH, m.sdE, m.sdN].map(length),
        m.testT === null ? '' : m.testT.toFixed(2),
        m.flagged ? 'yes' : 'no',
        csvCell(m.note),
      ].join(','),
    );
  const { distances } = figures;
  if (distances.length) {
    lines.push('', `from,to,kind,measured_${u},found_${u},difference_${u},sd_${u},test_t,agrees,note`);
    for (const d of distances)
      lines.push(
        [
          csvCell(d.from),
          csvCell(d.to),
          d.kind,
          ...[d.measuredM, d.foundM, d.differenceM, d.expectedSdM].map(length),
          d.testT === null ? '' : d.testT.toFixed(2),
          d.agrees === null ? '' : d.agrees ? 'yes' : 'no',
          csvCell(d.note),
        ].join(','),
      );
  }
  return `${lines.join('\n')}\n`;
}
