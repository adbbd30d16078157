import { type Random } from '@longheron/core/numeric';
import { attitude } from '../platform';
import { type Mover } from './strengths';

/** Steps of the true motion by second. */
export const STEPS_HZ = 1000;
const STEP_S = 1 / STEPS_HZ;
const G = 9.81;

/** A motion by step: place in north, east, down of where it began, metres, and the mover's attitude, radians. */
export interface Way {
  ned: Float64Array;
  roll: Float64Array;
  pitch: Float64Array;
  heading: Float64Array;
  speed: Float64Array;
}

/** Draws a way of the point between the wheels, of the hull or of the fuselage. */
export function drawWay(mover: Mover, seconds: number, random: Random): Way {
  const n = Math.round(seconds * STEPS_HZ) + 1;
  const speed = smoothSteps(n, random, SPEED[mover], 2.5);
  const bend = smoothSteps(n, random, BEND[mover], 2);
  const slope = smoothSteps(n, random, SLOPE[mover], 3);
  const sway = [0, 1, 2].map(() => swing(n, random, SWAY[mover]));
  const slip = mover === 'vehicle' ? undefined : swing(n, random, { ...SWAY[mover], size: 0.03 });
  const heave = swing(n, random, { ...SWAY[mover], size: mover === 'boat' ? 0.3 : mover === 'aircraft' ? 0.8 : 0 });
  const out: Way = {
    ned: new Float64Array(3 * n),
    roll: new Float64Array(n),
    pitch: new Float64Array(n),
    heading: new Float64Array(n),
    speed,
  };
  let course = random.between(-Math.PI, Math.PI);
  let [north, east, down] = [0, 0, 0];
  for (let k = 0; k < n; k++) {
    const v = speed[k];
    // an aircraft turns by its bank, wheels and rudders by how far they are turned
    const turnRate = mover === 'aircraft' ? (G * Math.tan(bend[k])) / Math.max(20, v) : v * bend[k];
    const shaken = mover === 'vehicle' ? Math.min(1, v / 5) : 1;
    out.heading[k] = course + (slip ? slip[k] : 0);
    out.roll[k] = mover === 'aircraft' ? bend[k] : -0.02 * v * bend[k];
    out.roll[k] += shaken * sway[0][k];
    out.pitch[k] = slope[k] + shaken * sway[1][k];
    out.ned.set([north, east, down - heave[k]], 3 * k);
    course += (turnRate + 0.2 * shaken * sway[2][k]) * STEP_S;
    north += v * Math.cos(slope[k]) * Math.cos(course) * STEP_S;
    east += v * Math.cos(slope[k]) * Math.sin(course) * STEP_S;
    down -= v * Math.sin(slope[k]) * STEP_S;
  }
  return out;
}

/** Values that are held for a while each: drawn, and how long at least and at most, seconds. */
interface Held {
  draw(random: Random): number;
  holdS: [number, number];
  first?: number;
}

const SPEED: Record<Mover, Held> = {
  vehicle: { draw: (r) => (r.uniform() < 0.2 ? 0 : r.between(3, 16)), holdS: [8, 40], first: 0 },
  aircraft: { draw: (r) => r.between(45, 65), holdS: [30, 120] },
  boat: { draw: (r) => r.between(1.2, 4), holdS: [20, 90] },
};
/** Curvature, 1/m; bank of an aircraft, radians. */
const BEND: Record<Mover, Held> = {
  vehicle: { draw: (r) => (r.uniform() < 0.5 ? r.between(-0.002, 0.002) : r.between(-0.06, 0.06)), holdS: [4, 14] },
  aircraft: { draw: (r) => (r.uniform() < 0.5 ? 0 : r.between(-0.45, 0.45)), holdS: [15, 50] },
  boat: { draw: (r) => (r.uniform() < 0.6 ? 0 : r.between(-0.06, 0.06)), holdS: [10, 40] },
};
const SLOPE: Record<Mover, Held> = {
  vehicle: { draw: (r) => r.between(-0.05, 0.05), holdS: [8, 30] },
  aircraft: { draw: (r) => r.between(-0.02, 0.02), holdS: [30, 90] },
  boat: { draw: () => 0, holdS: [100, 200] },
};
/** Swinging about the way: size, radians, and periods, seconds. */
const SWAY: Record<Mover, { size: number; periodS: [number, number] }> = {
  vehicle: { size: 0.006, periodS: [0.4, 3] },
  aircraft: { size: 0.012, periodS: [1.5, 12] },
  boat: { size: 0.05, periodS: [3, 9] },
};

/** Held values with soft changes between: three running means of `softS` make speed, jerk and all between smooth. */
function smoothSteps(n: number, random: Random, held: Held, softS: number): Float64Array {
  let out: Float64Array = new Float64Array(n);
  let value = held.first ?? held.draw(random);
  for (let k = 0; k < n;) {
    const until = Math.min(n, k + Math.round(random.between(...held.holdS) * STEPS_HZ));
    out.fill(value, k, until);
    k = until;
    value = held.draw(random);
  }
  for (let round = 0; round < 3; round++) out = runningMean(out, Math.round(softS * STEPS_HZ));
  return out;
}

/** Mean over the `width` values before each. */
function runningMean(v: Float64Array, width: number): Float64Array {
  const out = new Float64Array(v.length);
  let sum = width * v[0];
  for (let k = 0; k < v.length; k++) {
    sum += v[k] - v[Math.max(0, k - width)];
    out[k] = sum / width;
  }
  return out;
}

/** Five sines. */
function swing(
  n: number,
  random: Random,
  { size, periodS }: { size: number; periodS: [number, number] },
): Float64Array {
  const out = new Float64Array(n);
  for (let s = 0; s < 5; s++) {
    const w = (2 * Math.PI) / random.between(...periodS) / STEPS_HZ;
    const phase = random.between(0, 6);
    const part = (size * random.between(0.3, 1)) / 2;
    for (let k = 0; k < n; k++) out[k] += part * Math.sin(w * k + phase);
  }
  return out;
}

/** Attitude of the mover at a step, body to north, east, down of where it began. */
export const attitudeAt = (way: Way, k: number) => attitude(way.roll[k], way.pitch[k], way.heading[k]);
