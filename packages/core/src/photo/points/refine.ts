import { Cholesky } from '../../numeric/cholesky';

/** A grey picture, or a part of one, row by row. */
export interface GreyPicture {
  widthPx: number;
  heightPx: number;
  grey: ArrayLike<number>;
}

/** Where a target's centre lies. */
export interface TargetCentre {
  uPx: number;
  vPx: number;
  /** 1 SD of u and of v, from what the two halves of the target differ by. */
  sdPx: number;
  /** How alike the target is to itself turned half round, up to 1. */
  alike: number;
}

export type NoTarget = { none: 'beside the picture' | 'too little contrast' | 'a line or an edge' | 'not alike' };

/** A target is told from its surroundings by at least this much of 255. */
const LEAST_CONTRAST = 12;
/** Below this a place and its half turn do not belong together. */
const LEAST_ALIKE = 0.75;
/** Along one direction a target must be told this much as well as along the other. */
const LEAST_ROUND = 0.06;
const ROUNDS = 15;
const SETTLED_PX = 1e-4;
/** Sharp edges between pixels hide a centre by about this much, the same to both halves, so that no residual shows it. */
const LEAST_SD_PX = 0.05;

/** A window is made larger by this as long as all of it belongs to the target, and so often at most. */
const WIDER = 1.4;
const MOST_WIDER = 6;
/** So alike must a wider window be. */
const WHOLLY_ALIKE = 0.9;

/**
 * Refines the centre of a target of two tones near a pick: of quarters, discs and crosses alike, whatever is the same when
 * turned half round about its centre. Least squares of the differences between the target and its half turn (after
 * Förstner & Gülch 1987, whose condition on gradients holds for the same figures), over as much of it as is alike.
 * @param radiusPx about half the target's size in the picture, or less. @param reachPx how far the centre may lie from the
 *   pick.
 */
export function refineTarget(
  picture: GreyPicture,
  uPx: number,
  vPx: number,
  radiusPx: number,
  reachPx: number,
): TargetCentre | NoTarget {
  const sample = sampler(picture);
  const begin = nearest(picture, sample, uPx, vPx, radiusPx, reachPx);
  if ('none' in begin) return begin;
  let found = settled(picture, sample, begin, radiusPx);
  if ('none' in found) return found;
  if (!(found.alike > LEAST_ALIKE) || Math.hypot(found.uPx - uPx, found.vPx - vPx) > reachPx + 0.5)
    return { none: 'not alike' };
  let radius = radiusPx;
  for (let k = 0; k < MOST_WIDER; k++) {
    radius *= WIDER;
    const wider = settled(picture, sample, { u: found.uPx, v: found.vPx }, radius);
    if ('none' in wider || !(wider.alike > WHOLLY_ALIKE)) break;
    found = wider;
  }
  return { ...found, sdPx: Math.max(LEAST_SD_PX, found.sdPx) };
}

const isInside = ({ widthPx, heightPx }: GreyPicture, u: number, v: number, radius: number) =>
  u > radius + 1 && v > radius + 1 && u < widthPx - radius - 2 && v < heightPx - radius - 2;

/** The place near a pick that is most like its half turn, in half pixels. */
function nearest(
  picture: GreyPicture,
  sample: Sampler,
  uPx: number,
  vPx: number,
  radiusPx: number,
  reachPx: number,
): { u: number; v: number } | NoTarget {
  const offsets = disc(radiusPx);
  let best: { u: number; v: number; alike: number } | undefined;
  for (let dv = -reachPx; dv <= reachPx; dv += 0.5)
    for (let du = -reachPx; du <= reachPx; du += 0.5) {
      const [u, v] = [uPx + du, vPx + dv];
      if (Math.hypot(du, dv) > reachPx || !isInside(picture, u, v, radiusPx)) continue;
      const alike = alikeAt(sample, offsets, u, v);
      if (!best || alike > best.alike) best = { u, v, alike };
    }
  if (!best) return { none: 'beside the picture' };
  return best.alike > -Infinity ? best : { none: 'too little contrast' };
}

function settled(
  picture: GreyPicture,
  sample: Sampler,
  begin: { u: number; v: number },
  radiusPx: number,
): TargetCentre | NoTarget {
  const offsets = disc(radiusPx);
  let { u, v } = begin;
  let sdPx = Number.NaN;
  for (let round = 0; round < ROUNDS; round++) {
    if (!isInside(picture, u, v, radiusPx)) return { none: 'beside the picture' };
    const step = stepAt(sample, offsets, u, v);
    if (!step) return { none: 'a line or an edge' };
    u += step.du;
    v += step.dv;
    sdPx = step.sdPx;
    if (Math.hypot(u - begin.u, v - begin.v) > 1.5) return { none: 'not alike' };
    if (Math.hypot(step.du, step.dv) < SETTLED_PX) break;
  }
  return { uPx: u, vPx: v, sdPx, alike: alikeAt(sample, offsets, u, v) };
}

