import { mkdir, readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { type CloudEditEntry, type CloudIndex } from '@longheron/contract/api';
import { RunBuilder } from '@longheron/core/cloud';
import { type Notice, type Watch } from '@longheron/core/shared';
import { LasFile } from '@longheron/formats/las';
import { systemOfHeader } from '@longheron/operations/cloud';
import { packRuns } from '@longheron/operations/edit';
import { buildCloud, type BuiltCloud, type Density } from '@longheron/operations/octree';
import { densityColour, gridPicture } from './gridPicture';
import { incoming, objectPath, type Shelf } from './shelf';

export interface StoredCloud {
  /** Object of the index. */
  index: string;
  /** Object with the row in the file of each stored point. */
  order: string;
  countsByClass: Record<string, number>;
  density: DensityContent | null;
  /** What the file says is withheld, as the first act of the cloud. */
  edits?: CloudEditEntry[];
  rejected?: number;
}

export interface DensityContent {
  picture: string;
  layout: { cellM: number; westM: number; northM: number; columns: number; rows: number };
  /** Of the squares with points: median density, and the share below the target. */
  medianPerM2: number;
  targetPerM2: number;
  belowShare: number;
  coveredM2: number;
}

/** Builds the multi-resolution store of a LAS or LAZ object. */
export async function storeCloud(
  shelf: Shelf,
  storeFolder: string,
  las: string,
  watch: Watch | undefined,
  targetPerM2 = 100,
): Promise<StoredCloud> {
  const scratch = incoming(storeFolder);
  await mkdir(scratch, { recursive: true });
  const file = await LasFile.openPath(objectPath(storeFolder, las));
  const files = {
    position: join(scratch, 'position'),
    attributes: join(scratch, 'attributes'),
    classes: join(scratch, 'classes'),
    order: join(scratch, 'order'),
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
    const objects = {
      position: await shelf.take(files.position, 'positions'),
      attributes: await shelf.take(files.attributes, 'attributes'),
      classes: await shelf.take(files.classes, 'classes'),
    };
    const order = await shelf.take(files.order, 'order');
    return {
      index: await shelf.json(indexOf(built, objects), 'cloud-index'),
      order,
      countsByClass: built.countsByClass,
      density: built.density ? await describeDensity(shelf, built.density, targetPerM2) : null,
      ...(built.withheld ? await withheldAct(shelf, storeFolder, order, built.withheld) : {}),
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
  shelf: Shelf,
  storeFolder: string,
  order: string,
  withheld: Uint8Array,
): Promise<{ edits?: CloudEditEntry[]; rejected?: number }> {
  if (!withheld.some((bits) => bits !== 0)) return {};
  const bytes = await readFile(objectPath(storeFolder, order));
  const rowOf = new Uint32Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 4);
  const rows = new RunBuilder();
  for (let k = 0; k < rowOf.length; k++) if (withheld[rowOf[k] >> 3] & (1 << (rowOf[k] & 7))) rows.add(k);
  if (rows.count === 0) return {};
  const object = await shelf.bytes(packRuns(rows.finish()), 'cloud-edit');
  const entry: CloudEditEntry = {
    ...{ object, act: { kind: 'reject' }, points: rows.count, at: new Date().toISOString() },
    ...{ how: { why: 'as its file says' }, ofFile: true },
  };
  return { edits: [entry], rejected: rows.count };
}

function indexOf(built: BuiltCloud, objects: CloudIndex['objects']): CloudIndex {
  const { countsByClass: _counts, density: _density, withheld: _withheld, nodes, ...rest } = built;
  return { ...rest, nodes: nodes.flatMap((n) => [n.level, n.x, n.y, n.z, n.first, n.count]), objects };
}

async function describeDensity(shelf: Shelf, d: Density, target: number): Promise<DensityContent> {
  const covered = Array.from(d.perM2.filter((n) => n > 0)).sort((a, b) => a - b);
  const below = covered.filter((n) => n < target).length;
  return {
    picture: await shelf.bytes(
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
