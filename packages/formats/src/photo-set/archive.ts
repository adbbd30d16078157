import { basename } from 'node:path';
import { filesOfArchive } from '../archive';
import { IS_JPEG, type PhotoFile } from './photoFile';

const MOST_OF_ONE = 2e8;

/**
 * Photographs of a ZIP archive: its directory is read now, each picture when it is asked for.
 * @throws Problem for what is no archive, leads outside of it, or claims more than can be believed.
 */
export async function photosOfArchive(path: string, file: string): Promise<PhotoFile[]> {
  const files = await filesOfArchive(path, file, {
    wanted: (name) => IS_JPEG.test(name),
    mostOfOne: MOST_OF_ONE,
    code: 'photos-zip',
    remedy: 'Make the archive again from the photographs.',
  });
  return files.map((f) => ({ ...f, name: basename(f.name) }));
}