/** Steps of one pixel over half a disc: the other half is its half turn. */
function disc(radius: number): Float64Array {
  const out: number[] = [];
  const n = Math.ceil(radius);
  for (let y = 0; y <= n; y++)
    for (let x = -n; x <= n; x++) if ((y > 0 || x > 0) && Math.hypot(x, y) <= radius) out.push(x, y);
  return Float64Array.from(out);
}

/** Grey between pixels, with its slopes: the cubic of four values each way (Keys 1981). */
function sampler({ widthPx, heightPx, grey }: GreyPicture): (u: number, v: number, out: Float64Array) => void {
  const [x, y] = [new Float64Array(8), new Float64Array(8)];
  return (u, v, out) => {
    const [c, r] = [Math.floor(u), Math.floor(v)];
    cubic(u - c, x);
    cubic(v - r, y);
    out.fill(0);
    for (let j = 0; j < 4; j++) {
      const row = Math.min(heightPx - 1, Math.max(0, r + j - 1)) * widthPx;
      let [value, slope] = [0, 0];
      for (let i = 0; i < 4; i++) {
        const g = grey[row + Math.min(widthPx - 1, Math.max(0, c + i - 1))];
        value += x[i] * g;
        slope += x[4 + i] * g;
      }
      out[0] += y[j] * value;
      out[1] += y[j] * slope;
      out[2] += y[4 + j] * value;
    }
  };
}

/** Weights of four values about a place between the second and the third, and of its slope. */
function cubic(t: number, out: Float64Array): void {
  out[0] = (((2 - t) * t - 1) * t) / 2;
  out[1] = ((3 * t - 5) * t * t + 2) / 2;
  out[2] = (((4 - 3 * t) * t + 1) * t) / 2;
  out[3] = ((t - 1) * t * t) / 2;
  out[4] = ((4 - 3 * t) * t - 1) / 2;
  out[5] = ((9 * t - 10) * t) / 2;
  out[6] = ((8 - 9 * t) * t + 1) / 2;
  out[7] = ((3 * t - 2) * t) / 2;
}

/** Share of pixels' variance that is left of it between them. */
function kept(u: number): number {
  const weights = new Float64Array(8);
  cubic(u - Math.floor(u), weights);
  return weights.subarray(0, 4).reduce((s, w) => s + w * w, 0);
}

type Sampler = ReturnType<typeof sampler>;
const a = new Float64Array(3);
const b = new Float64Array(3);

/** Correlation of a disc with its half turn; −Infinity where it is all of one tone. */
function alikeAt(sample: Sampler, offsets: Float64Array, u: number, v: number): number {
  const n = offsets.length / 2;
  let [sum, squares, products] = [0, 0, 0];
  for (let k = 0; k < n; k++) {
    sample(u + offsets[2 * k], v + offsets[2 * k + 1], a);
    sample(u - offsets[2 * k], v - offsets[2 * k + 1], b);
    sum += a[0] + b[0];
    squares += a[0] * a[0] + b[0] * b[0];
    products += a[0] * b[0];
  }
  const mean = sum / (2 * n);
  const variance = squares / (2 * n) - mean * mean;
  return variance < LEAST_CONTRAST ** 2 ? -Infinity : (products / n - mean * mean) / variance;
}

function stepAt(sample: Sampler, offsets: Float64Array, u: number, v: number) {
  const n = offsets.length / 2;
  let [xx, xy, yy, x, y, squares] = [0, 0, 0, 0, 0, 0];
  for (let k = 0; k < n; k++) {
    sample(u + offsets[2 * k], v + offsets[2 * k + 1], a);
    sample(u - offsets[2 * k], v - offsets[2 * k + 1], b);
    const d = a[0] - b[0];
    const [gx, gy] = [a[1] - b[1], a[2] - b[2]];
    xx += gx * gx;
    xy += gx * gy;
    yy += gy * gy;
    x -= gx * d;
    y -= gy * d;
    squares += d * d;
  }
  const mean = (xx + yy) / 2;
  const half = Math.hypot((xx - yy) / 2, xy);
  if (!(mean - half > LEAST_ROUND * (mean + half))) return undefined;
  const normal = Cholesky.of(Float64Array.of(xx, xy, xy, yy), 2);
  if (!normal) return undefined;
  const [du, dv] = normal.solve(Float64Array.of(x, y));
  // what lies between pixels scatters less than they do, and not independently
  const variance = Math.max(0, squares - x * du - y * dv) / Math.max(1, n - 2) / (kept(u) * kept(v));
  // of the poorer direction; no step further than a pixel
  const size = Math.max(1, Math.hypot(du, dv));
  return { du: du / size, dv: dv / size, sdPx: Math.sqrt(variance / (mean - half)) };
}
