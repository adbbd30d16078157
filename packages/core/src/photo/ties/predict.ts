import { type Camera, undistorted } from '../camera';
import { type Window } from './match';

/** A picture that is about oriented, in the axes of a block. */
export interface Placed {
  camera: Camera;
  centreM: ArrayLike<number>;
  /** Camera axes into those of the block. */
  rotation: ArrayLike<number>;
  /** Between which depths along the view its points lie, metres. */
  depthM: readonly [number, number];
}

/** Where a direction of one camera at a depth lies in another picture, pixels; undefined behind it. */
function shownAt(from: Placed, x: number, y: number, depthM: number, to: Placed): { u: number; v: number } | undefined {
  const { rotation: a, centreM: p } = from;
  const { rotation: b, centreM: q, camera } = to;
  const d = [0, 1, 2].map((k) => p[k] + depthM * (a[3 * k] * x + a[3 * k + 1] * y + a[3 * k + 2]) - q[k]);
  const z = b[2] * d[0] + b[5] * d[1] + b[8] * d[2];
  if (z < 0.05 * depthM) return undefined;
  const s = (b[0] * d[0] + b[3] * d[1] + b[6] * d[2]) / z;
  const t = (b[1] * d[0] + b[4] * d[1] + b[7] * d[2]) / z;
  const { focalPx, cxPx, cyPx, k1, k2, k3, p1, p2 } = camera;
  // far beside the frame the polynomials mean nothing: the straight way is good enough there
  const r2 = Math.min(s * s + t * t, ((camera.widthPx ** 2 + camera.heightPx ** 2) / focalPx ** 2) * 0.4);
  const radial = 1 + r2 * (k1 + r2 * (k2 + r2 * k3));
  return {
    u: focalPx * (s * radial + 2 * p1 * s * t + p2 * (r2 + 2 * s * s)) + cxPx,
    v: focalPx * (t * radial + p1 * (r2 + 2 * t * t) + 2 * p2 * s * t) + cyPx,
  };
}

/** The direction of a pixel in the axes of its camera, depth one. */
export const directionAt = (c: Camera, uPx: number, vPx: number): [number, number] =>
  undistorted(c, (uPx - c.cxPx) / c.focalPx, (vPx - c.cyPx) / c.focalPx);

/** Where a pixel of one picture may lie in another, by what is known of both; undefined: not in it. */
export function windowIn(from: Placed, uPx: number, vPx: number, to: Placed, withinPx: number): Window | undefined {
  const [x, y] = directionAt(from.camera, uPx, vPx);
  const near = shownAt(from, x, y, from.depthM[0], to);
  const far = shownAt(from, x, y, from.depthM[1], to);
  if (!near || !far) return undefined;
  const { widthPx, heightPx } = to.camera;
  const beside = (a: number, b: number, size: number) => Math.max(a, b) < -withinPx || Math.min(a, b) > size + withinPx;
  if (beside(near.u, far.u, widthPx) || beside(near.v, far.v, heightPx)) return undefined;
  return { u0: near.u, v0: near.v, u1: far.u, v1: far.v, withinPx };
}

/** Places along each side of a picture by which an overlap is told. */
const ALONG = 5;

/** Share of a picture that another shows too, at the middle of its depths. */
export function overlapOf(from: Placed, to: Placed): number {
  const { widthPx, heightPx } = from.camera;
  const depth = Math.sqrt(from.depthM[0] * from.depthM[1]);
  let inside = 0;
  for (let i = 0; i < ALONG; i++)
    for (let k = 0; k < ALONG; k++) {
      const [x, y] = directionAt(from.camera, ((i + 0.5) / ALONG) * widthPx, ((k + 0.5) / ALONG) * heightPx);
      const at = shownAt(from, x, y, depth, to);
      if (at && at.u >= 0 && at.v >= 0 && at.u < to.camera.widthPx && at.v < to.camera.heightPx) inside++;
    }
  return inside / ALONG ** 2;
}

/**
 * Pairs of pictures that show the same ground: of each picture those that overlap it most.
 * @param placed undefined for a picture of which nothing is known. @param most partners that a picture looks for.
 */
export function overlapping(
  placed: ReadonlyArray<Placed | undefined>,
  least: number,
  most: number,
): Array<{ a: number; b: number; share: number }> {
  const own: Array<Array<{ a: number; b: number; share: number }>> = placed.map(() => []);
  placed.forEach((p, a) => {
    for (let b = a + 1; p && b < placed.length; b++) {
      const q = placed[b];
      if (!q) continue;
      const reach = 1.5 * Math.max(p.depthM[1], q.depthM[1]) * Math.max(fieldOf(p.camera), fieldOf(q.camera));
      if (Math.hypot(...[0, 1, 2].map((k) => p.centreM[k] - q.centreM[k])) > 2 * reach) continue;
      const share = Math.max(overlapOf(p, q), overlapOf(q, p));
      if (share < least) continue;
      own[a].push({ a, b, share });
      own[b].push({ a, b, share });
    }
  });
  const out = new Map<string, { a: number; b: number; share: number }>();
  for (const list of own)
    for (const pair of list.sort((p, q) => q.share - p.share).slice(0, most)) out.set(`${pair.a} ${pair.b}`, pair);
  return [...out.values()].sort((p, q) => p.a - q.a || p.b - q.b);
}

/** Half the diagonal of a picture, in focal lengths: at least as much as it sees level when it looks down. */
const fieldOf = (c: Camera) => Math.max(1, Math.hypot(c.widthPx, c.heightPx) / 2 / c.focalPx);
