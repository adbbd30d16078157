import { open, readdir, readFile, stat } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { Problem } from '@longheron/core/shared';
import { readExif, type ExifFacts } from '../exif';
import { photosOfArchive } from './archive';
import { IS_JPEG, type PhotoFile } from './photoFile';

/** In so many bytes of a photograph its EXIF and its size stand. */
const HEAD_BYTES = 1 << 17;

/** Photographs of a folder or a ZIP archive, in order of their names. @throws Problem for anything else. */
export async function openPhotoSet(path: string, name = basename(path)): Promise<PhotoFile[]> {
  const found = await stat(path).catch(() => undefined);
  if (!found) throw new Problem('There is no such file.', { code: 'file-open', file: name, remedy: 'Check the path.' });
  const all = found.isDirectory() ? await photosOfFolder(path) : await photosOfArchive(path, name);
  if (!all.length)
    throw new Problem('There are no JPEG files in it.', {
      code: 'photos-none',
      file: name,
      remedy: 'Name a folder or a ZIP archive of photographs (.jpg).',
    });
  return all.sort((a, b) => (a.name < b.name ? -1 : 1));
}

async function photosOfFolder(path: string): Promise<PhotoFile[]> {
  const names = (await readdir(path)).filter((n) => IS_JPEG.test(n));
  return Promise.all(
    names.map(async (name): Promise<PhotoFile> => {
      const at = join(path, name);
      return { name, size: (await stat(at)).size, bytes: () => readFile(at), head: (n) => headOf(at, n) };
    }),
  );
}

async function headOf(path: string, bytes: number): Promise<Uint8Array> {
  const source = await open(path, 'r');
  try {
    const out = Buffer.alloc(bytes);
    return out.subarray(0, (await source.read(out, 0, bytes, 0)).bytesRead);
  } finally {
    await source.close();
  }
}

/** What a photograph says of itself; undefined where it says nothing. */
export const exifOf = async (photo: PhotoFile): Promise<ExifFacts | undefined> =>
  readExif(await photo.head(HEAD_BYTES));
