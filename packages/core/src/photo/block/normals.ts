import { Envelope } from '../../numeric/envelope';
import { Elimination } from './eliminate';
import { type Layout } from './layout';
import { TERMS, CAMERA_TERMS, type Block, type BlockState } from './model';
import { RAY, rayOf } from './ray';

/** How much observations count: weights of rays, and factors of what is given. */
export interface Weights {
  /** Of each ray, 1/px²; 0: it does not count. */
  ray: Float64Array;
  /** Factor of each picture's given place, 0 to 1. */
  place: Float64Array;
  /** Factor of each point's surveyed place. */
  point: Float64Array;
  /** Factor of each distance. */
  distance: Float64Array;
}

/** Residuals and derivatives of all rays at a state. */
export interface Linear {
  values: Float64Array;
  /** 1: the point lies before the camera. */
  ahead: Uint8Array;
}

export function linearise(block: Block, images: { camera: Int32Array }, state: BlockState, out?: Linear): Linear {
  const { count } = block.rays;
  const l = out ?? { values: new Float64Array(RAY * count), ahead: new Uint8Array(count) };
  for (let r = 0; r < count; r++) lineariseRay(block, images, state, l, r);
  return l;
}

/** The same of one ray. */
export function lineariseRay(
  { rays }: Block,
  images: { camera: Int32Array },
  { cameras, centres, rotations, points }: BlockState,
  { values, ahead }: Linear,
  r: number,
): void {
  const image = rays.image[r];
  const point = rays.point[r];
  const known = points[3 * point] === points[3 * point];
  const camera = cameras[images.camera[image]];
  ahead[r] =
    known && rayOf(camera, centres, rotations, image, points, point, rays.uPx[r], rays.vPx[r], values, RAY * r) ? 1 : 0;
}

/** Residual (given less computed) of a picture's place, metres. */
export function placeResidual(block: Block, state: BlockState, image: number, out: Float64Array): void {
  const { placeM, armM, session } = block.images[image].given!;
  const r = 9 * image;
  for (let k = 0; k < 3; k++) {
    const arm = armM
      ? state.rotations[r + 3 * k] * armM[0] +
        state.rotations[r + 3 * k + 1] * armM[1] +
        state.rotations[r + 3 * k + 2] * armM[2]
      : 0;
    const shift = session === undefined ? 0 : state.shifts[3 * session + k];
    out[k] = placeM[k] - (state.centres[3 * image + k] - arm + shift);
  }
}

/** Normal equations with the points eliminated. */
export class Normals {
  readonly matrix: Envelope;
  readonly right: Float64Array;
  private readonly elimination: Elimination;
  private readonly place = new Float64Array(3);

  constructor(
    private readonly block: Block,
    images: { camera: Int32Array },
    readonly layout: Layout,
  ) {
    this.matrix = new Envelope(layout.first);
    this.right = new Float64Array(layout.size);
    this.elimination = new Elimination(block, images.camera, layout, this.matrix, this.right);
  }

  /** Inverse of each point's own equations, upper half by rows. */
  get inverse(): Float64Array {
    return this.elimination.inverse;
  }

  /** Right sides of each point's own equations. */
  get own(): Float64Array {
    return this.elimination.own;
  }

  /** Own equations of points alone, poses and cameras taken as known. */
  points(linear: Linear, state: BlockState, weights: Weights, which: Int32Array): void {
    this.elimination.alone(linear, state, weights, which);
  }

  /** By how much the equations, as they were filled, say that a step lowers the sum of squares. @param x their solution. */
  gain(x: Float64Array): number {
    const { right, inverse, own, layout } = this;
    let sum = 0;
    for (let i = 0; i < x.length; i++) sum += x[i] * right[i];
    for (const p of layout.points) {
      if (layout.pointAt[p] >= 0) continue;
      const [i, g] = [6 * p, 3 * p];
      const [x0, y0, z0] = [own[g], own[g + 1], own[g + 2]];
      sum +=
        x0 * (inverse[i] * x0 + 2 * (inverse[i + 1] * y0 + inverse[i + 2] * z0)) +
        y0 * (inverse[i + 3] * y0 + 2 * inverse[i + 4] * z0) +
        inverse[i + 5] * z0 * z0;
    }
    return sum;
  }

