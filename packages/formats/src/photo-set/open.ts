import { readdir, readFile, stat } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { unzipSync } from 'fflate';
import { Problem } from '@longheron/core/shared';

/** A photograph whose bytes are read when they are asked for. */
export interface PhotoFile {
  name: string;
  bytes(): Promise<Uint8Array>;
}

const IS_JPEG = /\.jpe?g$/i;
/** An archive holds no more than this. */
const MOST_FILES = 20_000;
const MOST_BYTES = 4e9;
const MOST_OF_ONE = 2e8;

/** Photographs of a folder or a ZIP archive, in order of their names. @throws Problem for anything else. */
export async function openPhotoSet(path: string, name = basename(path)): Promise<PhotoFile[]> {
  const found = await stat(path).catch(() => undefined);
  if (!found) throw new Problem('There is no such file.', { code: 'file-open', file: name, remedy: 'Check the path.' });
  const all = found.isDirectory()
    ? (await readdir(path))
        .filter((n) => IS_JPEG.test(n))
        .map((n): PhotoFile => ({ name: n, bytes: () => readFile(join(path, n)) }))
    : photosOfZip(await readFile(path), name);
  if (!all.length)
    throw new Problem('There are no JPEG files in it.', {
      code: 'photos-none',
      file: name,
      remedy: 'Name a folder or a ZIP archive of photographs (.jpg).',
    });
  return all.sort((a, b) => (a.name < b.name ? -1 : 1));
}

function photosOfZip(bytes: Uint8Array, file: string): PhotoFile[] {
  const wrong = (text: string, place: string) =>
    new Problem(text, { code: 'photos-zip', file, place, remedy: 'Make the archive again from the photographs.' });
  let sum = 0;
  let count = 0;
  const names: string[] = [];
  // sizes are those that the archive claims: what is too much is refused before it is unpacked
  try {
    unzipSync(bytes, {
      filter: (entry) => {
        if (++count > MOST_FILES) throw wrong(`The archive holds more than ${MOST_FILES} files.`, entry.name);
        if (/(^|[\\/])\.\.([\\/]|$)/.test(entry.name))
          throw wrong('A name in the archive leads outside of it.', entry.name);
        if (!IS_JPEG.test(entry.name) || /(^|\/)(__MACOSX|\.)/.test(entry.name)) return false;
        sum += entry.originalSize;
        if (entry.originalSize > MOST_OF_ONE || sum > MOST_BYTES)
          throw wrong('The archive claims to hold more than can be believed.', entry.name);
        names.push(entry.name);
        return false;
      },
    });
  } catch (error) {
    if (error instanceof Problem) throw error;
    throw wrong(`The archive cannot be read: ${(error as Error).message}.`, 'directory at its end');
  }
  return names.map((name) => ({
    name: basename(name),
    bytes: () =>
      new Promise((resolve, reject) => {
        try {
          resolve(unzipSync(bytes, { filter: (e) => e.name === name })[name]);
        } catch (error) {
          reject(wrong(`The photograph cannot be unpacked: ${(error as Error).message}.`, name));
        }
      }),
  }));
}
