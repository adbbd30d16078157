import { solveNormal } from '../numeric/leastSquares';
import { EARTH_RATE_RADPS } from './gravity';
import { type Mechanisation } from './mechanisation';
import { type InertialNoise } from './profiles';

/** Places of the errors among the states: computed less true, Earth axes for the first nine, body axes else. */
export const STATE = {
  /** Attitude, rad: computed rotation = (I + [ψ×])·true. */
  attitude: 0,
  velocity: 3,
  position: 6,
  gyroBias: 9,
  accelBias: 12,
  gyroScale: 15,
  accelScale: 18,
  /** What is correlated in the antenna's positions, in deviations: first-order Gauss–Markov of unit variance. */
  antenna: 21,
  leverArm: 24,
  /** How the axes of the wheels lie askew in the body: heading and pitch, rad. */
  wheels: 27,
} as const;
export const STATES = 29;
/** Errors that the motion couples; the others keep to themselves between updates. */
export const COUPLED = 9;
/** Numbers of a covariance kept as its upper triangle. */
export const PACKED = (STATES * (STATES + 1)) / 2;

const DEG_PER_HOUR = Math.PI / 180 / 3600;
const MG = 9.80665e-3;
const MU = 3.986005e14;
/** Correlation time of the antenna's positions: multipath, seconds. */
const ANTENNA_TAU_S = 60;

const N = STATES;
/** Sums of 3 × 3 blocks that make up the transition, places in one array. */
const SUM = { a: 0, b: 9, d: 18, vg: 27, vs: 36, rg: 45, rs: 54, ra: 63, rd: 72, end: 81 } as const;

/**
 * Error-state Kalman filter of an inertial solution (Groves 2013, 14.2, Earth-centred): covariance, transition gathered
 * over the steps of the unit, scalar or vector updates.
 */
export class ErrorFilter {
  /** Covariance, both triangles. */
  readonly p = new Float64Array(N * N);
  /** Rows of the transition that the motion couples, 9 × N, and the diagonal of the others. */
  readonly phi = new Float64Array(COUPLED * N);
  readonly keep = new Float64Array(N);
  readonly noise = new Float64Array(N);
  private readonly sums = new Float64Array(SUM.end);
  private readonly turned = new Float64Array(3);
  private readonly turnedTwice = new Float64Array(3);
  private seconds = 0;
  private forgetsAntenna = false;

  /** @param keepUpdate hears of each update that was believed: design, gain (m × N), inverse variance, innovation. */
  constructor(
    private readonly unit: InertialNoise,
    private readonly keepUpdate?: (
      m: number,
      h: Float64Array,
      gain: Float64Array,
      inverse: Float64Array,
      y: ArrayLike<number>,
    ) => void,
  ) {}

  /** Starts with standard deviations by state. */
  start(sd: ArrayLike<number>): void {
    this.p.fill(0);
    for (let i = 0; i < N; i++) this.p[i * (N + 1)] = sd[i] ** 2;
    this.clear();
  }

  /** Gathers one step of the unit into the transition. @param w, f corrected rate and force, body axes. */
  gather(m: Mechanisation, w0: number, w1: number, w2: number, b0: number, b1: number, b2: number, dt: number): void {
    const { sums: s, turned, turnedTwice } = this;
    const c = m.meanC;
    const [f0, f1, f2] = m.force;
    for (let k = SUM.rg, q = SUM.vg; k < SUM.ra; k++, q++) s[k] += dt * s[q];
    for (let k = 0; k < 9; k++) {
      s[SUM.ra + k] += dt * (s[k] + 0.5 * dt * c[k]);
      s[SUM.rd + k] += dt * s[SUM.d + k];
    }
    // attitude errors gathered so far lean the specific force: −[f×]
    for (let j = 0; j < 3; j++) {
      for (let q = 0, to = SUM.vg as number; q < 2; q++, to += 9) {
        const x = s[9 * q + j],
          y = s[9 * q + 3 + j],
          z = s[9 * q + 6 + j];
        s[to + j] += dt * (f2 * y - f1 * z);
        s[to + 3 + j] += dt * (f0 * z - f2 * x);
        s[to + 6 + j] += dt * (f1 * x - f0 * y);
      }
      const wj = j === 0 ? w0 : j === 1 ? w1 : w2;
      const fj = j === 0 ? b0 : j === 1 ? b1 : b2;
      for (let r = 0; r < 9; r += 3) {
        const v = c[r + j] * dt;
        s[SUM.a + r + j] += v;
        s[SUM.b + r + j] += v * wj;
        s[SUM.d + r + j] += v * fj;
      }
    }
    for (let k = 0; k < 3; k++) {
      turnedTwice[k] += dt * turned[k];
      turned[k] += dt * m.force[k];
    }
    this.seconds += dt;
  }

