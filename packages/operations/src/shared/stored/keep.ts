import { mkdir, readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { type CloudEditEntry, type CloudIndex } from '@longheron/contract/api';
import { type Contents } from '@longheron/contract/kinds';
import { RunBuilder } from '@longheron/core/cloud';
import { type Notice, type Watch } from '@longheron/core/shared';
import { LasFile } from '@longheron/formats/las';
import { systemOfHeader } from '../cloud';
import { buildCloud, type BuiltCloud, type Density } from '../octree';
import { densityColour, gridPicture } from '../pictures';
import { type Store } from '../store';
import { packRuns } from './pack';

type CloudContent = Contents['point-cloud'];

/** What the multi-resolution store adds to the content of a cloud. */
export interface StoredCloud {
  index: string;
  order: string;
  countsByClass: Record<string, number>;
  density: NonNullable<CloudContent['density']> | null;
  /** What the file says is withheld, as the first act of the cloud. */
  edits?: CloudEditEntry[];
  rejected?: number;
}

/** Builds the multi-resolution store of a LAS or LAZ object. */
export async function storeCloud(
  store: Store,
  las: string,
  watch: Watch | undefined,
  targetPerM2 = 100,
): Promise<StoredCloud> {
  const scratch = store.scratch();
  await mkdir(scratch, { recursive: true });
  const file = await LasFile.openPath(store.path(las));
  const files = {
    position: join(scratch, 'position'),
    attributes: join(scratch, 'attributes'),
    classes: join(scratch, 'classes'),
    order: join(scratch, 'order'),
    colour: join(scratch, 'colour'),
  };
  try {
    const notices: Notice[] = [];
    const system = systemOfHeader(file.header, file.source.name, notices)?.definition;
    const built = await buildCloud(
      file,
      system?.metresPerUnit ?? 1,
      system?.verticalMetresPerUnit ?? 1,
      files,
      scratch,
      watch,
    );
    const taken = async (path: string, kind: string) => (await store.take(path, kind)).sha256;
    const objects = {
      position: await taken(files.position, 'positions'),
      attributes: await taken(files.attributes, 'attributes'),
      classes: await taken(files.classes, 'classes'),
      ...(built.coloured ? { colour: await taken(files.colour, 'colours') } : {}),
    };
    const order = await taken(files.order, 'order');
    return {
      index: await store.json(indexOf(built, objects), 'cloud-index'),
      order,
      countsByClass: built.countsByClass,
      density: built.density ? await describeDensity(store, built.density, targetPerM2) : null,
      ...(built.withheld ? await withheldAct(store, order, built.withheld) : {}),
    };
  } finally {
    await file.close();
    await rm(scratch, { recursive: true, force: true });
  }
}

/**
 * Rejects what a file says is withheld, so that it is shown, counted and taken back like what is rejected here.
 * @param withheld a bit for each row of the file.
 */
export async function withheldAct(
  store: Store,
  order: string,
  withheld: Uint8Array,
): Promise<{ edits?: CloudEditEntry[]; rejected?: number }> {
  if (!withheld.some((bits) => bits !== 0)) return {};
  const bytes = await readFile(store.path(order));
  const rowOf = new Uint32Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 4);
  const rows = new RunBuilder();
  for (let k = 0; k < rowOf.length; k++) if (withheld[rowOf[k] >> 3] & (1 << (rowOf[k] & 7))) rows.add(k);
  if (rows.count === 0) return {};
  const object = await store.bytes(packRuns(rows.finish()), 'cloud-edit');
  const entry: CloudEditEntry = {
    object,
    act: { kind: 'reject' },
    points: rows.count,
    at: new Date().toISOString(),
    how: { why: 'as its file says' },
    ofFile: true,
  };
  return { edits: [entry], rejected: rows.count };
}

function indexOf(built: BuiltCloud, objects: CloudIndex['objects']): CloudIndex {
  const { countsByClass: _counts, density: _density, withheld: _withheld, coloured: _coloured, nodes, ...rest } = built;
  return { ...rest, nodes: nodes.flatMap((n) => [n.level, n.x, n.y, n.z, n.first, n.count]), objects };
}

async function describeDensity(
  store: Store,
  d: Density,
  target: number,
): Promise<NonNullable<CloudContent['density']>> {
  const covered = Array.from(d.perM2.filter((n) => n > 0)).sort((a, b) => a - b);
  const below = covered.filter((n) => n < target).length;
  return {
    picture: await store.bytes(
      await gridPicture(d, true, (k) => (d.perM2[k] ? densityColour(d.perM2[k], target) : undefined)),
      'png',
    ),
    layout: { cellM: 1, westM: d.westM, northM: d.northM, columns: d.columns, rows: d.rows },
    medianPerM2: covered.length ? covered[covered.length >> 1] : 0,
    targetPerM2: target,
    belowShare: covered.length ? below / covered.length : 0,
    coveredM2: covered.length,
  };
}