  /** @param damping share by which diagonals are raised. */
  fill(linear: Linear, state: BlockState, weights: Weights, damping: number): void {
    const { block, layout, matrix, right } = this;
    matrix.values.fill(0);
    right.fill(0);
    this.cameras(state);
    block.images.forEach((_, i) => this.placeOf(i, state, weights.place[i]));
    block.distances.forEach((_, k) => this.distance(k, state, weights.distance[k]));
    this.elimination.add(linear, state, weights, damping);
    // a picture that no ray holds stays where it is
    for (let i = 0; i < layout.size; i++) if (matrix.values[matrix.at(i, i)] === 0) matrix.values[matrix.at(i, i)] = 1;
    if (damping > 0) for (let i = 0; i < layout.size; i++) matrix.values[matrix.at(i, i)] *= 1 + damping;
  }

  private cameras(state: BlockState): void {
    const { matrix, right, layout, block } = this;
    layout.termAt.forEach((column, k) => {
      if (column < 0) return;
      const c = Math.floor(k / TERMS);
      const term = CAMERA_TERMS[k % TERMS];
      const { camera, sd } = block.cameras[c];
      const w = 1 / sd[term] ** 2;
      matrix.values[matrix.at(column, column)] += w;
      right[column] += w * (camera[term] - state.cameras[c][term]);
    });
  }

  private placeOf(image: number, state: BlockState, factor: number): void {
    const given = this.block.images[image].given;
    if (!given || factor === 0) return;
    const { matrix, right, layout, place } = this;
    placeResidual(this.block, state, image, place);
    const pose = layout.imageAt[image];
    const shift = given.session === undefined ? -1 : layout.shiftAt[given.session];
    const r = 9 * image;
    const arm = given.armM ?? [0, 0, 0];
    for (let k = 0; k < 3; k++) {
      const w = factor / given.sdM[k] ** 2;
      const [a, b, c] = [state.rotations[r + 3 * k], state.rotations[r + 3 * k + 1], state.rotations[r + 3 * k + 2]];
      // R·(arm × ω)
      const turn = [c * arm[1] - b * arm[2], a * arm[2] - c * arm[0], b * arm[0] - a * arm[1]];
      const columns = [pose + k, pose + 3, pose + 4, pose + 5];
      const values = [1, turn[0], turn[1], turn[2]];
      if (shift >= 0) {
        columns.push(shift + k);
        values.push(1);
      }
      for (let i = 0; i < columns.length; i++) {
        right[columns[i]] += w * values[i] * place[k];
        for (let j = 0; j <= i; j++) matrix.values[matrix.at(columns[i], columns[j])] += w * values[i] * values[j];
      }
    }
  }

  private distance(k: number, state: BlockState, factor: number): void {
    const { from, to, valueM, sdM, use } = this.block.distances[k];
    if (use !== 'scale' || factor === 0) return;
    const { matrix, right, layout } = this;
    const p = state.points;
    const d = [0, 1, 2].map((i) => p[3 * to + i] - p[3 * from + i]);
    const length = Math.hypot(d[0], d[1], d[2]);
    if (!(length > 0)) return;
    const w = factor / sdM ** 2;
    const parts = [
      { at: layout.pointAt[from], sign: -1 },
      { at: layout.pointAt[to], sign: 1 },
    ].sort((a, b) => a.at - b.at);
    const columns = parts.flatMap(({ at }) => [at, at + 1, at + 2]);
    const values = parts.flatMap(({ sign }) => d.map((v) => (sign * v) / length));
    for (let i = 0; i < 6; i++) {
      right[columns[i]] += w * values[i] * (valueM - length);
      for (let j = 0; j <= i; j++) matrix.values[matrix.at(columns[i], columns[j])] += w * values[i] * values[j];
    }
  }
}
