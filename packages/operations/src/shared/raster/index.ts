import sharp, { type Sharp } from 'sharp';
import { type RasterDto } from '@longheron/contract/api';
import { quantileOfSorted } from '@longheron/core/numeric';
import { openFile } from '@longheron/formats/bytes';
import { readTiffPlace, type TiffPlace } from '@longheron/formats/tiff';

export { extremesOf, paintCells } from './paint';

/** Cells of the picture from which the stretch of its values is taken. */
const LOOK_PX = 1024;
/** So many of the darkest and brightest are clipped. */
const TAIL = 0.02;
const MAX_PIXELS = 4e9;

/** Opens a picture of the store; nothing is read before it is asked for. */
export const openPicture = (path: string) => sharp(path, { limitInputPixels: MAX_PIXELS, failOn: 'error' });

/** What a map needs to show a picture; null when it has no place, or cells that are not square. */
export async function rasterContent(path: string, name: string): Promise<RasterDto | null> {
  const source = await openFile(path, name);
  const p = await readTiffPlace(source).finally(() => source.close());
  if (!p.at || Math.abs(p.at.stepX / p.at.stepY - 1) > 1e-6) return null;
  return {
    columns: p.columns,
    rows: p.rows,
    stepM: p.at.stepX,
    westM: p.at.west,
    northM: p.at.north,
    stretch: p.bits === 8 ? null : await stretchOf(path, p),
    noData: p.noData,
  };
}

async function stretchOf(path: string, p: TiffPlace): Promise<[number, number]> {
  const { data } = await openPicture(path)
    .resize({ width: LOOK_PX, height: LOOK_PX, fit: 'inside', withoutEnlargement: true, kernel: 'nearest' })
    .extractChannel(0)
    .raw({ depth: 'float' })
    .toBuffer({ resolveWithObject: true });
  const all = new Float32Array(data.buffer, data.byteOffset, data.byteLength / 4);
  const values = Array.from(all.filter((v) => Number.isFinite(v) && v !== p.noData)).sort((a, b) => a - b);
  if (values.length === 0) return [0, 1];
  const [low, high] = [quantileOfSorted(values, TAIL), quantileOfSorted(values, 1 - TAIL)];
  return high > low ? [low, high] : [low, low + 1];
}

/** Edge of a tile, pixels. */
export const TILE_PX = 256;

/**
 * A square of a picture as PNG, transparent where the picture ends or says that there is nothing.
 * @param zoom 0 shows a cell in a pixel, each step half as fine.
 */
export async function rasterTile(
  path: string,
  r: RasterDto,
  zoom: number,
  column: number,
  row: number,
): Promise<Buffer | null> {
  const span = TILE_PX * 2 ** zoom;
  const [left, top] = [column * span, row * span];
  const width = Math.min(span, r.columns - left);
  const height = Math.min(span, r.rows - top);
  if (left < 0 || top < 0 || width <= 0 || height <= 0) return null;
  const px = (cells: number) => Math.max(1, Math.round(cells / 2 ** zoom));
  const part = openPicture(path)
    .extract({ left, top, width, height })
    .resize({
      width: px(width),
      height: px(height),
      fit: 'fill',
      kernel: zoom === 0 || r.stretch ? 'nearest' : 'linear',
    });
  const [right, bottom] = [TILE_PX - px(width), TILE_PX - px(height)];
  const nothing = { r: 0, g: 0, b: 0, alpha: 0 };
  const whole = (image: Sharp) => image.ensureAlpha().extend({ right, bottom, background: nothing }).png().toBuffer();
  if (!r.stretch) return whole(part.toColourspace('srgb'));
  const { data, info } = await part.extractChannel(0).raw({ depth: 'float' }).toBuffer({ resolveWithObject: true });
  const values = new Float32Array(data.buffer, data.byteOffset, data.byteLength / 4);
  const [low, high] = r.stretch;
  const grey = new Uint8Array(4 * values.length);
  for (let i = 0; i < values.length; i++) {
    const v = values[i];
    if (!Number.isFinite(v) || v === r.noData) continue;
    grey.fill(Math.max(0, Math.min(255, (255 * (v - low)) / (high - low))), 4 * i, 4 * i + 3);
    grey[4 * i + 3] = 255;
  }
  return whole(sharp(grey, { raw: { width: info.width, height: info.height, channels: 4 } }));
}

export * from './heights';
