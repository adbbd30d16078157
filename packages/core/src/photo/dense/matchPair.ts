import { censusOf, costsOf, type MatchPart } from './census';
import { labelsOf } from './labels';
import { type RectifiedImage, type RectifiedPair } from './rectify';
import { aggregate } from './semiGlobal';

/** Labels of all pixels that are held at once. */
const MOST_COSTS = 40e6;
/** Rows on both sides of a band that are worked on and not used: paths come from there. */
const MARGIN_ROWS = 24;
/** A pixel has no more labels than this. */
export const MOST_LABELS = 400;

/** Least and largest distance of columns between two depths, pixels. @returns undefined for more than can be told apart at once. */
export function labelRange(
  { focalPx, baseM }: RectifiedPair,
  [near, far]: readonly [number, number],
): { least: number; count: number } | undefined {
  const least = Math.floor((focalPx * baseM) / far) - 1;
  const count = Math.ceil((focalPx * baseM) / near) + 1 - least + 1;
  return count > 2 && count <= MOST_LABELS ? { least, count } : undefined;
}

/** What a pair tells of the pixels of its first picture. */
export interface Depths {
  /** Along the view, metres; NaN where none is sure. */
  depthM: Float32Array;
  /** Grade of each, see {@link Labels}. */
  grade: Uint8Array;
}

/**
 * Depths of the pixels of a pair's first picture.
 * @param depthsM between which things lie. @param each called after each part, with the share done.
 */
export function matchPair(
  pair: RectifiedPair,
  first: RectifiedImage,
  second: RectifiedImage,
  depthsM: readonly [number, number],
  each: (share: number) => void = () => undefined,
): Depths {
  const { columns, rows } = first;
  const out = new Float32Array(columns * rows).fill(Number.NaN);
  const grade = new Uint8Array(columns * rows);
  const range = labelRange(pair, depthsM);
  if (!range) return { depthM: out, grade };
  const census = [first, second].map((i) => censusOf(i.grey, i.columns, i.rows));
  const { least, count: labels } = range;
  const shift = pair.first.left - pair.second.left - least;
  const band = Math.max(4 * MARGIN_ROWS, Math.floor(MOST_COSTS / (columns * labels)));
  const step = band - 2 * MARGIN_ROWS;
  for (let from = 0; from < rows; from += step) {
    const top = Math.max(0, from - MARGIN_ROWS);
    const bottom = Math.min(rows, from + step + MARGIN_ROWS);
    const part: MatchPart = { columns, rows: bottom - top, labels, shift, secondColumns: second.columns };
    const of = (image: RectifiedImage, k: number) => ({
      census: census[k].subarray(2 * top * image.columns, 2 * bottom * image.columns),
      inside: image.inside.subarray(top * image.columns, bottom * image.columns),
    });
    const a = of(first, 0);
    const costs = costsOf(a, of(second, 1), part);
    const sums = aggregate(costs, first.grey.subarray(top * columns, bottom * columns), columns, part.rows, labels);
    const field = labelsOf(sums, part, a.inside);
    const end = Math.min(rows, from + step);
    for (let k = from * columns; k < end * columns; k++)
      out[k] = (pair.focalPx * pair.baseM) / (least + field.label[k - top * columns]);
    grade.set(field.grade.subarray((from - top) * columns, (end - top) * columns), from * columns);
    each(end / rows);
  }
  return { depthM: out, grade };
}
