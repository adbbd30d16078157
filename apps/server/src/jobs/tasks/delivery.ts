import { readFile } from 'node:fs/promises';
import { type CloudIndex } from '@longheron/contract/api';
import {
  checkDelivery,
  deliveryWords,
  type DeliveredTile,
  type DeliverySettings,
  type IndexedTile,
} from '@longheron/core/cloud';
import { tick, type Notice, type Watch } from '@longheron/core/shared';
import { outlinesIn } from '@longheron/operations/outlines';
import { type EditedCloud } from './edit';
import { jsonHash, objectPath } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

/** Tiles of a delivery against its index and each other; of the clouds only counts and corners are read. */
export async function delivery(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const p = r.payload as unknown as {
    clouds: Array<{ name: string; cloud: EditedCloud }>;
    crs: string;
    settings: DeliverySettings;
    outlines?: { path: string; name: string };
  };
  const tiles: DeliveredTile[] = [];
  for (const [i, { name, cloud }] of p.clouds.entries()) {
    tick(watch, i / p.clouds.length, 'Reading corners');
    const { count, bounds } = JSON.parse(await readFile(objectPath(r.storeFolder, cloud.index), 'utf8')) as CloudIndex;
    tiles.push({ name, points: count, bounds: [bounds.min[0], bounds.min[1], bounds.max[0], bounds.max[1]] });
  }
  const index = p.outlines ? await indexOf(p.outlines, p.crs) : undefined;
  const check = checkDelivery(tiles, index, p.settings);
  const content = { check, tiles, index: index ?? null, crs: p.crs };
  const notices: Notice[] = check.findings.length
    ? [
        {
          ...{ code: 'delivery', severity: 'warning' },
          text: `${check.findings.length} ${check.findings.length === 1 ? 'fault' : 'faults'} in a delivery of ${tiles.length} tiles; the first: ${deliveryWords(check.findings[0])}`,
          effect: 'Points are missing, or are counted twice, in what is made of these tiles.',
          remedy: 'Ask for what is missing, or leave out what is there twice, before the tiles are merged.',
        },
      ]
    : [];
  return {
    content,
    contentHash: jsonHash(content),
    objects: [],
    notices,
    log: [`${tiles.length} tiles, ${check.points} points, ${check.findings.length} faults.`],
  };
}

/** The tiles of an index file: areas with the name of a file, and a number of points where it says one. */
async function indexOf(outlines: { path: string; name: string }, crs: string): Promise<IndexedTile[]> {
  const areas = (await outlinesIn(outlines.path, outlines.name, crs)).filter((o) => o.kind === 'area');
  return areas.map((o) => {
    const [x, y] = [o.parts[0].filter((_, i) => i % 2 === 0), o.parts[0].filter((_, i) => i % 2)];
    return {
      name: o.file ?? o.name,
      ...(o.points === undefined ? {} : { points: o.points }),
      bounds: [Math.min(...x), Math.min(...y), Math.max(...x), Math.max(...y)],
    };
  });
}
