import { STATE, STATES, type ErrorFilter } from './errorFilter';
import { type Mechanisation } from './mechanisation';
import { type InertialSettings } from './settings';

const N = STATES;
const STANDING_SD_MPS = 0.01;
const SIDE_SD_MPS = 0.05;
const UP_SD_MPS = 0.1;
/** Wheels slip more in curves, m/s by rad/s of turning. */
const SIDE_BY_TURN = 0.1;
const SLOWEST_MPS = 1;
const LIMIT_3 = 26;
const LIMIT_2 = 23;

/** A platform at rest has no velocity. @returns errors found, undefined when the filter contradicts. */
export function standing(filter: ErrorFilter, m: Mechanisation): Float64Array | undefined {
  const h = new Float64Array(3 * N);
  const r = new Float64Array(9);
  for (let k = 0; k < 3; k++) {
    h[k * N + STATE.velocity + k] = 1;
    r[4 * k] = STANDING_SD_MPS ** 2;
  }
  return filter.update(h, m.v, r, 3, LIMIT_3).x;
}

/**
 * Wheels roll along the vehicle's x axis: sideways and upwards the point between them has no velocity (non-holonomic
 * constraint; Groves 2013, 15.4.1).
 * @param rate angular rate, body axes. @param askew heading and pitch of the wheels' axes as found so far, rad.
 */
export function noSlip(
  filter: ErrorFilter,
  m: Mechanisation,
  settings: InertialSettings,
  rate: ArrayLike<number>,
  askew: ArrayLike<number>,
): Float64Array | undefined {
  const { c, v } = m;
  if (Math.hypot(v[0], v[1], v[2]) < SLOWEST_MPS) return undefined;
  const o = settings.vehicleOriginM;
  const body = [0, 1, 2].map((k) => c[k] * v[0] + c[3 + k] * v[1] + c[6 + k] * v[2]);
  body[0] += rate[1] * o[2] - rate[2] * o[1];
  body[1] += rate[2] * o[0] - rate[0] * o[2];
  body[2] += rate[0] * o[1] - rate[1] * o[0];
  const h = new Float64Array(2 * N);
  const y = [0, 0];
  const ahead = [0, 1, 2].reduce(
    (sum, k) => sum + body[k] * (settings.vehicleRotation?.[3 * k] ?? (k === 0 ? 1 : 0)),
    0,
  );
  for (let a = 0; a < 2; a++) {
    // vehicle's y and z axes in body axes, then in Earth axes
    const axis = [0, 1, 2].map((k) => settings.vehicleRotation?.[3 * k + 1 + a] ?? (k === 1 + a ? 1 : 0));
    const e = [0, 1, 2].map((k) => c[3 * k] * axis[0] + c[3 * k + 1] * axis[1] + c[3 * k + 2] * axis[2]);
    // wheels that point to the right let it go right, those that point up let it go up
    const sign = a === 0 ? -1 : 1;
    y[a] = body[0] * axis[0] + body[1] * axis[1] + body[2] * axis[2] + sign * askew[a] * ahead;
    h[a * N + STATE.wheels + a] = sign * ahead;
    for (let k = 0; k < 3; k++) h[a * N + STATE.velocity + k] = e[k];
    h[a * N] = e[1] * v[2] - e[2] * v[1];
    h[a * N + 1] = e[2] * v[0] - e[0] * v[2];
    h[a * N + 2] = e[0] * v[1] - e[1] * v[0];
  }
  const side = SIDE_SD_MPS + SIDE_BY_TURN * Math.abs(rate[2]);
  return filter.update(h, y, [side * side, 0, 0, UP_SD_MPS * UP_SD_MPS], 2, LIMIT_2).x;
}
