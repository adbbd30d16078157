import { type Watch } from '@longheron/core/shared';
import { agreementNotices, agreementOf } from '@longheron/operations/edit';
import { cloudOf, type EditedCloud } from './edit';
import { gridPicture, onScale } from './gridPicture';
import { jsonHash, Shelf } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

/** Colours from the most negative difference by none to the most positive. */
const SIGNED = [
  [29, 79, 145],
  [95, 143, 196],
  [179, 205, 227],
  [233, 233, 228],
  [232, 207, 160],
  [201, 147, 54],
  [138, 90, 0],
];
const MOST_VALUES = 20_000;

/** How overlapping strips agree: table, map and what is behind the histogram. */
export async function agreement(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const p = r.payload as unknown as {
    cloud: EditedCloud;
    crs: string;
    toleranceM: number;
    cellM: number;
    fewest: number;
    roughestM: number;
    apartM: number;
    groundOnly: boolean;
  };
  const cloud = await cloudOf(r.storeFolder, p.cloud);
  const { cellM, fewest, roughestM, apartM } = p;
  const found = await agreementOf(cloud, { cellM, fewest, roughestM, apartM }, p.groundOnly, watch);
  const shelf = new Shelf(r.storeFolder);
  const { map } = found;
  const step = Math.max(1, Math.ceil(found.differencesM.length / MOST_VALUES));
  const values = Array.from(
    found.differencesM.filter((_, i) => i % step === 0),
    (v) => Number(v.toFixed(5)),
  );
  const limitM = Math.max(p.toleranceM, 0.01);
  const plain = (v: number) => (Number.isFinite(v) ? v : null);
  const picture = gridPicture(map, false, (k) =>
    Number.isNaN(map.valueM[k]) ? undefined : onScale(SIGNED, 0.5 + map.valueM[k] / (2 * limitM)),
  );
  const pairs = found.pairs.map((pair) => Object.fromEntries(Object.entries(pair).map(([k, v]) => [k, plain(v)])));
  const content = {
    pairs,
    ...{
      cells: found.cells,
      rough: found.rough,
      apart: found.apart,
      rmsM: plain(found.rmsM),
      differences: found.differencesM.length,
    },
    settings: { cellM, fewest, roughestM, apartM, groundOnly: p.groundOnly },
    ...{ toleranceM: p.toleranceM, limitM, crs: p.crs },
    picture: found.cells ? await shelf.bytes(await picture, 'png') : null,
    layout: {
      ...{ cellM: map.cellM, columns: map.columns, rows: map.rows, westM: map.minX + cloud.origin[0] },
      northM: map.minY + cloud.origin[1] + map.rows * map.cellM,
    },
    values: await shelf.json(values, 'differences'),
  };
  return {
    content,
    contentHash: jsonHash(content),
    objects: shelf.objects,
    notices: agreementNotices(found, p.toleranceM),
    log: [`${found.differencesM.length} differences of ${found.pairs.length} pairs of strips in ${found.cells} cells.`],
  };
}
