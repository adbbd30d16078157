import { type Matrix3, type Vector3 } from '../../numeric/matrix3';
import { type Camera } from '../camera';

/** Terms of a camera that an adjustment may find, in their order. */
export const CAMERA_TERMS = ['focalPx', 'cxPx', 'cyPx', 'k1', 'k2', 'k3', 'p1', 'p2'] as const;
export type CameraTerm = (typeof CAMERA_TERMS)[number];
export const TERMS = CAMERA_TERMS.length;

/** A camera as it is known beforehand. */
export interface BlockCamera {
  name: string;
  camera: Camera;
  /** How well each term is known, 1 SD. */
  sd: { [T in CameraTerm]: number };
}

/** Where a picture is said to have been taken, in the axes of the block. */
export interface GivenPlace {
  placeM: Vector3;
  /** 1 SD along the axes of the block. */
  sdM: Vector3;
  /** From the point that the place is of to the projection centre, in the axes of the camera; none: it is that centre. */
  armM?: Vector3;
  /** Pictures of one session share a shift that is found; none: there is no shift. */
  session?: number;
}

/** A picture of a block. Start values are near enough that rays meet roughly. */
export interface BlockImage {
  name: string;
  /** Index of its camera. */
  camera: number;
  /** Projection centre, in the axes of the block. */
  centreM: Vector3;
  /** Camera axes (x right and y down in the picture, z along the view) into those of the block. */
  rotation: Matrix3;
  given?: GivenPlace;
}

/** A point that is seen in pictures. */
export interface BlockPoint {
  name: string;
  /** What it is for: only control has a say. */
  kind: 'control' | 'check' | 'tie';
  /** Surveyed place and its deviations along the axes of the block. */
  givenM?: Vector3;
  sdM?: Vector3;
}

/** Where points are seen in pictures. */
export interface Rays {
  count: number;
  image: Int32Array;
  point: Int32Array;
  uPx: Float64Array;
  vPx: Float64Array;
  /** 1 SD of u, and of v. */
  sdPx: Float64Array;
  /** Rays of one group are alike: how well they are known is judged by group; without it all are one. */
  group?: Uint8Array;
}

/** A taped distance between two points. */
export interface BlockDistance {
  from: number;
  to: number;
  valueM: number;
  sdM: number;
  /** A scale enters; a check is compared. */
  use: 'scale' | 'check';
}

/** A whole block, in the Cartesian axes of a local level or of its own. */
export interface Block {
  cameras: readonly BlockCamera[];
  images: readonly BlockImage[];
  points: readonly BlockPoint[];
  rays: Rays;
  distances: readonly BlockDistance[];
}

/** What is being improved: poses, points, cameras, shifts of sessions. */
export interface BlockState {
  cameras: Camera[];
  centres: Float64Array;
  /** Nine numbers a picture. */
  rotations: Float64Array;
  /** NaN where a point is not known. */
  points: Float64Array;
  /** Three numbers a session. */
  shifts: Float64Array;
}

/** Start values of a block; points still unknown. */
export function startOf(block: Block): BlockState {
  const sessions = block.images.reduce((n, i) => Math.max(n, 1 + (i.given?.session ?? -1)), 0);
  const rotations = new Float64Array(9 * block.images.length);
  block.images.forEach((image, k) => rotations.set(image.rotation, 9 * k));
  return {
    cameras: block.cameras.map((c) => ({ ...c.camera })),
    centres: Float64Array.from(block.images.flatMap((i) => i.centreM)),
    rotations,
    points: new Float64Array(3 * block.points.length).fill(Number.NaN),
    shifts: new Float64Array(3 * sessions),
  };
}

/** A block of some of its pictures. @returns it, and for each of its rays the one it was. */
export function withImages(block: Block, kept: readonly number[]): { block: Block; ray: Int32Array } {
  const index = new Int32Array(block.images.length).fill(-1);
  kept.forEach((i, k) => (index[i] = k));
  const ray = Int32Array.from(
    Array.from({ length: block.rays.count }, (_, r) => r).filter((r) => index[block.rays.image[r]] >= 0),
  );
  const pick = (v: Float64Array) => Float64Array.from(ray, (r) => v[r]);
  const { image, point, uPx, vPx, sdPx, group } = block.rays;
  return {
    ray,
    block: {
      ...block,
      images: kept.map((i) => block.images[i]),
      rays: {
        count: ray.length,
        image: Int32Array.from(ray, (r) => index[image[r]]),
        point: Int32Array.from(ray, (r) => point[r]),
        uPx: pick(uPx),
        vPx: pick(vPx),
        sdPx: pick(sdPx),
        ...(group ? { group: Uint8Array.from(ray, (r) => group[r]) } : {}),
      },
    },
  };
}
