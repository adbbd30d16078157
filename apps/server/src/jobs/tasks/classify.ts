import { readFile } from 'node:fs/promises';
import {
  LAS_CLASS,
  type ClothSettings,
  type GroundSettings,
  type StraySettings,
  type ThingSettings,
} from '@longheron/core/cloud';
import { part, type Watch } from '@longheron/core/shared';
import { rewriteClasses, WITHHELD } from '@longheron/formats/las';
import { classifyPoints, countsByClass, type ClassifiedColumns } from '@longheron/operations/classify';
import { loadCloud } from '@longheron/operations/cloud';
import { packClasses } from '@longheron/operations/packs';
import { withheldAct } from './cloudStore';
import { objectPath, Shelf } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

export async function classify(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const p = r.payload as {
    las: string;
    order: string;
    index: string;
    ground: boolean;
    noise: boolean;
    groundSettings: GroundSettings;
    cloth?: ClothSettings;
    straySettings: StraySettings;
    things?: ThingSettings;
    crs: string;
  };
  const shelf = new Shelf(r.storeFolder);
  const cloud = await loadCloud(objectPath(r.storeFolder, p.las), undefined, part(watch, 0, 0.1));
  try {
    const before = {
      classification: cloud.points.classification,
      withheld: cloud.points.flags.map((f) => (f & WITHHELD ? 1 : 0)),
    };
    const found = classifyPoints(cloud.set, before, p, part(watch, 0.1, 0.8));
    const las = await shelf.file(
      (path) =>
        rewriteClasses(cloud.file, path, found.classification, found.withheld, part(watch, 0.8, 0.95, 'Writing')),
      'las',
    );
    const orderBytes = await readFile(objectPath(r.storeFolder, p.order));
    const order = new Uint32Array(orderBytes.buffer, orderBytes.byteOffset, orderBytes.byteLength / 4);
    const classes = await shelf.bytes(packClasses(found.classification, order), 'classes');
    const index = JSON.parse(await readFile(objectPath(r.storeFolder, p.index), 'utf8')) as {
      objects: { classes: string };
    };
    index.objects.classes = classes;
    const indexObject = await shelf.json(index, 'cloud-index');
    return {
      content: {
        las: las.sha256,
        bytes: las.bytes,
        index: indexObject,
        order: p.order,
        crs: p.crs,
        figures: { points: cloud.set.count, strays: found.strays, ground: found.ground },
        countsByClass: countsByClass(found.classification),
        ...(await withheldAct(shelf, r.storeFolder, p.order, keptOut(found))),
      },
      contentHash: las.sha256,
      objects: shelf.objects,
      notices: [],
      log: [`${found.strays} strays, ${found.ground} ground points.`],
    };
  } finally {
    await cloud.file.close();
  }
}

/** What was rejected before and is no noise stays rejected: a bit for each row of the file. */
function keptOut({ withheld, classification }: ClassifiedColumns): Uint8Array {
  const bits = new Uint8Array(Math.ceil(withheld.length / 8));
  for (let i = 0; i < withheld.length; i++) {
    const noise = classification[i] === LAS_CLASS.lowNoise || classification[i] === LAS_CLASS.highNoise;
    if (withheld[i] && !noise) bits[i >> 3] |= 1 << (i & 7);
  }
  return bits;
}
