import { type Matrix3, type Vector3 } from '../../numeric/matrix3';
import { type Camera } from '../camera';

/** A picture of an adjusted block, in the Cartesian axes of that block. */
export interface OrientedPicture {
  name: string;
  camera: Camera;
  centreM: Vector3;
  /** Camera axes (x right and y down in the picture, z along the view) into those of the block. */
  rotation: Matrix3;
  /** 1 SD of the centre along the axes of the block, and of the turn about each axis of the camera. */
  sdCentreM: Vector3;
  sdTurnRad: number;
}

/**
 * Covariance of the poses of two pictures, 6 × 6 by rows: shifts of the centre along the axes of the block, then turns about
 * the axes of the camera; undefined where it is not known, and counts as none between two pictures.
 */
export type PoseCovariance = (a: OrientedPicture, b: OrientedPicture) => ArrayLike<number> | undefined;

/** Where a point is seen in a picture. */
export interface PictureRay {
  picture: OrientedPicture;
  uPx: number;
  vPx: number;
  /** 1 SD of u, and of v. */
  sdPx: number;
}
