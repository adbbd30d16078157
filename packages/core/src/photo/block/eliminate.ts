import { type Envelope } from '../../numeric/envelope';
import { invertInto } from './invert';
import { type Layout } from './layout';
import { TERMS, type Block, type BlockState } from './model';
import { type Linear, type Weights } from './normals';
import { AT, RAY } from './ray';

/** Of a ray, the unknowns of its picture: six of the pose, then the terms of its camera. */
const OF_PICTURE = 6 + TERMS;
const RIGHT = (OF_PICTURE * (OF_PICTURE + 1)) / 2;
/** Numbers kept of a picture: the lower half of its equations by rows, and their right sides. */
const PICTURE = RIGHT + OF_PICTURE;
/** Numbers that tie a pose to a point. */
const TIE = 18;

/**
 * Equations of points, and their elimination from those of poses and cameras (Schur complement; Triggs et al. 2000, 6.1).
 * What rays say of poses and cameras is gathered picture by picture, so that the large equations are touched once a picture;
 * what a point takes away is taken three rows at a time.
 */
export class Elimination {
  /** Inverse of each point's own equations, upper half by rows, and their right sides. */
  readonly inverse: Float64Array;
  readonly own: Float64Array;
  private readonly pictures: Float64Array;
  /** Column and numbers of each pose that the current point is tied to. */
  private readonly poses: Int32Array;
  private readonly w: Float64Array;
  /** The same of each term of each camera; whether a camera is there. */
  private readonly terms: Float64Array;
  private readonly seen: Uint8Array;
  /** Columns of free terms of cameras that are there, and where their numbers stand. */
  private readonly termColumns: Int32Array;
  private readonly termAt: Int32Array;
  private readonly t = new Float64Array(TIE);
  private readonly u = new Float64Array(OF_PICTURE);
  private readonly v = new Float64Array(OF_PICTURE);

  constructor(
    private readonly block: Block,
    private readonly cameraOf: Int32Array,
    private readonly layout: Layout,
    private readonly matrix: Envelope,
    private readonly right: Float64Array,
  ) {
    this.inverse = new Float64Array(6 * block.points.length);
    this.own = new Float64Array(3 * block.points.length);
    this.pictures = new Float64Array(PICTURE * block.images.length);
    this.poses = new Int32Array(layout.mostRays);
    this.w = new Float64Array(TIE * layout.mostRays);
    this.terms = new Float64Array(3 * layout.termAt.length);
    this.seen = new Uint8Array(block.cameras.length);
    this.termColumns = new Int32Array(layout.termAt.length);
    this.termAt = new Int32Array(layout.termAt.length);
  }

  /** Each point's own equations alone, poses and cameras taken as known. */
  alone(linear: Linear, state: BlockState, weights: Weights, which: Int32Array): void {
    for (const p of which) this.point(p, linear, state, weights, 0, true);
  }

  /** Adds what rays and surveyed points say to the equations, without the points themselves. @param damping raises their diagonals. */
  add(linear: Linear, state: BlockState, weights: Weights, damping: number): void {
    this.pictures.fill(0);
    for (const p of this.layout.points) this.point(p, linear, state, weights, damping, false);
    for (let i = 0; i < this.block.images.length; i++) this.picture(i);
  }

