import { type ColumnStatistics } from '@longheron/core/trajectory';
import { csvCell } from '@longheron/formats/csv';

/**
 * What a trajectory says of its quality as a table: statistics of its columns over all epochs, then the figures and
 * settings of its computation, one a row, units in their names.
 */
export function qualityCsv(name: string, statistics: ColumnStatistics[], figures: object | undefined): string {
  const cell = (v: unknown) => csvCell(typeof v === 'number' ? Number(v.toPrecision(8)) : String(v ?? ''));
  const lines = [
    `# trajectory: ${name.replace(/[\r\n]/g, ' ')}`,
    '# deviations are 1 SD',
    'quantity,unit,mean,rms,p95,min,max',
    ...statistics.map((s) => [s.name, s.unit, s.mean, s.rms, s.p95, s.min, s.max].map(cell).join(',')),
    '',
    'figure,value',
  ];
  const put = (key: string, value: unknown): void => {
    if (Array.isArray(value)) lines.push([key, value.map((v) => cell(v)).join(' ')].map(cell).join(','));
    else if (typeof value === 'object' && value !== null)
      for (const [k, v] of Object.entries(value)) put(`${key}.${k}`, v);
    else lines.push([key, value].map(cell).join(','));
  };
  for (const [key, value] of Object.entries(figures ?? {})) put(key, value);
  return `${lines.join('\n')}\n`;
}
