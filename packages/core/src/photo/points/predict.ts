import { directionOf } from '../camera';
import { type OrientedPicture } from './picture';
import { seenIn } from './seen';

/** An ellipse of one standard deviation, half axes in pixels. */
export interface PixelEllipse {
  majorPx: number;
  minorPx: number;
  /** From the picture's x axis to the major one, towards y (downwards), radians. */
  angleRad: number;
}

export interface Predicted {
  uPx: number;
  vPx: number;
  /** Whether it lies within the frame. */
  inside: boolean;
  ellipse: PixelEllipse;
}

/**
 * Where a place is expected in a picture, and how well that is known from the place and from the picture's pose.
 * @param at in the axes of the block, metres. @param covM2 its covariance, upper half by rows, m².
 * @returns undefined behind the camera, or so far beside the frame that its lens tells nothing.
 */
export function predictIn(
  picture: OrientedPicture,
  at: ArrayLike<number>,
  covM2: ArrayLike<number>,
): Predicted | undefined {
  const { widthPx, heightPx } = picture.camera;
  const seen = seenIn(picture, at);
  if (!seen || Math.hypot(seen.uPx - widthPx / 2, seen.vPx - heightPx / 2) > 2 * Math.hypot(widthPx, heightPx))
    return undefined;
  const { uPx, vPx, byPoint: j, byPose } = seen;
  const c = covM2;
  const full = [c[0], c[1], c[2], c[1], c[3], c[4], c[2], c[4], c[5]];
  const between = (a: number, b: number) => {
    let sum = 0;
    for (let r = 0; r < 3; r++) for (let k = 0; k < 3; k++) sum += j[a + r] * full[3 * r + k] * j[b + k];
    return sum;
  };
  const cov: [number, number, number] = [
    byPose[0] + between(0, 0),
    byPose[1] + between(0, 3),
    byPose[2] + between(3, 3),
  ];
  const inside = uPx >= -0.5 && vPx >= -0.5 && uPx < widthPx - 0.5 && vPx < heightPx - 0.5;
  return { uPx, vPx, inside, ellipse: ellipseOf(cov) };
}

/** The ellipse of a covariance uu, uv, vv. */
export function ellipseOf([uu, uv, vv]: readonly [number, number, number]): PixelEllipse {
  const mean = (uu + vv) / 2;
  const half = Math.hypot((uu - vv) / 2, uv);
  return {
    majorPx: Math.sqrt(Math.max(0, mean + half)),
    minorPx: Math.sqrt(Math.max(0, mean - half)),
    angleRad: half > 0 ? 0.5 * Math.atan2(2 * uv, uu - vv) : 0,
  };
}

/** Steps along a curve that a ray makes in another picture. */
const STEPS = 48;

/**
 * The way along which another picture shows what lies behind a pixel, from near to far: with distortion a curve.
 * @param depthM along the ray, nearest and farthest, metres. In a panorama the way may leave at one edge and come in at the other. @returns places within the other frame, u and v by turns.
 */
export function epipolarIn(
  from: OrientedPicture,
  uPx: number,
  vPx: number,
  to: OrientedPicture,
  [near, far]: readonly [number, number],
): number[] {
  const [x, y, z] = directionOf(from.camera, uPx, vPx);
  const r = from.rotation;
  const way = [0, 1, 2].map((k) => r[3 * k] * x + r[3 * k + 1] * y + r[3 * k + 2] * z);
  const out: number[] = [];
  for (let i = 0; i <= STEPS; i++) {
    // even steps of the inverse of depth are about even in the picture
    const depth = 1 / (1 / near + (i / STEPS) * (1 / far - 1 / near));
    const seen = seenIn(
      to,
      from.centreM.map((c, k) => c + depth * way[k]),
    );
    if (!seen) continue;
    const { widthPx, heightPx } = to.camera;
    if (seen.uPx > -0.5 && seen.vPx > -0.5 && seen.uPx < widthPx && seen.vPx < heightPx) out.push(seen.uPx, seen.vPx);
  }
  return out;
}
