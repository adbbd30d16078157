import { Problem } from '../../shared/problem';
import { layoutOf, type Layout } from './layout';
import { type Block, type BlockState } from './model';
import { linearise, lineariseRay, Normals, placeResidual, type Linear, type Weights } from './normals';
import { AT, RAY } from './ray';
import { movePoints, stepped } from './step';

/** Residuals beyond so many deviations count less and less, at first. */
const HUBER = 2;
const LEAST_DAMPING = 1e-9;
const MOST_DAMPING = 1e8;
/** Settled where a round lowers the sum of squares by less than this. */
const SETTLED = 0.05;
/** On the way, by less than these shares of it: weights that follow make it waver. */
const SHARE = { roughly: 1e-2, nearly: 1e-3, closely: 1e-4 } as const;

/** How far rounds go on. */
export type Until = keyof typeof SHARE | 'settled';

/** A block at a state, with what counts how much. */
export class Solver {
  readonly images: { camera: Int32Array };
  layout: Layout;
  normals: Normals;
  linear: Linear;
  private spare: Linear | undefined;
  damping = 1e-4;
  readonly weights: Weights;
  /** Of each ray 1 while it counts. */
  readonly alive: Uint8Array;

  constructor(
    readonly block: Block,
    public state: BlockState,
    private free: ReadonlyArray<readonly boolean[]>,
  ) {
    this.images = { camera: Int32Array.from(block.images, (i) => i.camera) };
    this.alive = new Uint8Array(block.rays.count).fill(1);
    this.weights = {
      ray: new Float64Array(block.rays.count),
      place: new Float64Array(block.images.length).fill(1),
      point: new Float64Array(block.points.length).fill(1),
      distance: new Float64Array(block.distances.length).fill(1),
    };
    this.layout = this.lay();
    this.normals = new Normals(block, this.images, this.layout);
    this.linear = linearise(block, this.images, state);
    this.weigh(true);
  }

  private lay(): Layout {
    return layoutOf(this.block, this.state, this.free, (r) => this.alive[r] === 1);
  }

  /** Puts up the equations anew, after other rays count or other terms are looked for. */
  again(free = this.free): void {
    this.free = free;
    this.layout = this.lay();
    this.normals = new Normals(this.block, this.images, this.layout);
    this.linear = linearise(this.block, this.images, this.state, this.linear);
  }

  /** Residuals and derivatives anew, after something of the state was set. */
  relinearise(): void {
    this.linear = linearise(this.block, this.images, this.state, this.linear);
  }

  /** Weights of all rays. @param gentle those that do not fit count less (Huber 1964). */
  weigh(gentle: boolean): void {
    const { rays } = this.block;
    const { values, ahead } = this.linear;
    for (let r = 0; r < rays.count; r++) {
      const w = 1 / rays.sdPx[r] ** 2;
      const u = values[RAY * r];
      const v = values[RAY * r + 1];
      const t = gentle ? Math.sqrt(u * u + v * v) / rays.sdPx[r] : 0;
      this.weights.ray[r] = !this.alive[r] || !ahead[r] ? 0 : t > HUBER ? (w * HUBER) / t : w;
    }
    const off = new Float64Array(3);
    this.block.images.forEach(({ given }, i) => {
      if (!given || this.weights.place[i] === 0) return;
      placeResidual(this.block, this.state, i, off);
      const t = gentle ? Math.hypot(off[0] / given.sdM[0], off[1] / given.sdM[1], off[2] / given.sdM[2]) : 0;
      this.weights.place[i] = t > HUBER ? HUBER / t : 1;
    });
    this.block.points.forEach(({ kind, givenM, sdM }, p) => {
      if (kind !== 'control' || !givenM || !sdM || this.weights.point[p] === 0) return;
      const [x, y, z] = sdM.map((sd, k) => (givenM[k] - this.state.points[3 * p + k]) / sd);
      const t = gentle ? Math.hypot(x, y, z) : 0;
      this.weights.point[p] = t > HUBER ? HUBER / t : 1;
    });
  }

  /** Weighted sum of squares at a state. */
  squares(state: BlockState, linear: Linear): number {
    const { block, weights } = this;
    const { values, ahead } = linear;
    let sum = 0;
    for (let r = 0; r < block.rays.count; r++) {
      if (weights.ray[r] === 0) continue;
      // what fell behind its camera is worse than anything before it
      sum += ahead[r] ? weights.ray[r] * (values[RAY * r] ** 2 + values[RAY * r + 1] ** 2) : 1e12;
    }
    const off = new Float64Array(3);
    block.images.forEach(({ given }, i) => {
      if (!given || weights.place[i] === 0) return;
      placeResidual(block, state, i, off);
      for (let k = 0; k < 3; k++) sum += weights.place[i] * (off[k] / given.sdM[k]) ** 2;
    });
    block.points.forEach(({ kind, givenM, sdM }, p) => {
      if (kind !== 'control' || !givenM || !sdM || weights.point[p] === 0) return;
      if (state.points[3 * p] !== state.points[3 * p]) return;
      for (let k = 0; k < 3; k++) sum += weights.point[p] * ((givenM[k] - state.points[3 * p + k]) / sdM[k]) ** 2;
    });
    block.distances.forEach((d, k) => {
      if (d.use !== 'scale' || weights.distance[k] === 0) return;
      sum += weights.distance[k] * ((d.valueM - distanceOf(state, d)) / d.sdM) ** 2;
    });
    block.cameras.forEach(({ camera, sd }, c) => {
      for (const term of Object.keys(sd) as Array<keyof typeof sd>)
        sum += ((camera[term] - state.cameras[c][term]) / sd[term]) ** 2;
    });
    return sum;
  }

