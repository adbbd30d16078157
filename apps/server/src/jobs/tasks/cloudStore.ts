import { mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { type CloudIndex } from '@longheron/contract/api';
import { type Notice, type Watch } from '@longheron/core/shared';
import { LasFile } from '@longheron/formats/las';
import { systemOfHeader } from '@longheron/operations/cloud';
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
    };
  } finally {
    await file.close();
    await rm(scratch, { recursive: true, force: true });
  }
}

function indexOf(built: BuiltCloud, objects: CloudIndex['objects']): CloudIndex {
  const { countsByClass: _counts, density: _density, nodes, ...rest } = built;
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
