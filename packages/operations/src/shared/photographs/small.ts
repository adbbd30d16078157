import sharp from 'sharp';
import { Problem } from '@longheron/core/shared';
import { openPhotoSet } from '@longheron/formats/photo-set';

/** A photograph claims no more pixels than this. */
const MOST_PIXELS = 4e8;

/**
 * A photograph of a set as JPEG: as it is, or a small one to be looked at; never turned, whatever its orientation tag says.
 * @param edgePx of the small one's longer side. @throws Problem for what is not there or cannot be decoded.
 */
export async function photographOf(
  path: string,
  set: string,
  name: string,
  edgePx: number | undefined,
): Promise<Uint8Array> {
  const photo = (await openPhotoSet(path, set)).find((p) => p.name === name);
  if (!photo)
    throw new Problem(`There is no photograph ${name} in ${set}.`, {
      code: 'photo-name',
      file: set,
      place: name,
      remedy: 'Choose one of the list.',
    });
  const bytes = await photo.bytes();
  if (edgePx === undefined) return bytes;
  return sharp(bytes, { failOn: 'error', limitInputPixels: MOST_PIXELS })
    .resize(edgePx, edgePx, { fit: 'inside', withoutEnlargement: true })
    .jpeg({ quality: 80 })
    .toBuffer()
    .catch((error: Error) => {
      throw new Problem(`The photograph cannot be decoded: ${error.message}.`, {
        code: 'picture',
        file: name,
        place: 'image',
        remedy: 'Copy it again from its origin, or leave it out.',
      });
    });
}
