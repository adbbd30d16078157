import { EARTH_RATE_RADPS, gravityEcef } from './gravity';

/** Numbers of one state in a row: position 3, velocity 3, rotation body to Earth 9. */
export const STATE_WIDTH = 15;

/**
 * Strapdown mechanisation in Earth-centred, Earth-fixed axes (Groves 2013, 5.3): attitude as a matrix, specific force
 * turned by the mean attitude of the step, position from the mean of both velocities.
 */
export class Mechanisation {
  /** Earth-centred metres. */
  readonly r = new Float64Array(3);
  /** m/s against the Earth. */
  readonly v = new Float64Array(3);
  /** Body to Earth, row after row. */
  readonly c = new Float64Array(9);
  /** Mean body-to-Earth rotation and specific force in Earth axes of the last step, for the error model. */
  readonly meanC = new Float64Array(9);
  readonly force = new Float64Array(3);
  private readonly g = new Float64Array(3);
  private steps = 0;

  /**
   * @param wx, wy, wz angular rate against inertial space, rad/s, @param fx, fy, fz specific force, m/s², both means
   * over the step and free of bias, body axes; @param dt seconds.
   */
  step(wx: number, wy: number, wz: number, fx: number, fy: number, fz: number, dt: number): void {
    const { c, meanC, v, r, g, force } = this;
    const ax = wx * dt,
      ay = wy * dt,
      az = wz * dt;
    const a2 = ax * ax + ay * ay + az * az;
    // Rodrigues; the series is exact to 1e-16 for the turn of one step
    const s = 1 - (a2 / 6) * (1 - a2 / 20);
    const k = 0.5 - a2 / 24;
    const sm = 0.5 - a2 / 24;
    const km = 1 / 6 - a2 / 120;
    const e = EARTH_RATE_RADPS * dt;
    for (let i = 0; i < 3; i++) {
      const c0 = c[3 * i],
        c1 = c[3 * i + 1],
        c2 = c[3 * i + 2];
      // row times [a×], and that times [a×] again
      const p0 = c1 * az - c2 * ay,
        p1 = c2 * ax - c0 * az,
        p2 = c0 * ay - c1 * ax;
      const q0 = p1 * az - p2 * ay,
        q1 = p2 * ax - p0 * az,
        q2 = p0 * ay - p1 * ax;
      meanC[3 * i] = c0 + sm * p0 + km * q0;
      meanC[3 * i + 1] = c1 + sm * p1 + km * q1;
      meanC[3 * i + 2] = c2 + sm * p2 + km * q2;
      c[3 * i] = c0 + s * p0 + k * q0;
      c[3 * i + 1] = c1 + s * p1 + k * q1;
      c[3 * i + 2] = c2 + s * p2 + k * q2;
    }
    // the Earth turns under the unit: whole step for the attitude, half of it for the mean
    for (let j = 0; j < 3; j++) {
      const x = c[j],
        y = c[3 + j];
      c[j] = x + e * y;
      c[3 + j] = y - e * x;
      const mx = meanC[j],
        my = meanC[3 + j];
      meanC[j] = mx + 0.5 * e * my;
      meanC[3 + j] = my - 0.5 * e * mx;
    }
    if ((++this.steps & 255) === 0) orthonormalise(c);
    for (let i = 0; i < 3; i++) force[i] = meanC[3 * i] * fx + meanC[3 * i + 1] * fy + meanC[3 * i + 2] * fz;
    gravityEcef(r[0] + 0.5 * dt * v[0], r[1] + 0.5 * dt * v[1], r[2] + 0.5 * dt * v[2], g);
    const w = 2 * EARTH_RATE_RADPS;
    const v0 = v[0] + (force[0] + g[0] + w * v[1]) * dt;
    const v1 = v[1] + (force[1] + g[1] - w * v[0]) * dt;
    const v2 = v[2] + (force[2] + g[2]) * dt;
    r[0] += 0.5 * dt * (v[0] + v0);
    r[1] += 0.5 * dt * (v[1] + v1);
    r[2] += 0.5 * dt * (v[2] + v2);
    v[0] = v0;
    v[1] = v1;
    v[2] = v2;
  }

  /** Writes position, velocity and rotation to `out` from `at`. */
  save(out: Float64Array, at: number): void {
    out.set(this.r, at);
    out.set(this.v, at + 3);
    out.set(this.c, at + 6);
  }

  /** Goes on from where another stands. */
  copyFrom(other: Mechanisation): void {
    this.r.set(other.r);
    this.v.set(other.v);
    this.c.set(other.c);
    this.steps = other.steps;
  }
}

/** Takes out what rounding has bent: one step of the polar iteration C ← C(3I − CᵀC)/2. */
export function orthonormalise(c: Float64Array): void {
  const m = new Float64Array(9);
  for (let i = 0; i < 3; i++)
    for (let j = 0; j < 3; j++)
      m[3 * i + j] = (i === j ? 1.5 : 0) - 0.5 * (c[i] * c[j] + c[3 + i] * c[3 + j] + c[6 + i] * c[6 + j]);
  for (let r = 0; r < 3; r++) {
    const [a, b, d] = [c[3 * r], c[3 * r + 1], c[3 * r + 2]];
    for (let j = 0; j < 3; j++) c[3 * r + j] = a * m[j] + b * m[3 + j] + d * m[6 + j];
  }
}

/** Takes a small rotation error ψ (Earth axes, rad) out of a rotation: C ← (I − [ψ×])C, made orthonormal. */
export function turnBack(c: Float64Array, at: number, p0: number, p1: number, p2: number): void {
  // exact for any size: R(−ψ)C by Rodrigues' formula on each column
  const angle = Math.sqrt(p0 * p0 + p1 * p1 + p2 * p2);
  const s = angle < 1e-9 ? 1 : Math.sin(angle) / angle;
  const k = angle < 1e-5 ? 0.5 : (1 - Math.cos(angle)) / (angle * angle);
  for (let j = 0; j < 3; j++) {
    const x = c[at + j],
      y = c[at + 3 + j],
      z = c[at + 6 + j];
    const u0 = p1 * z - p2 * y,
      u1 = p2 * x - p0 * z,
      u2 = p0 * y - p1 * x;
    const w0 = p1 * u2 - p2 * u1,
      w1 = p2 * u0 - p0 * u2,
      w2 = p0 * u1 - p1 * u0;
    c[at + j] = x - s * u0 + k * w0;
    c[at + 3 + j] = y - s * u1 + k * w1;
    c[at + 6 + j] = z - s * u2 + k * w2;
  }
}
