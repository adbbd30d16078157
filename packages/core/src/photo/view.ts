import { makeLocalMap, type LocalMap } from '../frames/localMap';
import { type ReferenceSystem } from '../frames/referenceSystem';
import { type Matrix3 } from '../numeric/matrix3';
import { Projector, type Camera } from './camera';

/** Beside the frame by less than this is not surely outside: its edges are bent. */
const BEYOND = 1.05;

/** Where a picture was taken from, and how its camera was turned there. */
export interface PicturePose {
  latRad: number;
  lonRad: number;
  hEllM: number;
  /** Camera frame to north, east, down of its place. */
  rotation: Matrix3;
}

/**
 * A picture among points of a projected system: easting, northing, height to pixel and depth. The second-order map of the
 * camera's place is inverted by one repetition, so that a straight ray stays straight over projection and geoid: within a
 * tenth of a millimetre at 300 m.
 */
export class View {
  private readonly projector: Projector;
  private readonly map: LocalMap;
  private readonly inverse = new Float64Array(9);
  private readonly r: Matrix3;
  /** Pixel u, v and depth along the view (of a panorama: distance), metres, of the last place. */
  readonly at = new Float64Array(3);
  /** For each axis of the camera: e, n, h, e², n², h², e·n, e·h, n·h. */
  private readonly q = new Float64Array(27);
  private readonly e0: number;
  private readonly n0: number;
  private readonly h0: number;
  /** A panorama sees all round. */
  private readonly round: boolean;

  constructor(pose: PicturePose, camera: Camera, system: ReferenceSystem) {
    this.projector = new Projector(camera);
    this.round = camera.model === 'sphere';
    this.map = makeLocalMap(system, pose.latRad, pose.lonRad, pose.hEllM);
    this.r = pose.rotation;
    const { c } = this.map;
    const m = [c[1], c[2], c[3], c[11], c[12], c[13], c[21], c[22], c[23]];
    const cofactor = (r: number, k: number) => {
      const [r1, r2] = [(r + 1) % 3, (r + 2) % 3];
      const [k1, k2] = [(k + 1) % 3, (k + 2) % 3];
      return m[3 * r1 + k1] * m[3 * r2 + k2] - m[3 * r1 + k2] * m[3 * r2 + k1];
    };
    const det = m[0] * cofactor(0, 0) + m[1] * cofactor(0, 1) + m[2] * cofactor(0, 2);
    for (let r = 0; r < 3; r++) for (let k = 0; k < 3; k++) this.inverse[3 * r + k] = cofactor(k, r) / det;
    [this.e0, this.n0, this.h0] = [c[0], c[10], c[20]];
    this.coefficients();
  }

  get camera(): Camera {
    return this.projector.camera;
  }

  /** Easting, northing, height of the projection centre, metres. */
  get centre(): [number, number, number] {
    const { c } = this.map;
    return [c[0], c[10], c[20]];
  }

  /** Projects a place; true when it lies in the picture. {@link at} then holds pixel and depth. */
  see(eastingM: number, northingM: number, heightM: number): boolean {
    const { q, at } = this;
    const e = eastingM - this.e0;
    const n = northingM - this.n0;
    const h = heightM - this.h0;
    const z =
      e * (q[18] + q[21] * e + q[24] * n + q[25] * h) + n * (q[19] + q[22] * n + q[26] * h) + h * (q[20] + q[23] * h);
    if (this.round) {
      const x = e * (q[0] + q[3] * e + q[6] * n + q[7] * h) + n * (q[1] + q[4] * n + q[8] * h) + h * (q[2] + q[5] * h);
      const y =
        e * (q[9] + q[12] * e + q[15] * n + q[16] * h) + n * (q[10] + q[13] * n + q[17] * h) + h * (q[11] + q[14] * h);
      at[2] = Math.sqrt(x * x + y * y + z * z);
      return this.projector.project(x, y, z, at);
    }
    if (!(z > 0)) return false;
    at[2] = z;
    return this.projector.project(
      e * (q[0] + q[3] * e + q[6] * n + q[7] * h) + n * (q[1] + q[4] * n + q[8] * h) + h * (q[2] + q[5] * h),
      e * (q[9] + q[12] * e + q[15] * n + q[16] * h) + n * (q[10] + q[13] * n + q[17] * h) + h * (q[11] + q[14] * h),
      z,
      at,
    );
  }

  /** The same by the local map, for coefficients: a place to the camera's frame. */
  private exact(de: number, dn: number, dh: number): [number, number, number] {
    const { inverse: i, r } = this;
    const { c } = this.map;
    const n0 = i[0] * de + i[1] * dn + i[2] * dh;
    const e0 = i[3] * de + i[4] * dn + i[5] * dh;
    const d0 = i[6] * de + i[7] * dn + i[8] * dh;
    const ce = de - bend(c, 0, n0, e0, d0);
    const cn = dn - bend(c, 10, n0, e0, d0);
    const ch = dh - bend(c, 20, n0, e0, d0);
    const n = i[0] * ce + i[1] * cn + i[2] * ch;
    const e = i[3] * ce + i[4] * cn + i[5] * ch;
    const d = i[6] * ce + i[7] * cn + i[8] * ch;
    return [r[0] * n + r[3] * e + r[6] * d, r[1] * n + r[4] * e + r[7] * d, r[2] * n + r[5] * e + r[8] * d];
  }

  /** Linear and square coefficients of the way from a place to the camera's frame; it is a polynomial of that degree. */
  private coefficients(): void {
    const one = 100;
    const at = [
      [one, 0, 0],
      [0, one, 0],
      [0, 0, one],
    ].map(([a, b, c]) => ({ plus: this.exact(a, b, c), minus: this.exact(-a, -b, -c) }));
    const pairs = [
      [1, 1, 0],
      [1, 0, 1],
      [0, 1, 1],
    ].map(([a, b, c]) => this.exact(a * one, b * one, c * one));
    for (let k = 0; k < 3; k++) {
      const linear = at.map(({ plus, minus }) => (plus[k] - minus[k]) / 2 / one);
      const square = at.map(({ plus, minus }) => (plus[k] + minus[k]) / 2 / one ** 2);
      const [a, b, c] = linear.map((l, i) => l * one + square[i] * one ** 2);
      this.q.set([...linear, ...square], 9 * k);
      this.q.set(
        [pairs[0][k] - a - b, pairs[1][k] - a - c, pairs[2][k] - b - c].map((v) => v / one ** 2),
        9 * k + 6,
      );
    }
  }

  /** Whether a box may be seen: false only when all of its corners lie behind the camera or beyond one edge of the frame. */
  maySee(west: number, south: number, low: number, east: number, north: number, high: number): boolean {
    if (this.round) return true;
    const { left, right, top, bottom } = this.projector;
    let all = 0b11111;
    for (let k = 0; k < 8 && all; k++) {
      const [x, y, z] = this.exact(
        (k & 1 ? east : west) - this.e0,
        (k & 2 ? north : south) - this.n0,
        (k & 4 ? high : low) - this.h0,
      );
      let out = z <= 0 ? 1 : 0;
      if (x < BEYOND * left * z) out |= 2;
      if (x > BEYOND * right * z) out |= 4;
      if (y < BEYOND * top * z) out |= 8;
      if (y > BEYOND * bottom * z) out |= 16;
      all &= out;
    }
    return all === 0;
  }
}

function bend(c: Float64Array, b: number, n: number, e: number, d: number): number {
  return n * (c[b + 4] * n + c[b + 7] * e + c[b + 8] * d) + e * (c[b + 5] * e + c[b + 9] * d) + c[b + 6] * d * d;
}
