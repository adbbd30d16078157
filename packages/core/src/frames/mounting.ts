import { Problem } from '../shared/problem';
import { multiply3, type Matrix3, type Vector3 } from '../numeric/matrix3';
import { rotationFromAngles } from './attitude';
import { DEG } from './ellipsoid';

export interface AnglesDeg {
  roll: number;
  pitch: number;
  heading: number;
}

/** One instrument on the platform. Lever arm: body frame, from the inertial reference point to the sensor's origin. */
export interface SensorMounting {
  leverArmM: Vector3;
  /** Nominal mounting, exact. */
  orientationDeg: AnglesDeg;
  /** Small correction about the body axes. */
  boresightDeg: AnglesDeg;
  /** SD of each component of the lever arm. */
  leverArmSdM: number;
  /** SD of each of the three boresight angles. */
  boresightSdDeg: number;
}

export interface Mounting {
  gnssLeverArmM?: Vector3;
  /** SD of each component of the antenna's lever arm; undefined when the mounting does not say. */
  gnssLeverArmSdM?: number;
  /** The vehicle's own axes (x along the wheels) as turned in the body frame, and the point that cannot slip. */
  vehicle?: { rotationDeg: AnglesDeg; originM: Vector3 };
  sensors: Record<string, SensorMounting>;
}

/** Sensor axes to body axes: R(boresight)·R(orientation). */
export function sensorToBody(mounting: SensorMounting): Matrix3 {
  const { orientationDeg: o, boresightDeg: b } = mounting;
  return multiply3(
    rotationFromAngles(b.roll * DEG, b.pitch * DEG, b.heading * DEG),
    rotationFromAngles(o.roll * DEG, o.pitch * DEG, o.heading * DEG),
  );
}

function isRecord(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

function finite(value: unknown, place: string, file?: string): number {
  if (typeof value !== 'number' || !Number.isFinite(value))
    throw new Problem(`${place} must be a number, not ${JSON.stringify(value)}.`, {
      code: 'mounting-number',
      file,
      place,
      remedy: 'Correct the value in the mounting file.',
    });
  return value;
}

function vector(value: unknown, place: string, file?: string): Vector3 {
  if (!Array.isArray(value) || value.length !== 3)
    throw new Problem(`${place} must be three numbers [x, y, z] in metres.`, {
      code: 'mounting-vector',
      file,
      place,
      remedy: 'Give x forward, y right, z down from the inertial reference point.',
    });
  const out = value.map((v, i) => finite(v, `${place}[${i}]`, file)) as Vector3;
  if (out.some((v) => Math.abs(v) > 100))
    throw new Problem(`${place} is longer than 100 m.`, {
      code: 'mounting-vector',
      file,
      place,
      remedy: 'Lever arms are metres; check the unit.',
    });
  return out;
}

function angles(value: unknown, place: string, file?: string): AnglesDeg {
  if (value === undefined) return { roll: 0, pitch: 0, heading: 0 };
  if (!isRecord(value))
    throw new Problem(`${place} must be an object with roll, pitch and heading in degrees.`, {
      code: 'mounting-angles',
      file,
      place,
      remedy: 'Correct the mounting file.',
    });
  return {
    roll: finite(value.roll ?? 0, `${place}.roll`, file),
    pitch: finite(value.pitch ?? 0, `${place}.pitch`, file),
    heading: finite(value.heading ?? 0, `${place}.heading`, file),
  };
}

/** Reads the mounting layout (`docs/formats/mounting.md`). Throws a Problem that names the member at fault. */
export function parseMounting(json: unknown, file?: string): Mounting {
  if (!isRecord(json) || !isRecord(json.sensors))
    throw new Problem('This is not a mounting: there is no "sensors" object.', {
      code: 'mounting-shape',
      file,
      place: 'top level',
      remedy: 'See docs/formats/mounting.md for the layout.',
    });
  const sensors: Record<string, SensorMounting> = {};
  for (const [name, raw] of Object.entries(json.sensors)) {
    const at = `sensors.${name}`;
    if (!isRecord(raw))
      throw new Problem(`${at} must be an object.`, {
        code: 'mounting-shape',
        file,
        place: at,
        remedy: 'See docs/formats/mounting.md.',
      });
    const sensor: SensorMounting = {
      leverArmM: vector(raw.lever_arm_m, `${at}.lever_arm_m`, file),
      orientationDeg: angles(raw.orientation_deg, `${at}.orientation_deg`, file),
      boresightDeg: angles(raw.boresight_deg, `${at}.boresight_deg`, file),
      leverArmSdM: finite(raw.lever_arm_sd_m ?? 0, `${at}.lever_arm_sd_m`, file),
      boresightSdDeg: finite(raw.boresight_sd_deg ?? 0, `${at}.boresight_sd_deg`, file),
    };
    if (Math.abs(Math.abs(sensor.orientationDeg.pitch) - 90) < 5)
      throw new Problem(
        `${at} has a nominal pitch of ${sensor.orientationDeg.pitch}°, where roll and heading cannot be told apart.`,
        {
          code: 'mounting-pitch',
          file,
          place: `${at}.orientation_deg.pitch`,
          remedy: 'Describe the same mounting with roll ±90° instead.',
        },
      );
    if (sensor.leverArmSdM < 0 || sensor.boresightSdDeg < 0)
      throw new Problem(`${at} has a negative standard deviation.`, {
        code: 'mounting-sd',
        file,
        place: at,
        remedy: 'Standard deviations are zero or more.',
      });
    sensors[name] = sensor;
  }
  const mounting: Mounting = { sensors };
  if (isRecord(json.gnss)) {
    mounting.gnssLeverArmM = vector(json.gnss.lever_arm_m, 'gnss.lever_arm_m', file);
    if (json.gnss.lever_arm_sd_m !== undefined)
      mounting.gnssLeverArmSdM = Math.abs(finite(json.gnss.lever_arm_sd_m, 'gnss.lever_arm_sd_m', file));
  }
  if (isRecord(json.vehicle))
    mounting.vehicle = {
      rotationDeg: angles(json.vehicle.rotation_deg, 'vehicle.rotation_deg', file),
      originM:
        json.vehicle.origin_m === undefined ? [0, 0, 0] : vector(json.vehicle.origin_m, 'vehicle.origin_m', file),
    };
  return mounting;
}

/** Writes the mounting layout. */
export function mountingToJson(mounting: Mounting): unknown {
  const sensors: Record<string, unknown> = {};
  for (const [name, s] of Object.entries(mounting.sensors))
    sensors[name] = {
      lever_arm_m: s.leverArmM,
      orientation_deg: s.orientationDeg,
      boresight_deg: s.boresightDeg,
      lever_arm_sd_m: s.leverArmSdM,
      boresight_sd_deg: s.boresightSdDeg,
    };
  const { gnssLeverArmM, gnssLeverArmSdM, vehicle } = mounting;
  return {
    ...(gnssLeverArmM
      ? {
          gnss: {
            lever_arm_m: gnssLeverArmM,
            ...(gnssLeverArmSdM === undefined ? {} : { lever_arm_sd_m: gnssLeverArmSdM }),
          },
        }
      : {}),
    ...(vehicle ? { vehicle: { rotation_deg: vehicle.rotationDeg, origin_m: vehicle.originM } } : {}),
    sensors,
  };
}
