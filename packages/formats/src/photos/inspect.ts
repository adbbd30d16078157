import { readFile } from 'node:fs/promises';
import { type Inspect } from '../format/facts';
import { readPhotoList } from './read';

/** Facts of a list of photographs; the camera's clock is not GPS time, so they have no place in the time lanes. */
export const inspectPhotos: Inspect = async ({ path, name }, out) => {
  const photos = readPhotoList(await readFile(path), name);
  out.count = photos.length;
  const timed = photos.filter((p) => Number.isFinite(p.takenS));
  const text = (s: number) => new Date(1000 * s).toISOString().replace('T', ' ').slice(0, 19);
  out.details.push(['With a time', `${timed.length} of ${photos.length}`]);
  if (timed.length)
    out.details.push([
      'Camera’s clock',
      `${text(Math.min(...timed.map((p) => p.takenS)))} to ${text(Math.max(...timed.map((p) => p.takenS)))}`,
    ]);
};