  private point(
    p: number,
    { values: j, ahead }: Linear,
    state: BlockState,
    weights: Weights,
    damping: number,
    alone: boolean,
  ): void {
    const { layout, poses, own } = this;
    const kept = layout.pointAt[p];
    if (alone && kept >= 0) return;
    let xx = 0;
    let xy = 0;
    let xz = 0;
    let yy = 0;
    let yz = 0;
    let zz = 0;
    let gx = 0;
    let gy = 0;
    let gz = 0;
    let rays = 0;
    let n = 0;
    for (let k = layout.from[p]; k < layout.from[p + 1]; k++) {
      const r = layout.ray[k];
      const weight = ahead[r] ? weights.ray[r] : 0;
      if (weight === 0) continue;
      rays++;
      const at = (RAY * r) | 0;
      const q = (at + AT.point) | 0;
      const u = j[at];
      const v = j[at + 1];
      const ux = j[q];
      const uy = j[q + 1];
      const uz = j[q + 2];
      const vx = j[q + 3];
      const vy = j[q + 4];
      const vz = j[q + 5];
      xx += weight * (ux * ux + vx * vx);
      xy += weight * (ux * uy + vx * vy);
      xz += weight * (ux * uz + vx * vz);
      yy += weight * (uy * uy + vy * vy);
      yz += weight * (uy * uz + vy * vz);
      zz += weight * (uz * uz + vz * vz);
      gx += weight * (ux * u + vx * v);
      gy += weight * (uy * u + vy * v);
      gz += weight * (uz * u + vz * v);
      if (alone) continue;
      const image = this.block.rays.image[r];
      this.ray(image, weight, j, at);
      if (kept >= 0) this.keep(kept, image, weight, j, at);
      else n = this.tie(image, weight, j, at, n);
    }
    const { kind, givenM, sdM } = this.block.points[p];
    if (kind === 'control' && givenM && sdM && weights.point[p] > 0) {
      const w = sdM.map((sd) => weights.point[p] / sd ** 2);
      const off = givenM.map((v, k) => w[k] * (v - state.points[3 * p + k]));
      if (kept >= 0) this.keepGiven(kept, w, off);
      xx += w[0];
      yy += w[1];
      zz += w[2];
      gx += off[0];
      gy += off[1];
      gz += off[2];
    }
    if (kept >= 0 || rays === 0) return;
    const raise = 1 + damping;
    invertInto(this.inverse, 6 * p, raise * xx, xy, xz, raise * yy, yz, raise * zz);
    own[3 * p] = gx;
    own[3 * p + 1] = gy;
    own[3 * p + 2] = gz;
    if (alone) return;
    for (let a = 0; a < n; a++) this.take(p, TIE * a, 6, poses[a], this.w, a, gx, gy, gz);
    this.takeTerms(p, n, gx, gy, gz);
  }

  /** What a ray says of pose and camera of its picture. */
  private ray(image: number, weight: number, j: Float64Array, at: number): void {
    const { pictures, u, v } = this;
    const pose = (at + AT.pose) | 0;
    const camera = (at + AT.camera) | 0;
    for (let a = 0; a < 6; a++) {
      u[a] = j[pose + a];
      v[a] = j[pose + 6 + a];
    }
    for (let a = 0; a < TERMS; a++) {
      u[6 + a] = j[camera + a];
      v[6 + a] = j[camera + TERMS + a];
    }
    const du = weight * j[at];
    const dv = weight * j[at + 1];
    let q = (PICTURE * image) | 0;
    const right = (q + RIGHT) | 0;
    for (let a = 0; a < OF_PICTURE; a++) {
      pictures[right + a] += u[a] * du + v[a] * dv;
      const ua = weight * u[a];
      const va = weight * v[a];
      for (let b = 0; b <= a; b++) {
        pictures[q] += ua * u[b] + va * v[b];
        q = (q + 1) | 0;
      }
    }
  }

  /** Notes what ties the current point to pose and camera of a ray. @returns poses noted. */
  private tie(image: number, weight: number, j: Float64Array, at: number, noted: number): number {
    const { poses, w, terms, u, v } = this;
    const q = at + AT.point;
    const ux = weight * j[q];
    const uy = weight * j[q + 1];
    const uz = weight * j[q + 2];
    const vx = weight * j[q + 3];
    const vy = weight * j[q + 4];
    const vz = weight * j[q + 5];
    const pose = this.layout.imageAt[image];
    // a picture that sees the point twice is tied to it once
    const again = noted > 0 && poses[noted - 1] === pose;
    const n = again ? noted : noted + 1;
    let to = (TIE * (n - 1)) | 0;
    if (!again) {
      poses[n - 1] = pose;
      w.fill(0, to, to + TIE);
    }
    for (let a = 0; a < 6; a++) {
      w[to] += ux * u[a] + vx * v[a];
      w[to + 1] += uy * u[a] + vy * v[a];
      w[to + 2] += uz * u[a] + vz * v[a];
      to = (to + 3) | 0;
    }
    const camera = this.cameraOf[image];
    this.seen[camera] = 1;
    to = (3 * TERMS * camera) | 0;
    for (let a = 6; a < OF_PICTURE; a++) {
      terms[to] += ux * u[a] + vx * v[a];
      terms[to + 1] += uy * u[a] + vy * v[a];
      terms[to + 2] += uz * u[a] + vz * v[a];
      to = (to + 3) | 0;
    }
    return n;
  }

