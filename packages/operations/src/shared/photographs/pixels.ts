import sharp from 'sharp';
import { Problem } from '@longheron/core/shared';
import { type PhotoFile } from '@longheron/formats/photo-set';

/** A picture claims no more pixels than this. */
const MOST_PIXELS = 4e8;

/** A decoded photograph, row by row from its upper left corner as the camera wrote it, whatever its orientation tag says. */
export interface Decoded {
  widthPx: number;
  heightPx: number;
  /** Three bytes a pixel, or one of a grey one. */
  bytes: Uint8Array;
}

/**
 * Decodes a photograph in colours or in grey.
 * @throws Problem for one that was cut off, claims too much, or has another size than its camera.
 */
export async function readPixels(
  photo: PhotoFile,
  camera: { name: string; widthPx: number; heightPx: number },
  colours: 'rgb' | 'grey',
): Promise<Decoded> {
  const wrong = (text: string, remedy: string) =>
    new Problem(text, { code: 'picture', file: photo.name, place: 'image', remedy });
  const cannot = (error: Error) => {
    throw wrong(
      `The photograph cannot be decoded: ${error.message}.`,
      'Copy it again from its origin, or leave it out.',
    );
  };
  const bytes = await photo.bytes();
  const options = { failOn: 'error', limitInputPixels: MOST_PIXELS } as const;
  // the size stands at the beginning: nothing is unpacked that does not fit
  const { width, height } = await sharp(bytes, options).metadata().catch(cannot);
  if (width !== camera.widthPx || height !== camera.heightPx)
    throw wrong(
      `The photograph has ${width} × ${height} pixels, its camera "${camera.name}" ${camera.widthPx} × ${camera.heightPx}.`,
      'Choose the photographs as the camera wrote them, or the camera that took them.',
    );
  const image = sharp(bytes, options).removeAlpha();
  const raw = await (colours === 'grey' ? image.greyscale() : image.toColourspace('srgb'))
    .raw()
    .toBuffer({ resolveWithObject: true })
    .catch(cannot);
  const wanted = colours === 'grey' ? 1 : 3;
  if (raw.info.channels !== wanted)
    throw wrong(
      `The photograph has ${raw.info.channels} channels; ${wanted} are needed.`,
      'Write it as a colour JPEG.',
    );
  return { widthPx: width, heightPx: height, bytes: new Uint8Array(raw.data) };
}
