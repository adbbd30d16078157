import { type Contents } from '@longheron/contract/kinds';
import { METRES_PER, UNIT_SYMBOL, type LengthUnit } from '@longheron/core/frames';

/** Pairs of strips as CSV in the unit of the project, units in the columns' names. */
export function pairsCsv({ pairs, crs }: Contents['agreement'], unit: LengthUnit): string {
  const u = UNIT_SYMBOL[unit];
  const length = (v: number | null) => (v === null ? '' : (v / METRES_PER[unit]).toFixed(5));
  return [
    `# crs: ${crs}`,
    '# differences along the normal, the second strip less the first; expected: by the stated precision of the points',
    `first,second,cells,mean_${u},sd_${u},rms_${u},median_${u},p95_${u},expected_${u}`,
    ...pairs.map((p) =>
      [p.first, p.second, p.cells, ...[p.meanM, p.sdM, p.rmsM, p.medianM, p.p95M, p.expectedM].map(length)].join(','),
    ),
    '',
  ].join('\n');
}