  /**
   * Takes what is known of a point from rows of the equations and the columns of poses.
   * @param from where the numbers of the first row stand in `w`. @param rows how many, at most six. @param last poses whose
   * columns come before the first row.
   */
  private take(
    p: number,
    from: number,
    rows: number,
    row: number,
    w: Float64Array,
    last: number,
    gx: number,
    gy: number,
    gz: number,
  ): void {
    const { inverse, right, matrix, poses, w: ties, t } = this;
    const l = matrix.values;
    const i = 6 * p;
    for (let a = 0; a < rows; a++) {
      const q = (from + 3 * a) | 0;
      const x = w[q];
      const y = w[q + 1];
      const z = w[q + 2];
      const t0 = inverse[i] * x + inverse[i + 1] * y + inverse[i + 2] * z;
      const t1 = inverse[i + 1] * x + inverse[i + 3] * y + inverse[i + 4] * z;
      const t2 = inverse[i + 2] * x + inverse[i + 4] * y + inverse[i + 5] * z;
      t[3 * a] = t0;
      t[3 * a + 1] = t1;
      t[3 * a + 2] = t2;
      right[row + a] -= t0 * gx + t1 * gy + t2 * gz;
    }
    let a = 0;
    for (; a + 2 < rows; a += 3) {
      const a0 = t[3 * a];
      const a1 = t[3 * a + 1];
      const a2 = t[3 * a + 2];
      const b0 = t[3 * a + 3];
      const b1 = t[3 * a + 4];
      const b2 = t[3 * a + 5];
      const c0 = t[3 * a + 6];
      const c1 = t[3 * a + 7];
      const c2 = t[3 * a + 8];
      const toA = matrix.base(row + a);
      const toB = matrix.base(row + a + 1);
      const toC = matrix.base(row + a + 2);
      let q = 0;
      for (let k = 0; k < last; k++) {
        const pose = poses[k];
        let qa = (toA + pose) | 0;
        let qb = (toB + pose) | 0;
        let qc = (toC + pose) | 0;
        for (const end = (q + TIE) | 0; q < end; q = (q + 3) | 0) {
          const x = ties[q];
          const y = ties[q + 1];
          const z = ties[q + 2];
          l[qa] -= a0 * x + a1 * y + a2 * z;
          l[qb] -= b0 * x + b1 * y + b2 * z;
          l[qc] -= c0 * x + c1 * y + c2 * z;
          qa = (qa + 1) | 0;
          qb = (qb + 1) | 0;
          qc = (qc + 1) | 0;
        }
      }
      // with rows before these, and with each other
      const qa = toA + row;
      const qb = toB + row;
      const qc = toC + row;
      q = from;
      for (let b = 0; b < a; b++, q += 3) {
        const x = w[q];
        const y = w[q + 1];
        const z = w[q + 2];
        l[qa + b] -= a0 * x + a1 * y + a2 * z;
        l[qb + b] -= b0 * x + b1 * y + b2 * z;
        l[qc + b] -= c0 * x + c1 * y + c2 * z;
      }
      l[qa + a] -= a0 * w[q] + a1 * w[q + 1] + a2 * w[q + 2];
      l[qb + a] -= b0 * w[q] + b1 * w[q + 1] + b2 * w[q + 2];
      l[qc + a] -= c0 * w[q] + c1 * w[q + 1] + c2 * w[q + 2];
      l[qb + a + 1] -= b0 * w[q + 3] + b1 * w[q + 4] + b2 * w[q + 5];
      l[qc + a + 1] -= c0 * w[q + 3] + c1 * w[q + 4] + c2 * w[q + 5];
      l[qc + a + 2] -= c0 * w[q + 6] + c1 * w[q + 7] + c2 * w[q + 8];
    }
    for (; a < rows; a++) {
      const a0 = t[3 * a];
      const a1 = t[3 * a + 1];
      const a2 = t[3 * a + 2];
      const to = matrix.base(row + a);
      let q = 0;
      for (let k = 0; k < last; k++) {
        const end = to + poses[k] + 6;
        for (let qa = to + poses[k]; qa < end; qa++) {
          l[qa] -= a0 * ties[q] + a1 * ties[q + 1] + a2 * ties[q + 2];
          q += 3;
        }
      }
      q = from;
      for (let b = 0; b <= a; b++, q += 3) l[to + row + b] -= a0 * w[q] + a1 * w[q + 1] + a2 * w[q + 2];
    }
  }

