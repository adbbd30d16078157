import { anglesFromRotation, rotationFromQuaternion, slerp } from '../frames/attitude';
import { ecefToGeodetic, ecefToNed, geodeticToEcef, GRS80 } from '../frames/ellipsoid';
import { sensorToBody, type SensorMounting } from '../frames/mounting';
import { multiply3, type Matrix3 } from '../numeric/matrix3';
import { median } from '../numeric/statistics';
import { Problem } from '../shared/problem';
import { attitudeQuaternions, intervalAt, type Trajectory } from './trajectory';

/** Something that happened at a time: an exposure, a press of a button. */
export interface TimedEvent {
  week: number;
  sow: number;
  label: string;
}

/** Position and attitude at an event; attitude in radians, undefined without inertial data. */
export interface EventPose {
  event: TimedEvent;
  /** Why there is no position; empty when there is one. */
  reason: '' | 'outside' | 'gap';
  latRad: number;
  lonRad: number;
  hEllM: number;
  attitude?: { rollRad: number; pitchRad: number; headingRad: number };
  /** North, east, down, metres; undefined when the trajectory states none. */
  sdM?: [number, number, number];
  /** Roll, pitch, heading, radians. */
  attitudeSdRad?: [number, number, number];
  /** Index into SOLUTIONS. */
  solution: number;
  speedMps: number;
}

/** Between epochs further apart than this nothing is interpolated, seconds. */
const LONGEST_STEP_S = 2.1;

/**
 * Positions and attitudes at events. With a sensor its lever arm is applied, once, and the attitude is that of the
 * sensor's axes; without, both are of the trajectory's own point. Between epochs positions follow a third-degree curve
 * through places and velocities where these are stated, a straight line else; attitudes turn evenly. The deviations of
 * lever arm and attitude are in those stated.
 */
export function posesAtEvents(t: Trajectory, events: TimedEvent[], sensor?: SensorMounting): EventPose[] {
  if (sensor && !t.rollRad)
    throw new Problem('The trajectory has no attitude, so no lever arm can be applied.', {
      code: 'events-attitude',
      remedy: 'Use a trajectory computed with inertial data, or leave the mounting out.',
    });
  const q = attitudeQuaternions(t);
  const mount = sensor && sensorToBody(sensor);
  return events.map((event) => poseAt(t, q, event, sensor, mount));
}

function poseAt(
  t: Trajectory,
  q: Float64Array | undefined,
  event: TimedEvent,
  sensor: SensorMounting | undefined,
  mount: Matrix3 | undefined,
): EventPose {
  const sow = event.sow + (event.week - t.week) * 604800;
  const i = intervalAt(t.sow, sow);
  const none = { event, latRad: NaN, lonRad: NaN, hEllM: NaN, solution: 0, speedMps: NaN };
  if (i < 0) return { ...none, reason: 'outside' };
  const dt = t.sow[i + 1] - t.sow[i];
  if (dt > LONGEST_STEP_S) return { ...none, reason: 'gap' };
  const u = (sow - t.sow[i]) / dt;
  const at = place(t, i, u, dt);
  const axes = ecefToNed(t.latRad[i], t.lonRad[i]);
  const between = (v: Float64Array) => v[i] + u * (v[i + 1] - v[i]);
  let sdM: EventPose['sdM'] = t.sdNM && [between(t.sdNM), between(t.sdEM!), between(t.sdDM!)];
  let attitude: EventPose['attitude'];
  const attitudeSdRad: EventPose['attitudeSdRad'] = t.sdRollRad && [
    between(t.sdRollRad),
    between(t.sdPitchRad!),
    between(t.sdHeadingRad!),
  ];
  if (q) {
    const one = new Float64Array(4);
    slerp(q, 4 * i, 4 * (i + 1), u, one);
    const body: Matrix3 = new Float64Array(9);
    rotationFromQuaternion(one, 0, body);
    attitude = anglesFromRotation(mount ? multiply3(body, mount) : body);
    if (sensor) {
      const l = sensor.leverArmM;
      const arm = [0, 1, 2].map((k) => body[3 * k] * l[0] + body[3 * k + 1] * l[1] + body[3 * k + 2] * l[2]);
      for (let k = 0; k < 3; k++) at[k] += axes[k] * arm[0] + axes[3 + k] * arm[1] + axes[6 + k] * arm[2];
      if (sdM && attitudeSdRad) {
        // a lever arm swings by the attitude's errors: roll and pitch as one, heading about the vertical
        const [roll, pitch, heading] = attitudeSdRad;
        const level = Math.max(roll, pitch);
        const own = sensor.leverArmSdM ** 2;
        const [n, e, d] = arm;
        sdM = [
          Math.sqrt(sdM[0] ** 2 + own + (e * heading) ** 2 + (d * level) ** 2),
          Math.sqrt(sdM[1] ** 2 + own + (n * heading) ** 2 + (d * level) ** 2),
          Math.sqrt(sdM[2] ** 2 + own + (n * n + e * e) * level * level),
        ];
      }
    }
  }
  const [latRad, lonRad, hEllM] = ecefToGeodetic(GRS80, at[0], at[1], at[2]);
  const before = place(t, i, 0, dt);
  const after = place(t, i, 1, dt);
  const speedMps = Math.hypot(after[0] - before[0], after[1] - before[1], after[2] - before[2]) / dt;
  const solution = t.solution ? t.solution[u < 0.5 ? i : i + 1] : 0;
  return { event, reason: '', latRad, lonRad, hEllM, attitude, sdM, attitudeSdRad, solution, speedMps };
}

