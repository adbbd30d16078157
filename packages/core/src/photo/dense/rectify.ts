import { type Matrix3, type Vector3 } from '../../numeric/matrix3';
import { directionOf, Projector, type Camera } from '../camera';
import { type OrientedPicture } from '../points/picture';

/** One picture of a pair as it would be seen from its place by a lens without distortion, its rows along the base. */
export interface RectifiedSide {
  columns: number;
  /** Of the first column from the middle axis, pixels. */
  left: number;
}

/**
 * Two pictures turned so that their rows lie along the base: what both show stands in one row of both, and how far apart its
 * columns are tells the depth, Z = focal·base/(uFirst − uSecond).
 */
export interface RectifiedPair {
  focalPx: number;
  baseM: number;
  /** Columns: along the base, down the rows, along the view, in the axes of the block. */
  axes: Matrix3;
  rows: number;
  /** Of the first row from the middle axis, pixels. */
  top: number;
  first: RectifiedSide;
  second: RectifiedSide;
}

const dot = (a: ArrayLike<number>, b: ArrayLike<number>) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const cross = (a: ArrayLike<number>, b: ArrayLike<number>): Vector3 => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
const unit = (a: Vector3): Vector3 => {
  const size = Math.hypot(...a);
  return [a[0] / size, a[1] / size, a[2] / size];
};
const viewOf = ({ rotation: r }: OrientedPicture): Vector3 => [r[2], r[5], r[8]];

/** A view that lies nearer to the base than this (cosine) is along it: nothing can be told apart there. */
const MOST_ALONG = 0.7;
/** Places along an edge by which the frame's outline is known. */
const EDGE_STEPS = 12;

/** Direction of a rectified pixel in the axes of the block, not of unit length: one along the view. */
export const wayOf = ({ axes: m, focalPx: f }: RectifiedPair, u: number, v: number): Vector3 => [
  m[0] * (u / f) + m[1] * (v / f) + m[2],
  m[3] * (u / f) + m[4] * (v / f) + m[5],
  m[6] * (u / f) + m[7] * (v / f) + m[8],
];

/**
 * How two pictures are turned to lie along their base, and the rows and columns that both could use (Hartley & Zisserman 2004,
 * 11.12, for calibrated cameras).
 * @returns undefined where they look along the base, or share no rows.
 */
export function rectify(first: OrientedPicture, second: OrientedPicture): RectifiedPair | undefined {
  const base = second.centreM.map((v, k) => v - first.centreM[k]) as Vector3;
  const baseM = Math.hypot(...base);
  if (!(baseM > 0) || first.camera.model === 'sphere' || second.camera.model === 'sphere') return undefined;
  const x = unit(base);
  const [p, q] = [viewOf(first), viewOf(second)];
  if (dot(p, q) <= 0 || Math.abs(dot(p, x)) > MOST_ALONG || Math.abs(dot(q, x)) > MOST_ALONG) return undefined;
  const view = [p[0] + q[0], p[1] + q[1], p[2] + q[2]];
  const along = dot(view, x);
  const z = unit(view.map((v, k) => v - along * x[k]) as Vector3);
  const y = cross(z, x);
  const axes = Float64Array.from([0, 1, 2].flatMap((k) => [x[k], y[k], z[k]]));
  const focalPx = (first.camera.focalPx + second.camera.focalPx) / 2;
  const [a, b] = [outlineOf(first, axes, focalPx), outlineOf(second, axes, focalPx)];
  const top = Math.ceil(Math.max(a.top, b.top));
  const rows = Math.floor(Math.min(a.bottom, b.bottom)) - top + 1;
  const side = (o: Outline): RectifiedSide => ({
    left: Math.ceil(o.left),
    columns: Math.floor(o.right) - Math.ceil(o.left) + 1,
  });
  const out = { focalPx, baseM, axes, rows, top, first: side(a), second: side(b) };
  return rows > 0 && out.first.columns > 0 && out.second.columns > 0 ? out : undefined;
}

