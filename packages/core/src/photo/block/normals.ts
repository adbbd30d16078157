import { Envelope } from '../../numeric/envelope';
import { type Layout } from './layout';
import { TERMS, CAMERA_TERMS, type Block, type BlockState } from './model';
import { AT, RAY, rayOf } from './ray';

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

export function linearise({ rays }: Block, images: { camera: Int32Array }, state: BlockState, out?: Linear): Linear {
  const l = out ?? { values: new Float64Array(RAY * rays.count), ahead: new Uint8Array(rays.count) };
  for (let r = 0; r < rays.count; r++) {
    const image = rays.image[r];
    const point = rays.point[r];
    l.ahead[r] =
      state.points[3 * point] === state.points[3 * point] &&
      rayOf(
        state.cameras[images.camera[image]],
        state.centres,
        state.rotations,
        image,
        state.points,
        point,
        rays.uPx[r],
        rays.vPx[r],
        l.values,
        RAY * r,
      )
        ? 1
        : 0;
  }
  return l;
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

/** Normal equations with the points eliminated (Schur complement; Triggs et al. 2000, 6.1). */
export class Normals {
  readonly matrix: Envelope;
  readonly right: Float64Array;
  /** Inverse of each point's own equations, upper half by rows, and their right sides. */
  readonly inverse: Float64Array;
  readonly own: Float64Array;
  private readonly columns: Int32Array;
  private readonly w: Float64Array;
  private readonly t: Float64Array;
  private readonly place = new Float64Array(3);
  /** What ties the current point to terms of cameras: by column from the first of them on, and whether it is there. */
  private readonly terms: Float64Array;
  private readonly touched: Uint8Array;
  private readonly firstTerm: number;

  constructor(
    private readonly block: Block,
    private readonly images: { camera: Int32Array },
    readonly layout: Layout,
  ) {
    this.matrix = new Envelope(layout.first);
    this.right = new Float64Array(layout.size);
    this.inverse = new Float64Array(6 * block.points.length);
    this.own = new Float64Array(3 * block.points.length);
    this.columns = new Int32Array(layout.widest);
    this.w = new Float64Array(3 * layout.widest);
    this.t = new Float64Array(3 * layout.widest);
    const free = layout.termAt.filter((column) => column >= 0);
    this.firstTerm = free.length ? free[0] : layout.size;
    this.terms = new Float64Array(3 * free.length);
    this.touched = new Uint8Array(free.length);
  }

  /** Each point's own equations alone, poses and cameras taken as known. */
  points(linear: Linear, state: BlockState, weights: Weights): void {
    for (let p = 0; p < this.block.points.length; p++) this.point(p, linear, state, weights, 0, true);
  }

  /** @param damping share by which diagonals are raised. */
  fill(linear: Linear, state: BlockState, weights: Weights, damping: number): void {
    const { block, layout, matrix, right } = this;
    matrix.values.fill(0);
    right.fill(0);
    this.cameras(state);
    block.images.forEach((_, i) => this.placeOf(i, state, weights.place[i]));
    block.distances.forEach((_, k) => this.distance(k, state, weights.distance[k]));
    for (let p = 0; p < block.points.length; p++) this.point(p, linear, state, weights, damping);
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

  private point(
    p: number,
    { values: j, ahead }: Linear,
    state: BlockState,
    weights: Weights,
    damping: number,
    alone = false,
  ): void {
    const { block, layout, matrix, right, columns, w: W } = this;
    const kept = layout.pointAt[p];
    if (alone && kept >= 0) return;
    let [xx, xy, xz, yy, yz, zz, gx, gy, gz] = [0, 0, 0, 0, 0, 0, 0, 0, 0];
    let n = 0;
    for (let k = layout.from[p]; k < layout.from[p + 1]; k++) {
      const r = layout.ray[k];
      const weight = ahead[r] ? weights.ray[r] : 0;
      if (weight === 0) continue;
      const at = RAY * r;
      const q = at + AT.point;
      const [u, v] = [j[at], j[at + 1]];
      const [ux, uy, uz, vx, vy, vz] = [j[q], j[q + 1], j[q + 2], j[q + 3], j[q + 4], j[q + 5]];
      xx += weight * (ux * ux + vx * vx);
      xy += weight * (ux * uy + vx * vy);
      xz += weight * (ux * uz + vx * vz);
      yy += weight * (uy * uy + vy * vy);
      yz += weight * (uy * uz + vy * vz);
      zz += weight * (uz * uz + vz * vz);
      gx += weight * (ux * u + vx * v);
      gy += weight * (uy * u + vy * v);
      gz += weight * (uz * u + vz * v);
      n = alone ? 1 : this.direct(r, weight, j, kept, n);
    }
    const given = block.points[p].kind === 'control' ? block.points[p] : undefined;
    if (given?.givenM && given.sdM && weights.point[p] > 0) {
      const w = given.sdM.map((sd) => weights.point[p] / sd ** 2);
      const off = given.givenM.map((v, k) => v - state.points[3 * p + k]);
      xx += w[0];
      yy += w[1];
      zz += w[2];
      gx += w[0] * off[0];
      gy += w[1] * off[1];
      gz += w[2] * off[2];
      if (kept >= 0)
        for (let k = 0; k < 3; k++) {
          matrix.values[matrix.at(kept + k, kept + k)] += w[k];
          right[kept + k] += w[k] * off[k];
        }
    }
    if (kept >= 0 || n === 0) return;
    if (alone) {
      this.invert(p, xx, xy, xz, yy, yz, zz);
      this.own[3 * p] = gx;
      this.own[3 * p + 1] = gy;
      this.own[3 * p + 2] = gz;
      return;
    }
    // several rays of one camera share its columns, which come after those of all poses
    for (let k = 0; k < this.touched.length; k++) {
      if (!this.touched[k]) continue;
      this.touched[k] = 0;
      columns[n] = this.firstTerm + k;
      for (let b = 0; b < 3; b++) {
        W[3 * n + b] = this.terms[3 * k + b];
        this.terms[3 * k + b] = 0;
      }
      n++;
    }
    const raise = 1 + damping;
    this.invert(p, raise * xx, xy, xz, raise * yy, yz, raise * zz);
    this.own[3 * p] = gx;
    this.own[3 * p + 1] = gy;
    this.own[3 * p + 2] = gz;
    // what is known of the point is taken from poses and cameras
    const { inverse, t } = this;
    const i = 6 * p;
    for (let a = 0; a < n; a++) {
      const [a0, a1, a2] = [W[3 * a], W[3 * a + 1], W[3 * a + 2]];
      const t0 = inverse[i] * a0 + inverse[i + 1] * a1 + inverse[i + 2] * a2;
      const t1 = inverse[i + 1] * a0 + inverse[i + 3] * a1 + inverse[i + 4] * a2;
      const t2 = inverse[i + 2] * a0 + inverse[i + 4] * a1 + inverse[i + 5] * a2;
      t[3 * a] = t0;
      t[3 * a + 1] = t1;
      t[3 * a + 2] = t2;
      const row = columns[a];
      right[row] -= t0 * gx + t1 * gy + t2 * gz;
      const base = matrix.base(row);
      for (let b = 0; b <= a; b++)
        matrix.values[base + columns[b]] -= t0 * W[3 * b] + t1 * W[3 * b + 1] + t2 * W[3 * b + 2];
    }
  }

  /** Adds a ray’s part on poses, cameras and points that stay; notes what ties its point to them. @returns columns noted. */
  private direct(r: number, weight: number, j: Float64Array, kept: number, noted: number): number {
    const { block, layout, matrix, right, columns, w: W, images } = this;
    const image = block.rays.image[r];
    const at = RAY * r;
    const pose = layout.imageAt[image];
    const camera = TERMS * images.camera[image];
    const [u, v] = [j[at], j[at + 1]];
    const q = at + AT.point;
    const s = at + AT.pose;
    const c = at + AT.camera;
    let n = noted;
    for (let a = 0; a < 6; a++) {
      const [ua, va] = [weight * j[s + a], weight * j[s + 6 + a]];
      const row = pose + a;
      right[row] += ua * u + va * v;
      const base = matrix.base(row) + pose;
      for (let b = 0; b <= a; b++) matrix.values[base + b] += ua * j[s + b] + va * j[s + 6 + b];
      if (kept < 0) {
        columns[n] = row;
        for (let k = 0; k < 3; k++) W[3 * n + k] = ua * j[q + k] + va * j[q + 3 + k];
        n++;
      }
    }
    if (kept >= 0)
      for (let a = 0; a < 3; a++) {
        const [ua, va] = [weight * j[q + a], weight * j[q + 3 + a]];
        const row = kept + a;
        right[row] += ua * u + va * v;
        const base = matrix.base(row);
        for (let b = 0; b <= a; b++) matrix.values[base + kept + b] += ua * j[q + b] + va * j[q + 3 + b];
        for (let b = 0; b < 6; b++) matrix.values[base + pose + b] += ua * j[s + b] + va * j[s + 6 + b];
      }
    for (let a = 0; a < TERMS; a++) {
      const row = layout.termAt[camera + a];
      if (row < 0) continue;
      const [ua, va] = [weight * j[c + a], weight * j[c + TERMS + a]];
      right[row] += ua * u + va * v;
      const base = matrix.base(row);
      for (let b = 0; b < 6; b++) matrix.values[base + pose + b] += ua * j[s + b] + va * j[s + 6 + b];
      for (let b = 0; b <= a; b++) {
        const column = layout.termAt[camera + b];
        if (column >= 0) matrix.values[base + column] += ua * j[c + b] + va * j[c + TERMS + b];
      }
      if (kept >= 0) for (let b = 0; b < 3; b++) matrix.values[base + kept + b] += ua * j[q + b] + va * j[q + 3 + b];
      else {
        const k = row - this.firstTerm;
        this.touched[k] = 1;
        for (let b = 0; b < 3; b++) this.terms[3 * k + b] += ua * j[q + b] + va * j[q + 3 + b];
      }
    }
    return n;
  }

  private invert(p: number, xx: number, xy: number, xz: number, yy: number, yz: number, zz: number): void {
    const { inverse } = this;
    const a = yy * zz - yz * yz;
    const b = xz * yz - xy * zz;
    const c = xy * yz - xz * yy;
    const det = xx * a + xy * b + xz * c;
    // rays that are as good as parallel tell nothing of their point: it then tells nothing of them
    const f = det > 1e-14 * xx * yy * zz ? 1 / det : 0;
    const i = 6 * p;
    inverse[i] = f * a;
    inverse[i + 1] = f * b;
    inverse[i + 2] = f * c;
    inverse[i + 3] = f * (xx * zz - xz * xz);
    inverse[i + 4] = f * (xy * xz - xx * yz);
    inverse[i + 5] = f * (xx * yy - xy * xy);
  }
}
