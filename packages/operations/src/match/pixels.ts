import { type Camera, type OrientedPicture } from '@longheron/core/photo';
import { type PhotoFile } from '@longheron/formats/photo-set';
import { imageKey } from '@longheron/formats/picks';
import { readPixels } from '../shared/photographs';

/** Bytes of decoded photographs that are kept. */
const KEPT_BYTES = 4e8;

/** Decoded photographs, those used last kept; so many pixels along each side taken as one. */
export class Pixels {
  private readonly files: Map<string, PhotoFile>;
  private readonly kept = new Map<string, Uint8Array>();
  /** Cameras as their pictures have them, by the picture. */
  private readonly whole = new Map<string, Camera>();

  constructor(
    photos: readonly PhotoFile[],
    private readonly by: number,
  ) {
    this.files = new Map(photos.map((p) => [imageKey(p.name), p]));
  }

  /** A picture with pixels so much larger. */
  shrunk(picture: OrientedPicture): OrientedPicture {
    const { camera } = picture;
    this.whole.set(picture.name, camera);
    if (this.by === 1) return picture;
    const { by } = this;
    return {
      ...picture,
      camera: {
        ...camera,
        widthPx: Math.floor(camera.widthPx / by),
        heightPx: Math.floor(camera.heightPx / by),
        focalPx: camera.focalPx / by,
        cxPx: (camera.cxPx + 0.5) / by - 0.5,
        cyPx: (camera.cyPx + 0.5) / by - 0.5,
      },
    };
  }

  /** Three bytes a pixel of a picture that was made smaller here. @throws Problem for one that cannot be read. */
  async of({ name }: OrientedPicture): Promise<Uint8Array> {
    const known = this.kept.get(name);
    if (known) {
      this.kept.delete(name);
      this.kept.set(name, known);
      return known;
    }
    const camera = this.whole.get(name)!;
    const read = await readPixels(this.files.get(imageKey(name))!, { ...camera, name: `camera of ${name}` }, 'rgb');
    const bytes = this.by === 1 ? read.bytes : shrink(read.bytes, read.widthPx, read.heightPx, this.by);
    this.kept.set(name, bytes);
    let sum = 0;
    for (const b of this.kept.values()) sum += b.length;
    for (const [key, b] of this.kept) {
      if (sum <= KEPT_BYTES || this.kept.size <= 2) break;
      this.kept.delete(key);
      sum -= b.length;
    }
    return bytes;
  }
}

/** Means of squares of pixels. */
export function shrink(rgb: Uint8Array, widthPx: number, heightPx: number, by: number): Uint8Array {
  const [columns, rows] = [Math.floor(widthPx / by), Math.floor(heightPx / by)];
  const out = new Uint8Array(3 * columns * rows);
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++)
      for (let k = 0; k < 3; k++) {
        let sum = 0;
        for (let j = 0; j < by; j++)
          for (let i = 0; i < by; i++) sum += rgb[3 * ((r * by + j) * widthPx + c * by + i) + k];
        out[3 * (r * columns + c) + k] = Math.round(sum / (by * by));
      }
  return out;
}
