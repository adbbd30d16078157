import { deliveryWords, type DeliveryCheck } from '@longheron/core/cloud';
import { csvCell } from '@longheron/formats/csv';

/** Faults of a delivery as CSV; places in the system named, metres. */
export function deliveryCsv(check: DeliveryCheck, crs: string): string {
  const at = (v: number | undefined) => (v === undefined ? '' : v.toFixed(2));
  return [
    `# crs: ${crs}`,
    `# tiles ${check.tiles}, points ${check.points}, most in one ${check.mostPoints}`,
    'fault,tile,other_tile,what,west_m,south_m,east_m,north_m',
    ...check.findings.map((f) =>
      [
        f.fault,
        csvCell(f.tiles[0] ?? ''),
        csvCell(f.tiles[1] ?? ''),
        csvCell(deliveryWords(f)),
        ...[0, 1, 2, 3].map((k) => at(f.at?.[k])),
      ].join(','),
    ),
    '',
  ].join('\n');
}