/** Earth-centred place between epochs i and i + 1: Hermite's cubic where velocities are known, else straight. */
function place(t: Trajectory, i: number, u: number, dt: number): Float64Array {
  const a = geodeticToEcef(GRS80, t.latRad[i], t.lonRad[i], t.hEllM[i]);
  const b = geodeticToEcef(GRS80, t.latRad[i + 1], t.lonRad[i + 1], t.hEllM[i + 1]);
  const out = new Float64Array(3);
  if (!t.vnMps) {
    for (let k = 0; k < 3; k++) out[k] = a[k] + u * (b[k] - a[k]);
    return out;
  }
  const velocity = (j: number) => {
    const axes = ecefToNed(t.latRad[j], t.lonRad[j]);
    return [0, 1, 2].map((k) => axes[k] * t.vnMps![j] + axes[3 + k] * t.veMps![j] + axes[6 + k] * t.vdMps![j]);
  };
  const [va, vb] = [velocity(i), velocity(i + 1)];
  const [u2, u3] = [u * u, u * u * u];
  for (let k = 0; k < 3; k++)
    out[k] = a[k] + (3 * u2 - 2 * u3) * (b[k] - a[k]) + (u3 - 2 * u2 + u) * dt * va[k] + (u3 - u2) * dt * vb[k];
  return out;
}

const STILL_MPS = 0.3;
const LONG_PAUSE = 8;

/**
 * Events at the beginning or the end that seem to be none of the series: set off while standing, or far from the next in
 * time, as happens when a camera is switched on. Places in the list.
 */
export function strayEvents(poses: EventPose[]): number[] {
  const n = poses.length;
  if (n < 4) return [];
  const order = poses.map((_, i) => i).sort((a, b) => gps(poses[a]) - gps(poses[b]));
  const steps = order.slice(1).map((j, k) => gps(poses[j]) - gps(poses[order[k]]));
  const usual = median(steps);
  const out: number[] = [];
  const stray = (i: number, pause: number) => {
    const p = poses[i];
    const moves = poses.some((x) => x.reason === '' && x.speedMps > 4 * STILL_MPS);
    return (moves && p.reason === '' && p.speedMps < STILL_MPS) || pause > LONG_PAUSE * usual;
  };
  for (let k = 0; k < n >> 2 && stray(order[k], steps[k]); k++) out.push(order[k]);
  for (let k = n - 1; k > n - (n >> 2) && stray(order[k], steps[k - 1]); k--) out.push(order[k]);
  return out.sort((a, b) => a - b);
}

const gps = (p: EventPose) => p.event.week * 604800 + p.event.sow;