  /**
   * Rounds of Levenberg–Marquardt until nothing is gained.
   * @param gentle whether rays that do not fit count less. @param until how little may be left to be gained.
   * @returns rounds that were made.
   */
  improve(most: number, gentle: boolean, until: Until, tick?: () => void): number {
    for (let round = 0; round < most; round++) {
      tick?.();
      this.weigh(gentle);
      const before = this.squares(this.state, this.linear);
      for (;;) {
        this.normals.fill(this.linear, this.state, this.weights, this.damping);
        const factor = this.normals.matrix.copy();
        if (factor.factor()) {
          const x = factor.solve(this.normals.right);
          const next = stepped(this.block, this.images, this.state, this.normals, this.linear, this.weights, x);
          const linear = linearise(this.block, this.images, next, this.spare);
          const after = this.squares(next, linear);
          if (after < before * (1 + 1e-9)) {
            const limit = until === 'settled' ? SETTLED : SHARE[until] * before;
            // what is left to be gained is less than the equations were wrong by; weights that follow make them wrong
            const settled = !gentle && Math.abs(before - after - this.normals.gain(x)) < limit;
            this.spare = this.linear;
            this.state = next;
            this.linear = linear;
            this.damping = Math.max(LEAST_DAMPING, this.damping / 10);
            if (settled || before - after < limit) return round + 1;
            break;
          }
          this.spare = linear;
        }
        this.damping *= 10;
        if (this.damping > MOST_DAMPING)
          throw new Problem('The block cannot be adjusted: its equations have no single solution.', {
            code: 'block-loose',
            remedy: 'Bring more ties between its pictures, or leave out those that hang on few.',
          });
      }
    }
    return most;
  }

  /**
   * Moves each point to where its rays that count, as they were stated, leave least: theirs alone, so that no survey judges
   * the rays it is held against. Poses and cameras stay. @param which points; all without it.
   */
  settle(which = this.layout.points): void {
    this.weigh(false);
    const weights = { ...this.weights, point: new Float64Array(this.block.points.length) };
    const { block, images, layout } = this;
    for (let round = 0; round < 2; round++) {
      this.normals.points(this.linear, this.state, weights, which);
      const points = this.state.points.slice();
      movePoints(points, which, block, images, this.normals, this.linear, weights);
      this.state = { ...this.state, points };
      for (const p of which)
        for (let k = layout.from[p]; k < layout.from[p + 1]; k++)
          lineariseRay(block, images, this.state, this.linear, layout.ray[k]);
    }
    this.normals.points(this.linear, this.state, weights, which);
  }

  /** Residual of a ray, pixels. */
  residual(r: number): [number, number] {
    return [this.linear.values[RAY * r], this.linear.values[RAY * r + 1]];
  }

  /**
   * What of an error of a ray its residual shows, poses and cameras taken as known: the symmetric matrix of redundancies
   * uu, uv, vv, 0 (nothing) to 1 (all).
   */
  shown(r: number): [number, number, number] {
    const { inverse } = this.normals;
    const p = this.block.rays.point[r];
    if (this.layout.pointAt[p] >= 0) return [0.7, 0, 0.7];
    const w = 1 / this.block.rays.sdPx[r] ** 2;
    const j = this.linear.values;
    const i = 6 * p;
    const a = RAY * r + AT.point;
    const ux = j[a];
    const uy = j[a + 1];
    const uz = j[a + 2];
    const vx = j[a + 3];
    const vy = j[a + 4];
    const vz = j[a + 5];
    // of the point's own covariance, what it does to u and to v
    const x = inverse[i] * vx + inverse[i + 1] * vy + inverse[i + 2] * vz;
    const y = inverse[i + 1] * vx + inverse[i + 3] * vy + inverse[i + 4] * vz;
    const z = inverse[i + 2] * vx + inverse[i + 4] * vy + inverse[i + 5] * vz;
    const uu =
      ux * (inverse[i] * ux + 2 * (inverse[i + 1] * uy + inverse[i + 2] * uz)) +
      uy * (inverse[i + 3] * uy + 2 * inverse[i + 4] * uz) +
      uz * inverse[i + 5] * uz;
    return [1 - w * uu, -w * (ux * x + uy * y + uz * z), 1 - w * (vx * x + vy * y + vz * z)];
  }
}

/** Length between two points of a state, metres. */
export const distanceOf = (state: BlockState, { from, to }: { from: number; to: number }): number =>
  Math.hypot(...[0, 1, 2].map((k) => state.points[3 * to + k] - state.points[3 * from + k]));