  /** The next step does not carry the antenna's correlated errors on: another kind of solution begins. */
  forgetAntenna(): void {
    this.forgetsAntenna = true;
  }

  /** Puts the transition and noise of what was gathered together, and moves the covariance over it. */
  propagate(r: ArrayLike<number>, extraGyro = 0, extraAccel = 0): void {
    this.build(r, extraGyro, extraAccel);
    transport(this.p, this.phi, this.keep, this.noise, this.seconds, this.p);
    this.clear();
  }

  private clear(): void {
    this.sums.fill(0);
    this.turned.fill(0);
    this.turnedTwice.fill(0);
    this.seconds = 0;
    this.forgetsAntenna = false;
  }

  get gatheredS(): number {
    return this.seconds;
  }

  private build(r: ArrayLike<number>, extraGyro: number, extraAccel: number): void {
    const { phi, keep, noise, sums: s, turned, turnedTwice, seconds: t, unit } = this;
    phi.fill(0);
    const { attitude, velocity, position, gyroBias, accelBias, gyroScale, accelScale, antenna } = STATE;
    // an estimate of a bias that is too large makes what is left too small
    const block = (row: number, col: number, from: number) => {
      for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) phi[(row + i) * N + col + j] = -s[from + 3 * i + j];
    };
    const skew = (row: number, col: number, u: Float64Array) => {
      phi[row * N + col + 1] = u[2];
      phi[row * N + col + 2] = -u[1];
      phi[(row + 1) * N + col] = -u[2];
      phi[(row + 1) * N + col + 2] = u[0];
      phi[(row + 2) * N + col] = u[1];
      phi[(row + 2) * N + col + 1] = -u[0];
    };
    for (let i = 0; i < COUPLED; i++) phi[i * (N + 1)] = 1;
    const e = EARTH_RATE_RADPS * t;
    phi[attitude * N + attitude + 1] = e;
    phi[(attitude + 1) * N + attitude] = -e;
    phi[velocity * N + velocity + 1] = 2 * e;
    phi[(velocity + 1) * N + velocity] = -2 * e;
    block(attitude, gyroBias, SUM.a);
    block(attitude, gyroScale, SUM.b);
    skew(velocity, attitude, turned);
    block(velocity, gyroBias, SUM.vg);
    block(velocity, gyroScale, SUM.vs);
    block(velocity, accelBias, SUM.a);
    block(velocity, accelScale, SUM.d);
    skew(position, attitude, turnedTwice);
    block(position, gyroBias, SUM.rg);
    block(position, gyroScale, SUM.rs);
    block(position, accelBias, SUM.ra);
    block(position, accelScale, SUM.rd);
    const r2 = r[0] * r[0] + r[1] * r[1] + r[2] * r[2];
    const g = (MU * t) / (r2 * Math.sqrt(r2));
    for (let i = 0; i < 3; i++) {
      phi[(position + i) * N + velocity + i] = t;
      for (let j = 0; j < 3; j++)
        phi[(velocity + i) * N + position + j] = g * ((3 * r[i] * r[j]) / r2 - (i === j ? 1 : 0));
    }
    keep.fill(1);
    noise.fill(0);
    const walk = (from: number, q: number) => noise.fill(q * t, from, from + 3);
    const perRoot = (v: number) => (v / 60) ** 2;
    walk(attitude, perRoot((unit.gyroWalkDegPerRootHour * Math.PI) / 180) + extraGyro);
    walk(velocity, perRoot(unit.accelWalkMpsPerRootHour) + extraAccel);
    walk(gyroBias, (2 * (unit.gyroDriftDegPerHour * DEG_PER_HOUR) ** 2) / unit.driftTauS);
    walk(accelBias, (2 * (unit.accelDriftMg * MG) ** 2) / unit.driftTauS);
    // never quite sure, so that the smoother can divide
    walk(gyroScale, 1e-18);
    walk(accelScale, 1e-18);
    walk(STATE.leverArm, 1e-14);
    noise.fill(1e-12 * t, STATE.wheels, N);
    const d = this.forgetsAntenna ? 0 : Math.exp(-t / ANTENNA_TAU_S);
    keep.fill(d, antenna, antenna + 3);
    noise.fill(1 - d * d, antenna, antenna + 3);
  }

  /**
   * Takes in up to three observations at once: y = h·x + noise.
   * @param h m × N; @param y m; @param r m × m. @returns estimate of the errors, or undefined when y is further off
   * than `limit` allows (normalised, squared).
   */
  update(h: Float64Array, y: ArrayLike<number>, r: ArrayLike<number>, m: number, limit: number): Update {
    const { p } = this;
    const ph = new Float64Array(m * N);
    for (let a = 0; a < m; a++)
      for (let k = 0; k < N; k++) {
        const v = h[a * N + k];
        if (v !== 0) for (let i = 0; i < N; i++) ph[a * N + i] += v * p[k * N + i];
      }
    const s = new Float64Array(m * m);
    for (let a = 0; a < m; a++)
      for (let b = 0; b < m; b++) {
        let v = r[a * m + b];
        for (let k = 0; k < N; k++) v += h[a * N + k] * ph[b * N + k];
        s[a * m + b] = v;
      }
    const logVolume = m === 3 ? Math.log(Math.max(1e-300, determinant3(s))) : 0;
    const weighted = Float64Array.from({ length: m }, (_, a) => y[a]);
    const sd = Float64Array.from({ length: m }, (_, a) => Math.sqrt(s[a * m + a]));
    const inverse = solveNormal(s, weighted, m);
    if (!inverse) return { x: undefined, squared: Infinity, logVolume, sd };
    let squared = 0;
    for (let a = 0; a < m; a++) squared += y[a] * weighted[a];
    if (squared > limit) return { x: undefined, squared, logVolume, sd };
    const x = new Float64Array(N);
    for (let a = 0; a < m; a++) for (let i = 0; i < N; i++) x[i] += ph[a * N + i] * weighted[a];
    const gain = new Float64Array(m * N);
    for (let a = 0; a < m; a++)
      for (let b = 0; b < m; b++) {
        const v = inverse[a * m + b];
        for (let i = 0; i < N; i++) gain[a * N + i] += v * ph[b * N + i];
      }
    for (let i = 0; i < N; i++)
      for (let j = i; j < N; j++) {
        let v = p[i * N + j];
        for (let a = 0; a < m; a++) v -= ph[a * N + i] * gain[a * N + j];
        p[i * N + j] = v;
        p[j * N + i] = v;
      }
    this.keepUpdate?.(m, h, gain, inverse, y);
    return { x, squared, logVolume, sd };
  }
}

