import { robustPlane } from '../numeric/plane';
import { heightInTriangle, makeTin, TinWalker } from '../surface/tin';

/** Ground points around one mark, metres east, north of the mark and height. */
export interface Neighbourhood {
  dx: Float64Array;
  dy: Float64Array;
  z: Float64Array;
}

export type HeightMethod = 'plane' | 'triangle' | 'none';

/** The height of a surface at a mark, and how it was found. */
export interface SurfaceHeight {
  method: HeightMethod;
  heightM: number;
  /** SD of the height from the scatter of the points, metres. */
  sdM: number;
  planeM?: number;
  triangleM?: number;
  /** Points within the radius of the plane. */
  points: number;
  quadrants: number;
  /** Points per square metre within the radius. */
  densityPerM2: number;
  nearestM: number;
  slopePercent?: number;
  /** Why nothing was found, or why the triangle had to serve. */
  reason?: string;
}

export const PLANE_RADIUS_M = 0.5;
export const TRIANGLE_EDGE_M = 3;
/** Points within this are needed to judge the triangle. */
export const SEARCH_RADIUS_M = 4;

/**
 * A robust plane through the ground points within 0.5 m (at least 6, in at least 3 quadrants); else the triangle
 * that holds the mark, with edges under 3 m; else not found, with the reason.
 */
export function surfaceHeightAtMark(near: Neighbourhood): SurfaceHeight {
  const inside: number[] = [];
  let nearest = Infinity;
  let quadrantBits = 0;
  for (let i = 0; i < near.z.length; i++) {
    const d = Math.hypot(near.dx[i], near.dy[i]);
    nearest = Math.min(nearest, d);
    if (d > PLANE_RADIUS_M) continue;
    inside.push(i);
    quadrantBits |= 1 << ((near.dx[i] >= 0 ? 1 : 0) + (near.dy[i] >= 0 ? 2 : 0));
  }
  const quadrants = [0, 1, 2, 3].filter((q) => quadrantBits & (1 << q)).length;
  const pick = (column: Float64Array) => Float64Array.from(inside, (i) => column[i]);
  const plane =
    inside.length >= 6 && quadrants >= 3 ? robustPlane(pick(near.dx), pick(near.dy), pick(near.z)) : undefined;
  const triangle = triangleHeight(near);
  const base = {
    points: inside.length,
    quadrants,
    nearestM: nearest,
    planeM: plane?.z0,
    triangleM: triangle?.heightM,
    densityPerM2: inside.length / (Math.PI * PLANE_RADIUS_M ** 2),
  };
  if (plane)
    return {
      ...base,
      method: 'plane',
      heightM: plane.z0,
      sdM: plane.z0Sd,
      slopePercent: 100 * Math.hypot(plane.slopeX, plane.slopeY),
    };
  const few =
    inside.length < 6
      ? `${inside.length} ground points within ${PLANE_RADIUS_M} m, 6 are needed for a plane`
      : `ground points in only ${quadrants} quadrants around the mark`;
  if (triangle)
    return {
      ...base,
      method: 'triangle',
      heightM: triangle.heightM,
      sdM: 0.02,
      slopePercent: triangle.slopePercent,
      reason: few,
    };
  const reason =
    near.z.length === 0
      ? `no ground point within ${SEARCH_RADIUS_M} m of the mark`
      : `${few}, and no triangle with edges under ${TRIANGLE_EDGE_M} m holds the mark`;
  return { ...base, method: 'none', heightM: Number.NaN, sdM: Number.NaN, reason };
}

function triangleHeight(near: Neighbourhood): { heightM: number; slopePercent: number } | undefined {
  if (near.z.length < 3) return undefined;
  let tin;
  try {
    tin = makeTin(near.dx, near.dy, near.z, TRIANGLE_EDGE_M);
  } catch {
    return undefined;
  }
  const t = new TinWalker(tin).locate(0, 0);
  if (t < 0 || tin.hole[t]) return undefined;
  const heightM = heightInTriangle(tin, t, 0, 0);
  const east = heightInTriangle(tin, t, 1, 0) - heightM;
  const north = heightInTriangle(tin, t, 0, 1) - heightM;
  return { heightM, slopePercent: 100 * Math.hypot(east, north) };
}
