type Point = readonly [number, number];

/** Area of a polygon, metres²; positive when its corners run against the clock. */
export function signedArea(p: readonly Point[]): number {
  let sum = 0;
  for (let i = 0; i < p.length; i++) {
    const [a, b] = [p[i], p[(i + 1) % p.length]];
    sum += a[0] * b[1] - b[0] * a[1];
  }
  return sum / 2;
}

/** The part that two convex polygons share (Sutherland & Hodgman 1974); empty when they are apart. */
export function sharedPolygon(a: readonly Point[], b: readonly Point[]): Point[] {
  const clip = signedArea(b) >= 0 ? b : [...b].reverse();
  let out: Point[] = [...a];
  for (let i = 0; i < clip.length && out.length; i++) {
    const [p, q] = [clip[i], clip[(i + 1) % clip.length]];
    const side = (v: Point) => (q[0] - p[0]) * (v[1] - p[1]) - (q[1] - p[1]) * (v[0] - p[0]);
    const next: Point[] = [];
    for (let k = 0; k < out.length; k++) {
      const [u, v] = [out[k], out[(k + 1) % out.length]];
      const [su, sv] = [side(u), side(v)];
      if (su >= 0) next.push(u);
      if (su >= 0 !== sv >= 0) {
        const t = su / (su - sv);
        next.push([u[0] + t * (v[0] - u[0]), u[1] + t * (v[1] - u[1])]);
      }
    }
    out = next;
  }
  return out;
}

/** Share of the first polygon that the second covers, 0 to 1. */
export function overlapShare(a: readonly Point[], b: readonly Point[]): number {
  const area = Math.abs(signedArea(a));
  return area > 0 ? Math.abs(signedArea(sharedPolygon(a, b))) / area : 0;
}

/** How a photograph overlaps with the one after it, and with the best of those before and after these. */
export interface Overlaps {
  /** Share with the next one; NaN for the last, or without a footprint. */
  next: Float64Array;
  /** Largest share with one of another line, that is further than `apart` places away in the series. */
  side: Float64Array;
}

/** @param footprints corners in order of exposure; undefined where the ground is not seen. */
export function overlapsOf(footprints: Array<readonly Point[] | undefined>, apart: number): Overlaps {
  const n = footprints.length;
  const next = new Float64Array(n).fill(Number.NaN);
  const side = new Float64Array(n).fill(Number.NaN);
  const boxes = footprints.map((f) => f && boxOf(f));
  for (let i = 0; i < n; i++) {
    const a = footprints[i];
    if (!a) continue;
    const b = footprints[i + 1];
    if (b) next[i] = overlapShare(a, b);
    side[i] = 0;
    for (let j = 0; j < n; j++) {
      const c = footprints[j];
      if (!c || Math.abs(i - j) <= apart || !meet(boxes[i]!, boxes[j]!)) continue;
      side[i] = Math.max(side[i], overlapShare(a, c));
    }
  }
  return { next, side };
}

type Box = [number, number, number, number];

function boxOf(p: readonly Point[]): Box {
  const [x, y] = [p.map((v) => v[0]), p.map((v) => v[1])];
  return [Math.min(...x), Math.min(...y), Math.max(...x), Math.max(...y)];
}

const meet = (a: Box, b: Box) => a[0] <= b[2] && b[0] <= a[2] && a[1] <= b[3] && b[1] <= a[3];
