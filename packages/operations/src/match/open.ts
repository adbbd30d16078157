import { readFile } from 'node:fs/promises';
import { type Contents } from '@longheron/contract/kinds';
import { Problem } from '@longheron/core/shared';
import { openAs } from '@longheron/formats/registry';
import { adjustedPictures, placedPictures, type AdjustedPictures, type Axes } from '../shared/photographs';
import { type Store } from '../shared/store';

/**
 * Photographs of a block in the system of the project: of one that is kept, or of its files.
 * @throws Problem for a block with a frame of its own, or where cameras or the system are not said.
 */
export async function openBlock(
  oriented: { name: string; path: string; content?: Contents['block'] },
  cameras: { name: string; path: string } | undefined,
  crs: string | undefined,
  store: Store,
): Promise<AdjustedPictures & { axes: Axes }> {
  const { content, name, path } = oriented;
  const bytes = content ? undefined : await readFile(path);
  const local = content
    ? content.figures.frame === 'local'
    : /^#\s*frame:\s*local/m.test(bytes!.subarray(0, 1000).toString());
  if (local)
    throw new Problem('This block has a frame of its own; a cloud needs a place.', {
      code: 'match-local',
      file: name,
      remedy: 'Adjust it with positions, or with three control marks that are picked.',
    });
  if (content && !cameras) {
    const { axes, ...rest } = await adjustedPictures(store, content, crs ?? null);
    return { ...rest, axes: axes! };
  }
  if (!cameras || !(crs ?? content?.crs))
    throw new Problem(`${cameras ? 'The system of the cloud is' : 'Cameras are'} not said.`, {
      code: cameras ? 'match-crs' : 'match-cameras',
      file: name,
      remedy: cameras ? 'Set the reference line of the project.' : 'Give the adjusted cameras.',
      command: cameras ? 'Give it with --crs, e.g. EPSG:25832+5773.' : 'Give them with --cameras.',
    });
  const known = new Map((await openAs('cameras', cameras.path, cameras.name)).map((c) => [c.name, c]));
  const { axes, ...rest } = placedPictures(
    bytes ?? (await readFile(store.path(content!.oriented))),
    known,
    crs ?? content!.crs,
  );
  return { ...rest, axes: axes! };
}
