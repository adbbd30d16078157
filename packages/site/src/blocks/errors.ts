import { CAMERA_TERMS, type AdjustedBlock, type CameraTerm } from '@longheron/core/photo';
import { seenAt, type TrueBlock, type TrueLens } from './flown';

const truthOf = ({ f, cx, cy, k, p }: TrueLens): { [T in CameraTerm]: number } => ({
  focalPx: f,
  cxPx: cx,
  cyPx: cy,
  k1: k[0],
  k2: k[1],
  k3: k[2],
  p1: p[0],
  p2: p[1],
});

/** Errors in the deviations that the adjustment states, by what they are of: centres, control, check, tie, camera. */
export function normalisedErrors(t: TrueBlock, a: AdjustedBlock): Map<string, number[]> {
  const out = new Map<string, number[]>();
  const add = (what: string, v: number) => {
    const list = out.get(what);
    if (list) list.push(v);
    else out.set(what, [v]);
  };
  t.pictures.forEach((p, i) => {
    for (let k = 0; k < 3; k++) {
      const sd = Math.sqrt(a.covariances.of(a.imageAt[i] + k, a.imageAt[i] + k));
      add('centres', (a.state.centres[3 * i + k] - p.at[k]) / sd);
    }
  });
  t.points.forEach((p, i) => {
    const c = a.covariances.point(i);
    if (!c) return;
    [0, 3, 5].forEach((at, k) => add(p.kind, (a.state.points[3 * i + k] - p.at[k]) / Math.sqrt(c[at])));
  });
  const truth = truthOf(t.pictures[0].lens);
  for (const term of CAMERA_TERMS)
    if (a.cameras[0].found.includes(term))
      add('camera', (a.state.cameras[0][term] - truth[term]) / a.cameras[0].sd[term]);
  return out;
}

/**
 * What the found camera does otherwise than the true one, RMS over the picture, pixels. A shift of all of it is left out: seen
 * from far above, it is the same as a tilt of the pictures.
 */
export function cameraEffectPx(t: TrueBlock, a: AdjustedBlock): number {
  const c = a.state.cameras[0];
  const found: TrueLens = { f: c.focalPx, cx: c.cxPx, cy: c.cyPx, k: [c.k1, c.k2, c.k3], p: [c.p1, c.p2] };
  const off: Array<[number, number]> = [];
  for (let x = -0.38; x <= 0.38; x += 0.04)
    for (let y = -0.25; y <= 0.25; y += 0.04) {
      const [p, q] = [seenAt(t.pictures[0].lens, x, y, 1), seenAt(found, x, y, 1)];
      if (p && q) off.push([p[0] - q[0], p[1] - q[1]]);
    }
  const middle = [0, 1].map((k) => off.reduce((s, v) => s + v[k], 0) / off.length);
  const squares = off.reduce((s, v) => s + (v[0] - middle[0]) ** 2 + (v[1] - middle[1]) ** 2, 0);
  return Math.sqrt(squares / (2 * off.length));
}

/** Wrong rays there are and that are gone, and good ones and those rejected. */
export function rejectedOf(
  t: TrueBlock,
  a: AdjustedBlock,
): { wrong: number; found: number; good: number; lost: number } {
  const rejected = new Set(a.rejected.map((r) => r.ray));
  const out = { wrong: 0, found: 0, good: 0, lost: 0 };
  t.seen.forEach((s, r) => {
    if (s.wrong) {
      out.wrong++;
      if (!a.alive[r]) out.found++;
    } else {
      out.good++;
      if (rejected.has(r)) out.lost++;
    }
  });
  return out;
}
