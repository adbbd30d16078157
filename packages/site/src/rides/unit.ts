import { gaussMarkov, multiply3, Random, transpose3, type Matrix3 } from '@longheron/core/numeric';
import { type InertialData } from '@longheron/core/inertial';
import { gravityNed } from '../inertial';
import { earthCentred, localAxes } from '../sessions';
import { type RideStrengths } from './strengths';
import { attitudeAt, STEPS_HZ, type Way } from './way';

const WEEK = 2423;
const EARTH_RATE = 7.292115e-5;
const EARTH_M = 6371000;
const STEP_S = 1 / STEPS_HZ;

type Triple = [number, number, number];

/** The true motion of the unit, Earth-centred, by step. */
export interface Motion {
  originM: Triple;
  /** Rows north, east, down of where it began. */
  ned: Matrix3;
  /** Places of the inertial reference point and of the antenna, Earth axes, metres from where it began. */
  unitAt(step: number): Triple;
  antennaAt(step: number): Triple;
  /** Axes of the unit in Earth axes. */
  toEarth(step: number): Matrix3;
}

/** Puts a way onto the Earth and the unit onto the mover. */
export function onEarth(way: Way, s: RideStrengths): Motion {
  const { east, north, up } = localAxes(s.latRad, s.lonRad);
  const ned = Float64Array.of(...north, ...east, ...up.map((v) => -v));
  const back = transpose3(ned);
  const a = s.askewRad;
  const askew = squared(Float64Array.of(1, -a, a / 2, a, 1, -a / 3, -a / 2, a / 3, 1));
  const unitArm = turned(askew, s.wheelsM).map((v) => -v) as Triple;
  const antennaArm = turned(askew, s.leverM).map((v, k) => v + unitArm[k]) as Triple;
  const place = (step: number, arm: Triple): Triple => {
    const local = turned(attitudeAt(way, step), arm).map((v, k) => v + way.ned[3 * step + k]);
    return turned(back, local);
  };
  return {
    originM: earthCentred(s.latRad, s.lonRad, s.heightM),
    ned,
    unitAt: (step) => place(step, unitArm),
    antennaAt: (step) => place(step, antennaArm),
    toEarth: (step) => multiply3(back, multiply3(attitudeAt(way, step), askew)),
  };
}

/**
 * What the unit measures from step to step of the motion, summed up over each of its samples, then spoilt: scale, axes
 * that are not square, bias and its wander, noise, shaking.
 * @param startSow time of step 0.
 */
export function measure(motion: Motion, way: Way, s: RideStrengths, seed: number, startSow: number): InertialData {
  const per = Math.round(STEPS_HZ / s.rateHz);
  const count = Math.floor((way.speed.length - 3) / per) - 1;
  const out: InertialData = {
    week: WEEK,
    rateHz: s.rateHz,
    sow: new Float64Array(count),
    gyroRadps: new Float64Array(3 * count),
    accelMps2: new Float64Array(3 * count),
  };
  let step = per;
  let axes = motion.toEarth(step);
  const places = [motion.unitAt(step - 1), motion.unitAt(step), motion.unitAt(step + 1)];
  let force = forceAt(way, s, step, places, axes);
  for (let k = 0; k < count; k++) {
    for (let j = 0; j < per; j++) {
      step++;
      const next = motion.toEarth(step);
      places.shift();
      places.push(motion.unitAt(step + 1));
      const nextForce = forceAt(way, s, step, places, next);
      const turn = turnFrom(axes, next);
      for (let i = 0; i < 3; i++) {
        out.gyroRadps[3 * k + i] += (turn[i] + EARTH_RATE * axes[6 + i] * STEP_S) * s.rateHz;
        out.accelMps2[3 * k + i] += ((force[i] + nextForce[i]) / 2) * STEP_S * s.rateHz;
      }
      axes = next;
      force = nextForce;
    }
    out.sow[k] = startSow + step * STEP_S;
  }
  spoil(out, way, s, seed, startSow);
  return out;
}

/** Small turn between two sets of axes, body axes, radians. */
function turnFrom(a: Matrix3, b: Matrix3): Triple {
  const m = multiply3(transpose3(a), b);
  return [(m[7] - m[5]) / 2, (m[2] - m[6]) / 2, (m[3] - m[1]) / 2];
}

