import { writeFile } from 'node:fs/promises';
import { type Contents } from '@longheron/contract/kinds';
import declaration from '@longheron/contract/operations/delivery';
import { checkDelivery, deliveryWords, type DeliveredTile, type IndexedTile } from '@longheron/core/cloud';
import { tick } from '@longheron/core/shared';
import { computation, type OpenedFile } from '../computation/types';
import { outlinesIn } from '../shared/outlines';
import { ReportBuilder } from '../shared/report';
import { jsonHash } from '../shared/store';
import { deliveryCsv } from './csv';

/** Tiles of a delivery against its index and each other; of the clouds only counts and corners are read. */
export default computation(
  declaration,
  async ({ clouds, outlines }, settings, context, out, watch) => {
    const builder = new ReportBuilder('delivery', settings);
    const tiles: DeliveredTile[] = [];
    for (const [i, cloud] of clouds.entries()) {
      tick(watch, i / clouds.length, 'Reading corners');
      const { count, bounds } = await cloud.stored();
      const { min, max } = bounds;
      tiles.push({ name: cloud.name, points: count, bounds: [min[0], min[1], max[0], max[1]] });
    }
    const crs = context.crs ?? clouds[0].crs;
    const index = outlines ? await indexOf(outlines, crs) : undefined;
    const check = checkDelivery(tiles, index, settings);
    const content: Contents['delivery'] = { check, tiles, index: index ?? null, crs };
    if (check.findings.length)
      builder.notice({
        code: 'delivery',
        severity: 'warning',
        text: `${check.findings.length} ${check.findings.length === 1 ? 'fault' : 'faults'} in a delivery of ${tiles.length} tiles; the first: ${deliveryWords(check.findings[0])}`,
        effect: 'Points are missing, or are counted twice, in what is made of these tiles.',
        remedy: 'Ask for what is missing, or leave out what is there twice, before the tiles are merged.',
      });
    if (out.wanted('faults')) await out.file('faults', 'csv', (path) => writeFile(path, deliveryCsv(check, crs)));
    const said = `${tiles.length} tiles, ${check.points} points, ${check.findings.length} faults.`;
    return {
      content,
      hash: jsonHash(content),
      report: builder.finish(crs || null, {
        tiles: check.tiles,
        points: check.points,
        most_points: check.mostPoints,
        findings: check.findings,
      }),
      log: [said],
      lines: [said, ...check.findings.map((f) => deliveryWords(f))],
      failed: check.findings.length > 0,
    };
  },
  { exports: { delivery: ({ check, crs }) => deliveryCsv(check, crs) } },
);

/** The tiles of an index file: areas with the name of a file, and a number of points where it says one. */
async function indexOf(outlines: OpenedFile<Contents['outlines']>, crs: string): Promise<IndexedTile[]> {
  const areas = (await outlinesIn(outlines.path, outlines.name, crs, outlines.content?.crs)).filter(
    (o) => o.kind === 'area',
  );
  return areas.map((o) => {
    const [x, y] = [o.parts[0].filter((_, i) => i % 2 === 0), o.parts[0].filter((_, i) => i % 2)];
    return {
      name: o.file ?? o.name,
      ...(o.points === undefined ? {} : { points: o.points }),
      bounds: [Math.min(...x), Math.min(...y), Math.max(...x), Math.max(...y)],
    };
  });
}
