import { Problem } from '@longheron/core/shared';
import { openPhotoSet, type PhotoFile } from '@longheron/formats/photo-set';
import { imageKey } from '@longheron/formats/picks';

/** Photographs of one or several sets, those of a set together, and the names of the sets. */
export interface OpenedSets {
  photos: PhotoFile[];
  /** For each photograph which set it is of. */
  set: number[];
  names: string[];
}

/** Opens sets of photographs as one. @throws Problem for a name that two of them have: picks and positions know pictures by it. */
export async function openPhotoSets(files: ReadonlyArray<{ path: string; name: string }>): Promise<OpenedSets> {
  const out: OpenedSets = { photos: [], set: [], names: files.map((f) => f.name) };
  const taken = new Map<string, number>();
  const twice: Array<[string, number, number]> = [];
  for (const [k, { path, name }] of files.entries())
    for (const photo of await openPhotoSet(path, name)) {
      const key = imageKey(photo.name);
      const other = taken.get(key);
      if (other !== undefined && other !== k) twice.push([photo.name, other, k]);
      taken.set(key, k);
      out.photos.push(photo);
      out.set.push(k);
    }
  if (!twice.length) return out;
  const [[name, a, b]] = twice;
  throw new Problem(
    `${name} is in ${out.names[a]} and in ${out.names[b]}${twice.length > 1 ? `, and so are ${twice.length - 1} more` : ''}.`,
    {
      code: 'photos-doubled',
      file: out.names[b],
      place: name,
      remedy:
        'Leave one of the sets out if they hold the same photographs; else give those of each flight names of their own.',
    },
  );
}
