import { type Contents } from '@longheron/contract/kinds';
import { METRES_PER, UNIT_SYMBOL, type LengthUnit } from '@longheron/core/frames';

/** Voids of a coverage as CSV in the unit of the project, units in the columns' names. */
export function voidsCsv({ figures: f, voids, settings: s, crs }: Contents['coverage'], unit: LengthUnit): string {
  const u = UNIT_SYMBOL[unit];
  const k = 1 / METRES_PER[unit];
  const area = (m2: number | null) => (m2 === null ? '' : (m2 * k * k).toFixed(1));
  const density = (v: number | null) => (v === null ? '' : (v / (k * k)).toFixed(1));
  return [
    `# crs: ${crs}`,
    `# area ${area(f.areaM2)} ${u}2, covered ${area(f.coveredM2)} ${u}2, cells of ${(s.cellM * k).toFixed(3)} ${u}`,
    `# density on the surface: median ${density(f.median)} points per ${u}2, wanted ${density(s.targetPerM2)}`,
    `# voids of ${area(s.leastVoidM2)} ${u}2 or more, largest first`,
    `number,easting_${u},northing_${u},area_${u}2,width_${u},at_edge`,
    ...voids.map((v, i) =>
      [
        i + 1,
        (v.eastingM * k).toFixed(2),
        (v.northingM * k).toFixed(2),
        area(v.areaM2),
        (v.widthM * k).toFixed(2),
        v.atEdge ? 'yes' : 'no',
      ].join(','),
    ),
    '',
  ].join('\n');
}
