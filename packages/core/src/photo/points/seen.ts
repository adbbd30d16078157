import { AT, RAY, rayOf } from '../block/ray';
import { type OrientedPicture } from './picture';

/** How what a picture shows of a place changes. */
export interface SeenChanges {
  /** How u and v change with the place, pixels per metre, two rows. */
  byPoint: Float64Array;
  /** How u and v change with the pose: six numbers, two rows. */
  pose: Float64Array;
  /** Variances of u, of both, of v, by what is known of the picture's pose, px². */
  byPose: [number, number, number];
}

/** What a picture shows of a place. */
export interface Seen extends SeenChanges {
  uPx: number;
  vPx: number;
}

/** A place against where a pick has it: seen less computed, pixels, in a panorama along its sphere. */
export interface SeenAs extends SeenChanges {
  duPx: number;
  dvPx: number;
}

const centre = new Float64Array(3);
const rotation = new Float64Array(9);
const point = new Float64Array(3);
const ray = new Float64Array(RAY);

/** Pixel of a place, with its derivatives; undefined behind the camera. @param at in the axes of the block, metres. */
export function seenIn(picture: OrientedPicture, at: ArrayLike<number>): Seen | undefined {
  const { cxPx, cyPx, widthPx, model } = picture.camera;
  // in the middle pixels of a panorama are as wide as they are high: nothing is shortened
  const seen = seenAs(picture, at, cxPx, cyPx);
  if (!seen) return undefined;
  const { duPx, dvPx, ...changes } = seen;
  const u = cxPx - duPx;
  return { uPx: model === 'sphere' && u >= widthPx - 0.5 ? u - widthPx : u, vPx: cyPx - dvPx, ...changes };
}

/** A place as against a pick, with derivatives; undefined behind the camera. @param at in the axes of the block, metres. */
export function seenAs(picture: OrientedPicture, at: ArrayLike<number>, uPx: number, vPx: number): SeenAs | undefined {
  centre.set(picture.centreM);
  rotation.set(picture.rotation);
  point.set([at[0], at[1], at[2]]);
  if (!rayOf(picture.camera, centre, rotation, 0, point, 0, uPx, vPx, ray, 0)) return undefined;
  const sd = [...picture.sdCentreM, picture.sdTurnRad, picture.sdTurnRad, picture.sdTurnRad];
  const byPose: [number, number, number] = [0, 0, 0];
  sd.forEach((s, k) => {
    const [u, v] = [ray[AT.pose + k], ray[AT.pose + 6 + k]];
    byPose[0] += (u * s) ** 2;
    byPose[1] += u * v * s * s;
    byPose[2] += (v * s) ** 2;
  });
  return {
    duPx: ray[0],
    dvPx: ray[1],
    byPoint: ray.slice(AT.point, AT.point + 6),
    pose: ray.slice(AT.pose, AT.pose + 12),
    byPose,
  };
}
