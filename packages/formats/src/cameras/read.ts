import { CAMERA_TERMS, sphereOf, type Camera, type CameraTerm } from '@longheron/core/photo';
import { Problem } from '@longheron/core/shared';
import { decodeText } from '../csv';

/** A camera of a list. */
export interface ListedCamera extends Camera {
  name: string;
  bodySerial?: string;
  lens?: string;
  /** Names of its pictures, where the list says them. */
  images?: string[];
  /** 1 SD of each term; what a maker's figures are good for where the list does not say. */
  sd: { [T in CameraTerm]: number };
}

/** Terms as files name them. */
export const TERM_NAMES: { readonly [T in CameraTerm]: string } = {
  focalPx: 'focal_px',
  cxPx: 'cx_px',
  cyPx: 'cy_px',
  k1: 'k1',
  k2: 'k2',
  k3: 'k3',
  p1: 'p1',
  p2: 'p2',
};

/** Deviations of a camera of which nothing else is said. */
function usualSd(focalPx: number, widthPx: number): { [T in CameraTerm]: number } {
  const middle = 0.01 * widthPx;
  return { focalPx: 0.05 * focalPx, cxPx: middle, cyPx: middle, k1: 0.1, k2: 0.05, k3: 0.05, p1: 0.01, p2: 0.01 };
}

type Json = { readonly [key: string]: unknown };
const isRecord = (v: unknown): v is Json => typeof v === 'object' && v !== null && !Array.isArray(v);
const MOST_PX = 200_000;

/** Reads a list of cameras, docs/formats/cameras.md. @throws Problem that names the member at fault. */
export function readCameras(bytes: Uint8Array, file: string): ListedCamera[] {
  const wrong = (place: string, text: string) =>
    new Problem(text, { code: 'cameras', file, place, remedy: 'See docs/formats/cameras.md for the layout.' });
  let json: unknown;
  try {
    json = JSON.parse(decodeText(bytes, file));
  } catch (error) {
    throw wrong('text', `The file is not valid JSON: ${(error as Error).message}.`);
  }
  if (!isRecord(json) || !isRecord(json.cameras)) throw wrong('top level', 'There is no "cameras" object.');
  const all = Object.entries(json.cameras);
  if (!all.length) throw wrong('cameras', 'The list holds no camera.');
  return all.map(([name, c]) => {
    const at = `cameras.${name}`;
    if (!isRecord(c)) throw wrong(at, `${at} must be an object.`);
    const { model } = c;
    if (model !== undefined && model !== 'frame' && model !== 'sphere')
      throw wrong(
        `${at}.model`,
        `${at} is of the model ${JSON.stringify(model)}; known are "frame" and "sphere", a full panorama.`,
      );
    const number = (key: string, usual?: number) => {
      const v = c[key] ?? usual;
      if (typeof v !== 'number' || !Number.isFinite(v)) throw wrong(`${at}.${key}`, `${at}.${key} must be a number.`);
      return v;
    };
    const size = (key: string) => {
      const v = number(key);
      if (!(v >= 2 && v <= MOST_PX))
        throw wrong(`${at}.${key}`, `${at}.${key} is ${v}; pixels of a picture are meant.`);
      return v;
    };
    const widthPx = Math.round(size('width_px'));
    const heightPx = Math.round(size('height_px'));
    const images = Array.isArray(c.images) ? c.images.filter((i): i is string => typeof i === 'string') : undefined;
    const about = {
      name,
      ...(typeof c.body_serial === 'string' && c.body_serial ? { bodySerial: c.body_serial } : {}),
      ...(typeof c.lens === 'string' && c.lens ? { lens: c.lens } : {}),
      ...(images ? { images } : {}),
    };
    if (model === 'sphere') {
      if (widthPx !== 2 * heightPx)
        throw new Problem(
          `${at} is a full panorama, and yet ${widthPx} × ${heightPx} pixels: all round it is twice as wide as high.`,
          {
            code: 'cameras-sphere',
            file,
            place: `${at}.width_px, height_px`,
            remedy: 'Give panoramas as they were stitched, 360° by 180°, without cutting the top or the bottom off.',
          },
        );
      const sd = Object.fromEntries(CAMERA_TERMS.map((term) => [term, 0])) as ListedCamera['sd'];
      return { ...about, sd, ...sphereOf(widthPx, heightPx) };
    }
    const focalPx = size('focal_px');
    const sd = usualSd(focalPx, widthPx);
    if (c.sd !== undefined && !isRecord(c.sd)) throw wrong(`${at}.sd`, `${at}.sd must be an object.`);
    for (const term of CAMERA_TERMS) {
      const key = TERM_NAMES[term];
      const v = isRecord(c.sd) ? c.sd[key] : undefined;
      if (v === undefined) continue;
      if (typeof v !== 'number' || !(v >= 0) || !Number.isFinite(v))
        throw wrong(`${at}.sd.${key}`, `${at}.sd.${key} must be a number, zero or more.`);
      sd[term] = v;
    }
    return {
      ...about,
      sd,
      widthPx,
      heightPx,
      focalPx,
      cxPx: number('cx_px', (widthPx - 1) / 2),
      cyPx: number('cy_px', (heightPx - 1) / 2),
      k1: number('k1', 0),
      k2: number('k2', 0),
      k3: number('k3', 0),
      p1: number('p1', 0),
      p2: number('p2', 0),
    };
  });
}