  private takeTerms(p: number, last: number, gx: number, gy: number, gz: number): void {
    const { terms, seen, layout, matrix, inverse, termColumns, termAt } = this;
    let n = 0;
    for (let c = 0; c < seen.length; c++) {
      if (!seen[c]) continue;
      seen[c] = 0;
      for (let k = TERMS * c; k < TERMS * (c + 1); k++)
        if (layout.termAt[k] >= 0) {
          termColumns[n] = layout.termAt[k];
          termAt[n++] = 3 * k;
        } else terms.fill(0, 3 * k, 3 * k + 3);
    }
    // terms whose numbers and columns follow each other go together
    for (let a = 0; a < n;) {
      let rows = 1;
      while (
        rows < 6 &&
        a + rows < n &&
        termColumns[a + rows] === termColumns[a] + rows &&
        termAt[a + rows] === termAt[a] + 3 * rows
      )
        rows++;
      this.take(p, termAt[a], rows, termColumns[a], terms, last, gx, gy, gz);
      // and with those before them
      for (let r = a; r < a + rows; r++) {
        const q = termAt[r];
        const x = terms[q];
        const y = terms[q + 1];
        const z = terms[q + 2];
        const i = 6 * p;
        const t0 = inverse[i] * x + inverse[i + 1] * y + inverse[i + 2] * z;
        const t1 = inverse[i + 1] * x + inverse[i + 3] * y + inverse[i + 4] * z;
        const t2 = inverse[i + 2] * x + inverse[i + 4] * y + inverse[i + 5] * z;
        const to = matrix.base(termColumns[r]);
        for (let b = 0; b < a; b++) {
          const s = termAt[b];
          matrix.values[to + termColumns[b]] -= t0 * terms[s] + t1 * terms[s + 1] + t2 * terms[s + 2];
        }
      }
      a += rows;
    }
    for (let k = 0; k < n; k++) terms.fill(0, termAt[k], termAt[k] + 3);
  }

  /** Brings what was gathered of a picture into the equations. */
  private picture(image: number): void {
    const { layout, matrix, right, pictures } = this;
    const pose = layout.imageAt[image];
    const camera = TERMS * this.cameraOf[image];
    const column = (a: number) => (a < 6 ? pose + a : layout.termAt[camera + a - 6]);
    let q = PICTURE * image;
    const sides = q + RIGHT;
    for (let a = 0; a < OF_PICTURE; a++) {
      const row = column(a);
      if (row >= 0) right[row] += pictures[sides + a];
      for (let b = 0; b <= a; b++, q++) {
        const to = column(b);
        if (row >= 0 && to >= 0) matrix.values[matrix.at(row, to)] += pictures[q];
      }
    }
  }

  /** What a ray says of a point that stays in the equations. */
  private keep(kept: number, image: number, weight: number, j: Float64Array, at: number): void {
    const { layout, matrix, right, u, v } = this;
    const q = at + AT.point;
    const pose = layout.imageAt[image];
    const camera = TERMS * this.cameraOf[image];
    for (let a = 0; a < 3; a++) {
      const ua = weight * j[q + a];
      const va = weight * j[q + 3 + a];
      const row = kept + a;
      right[row] += ua * j[at] + va * j[at + 1];
      for (let b = 0; b <= a; b++) matrix.values[matrix.at(row, kept + b)] += ua * j[q + b] + va * j[q + 3 + b];
      for (let b = 0; b < 6; b++) matrix.values[matrix.at(row, pose + b)] += ua * u[b] + va * v[b];
      for (let b = 0; b < TERMS; b++) {
        const term = layout.termAt[camera + b];
        if (term >= 0) matrix.values[matrix.at(term, row)] += ua * u[6 + b] + va * v[6 + b];
      }
    }
  }

  private keepGiven(kept: number, weight: readonly number[], off: readonly number[]): void {
    const { matrix, right } = this;
    for (let k = 0; k < 3; k++) {
      matrix.values[matrix.at(kept + k, kept + k)] += weight[k];
      right[kept + k] += off[k];
    }
  }
}
