import { api } from '../../../api/client';
import { type PhotographDto } from '@longheron/contract/api';

/** Pictures that are kept decoded. */
const KEPT = 6;
const decoded = new Map<string, Promise<ImageBitmap>>();
const lists = new Map<string, Promise<PhotographDto[]>>();

/** Address of a photograph of a set; with an edge that of a small one. */
export const photographPath = (project: number, set: number, name: string, edgePx?: number) =>
  `/api/projects/${project}/datasets/${set}/photographs/${encodeURIComponent(name)}${edgePx ? `?edge=${edgePx}` : ''}`;

/** A photograph as the camera wrote it, whatever its orientation tag says; the last ones stay decoded. */
export function photographAt(path: string): Promise<ImageBitmap> {
  const known = decoded.get(path) ?? load(path);
  decoded.delete(path);
  decoded.set(path, known);
  known.catch(() => decoded.delete(path));
  if (decoded.size > KEPT) {
    const [first] = decoded.keys();
    void decoded
      .get(first)!
      .then((b) => b.close())
      .catch(() => undefined);
    decoded.delete(first);
  }
  return known;
}

async function load(path: string): Promise<ImageBitmap> {
  const response = await fetch(path);
  if (!response.ok) {
    const problem = (await response.json().catch(() => ({}))) as { title?: string; remedy?: string };
    throw new Error(
      [problem.title ?? `The server answered ${response.status}.`, problem.remedy].filter(Boolean).join(' '),
    );
  }
  return createImageBitmap(await response.blob(), { imageOrientation: 'none' });
}

/** What the photographs of a set say of themselves; read once. */
export function photographsOf(project: number, set: number): Promise<PhotographDto[]> {
  const path = `/projects/${project}/datasets/${set}/photographs`;
  const known = lists.get(path) ?? api.get<PhotographDto[]>(path);
  lists.set(path, known);
  known.catch(() => lists.delete(path));
  return known;
}

/** Brightness of a part of a picture, for finding the centre of a target. */
export function greyOf(picture: ImageBitmap, u: number, v: number, halfPx: number) {
  const x0 = Math.max(0, Math.floor(u - halfPx));
  const y0 = Math.max(0, Math.floor(v - halfPx));
  const widthPx = Math.min(picture.width, Math.ceil(u + halfPx)) - x0;
  const heightPx = Math.min(picture.height, Math.ceil(v + halfPx)) - y0;
  if (widthPx < 8 || heightPx < 8) return undefined;
  const canvas = new OffscreenCanvas(widthPx, heightPx);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.drawImage(picture, -x0, -y0);
  const { data } = context.getImageData(0, 0, widthPx, heightPx);
  const grey = new Float64Array(widthPx * heightPx);
  for (let k = 0; k < grey.length; k++)
    grey[k] = 0.299 * data[4 * k] + 0.587 * data[4 * k + 1] + 0.114 * data[4 * k + 2];
  return { x0, y0, widthPx, heightPx, grey };
}
