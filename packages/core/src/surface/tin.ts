import Delaunator from 'delaunator';
import { Problem } from '../shared/problem';

/** A triangulated surface. Coordinates are metres about a local origin (delaunator is not robust at 6.2e6 m). */
export interface Tin {
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  /** Three vertex indices a triangle, counter-clockwise. */
  triangles: Uint32Array;
  /** For each edge the opposite edge, −1 on the hull. */
  halfedges: Int32Array;
  /** 1 where a triangle has an edge longer than the limit; such triangles are holes. */
  hole: Uint8Array;
}

/**
 * Delaunay triangulation in plan (Sinclair 2016's sweep hull as in delaunator). Points of equal x and y keep the
 * first.
 * @param maxEdgeM triangles with a longer edge in plan are holes; Infinity keeps all.
 * @throws Problem with fewer than three points or all on one line.
 */
export function makeTin(x: Float64Array, y: Float64Array, z: Float64Array, maxEdgeM = Number.POSITIVE_INFINITY): Tin {
  const n = x.length;
  if (n < 3)
    throw new Problem(`A surface needs at least three points; there are ${n}.`, {
      code: 'tin-few-points',
      remedy: 'Choose a class that has points, or classify the ground first.',
    });
  const coords = new Float64Array(2 * n);
  for (let i = 0; i < n; i++) {
    coords[2 * i] = x[i];
    coords[2 * i + 1] = y[i];
  }
  const mesh = new Delaunator(coords);
  if (mesh.triangles.length === 0)
    throw new Problem('All points lie on one line in plan, so no surface can be made.', {
      code: 'tin-collinear',
      remedy: 'Choose points that cover an area.',
    });
  // delaunator's triangles run clockwise in a y-up plane; swap two vertices' roles by reading edges accordingly
  const triangles = mesh.triangles as Uint32Array;
  const hole = new Uint8Array(triangles.length / 3);
  if (Number.isFinite(maxEdgeM)) markLongEdges(x, y, triangles, hole, maxEdgeM * maxEdgeM);
  return { x, y, z, triangles, halfedges: mesh.halfedges as Int32Array, hole };
}

function markLongEdges(
  x: Float64Array,
  y: Float64Array,
  triangles: Uint32Array,
  hole: Uint8Array,
  limitSquared: number,
): void {
  for (let t = 0, e = 0; e < triangles.length; t++, e += 3) {
    const a = triangles[e];
    const b = triangles[e + 1];
    const c = triangles[e + 2];
    const abx = x[a] - x[b],
      aby = y[a] - y[b];
    const bcx = x[b] - x[c],
      bcy = y[b] - y[c];
    const cax = x[c] - x[a],
      cay = y[c] - y[a];
    if (
      abx * abx + aby * aby > limitSquared ||
      bcx * bcx + bcy * bcy > limitSquared ||
      cax * cax + cay * cay > limitSquared
    )
      hole[t] = 1;
  }
}

/** Finds the triangle that holds a place by walking from the last one found; near-by questions cost a few steps. */
export class TinWalker {
  private edge = 0;
  private readonly limit: number;

  constructor(private readonly tin: Tin) {
    this.limit = 4 * Math.ceil(Math.sqrt(tin.triangles.length)) + 1000;
  }

  /** Index of the triangle that holds (x, y), −1 outside the hull. Holes are returned too: ask `tin.hole`. */
  locate(x: number, y: number): number {
    const { triangles, halfedges, x: px, y: py } = this.tin;
    let first = this.edge - (this.edge % 3);
    let came = -1;
    for (let step = 0; step < this.limit; step++) {
      let moved = false;
      for (let k = 0; k < 3; k++) {
        const e = first + k;
        if (e === came) continue;
        const a = triangles[e];
        const b = triangles[k === 2 ? first : e + 1];
        const side = (px[b] - px[a]) * (y - py[a]) - (py[b] - py[a]) * (x - px[a]);
        if (side * ORIENTATION < 0) {
          const opposite = halfedges[e];
          if (opposite < 0) {
            // the hull is convex, so a place on the far side of a hull edge is outside
            this.edge = first;
            return -1;
          }
          came = opposite;
          first = opposite - (opposite % 3);
          moved = true;
          break;
        }
      }
      if (!moved) {
        this.edge = first;
        return first / 3;
      }
    }
    return this.search(x, y);
  }

  private search(x: number, y: number): number {
    const { triangles } = this.tin;
    for (let t = 0; t < triangles.length / 3; t++) {
      if (contains(this.tin, t, x, y)) {
        this.edge = 3 * t;
        return t;
      }
    }
    return -1;
  }

  /** Height at (x, y), NaN outside the hull or in a hole. */
  heightAt(x: number, y: number): number {
    const t = this.locate(x, y);
    if (t < 0 || this.tin.hole[t]) return Number.NaN;
    return heightInTriangle(this.tin, t, x, y);
  }
}

/** Sign of the area of delaunator's triangles with y up: they run counter-clockwise in its screen axes. */
const ORIENTATION = -1;

function contains(tin: Tin, t: number, x: number, y: number): boolean {
  for (let k = 0; k < 3; k++) {
    const a = tin.triangles[3 * t + k];
    const b = tin.triangles[3 * t + ((k + 1) % 3)];
    const side = (tin.x[b] - tin.x[a]) * (y - tin.y[a]) - (tin.y[b] - tin.y[a]) * (x - tin.x[a]);
    if (side * ORIENTATION < 0) return false;
  }
  return true;
}

/** Height of the plane of triangle t at (x, y). */
export function heightInTriangle(tin: Tin, t: number, x: number, y: number): number {
  const a = tin.triangles[3 * t];
  const b = tin.triangles[3 * t + 1];
  const c = tin.triangles[3 * t + 2];
  const bx = tin.x[b] - tin.x[a],
    by = tin.y[b] - tin.y[a];
  const cx = tin.x[c] - tin.x[a],
    cy = tin.y[c] - tin.y[a];
  const det = bx * cy - by * cx;
  if (det === 0) return tin.z[a];
  const dx = x - tin.x[a],
    dy = y - tin.y[a];
  const wb = (dx * cy - dy * cx) / det;
  const wc = (bx * dy - by * dx) / det;
  return tin.z[a] + wb * (tin.z[b] - tin.z[a]) + wc * (tin.z[c] - tin.z[a]);
}