interface Outline {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

function outlineOf({ camera, rotation: r }: OrientedPicture, m: Matrix3, f: number): Outline {
  const out = { left: Infinity, right: -Infinity, top: Infinity, bottom: -Infinity };
  const [w, h] = [camera.widthPx - 1, camera.heightPx - 1];
  for (let k = 0; k <= EDGE_STEPS; k++) {
    const s = k / EDGE_STEPS;
    for (const [u, v] of [
      [s * w, 0],
      [s * w, h],
      [0, s * h],
      [w, s * h],
    ]) {
      const d = directionOf(camera, u, v);
      const way = [0, 1, 2].map((i) => r[3 * i] * d[0] + r[3 * i + 1] * d[1] + r[3 * i + 2] * d[2]);
      const [x, y, z] = [0, 1, 2].map((i) => m[i] * way[0] + m[3 + i] * way[1] + m[6 + i] * way[2]);
      if (!(z > 0.1)) continue;
      out.left = Math.min(out.left, (f * x) / z);
      out.right = Math.max(out.right, (f * x) / z);
      out.top = Math.min(out.top, (f * y) / z);
      out.bottom = Math.max(out.bottom, (f * y) / z);
    }
  }
  return out;
}

/** Rows and columns of a pair that lie within these limits, in pixels from the middle axes. */
export function clipped(
  pair: RectifiedPair,
  first: { left: number; right: number; top: number; bottom: number },
  second: { left: number; right: number },
): RectifiedPair | undefined {
  const top = Math.max(pair.top, Math.floor(first.top));
  const rows = Math.min(pair.top + pair.rows, Math.ceil(first.bottom) + 1) - top;
  const side = (s: RectifiedSide, l: { left: number; right: number }): RectifiedSide => {
    const left = Math.max(s.left, Math.floor(l.left));
    return { left, columns: Math.min(s.left + s.columns, Math.ceil(l.right) + 1) - left };
  };
  const out = { ...pair, top, rows, first: side(pair.first, first), second: side(pair.second, second) };
  return rows > 0 && out.first.columns > 0 && out.second.columns > 0 ? out : undefined;
}

/** A rectified picture: grey and colours row by row; where the picture does not reach, `inside` is 0. */
export interface RectifiedImage {
  columns: number;
  rows: number;
  grey: Uint8Array;
  rgb: Uint8Array;
  inside: Uint8Array;
}

/** Between so many pixels the way from a rectified picture to its own is as good as straight. */
const NODES_PX = 8;

/** Draws one side of a pair. @param rgb three bytes a pixel of the picture itself. */
export function drawRectified(
  pair: RectifiedPair,
  { columns, left }: RectifiedSide,
  { camera, rotation: r }: OrientedPicture,
  rgb: Uint8Array,
): RectifiedImage {
  const { rows, top } = pair;
  const projector = new Projector(camera);
  const across = Math.ceil((columns - 1) / NODES_PX) + 1;
  const down = Math.ceil((rows - 1) / NODES_PX) + 1;
  const node = new Float32Array(2 * across * down);
  const at = new Float64Array(2);
  for (let j = 0; j < down; j++)
    for (let i = 0; i < across; i++) {
      const way = wayOf(pair, left + i * NODES_PX, top + j * NODES_PX);
      const [x, y, z] = [0, 1, 2].map((k) => r[k] * way[0] + r[3 + k] * way[1] + r[6 + k] * way[2]);
      const k = 2 * (j * across + i);
      // a node a little beside the frame still carries pixels inside it
      at[0] = Number.NaN;
      if (!projector.project(x, y, z, at) && !near(at, camera)) node[k] = node[k + 1] = Number.NaN;
      else [node[k], node[k + 1]] = at;
    }
  const out: RectifiedImage = {
    columns,
    rows,
    grey: new Uint8Array(columns * rows),
    rgb: new Uint8Array(3 * columns * rows),
    inside: new Uint8Array(columns * rows),
  };
  for (let j = 0; j < rows; j++) {
    const b = Math.floor(j / NODES_PX);
    const fb = j / NODES_PX - b;
    const b1 = Math.min(down - 1, b + 1);
    for (let i = 0; i < columns; i++) {
      const a = Math.floor(i / NODES_PX);
      const fa = i / NODES_PX - a;
      const a1 = Math.min(across - 1, a + 1);
      const [p, q] = [2 * (b * across + a), 2 * (b * across + a1)];
      const [s, t] = [2 * (b1 * across + a), 2 * (b1 * across + a1)];
      const u = (1 - fb) * ((1 - fa) * node[p] + fa * node[q]) + fb * ((1 - fa) * node[s] + fa * node[t]);
      const v =
        (1 - fb) * ((1 - fa) * node[p + 1] + fa * node[q + 1]) + fb * ((1 - fa) * node[s + 1] + fa * node[t + 1]);
      sample(rgb, camera, u, v, out, j * columns + i);
    }
  }
  return out;
}

/** Whether a pixel lies beside the frame by less than a few nodes. */
const near = (at: Float64Array, { widthPx, heightPx }: Camera) =>
  at[0] > -3 * NODES_PX && at[1] > -3 * NODES_PX && at[0] < widthPx + 3 * NODES_PX && at[1] < heightPx + 3 * NODES_PX;

function sample(rgb: Uint8Array, { widthPx, heightPx }: Camera, u: number, v: number, out: RectifiedImage, k: number) {
  if (!(u >= 0 && v >= 0 && u <= widthPx - 1 && v <= heightPx - 1)) return;
  const c = Math.min(widthPx - 2, Math.floor(u));
  const r = Math.min(heightPx - 2, Math.floor(v));
  const [a, b] = [u - c, v - r];
  const at = 3 * (r * widthPx + c);
  const below = at + 3 * widthPx;
  const [w00, w10, w01, w11] = [(1 - a) * (1 - b), a * (1 - b), (1 - a) * b, a * b];
  let grey = 0;
  for (let n = 0; n < 3; n++) {
    const value = w00 * rgb[at + n] + w10 * rgb[at + 3 + n] + w01 * rgb[below + n] + w11 * rgb[below + 3 + n];
    out.rgb[3 * k + n] = value + 0.5;
    grey += GREY[n] * value;
  }
  out.grey[k] = grey + 0.5;
  out.inside[k] = 1;
}

const GREY = [0.299, 0.587, 0.114];
