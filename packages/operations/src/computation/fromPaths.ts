import { constants, copyFile, readFile, stat } from 'node:fs/promises';
import { basename } from 'node:path';
import { type Declaration, type Role } from '@longheron/contract/declare';
import { suspectMarks } from '@longheron/core/accuracy';
import { Problem, type Notice, type Watch } from '@longheron/core/shared';
import { type Photo } from '@longheron/core/trajectory';
import { hashFile } from '@longheron/formats/bytes';
import { readExif } from '@longheron/formats/exif';
import { LasFile } from '@longheron/formats/las';
import { exifOf, openPhotoSet } from '@longheron/formats/photo-set';
import { formatId, openAs, recogniseFile } from '@longheron/formats/registry';
import { loadCloud, systemOfHeader } from '../shared/cloud';
import { heightsOf } from '../shared/raster';
import { type Store } from '../shared/store';
import { cloudOf, storeCloud, type EditedCloud } from '../shared/stored';
import {
  type InputsOf,
  type OpenedCloud,
  type OpenedFile,
  type OpenedMarks,
  type OpenedMounting,
  type OpenedPhotos,
  type OpenedSurface,
} from './types';

/** Files given by path, opened by kind; what is found while opening is added to `findings`. */
interface Surroundings {
  store: Store;
  /** System of files that name none. */
  crs?: string;
  findings: Notice[];
}

async function marksFromPath(path: string, { findings }: Surroundings): Promise<OpenedMarks> {
  const name = basename(path);
  const read = await openAs('marks', path, name);
  findings.push(...suspectMarks(read.marks, name));
  return { name, path, marks: read.marks, crs: read.crs ?? null };
}

async function mountingFromPath(path: string): Promise<OpenedMounting> {
  const name = basename(path);
  return { name, path, mounting: await openAs('mounting', path, name) };
}

/** A list of photographs, or JPEG files and folders of them, as one. */
async function photosFromPaths(paths: readonly string[]): Promise<OpenedPhotos> {
  const photos: Photo[] = [];
  for (const path of paths) {
    const found = await stat(path).catch(() => undefined);
    if (!found)
      throw new Problem('There is no such file.', { code: 'file-open', file: path, remedy: 'Check the path.' });
    if (!found.isDirectory() && !/\.jpe?g$/i.test(path)) {
      photos.push(...(await openAs('photos', path, basename(path))));
      continue;
    }
    if (found.isDirectory())
      for (const photo of await openPhotoSet(path))
        photos.push({ name: photo.name, takenS: (await exifOf(photo))?.takenS ?? Number.NaN });
    else photos.push({ name: basename(path), takenS: readExif(await readFile(path))?.takenS ?? Number.NaN });
  }
  return { name: paths.map((p) => basename(p)).join(', '), path: paths[0], photos };
}

/** The system that a cloud's file names; '' when it names none, or is no LAS. */
async function systemNamed(path: string): Promise<string> {
  const format = await recogniseFile(path);
  if (format && formatId(format) !== 'las') return '';
  const file = await LasFile.openPath(path);
  try {
    return systemOfHeader(file.header, basename(path), [])?.label ?? '';
  } finally {
    await file.close();
  }
}

async function cloudFromPath(path: string, { store, crs, findings }: Surroundings): Promise<OpenedCloud> {
  let kept: Promise<EditedCloud> | undefined;
  const keep = (watch?: Watch) =>
    (kept ??= (async () => {
      const { sha256: las } = await linked(store, path);
      return { las, ...(await storeCloud(store, las, watch)) };
    })());
  return {
    name: basename(path),
    crs: crs ?? (await systemNamed(path)),
    las: () => Promise.resolve(path),
    load: async (watch) => {
      const cloud = await loadCloud(path, crs, watch);
      findings.push(...cloud.notices);
      return cloud;
    },
    stored: async (watch) => cloudOf(store, await keep(watch)),
    order: async () => store.path((await keep()).order),
  };
}

/** A GeoTIFF of heights. */
function surfaceFromPath(path: string, { crs }: Surroundings): OpenedSurface {
  const name = basename(path);
  return { name, heights: () => heightsOf(path, name, crs) };
}

/** A file of the person's as an object of the throw-away store: the file itself stays where and as it is. */
async function linked(store: Store, path: string) {
  return store.file((to) => copyFile(path, to, constants.COPYFILE_FICLONE), 'las');
}

async function open(kind: Role['kind'], path: string, around: Surroundings): Promise<unknown> {
  if (kind === 'point-cloud') return cloudFromPath(path, around);
  if (kind === 'marks') return marksFromPath(path, around);
  if (kind === 'mounting') return mountingFromPath(path);
  if (kind === 'surface' || kind === 'depths') return surfaceFromPath(path, around);
  return { name: basename(path), path } satisfies OpenedFile;
}

/** Opens files given by path, role by role, and says what each is by its hash. */
export async function openPaths(
  declaration: Declaration,
  paths: { readonly [role: string]: readonly string[] },
  around: Surroundings,
): Promise<{ inputs: InputsOf<Declaration>; hashed: Array<{ path: string; sha256: string; bytes: number }> }> {
  const inputs: { [role: string]: unknown } = {};
  const hashed = [];
  for (const [role, { kind, several, none }] of Object.entries(declaration.roles)) {
    const given = paths[role] ?? [];
    if (given.length === 0 && none === undefined)
      throw new Problem(`${declaration.roles[role].label}: no file was named.`, {
        code: 'option',
        remedy: 'See --help.',
      });
    for (const path of given)
      if (!(await stat(path).catch(() => undefined))?.isDirectory()) hashed.push({ path, ...(await hashFile(path)) });
    if (kind === 'photos') inputs[role] = given.length ? await photosFromPaths(given) : undefined;
    else {
      const opened = [];
      for (const path of given) opened.push(await open(kind, path, around));
      inputs[role] = several ? opened : opened[0];
    }
  }
  // each was opened by the kind that its role declares
  return { inputs: inputs as InputsOf<Declaration>, hashed };
}
