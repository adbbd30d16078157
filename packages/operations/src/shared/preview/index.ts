import { stat } from 'node:fs/promises';
import { type Contents } from '@longheron/contract/kinds';
import { Problem } from '@longheron/core/shared';
import { parseSystem } from '@longheron/formats/crs';
import { openAs } from '@longheron/formats/registry';
import { factsOf } from '../inspect';
import { type Store } from '../store';
import { previewTrajectory } from './preview';

export { previewTrajectory, type TrajectoryPreview } from './preview';

type TrajectoryContent = Contents['trajectory'];

/** Plots and path of a trajectory in a system, put into the store. */
export async function storePreview(
  store: Store,
  path: string,
  name: string,
  crs: string,
): Promise<Pick<TrajectoryContent, 'preview' | 'previewCrs' | 'around'>> {
  try {
    return await drawn(store, path, name, crs);
  } catch (error) {
    // a grid of the project that does not reach there keeps no file out: it is not drawn, and the grid gets a notice
    if (error instanceof Problem && OUTSIDE.includes(error.code))
      return { preview: undefined, previewCrs: crs, around: undefined };
    throw error;
  }
}

const OUTSIDE = ['datum-outside', 'geoid-outside'];

async function drawn(store: Store, path: string, name: string, crs: string) {
  const made = previewTrajectory(await openAs('trajectory', path, name), parseSystem(crs));
  return { preview: await store.json(made, 'preview'), previewCrs: crs, around: made.around };
}

/** What is kept of a trajectory that was made here: its file, facts, plots and path. */
export async function trajectoryContent(
  store: Store,
  sha256: string,
  name: string,
  crs: string,
): Promise<TrajectoryContent> {
  const path = store.path(sha256);
  const { size } = await stat(path);
  const facts = await factsOf(path, name);
  return { object: sha256, bytes: size, facts, ...(await storePreview(store, path, name, crs)) };
}
