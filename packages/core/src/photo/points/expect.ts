import { intersectRays } from './intersect';
import { type OrientedPicture, type PoseCovariance } from './picture';
import { seenIn } from './seen';

/** What a block would know of a place, were it picked in the photographs that see it. */
export interface Expected {
  /** Photographs that see it. */
  pictures: number;
  /** Covariance of the place, upper half by rows, m²; undefined where they do not tell it. */
  covM2: Float64Array | undefined;
}

/** More photographs than this add little to a place. */
const ENOUGH = 10;

/**
 * What is to be expected of a place on the ground before anything is measured there: overlap and deviations, by where the
 * photographs are and how well their poses are known. What stands before the place is not considered.
 * @param at in the axes of the block, metres. @param sdPx of a pick.
 */
export function expectedAt(
  pictures: readonly OrientedPicture[],
  at: readonly [number, number, number],
  sdPx: number,
  between?: PoseCovariance,
): Expected {
  const rays = pictures.flatMap((picture) => {
    const seen = seenIn(picture, at);
    const { widthPx, heightPx } = picture.camera;
    const inside = seen && seen.uPx > -0.5 && seen.vPx > -0.5 && seen.uPx < widthPx - 0.5 && seen.vPx < heightPx - 0.5;
    return inside ? [{ picture, uPx: seen.uPx, vPx: seen.vPx, sdPx }] : [];
  });
  // of many every so manyth: they come in the order of their lines, so that all sides are kept
  const step = Math.max(1, rays.length / ENOUGH);
  const some = Array.from({ length: Math.min(rays.length, ENOUGH) }, (_, k) => rays[Math.floor(k * step)]);
  return { pictures: rays.length, covM2: intersectRays(some, between)?.covM2 };
}
