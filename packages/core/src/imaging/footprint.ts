import { rotationFromAngles } from '../frames/attitude';
import { type CameraModel } from '../frames/mounting';

/** Where a camera was and how it was turned, in the plan and heights of a project. */
export interface CameraPose {
  /** Easting, northing, height of the projection centre, metres. */
  xyzM: readonly [number, number, number];
  /** Of the camera's body axes against true north and the vertical, radians. */
  rollRad: number;
  pitchRad: number;
  headingRad: number;
  /** Grid north from true north, clockwise, radians. */
  convergenceRad: number;
}

/** What a photograph shows of flat ground. */
export interface Footprint {
  /** Corners in plan, easting and northing, metres, round the frame: top left, top right, bottom right, bottom left. */
  corners: Array<[number, number]>;
  /** Whether the view reaches further than is drawn, over the horizon or beyond the farthest distance. */
  open: boolean;
  /** From the camera to the ground in the middle of the picture, metres; NaN when it looks above the horizon. */
  slantM: number;
  /** Ground size of a pixel there, across the view, metres; NaN without pixels or ground. */
  groundSampleM: number;
}

/**
 * The part of level ground in a picture of a distortion-free camera. Down-looking cameras have the picture's top ahead,
 * forward-looking ones have it up.
 * @param groundM height of the ground. @param farthestM views that reach further are cut there, in plan.
 * @returns undefined when no corner of the picture sees the ground, or the camera is below it.
 */
export function footprintOf(
  pose: CameraPose,
  camera: CameraModel,
  groundM: number,
  farthestM: number,
): Footprint | undefined {
  const above = pose.xyzM[2] - groundM;
  if (!(above > 0)) return undefined;
  const body = rotationFromAngles(pose.rollRad, pose.pitchRad, pose.headingRad);
  const [w, h] = [camera.sensorMm[0] / 2 / camera.focalLengthMm, camera.sensorMm[1] / 2 / camera.focalLengthMm];
  const [sin, cos] = [Math.sin(pose.convergenceRad), Math.cos(pose.convergenceRad)];
  /** East, north in the grid, down, of a point of the picture: right and up in units of its distance. */
  const ray = (right: number, up: number): [number, number, number] => {
    const v = camera.looks === 'down' ? [up, right, 1] : [1, right, -up];
    const [n, e, d] = [0, 1, 2].map((k) => body[3 * k] * v[0] + body[3 * k + 1] * v[1] + body[3 * k + 2] * v[2]);
    return [e * cos - n * sin, n * cos + e * sin, d];
  };
  let open = false;
  let seen = 0;
  const corners = (
    [
      [-w, h],
      [w, h],
      [w, -h],
      [-w, -h],
    ] as const
  ).map(([right, up]): [number, number] => {
    const [e, n, d] = ray(right, up);
    const flat = Math.hypot(e, n);
    const scale = d > 0 ? above / d : Infinity;
    const far = !(scale * flat <= farthestM);
    if (far) open = true;
    else seen++;
    const s = far ? farthestM / flat : scale;
    return [pose.xyzM[0] + s * e, pose.xyzM[1] + s * n];
  });
  if (seen === 0) return undefined;
  const [e, n, d] = ray(0, 0);
  const slantM = d > 0 ? (above / d) * Math.hypot(e, n, d) : Number.NaN;
  const pixelMm = camera.pixels ? camera.sensorMm[0] / camera.pixels[0] : Number.NaN;
  return { corners, open, slantM, groundSampleM: (slantM * pixelMm) / camera.focalLengthMm };
}