/** Specific force at the middle of three places, body axes. */
function forceAt(way: Way, s: RideStrengths, step: number, places: Triple[], axes: Matrix3): Triple {
  const [before, here, after] = places;
  const [north, east, down] = [0, 1, 2].map((k) => way.ned[3 * step + k]);
  const latRad = s.latRad + north / EARTH_M;
  const [gNorth, gDown] = gravityNed(latRad, s.heightM - down + (north * north + east * east) / (2 * EARTH_M));
  // north and down lean as the mover goes away from where it began
  const there = localAxes(latRad, s.lonRad + east / (EARTH_M * Math.cos(s.latRad)));
  const v = [0, 1, 2].map((k) => (after[k] - before[k]) / (2 * STEP_S));
  const f = [0, 1, 2].map(
    (k) => (after[k] - 2 * here[k] + before[k]) / (STEP_S * STEP_S) - gNorth * there.north[k] + gDown * there.up[k],
  );
  f[0] -= 2 * EARTH_RATE * v[1];
  f[1] += 2 * EARTH_RATE * v[0];
  return [0, 1, 2].map((k) => f[0] * axes[k] + f[1] * axes[3 + k] + f[2] * axes[6 + k]) as Triple;
}

/** Tones of the shaking, Hz. */
const TONES_HZ = [12, 45];

function spoil(out: InertialData, way: Way, s: RideStrengths, seed: number, startSow: number): void {
  const { unit } = s;
  const n = out.sow.length;
  const spoilOne = (name: 'gyros' | 'accelerometers', start: number, wander: number, noise: number) => {
    const values = name === 'gyros' ? out.gyroRadps : out.accelMps2;
    const random = new Random(seed, `ride's ${name}`);
    const m = Float64Array.from({ length: 9 }, (_, k) =>
      k % 4 === 0 ? 1 + unit.scale * random.normal() : unit.skew * random.normal(),
    );
    // which way the unit's axes lie is by its gyros: a turn about z is felt by z alone, one about y by y and z
    if (name === 'gyros') m[1] = m[2] = m[5] = 0;
    const begun = [0, 1, 2].map(() => start * random.normal());
    const wanders = [0, 1, 2].map(() => gaussMarkov(random, n, 1 / s.rateHz, unit.wanderS));
    const white = noise * Math.sqrt(s.rateHz);
    for (let k = 0; k < n; k++) {
      const felt = turned(m, values.subarray(3 * k, 3 * k + 3));
      for (let i = 0; i < 3; i++)
        values[3 * k + i] = felt[i] + begun[i] + wander * wanders[i][k] + white * random.normal();
    }
  };
  spoilOne('gyros', unit.gyroStart, unit.gyroWander, unit.gyroNoise);
  spoilOne('accelerometers', unit.accelStart, unit.accelWander, unit.accelNoise);
  const random = new Random(seed, "ride's shaking");
  const tones = [0, 1, 2].flatMap((axis) =>
    Array.from({ length: 8 }, () => ({
      axis,
      w: 2 * Math.PI * random.between(TONES_HZ[0], TONES_HZ[1]),
      phase: random.between(0, 6),
    })),
  );
  const fastest = way.speed.reduce((a, b) => Math.max(a, b), 0.1);
  for (let k = 0; k < n; k++) {
    const t = out.sow[k] - startSow;
    const size = unit.shaking * (0.2 + (0.8 * way.speed[Math.round(t * STEPS_HZ)]) / fastest) * Math.sqrt(2 / 8);
    for (const { axis, w, phase } of tones) out.accelMps2[3 * k + axis] += size * Math.sin(w * t + phase);
  }
}

function turned(m: Matrix3, v: ArrayLike<number>): Triple {
  return [
    m[0] * v[0] + m[1] * v[1] + m[2] * v[2],
    m[3] * v[0] + m[4] * v[1] + m[5] * v[2],
    m[6] * v[0] + m[7] * v[1] + m[8] * v[2],
  ];
}

/** Rows made square to each other, one after the other. */
function squared(m: Matrix3): Matrix3 {
  const out = Float64Array.from(m);
  for (let r = 0; r < 3; r++) {
    for (let q = 0; q < r; q++) {
      const d = out[3 * r] * out[3 * q] + out[3 * r + 1] * out[3 * q + 1] + out[3 * r + 2] * out[3 * q + 2];
      for (let k = 0; k < 3; k++) out[3 * r + k] -= d * out[3 * q + k];
    }
    const size = Math.hypot(out[3 * r], out[3 * r + 1], out[3 * r + 2]);
    for (let k = 0; k < 3; k++) out[3 * r + k] /= size;
  }
  return out;
}
