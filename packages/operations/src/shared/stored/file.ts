import { readFile } from 'node:fs/promises';
import { thinPoints, type Runs } from '@longheron/core/cloud';
import { Problem, type Watch } from '@longheron/core/shared';
import { AS_IT_WAS, LasFile, rewriteClasses, writeSelected } from '@longheron/formats/las';
import { columnsOf, readPoints, type EditableCloud } from './cloud';

/**
 * Writes a LAS file with what was done to its stored cloud since: other classes, points withheld or not; all else as
 * it was.
 * @param orderPath row in the file of each stored point.
 */
export async function writeEdited(
  lasPath: string,
  orderPath: string,
  cloud: Pick<EditableCloud, 'paths' | 'edits'>,
  outPath: string,
  watch?: Watch,
): Promise<void> {
  const { classes, flags, decided } = await columnsOf(cloud);
  const bytes = await readFile(orderPath);
  const order = new Uint32Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 4);
  if (order.length !== classes.length)
    throw new Problem('The stored cloud and its file have other numbers of points.', {
      code: 'cloud-store',
      remedy: 'Take the cloud in again, or run the job that made it.',
    });
  const classification = new Uint8Array(classes.length);
  const withheld = new Uint8Array(classes.length).fill(AS_IT_WAS);
  for (let k = 0; k < order.length; k++) {
    classification[order[k]] = classes[k];
    if (decided[k]) withheld[order[k]] = flags[k] & 1;
  }
  const file = await LasFile.openPath(lasPath);
  try {
    await rewriteClasses(file, outPath, classification, withheld, watch);
  } finally {
    await file.close();
  }
}

/** How a part of a cloud is thinned: one point to a cube of this edge. */
export interface Thinning {
  edgeM: number;
  keep: 'first' | 'precise';
}

/**
 * Writes the points of some rows of a stored cloud to a file of their own, every attribute kept.
 * @param lasPath file with the edits in it. @returns how many were written.
 */
export async function writePart(
  lasPath: string,
  orderPath: string,
  cloud: EditableCloud,
  runs: Runs,
  thinning: Thinning | undefined,
  outPath: string,
  watch?: Watch,
): Promise<number> {
  const bytes = await readFile(orderPath);
  const order = new Uint32Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 4);
  const chosen = new Uint8Array(order.length);
  for (let r = 0; r < runs.first.length; r++) chosen.fill(1, runs.first[r], runs.first[r] + runs.length[r]);
  const kept = thinning ? await thinned(cloud, chosen, thinning) : chosen;
  const keep = new Uint8Array(order.length);
  for (let k = 0; k < order.length; k++) if (kept[k]) keep[order[k]] = 1;
  const file = await LasFile.openPath(lasPath);
  try {
    return (await writeSelected(file, outPath, keep, watch)).written;
  } finally {
    await file.close();
  }
}

async function thinned(cloud: EditableCloud, chosen: Uint8Array, { edgeM, keep }: Thinning): Promise<Uint8Array> {
  const { set, sdM } = await readPoints(cloud);
  const skip = chosen.map((v) => (v ? 0 : 1));
  return thinPoints(set, skip, edgeM, keep === 'precise' ? sdM : undefined);
}
