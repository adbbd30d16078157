import { KIND } from '../objects';
import { ROAD_HALF_WIDTH_M, roadCentreX, SITE_WIDTH_M } from '../terrain';
import { targetBrightness } from '../marks/targets';

/** Stand beside the kinds of objects. */
export const WATER = 200;
export const SKY = 201;

/** Colours of surfaces, red, green, blue. */
const COLOURS: { readonly [kind: number]: readonly [number, number, number] } = {
  [KIND.meadow]: [104, 128, 62],
  [KIND.road]: [72, 73, 76],
  [KIND.kerb]: [158, 156, 150],
  [KIND.slab]: [150, 146, 138],
  [KIND.grass]: [122, 146, 74],
  [KIND.footway]: [128, 122, 116],
  [KIND.building]: [142, 74, 58],
  [KIND.pole]: [170, 170, 168],
  [KIND.vegetation]: [52, 84, 40],
  [KIND.heap]: [168, 150, 118],
  [KIND.bridge]: [136, 138, 142],
  [WATER]: [44, 66, 74],
  [SKY]: [186, 204, 222],
};

/** A number from 0 to 1 for a point of a lattice. */
export function lattice(i: number, j: number): number {
  let h = Math.imul(i, 0x27d4eb2d) ^ Math.imul(j, 0x165667b1);
  h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d);
  return ((h ^ (h >>> 13)) >>> 0) / 4294967296;
}

/** Soft noise with a wave length, about 0 with a size of 1. */
function noise(x: number, y: number, waveM: number): number {
  const u = x / waveM;
  const v = y / waveM;
  const i = Math.floor(u);
  const j = Math.floor(v);
  const a = u - i;
  const b = v - j;
  const p = a * a * (3 - 2 * a);
  const q = b * b * (3 - 2 * b);
  return (
    2 *
      ((1 - q) * ((1 - p) * lattice(i, j) + p * lattice(i + 1, j)) +
        q * ((1 - p) * lattice(i, j + 1) + p * lattice(i + 1, j + 1))) -
    1
  );
}

/** Brightness of a place among others of its kind: patches, and grain as fine as six centimetres. */
function textureAt(x: number, y: number, kind: number): number {
  const rough = kind === KIND.road || kind === KIND.slab || kind === KIND.bridge ? 0.5 : 1;
  return 1 + rough * (0.14 * noise(x, y, 9) + 0.12 * noise(x + 40, y, 1.6) + 0.1 * noise(x, y + 70, 0.3));
}

/**
 * Writes the colour of a place into a picture. @param z how far its texture is carried upwards: 0 for ground and what is
 * seen from above, heights for walls. @param grain 0 to 1, the sensor's.
 */
export function shade(out: Uint8Array, at: number, x: number, y: number, z: number, kind: number, grain: number): void {
  const base = COLOURS[kind] ?? [128, 128, 128];
  let light = textureAt(x + 0.7 * z, y - 1.3 * z, kind) * (0.985 + 0.03 * grain);
  if (kind === WATER || kind === SKY) light = 0.97 + 0.06 * grain;
  if (kind === KIND.road) {
    const u = Math.abs(x - roadCentreX(y));
    if ((u < 0.06 && y % 12 < 6) || Math.abs(u - ROAD_HALF_WIDTH_M + 0.25) < 0.06) light *= 2.6;
  }
  const target = kind <= KIND.footway && x > 0 && x < SITE_WIDTH_M ? targetBrightness(x, y) : undefined;
  for (let k = 0; k < 3; k++) {
    const v = target === undefined ? base[k] * light : 250 * target;
    out[at + k] = v > 255 ? 255 : v;
  }
}
