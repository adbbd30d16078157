import { echoKind, type EchoKind } from '@longheron/core/cloud';
import { sample, STRIP_COLOURS } from '../ui/colour';
import { classColour, type Colouring } from '../views3d/colouring';
import { scaleColours } from '../views3d/pointMaterial';
import { REJECTED_BIT, SELECTED_BIT } from '../views3d/selecting';
import { type Slice } from './cut';

/** How section metres become pixels. */
export interface Frame {
  left: number;
  top: number;
  width: number;
  height: number;
  lengthM: number;
  lowM: number;
  highM: number;
}

export const xOf = (f: Frame, alongM: number) => f.left + (alongM / f.lengthM) * f.width;
export const yOf = (f: Frame, heightM: number) => f.top + ((f.highM - heightM) / (f.highM - f.lowM)) * f.height;
export const alongAt = (f: Frame, x: number) => ((x - f.left) / f.width) * f.lengthM;
export const heightAt = (f: Frame, y: number) => f.highM - ((y - f.top) / f.height) * (f.highM - f.lowM);

/** How much taller heights are drawn than lengths. */
export const exaggerationOf = (f: Frame) => f.height / (f.highM - f.lowM) / (f.width / f.lengthM);

/** Farther above the points nothing is shown beside them, metres. */
const MAX_ABOVE_M = 6;

/**
 * The heights to show. With no exaggeration given they fill the picture between the 1st and 99th percentile; else
 * they are centred on the median.
 * @param also heights that are shown too, where they are not far above.
 */
export function frameFor(
  slice: Slice,
  lengthM: number,
  area: { left: number; top: number; width: number; height: number },
  exaggeration: number,
  also: number[] = [],
): Frame {
  const sorted = Float32Array.from(slice.heightM).sort();
  const at = (q: number) => sorted[Math.min(sorted.length - 1, Math.floor(q * sorted.length))] ?? 0;
  let lowM = at(0.01);
  let highM = at(0.99);
  // the path of the vehicle is shown with its points, that of an aircraft is not
  for (const h of also) if (h > highM && h - highM < MAX_ABOVE_M) highM = h;
  if (exaggeration > 0) {
    const span = (area.height / area.width) * (lengthM / exaggeration);
    // stand on the low side: ground is what sections are looked at for
    lowM = at(0.01) - span * 0.12;
    highM = lowM + span;
  } else {
    const pad = Math.max(0.25, (highM - lowM) * 0.08);
    lowM -= pad;
    highM += pad;
  }
  return { ...area, lengthM, lowM, highM };
}

const rgba = (hex: string) =>
  (255 << 24) |
  (parseInt(hex.slice(5, 7), 16) << 16) |
  (parseInt(hex.slice(3, 5), 16) << 8) |
  parseInt(hex.slice(1, 3), 16);

const hex2 = (r: number, g: number, b: number) => (255 << 24) | (b << 16) | (g << 8) | r;
/** Single, first, between, last: as in the cloud view. */
const ECHO_COLOURS: Record<EchoKind, number> = {
  single: rgba('#9eadb3'),
  first: rgba('#5ca6db'),
  between: rgba('#e0a13d'),
  last: rgba('#b880d4'),
};

/**
 * Colour of each point as 32-bit pixels.
 * @param values of colourings with a scale, in the unit of its limits.
 */
export function pointColours(
  slice: Slice,
  colouring: Colouring,
  limits: [number, number],
  values: ArrayLike<number> | undefined,
): Int32Array {
  const out = new Int32Array(slice.count);
  if (values) {
    const scale = scaleColours(colouring);
    const table = Array.from({ length: 256 }, (_, i) => hex2(...sample(scale, i / 255)));
    const span = Math.max(1e-9, limits[1] - limits[0]);
    for (let i = 0; i < slice.count; i++)
      out[i] = table[Math.max(0, Math.min(255, Math.round(((values[i] - limits[0]) / span) * 255)))];
    return out;
  }
  if (colouring === 'strip') {
    const table = STRIP_COLOURS.map(rgba);
    for (let i = 0; i < slice.count; i++) out[i] = table[slice.strip[i] % table.length];
  } else if (colouring === 'true')
    for (let i = 0; i < slice.count; i++)
      out[i] = hex2(slice.colour[3 * i], slice.colour[3 * i + 1], slice.colour[3 * i + 2]);
  else if (colouring === 'echo')
    for (let i = 0; i < slice.count; i++) out[i] = ECHO_COLOURS[echoKind(slice.echo[i], slice.echoes[i])];
  else {
    const table = Array.from({ length: 256 }, (_, c) => rgba(classColour(c)));
    for (let i = 0; i < slice.count; i++) out[i] = table[slice.cls[i]];
  }
  return out;
}

/** Colour of what is selected, and of what is rejected where that is shown. */
const SELECTED = rgba('#ff6fb0');
const REJECTED = rgba('#a8402e');

/** Draws the points as dots of two pixels into an image. @param hidden classes not drawn. @param filtered 1 for points not drawn. */
export function drawPoints(
  image: ImageData,
  frame: Frame,
  ratio: number,
  slice: Slice,
  colours: Int32Array,
  hidden: ReadonlySet<number>,
  rejected: 'hidden' | 'shown' | 'only',
  filtered?: Uint8Array,
): number {
  const pixels = new Int32Array(image.data.buffer);
  const { width, height } = image;
  const sx = (frame.width / frame.lengthM) * ratio;
  const sy = (frame.height / (frame.highM - frame.lowM)) * ratio;
  const left = frame.left * ratio;
  const top = frame.top * ratio;
  const right = Math.min(width - 1, Math.floor(left + frame.width * ratio));
  const bottom = Math.min(height - 1, Math.floor(top + frame.height * ratio));
  let shown = 0;
  for (let i = 0; i < slice.count; i++) {
    if (filtered?.[i]) continue;
    const out = slice.flags[i] & REJECTED_BIT;
    if (hidden.has(slice.cls[i]) || (rejected !== 'shown' && (rejected === 'only') !== (out !== 0))) continue;
    shown++;
    const x = Math.round(left + slice.alongM[i] * sx);
    const y = Math.round(top + (frame.highM - slice.heightM[i]) * sy);
    if (x < left || x >= right || y < top || y >= bottom) continue;
    const o = y * width + x;
    pixels[o] =
      pixels[o + 1] =
      pixels[o + width] =
      pixels[o + width + 1] =
        slice.flags[i] & SELECTED_BIT ? SELECTED : out ? REJECTED : colours[i];
  }
  return shown;
}

/** Round steps for an axis with at most `most` marks. */
export function axisStep(span: number, most: number): number {
  const raw = span / most;
  const power = 10 ** Math.floor(Math.log10(raw));
  return [1, 2, 5, 10].map((m) => m * power).find((s) => s >= raw)!;
}