export interface Update {
  /** Estimated errors; undefined when the observation was not believed. */
  x: Float64Array | undefined;
  /** Squared innovation over its variance. */
  squared: number;
  /** Logarithm of the determinant of its covariance, of three observations. */
  logVolume: number;
  /** Expected deviation of each innovation. */
  sd: Float64Array;
}

function determinant3(m: ArrayLike<number>): number {
  return m[0] * (m[4] * m[8] - m[5] * m[7]) - m[1] * (m[3] * m[8] - m[5] * m[6]) + m[2] * (m[3] * m[7] - m[4] * m[6]);
}

/**
 * P ← Φ·P·Φᵀ + Q with Φ = [phi; 0 keep]. Noise of velocities runs into positions over the step's seconds.
 * @param out may be `p` itself.
 */
export function transport(
  p: Float64Array,
  phi: Float64Array,
  keep: Float64Array,
  noise: Float64Array,
  seconds: number,
  out: Float64Array,
): void {
  const m = new Float64Array(COUPLED * N);
  for (let i = 0; i < COUPLED; i++)
    for (let k = 0; k < N; k++) {
      const v = phi[i * N + k];
      if (v === 0) continue;
      const at = k * N;
      for (let j = 0; j < N; j++) m[i * N + j] += v * p[at + j];
    }
  for (let i = COUPLED; i < N; i++)
    for (let j = i; j < N; j++) out[i * N + j] = out[j * N + i] = keep[i] * p[i * N + j] * keep[j];
  for (let i = 0; i < COUPLED; i++) {
    for (let j = COUPLED; j < N; j++) out[i * N + j] = out[j * N + i] = m[i * N + j] * keep[j];
    for (let j = i; j < COUPLED; j++) {
      let v = 0;
      for (let k = 0; k < N; k++) v += m[i * N + k] * phi[j * N + k];
      out[i * N + j] = out[j * N + i] = v;
    }
  }
  for (let i = 0; i < N; i++) if (i < STATE.position || i >= COUPLED) out[i * (N + 1)] += noise[i];
  for (let k = 0; k < 3; k++) {
    const q = noise[STATE.velocity + k];
    const r = STATE.position + k;
    const v = STATE.velocity + k;
    out[r * (N + 1)] += (q * seconds * seconds) / 3;
    out[r * N + v] += (q * seconds) / 2;
    out[v * N + r] += (q * seconds) / 2;
  }
}
