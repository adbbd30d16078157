import { Problem } from '../shared/problem';
import { multiply3, type Matrix3, type Vector3 } from '../numeric/matrix3';
import { rotationFromAngles } from './attitude';
import { DEG } from './ellipsoid';

export interface AnglesDeg {
  roll: number;
  pitch: number;
  heading: number;
}

/** A camera without distortion, for what its pictures show. */
export interface CameraModel {
  focalLengthMm: number;
  /** Width and height of the sensor. */
  sensorMm: [number, number];
  pixels?: [number, number];
  /** Viewing direction: the sensor's z axis (down), top of the picture along x; or its x axis (forward), top up. */
  looks: 'down' | 'forward';
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
  /** SD of each of the three boresight angles: one for all, or one each. */
  boresightSdDeg: number | AnglesDeg;
  /** Added to every range of a laser. */
  rangeOffsetM?: number;
  /** Serial number of the instrument that the values are of. */
  serial?: string;
  /** Days, `2026-04-17`: of the calibration, and when the instrument was last opened or moved. */
  calibratedOn?: string;
  servicedOn?: string;
  /** Of a camera. */
  camera?: CameraModel;
  /** Of a sonar: its times are late by this, seconds, and the deviation of that. */
  latencyS?: number;
  latencySdS?: number;
  /** Of a sonar that is towed: length of cable that is out, metres. */
  cableOutM?: number;
}

export interface Mounting {
  gnssLeverArmM?: Vector3;
  /** SD of each component of the antenna's lever arm; undefined when the mounting does not say. */
  gnssLeverArmSdM?: number;
  /** The vehicle's own axes (x along the wheels) as turned in the body frame, and the point that cannot slip. */
  vehicle?: { rotationDeg: AnglesDeg; originM: Vector3 };
  /** Of a vessel: how far the waterline lies below the reference point, metres, and the deviation of that. */
  waterlineM?: number;
  waterlineSdM?: number;
  sensors: Record<string, SensorMounting>;
}

/** A mounting as its file holds it, see docs/formats/mounting.md. */
export interface MountingJson {
  gnss?: { lever_arm_m?: number[]; lever_arm_sd_m?: number };
  vehicle?: { rotation_deg?: AnglesDeg; origin_m?: number[] };
  waterline_m?: number;
  waterline_sd_m?: number;
  sensors: { [name: string]: SensorJson };
}

export interface SensorJson {
  lever_arm_m: number[];
  orientation_deg?: AnglesDeg;
  boresight_deg?: AnglesDeg;
  lever_arm_sd_m?: number;
  boresight_sd_deg?: number | AnglesDeg;
  range_offset_m?: number;
  camera?: { focal_length_mm: number; sensor_mm: number[]; pixels?: number[]; looks?: string };
  serial?: string;
  calibrated_on?: string;
  serviced_on?: string;
  latency_s?: number;
  latency_sd_s?: number;
  cable_out_m?: number;
}

/** Sensor axes to body axes: R(boresight)·R(orientation). */
export function sensorToBody(mounting: SensorMounting): Matrix3 {
  const { orientationDeg: o, boresightDeg: b } = mounting;
  return multiply3(
    rotationFromAngles(b.roll * DEG, b.pitch * DEG, b.heading * DEG),
    rotationFromAngles(o.roll * DEG, o.pitch * DEG, o.heading * DEG),
  );
}

/**
 * Axes of the body about which roll, pitch and heading of the boresight turn, one after the other, unit vectors: heading
 * about z, pitch about the y that it leaves, roll about the x that both leave.
 */
export function boresightAxes({ boresightDeg }: SensorMounting): Float64Array {
  const [p, h] = [boresightDeg.pitch * DEG, boresightDeg.heading * DEG];
  const [cp, sp, ch, sh] = [Math.cos(p), Math.sin(p), Math.cos(h), Math.sin(h)];
  return Float64Array.of(ch * cp, sh * cp, -sp, -sh, ch, 0, 0, 0, 1);
}

/** SD of the boresight's roll, pitch and heading, degrees. */
export function boresightSds({ boresightSdDeg: sd }: SensorMounting): AnglesDeg {
  return typeof sd === 'number' ? { roll: sd, pitch: sd, heading: sd } : sd;
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

function cameraOf(value: unknown, place: string, file?: string): CameraModel {
  const wrong = (member: string, what: string) =>
    new Problem(`${place}.${member} ${what}.`, {
      code: 'mounting-camera',
      file,
      place: `${place}.${member}`,
      remedy: 'See docs/formats/mounting.md.',
    });
  if (!isRecord(value)) throw wrong('focal_length_mm', 'is missing');
  const pair = (member: string): [number, number] => {
    const v = value[member];
    if (Array.isArray(v) && v.length === 2 && v.every((n) => typeof n === 'number' && n > 0 && n < 1e6))
      return [v[0], v[1]] as [number, number];
    throw wrong(member, 'must be two numbers above zero, width and height');
  };
  const focalLengthMm = finite(value.focal_length_mm, `${place}.focal_length_mm`, file);
  if (!(focalLengthMm > 0 && focalLengthMm < 5000)) throw wrong('focal_length_mm', 'must be millimetres above zero');
  const looks = value.looks ?? 'down';
  if (looks !== 'down' && looks !== 'forward') throw wrong('looks', 'must be "down" or "forward"');
  return {
    focalLengthMm,
    sensorMm: pair('sensor_mm'),
    looks,
    ...(value.pixels === undefined ? {} : { pixels: pair('pixels') }),
  };
}

/** Larger offsets are mistakes, metres. */
const LARGEST_RANGE_OFFSET_M = 10;

function rangeOffset(value: unknown, at: string, file?: string): number {
  const offset = finite(value, `${at}.range_offset_m`, file);
  if (Math.abs(offset) <= LARGEST_RANGE_OFFSET_M) return offset;
  throw new Problem(`${at} adds ${offset} m to every range; at most ${LARGEST_RANGE_OFFSET_M} m is believed.`, {
    code: 'mounting-range',
    file,
    place: `${at}.range_offset_m`,
    remedy: 'Range offsets are metres, mostly a few millimetres; check the unit.',
  });
}

/** A number within limits that nothing real exceeds; undefined where it is not given. */
function within(value: unknown, place: string, least: number, most: number, unit: string, file?: string) {
  if (value === undefined || value === null) return undefined;
  const v = finite(value, place, file);
  if (v >= least && v <= most) return v;
  throw new Problem(`${place} is ${v} ${unit}; from ${least} to ${most} ${unit} is believed.`, {
    code: 'mounting-value',
    file,
    place,
    remedy: 'Check the sign and the unit.',
  });
}

/** What only vessels have. */
function sonarValues(raw: Record<string, unknown>, at: string, file?: string): Partial<SensorMounting> {
  const values = {
    latencyS: within(raw.latency_s, `${at}.latency_s`, -5, 5, 's', file),
    latencySdS: within(raw.latency_sd_s, `${at}.latency_sd_s`, 0, 5, 's', file),
    cableOutM: within(raw.cable_out_m, `${at}.cable_out_m`, 0, 5000, 'm', file),
  };
  return Object.fromEntries(Object.entries(values).filter(([, v]) => v !== undefined));
}

const LONGEST_TEXT = 60;

function text(value: unknown, place: string, file?: string): string {
  if ((typeof value === 'string' || typeof value === 'number') && String(value).length <= LONGEST_TEXT)
    return String(value);
  throw new Problem(`${place} must be a short text.`, {
    code: 'mounting-text',
    file,
    place,
    remedy: 'Correct the mounting file.',
  });
}

/** A day as `2026-04-17`. */
function day(value: unknown, place: string, file?: string): string {
  const there = typeof value === 'string' && /^\d{4}-\d\d-\d\d$/.test(value);
  const at = there ? new Date(`${value}T00:00:00Z`) : undefined;
  if (at && !Number.isNaN(at.getTime()) && at.toISOString().startsWith(value as string)) return value as string;
  throw new Problem(`${place} must be a day like 2026-04-17, not ${JSON.stringify(value)}.`, {
    code: 'mounting-day',
    file,
    place,
    remedy: 'Write year, month and day.',
  });
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
      boresightSdDeg: isRecord(raw.boresight_sd_deg)
        ? angles(raw.boresight_sd_deg, `${at}.boresight_sd_deg`, file)
        : finite(raw.boresight_sd_deg ?? 0, `${at}.boresight_sd_deg`, file),
    };
    if (raw.range_offset_m !== undefined && raw.range_offset_m !== null)
      sensor.rangeOffsetM = rangeOffset(raw.range_offset_m, at, file);
    Object.assign(sensor, sonarValues(raw, at, file));
    if (raw.camera !== undefined) sensor.camera = cameraOf(raw.camera, `${at}.camera`, file);
    if (raw.serial) sensor.serial = text(raw.serial, `${at}.serial`, file);
    if (raw.calibrated_on) sensor.calibratedOn = day(raw.calibrated_on, `${at}.calibrated_on`, file);
    if (raw.serviced_on) sensor.servicedOn = day(raw.serviced_on, `${at}.serviced_on`, file);
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
    const { roll, pitch, heading } = boresightSds(sensor);
    if (Math.min(sensor.leverArmSdM, roll, pitch, heading) < 0)
      throw new Problem(`${at} has a negative standard deviation.`, {
        code: 'mounting-sd',
        file,
        place: at,
        remedy: 'Standard deviations are zero or more.',
      });
    sensors[name] = sensor;
  }
  const mounting: Mounting = { sensors };
  const waterline = within(json.waterline_m, 'waterline_m', -50, 50, 'm', file);
  const waterlineSd = within(json.waterline_sd_m, 'waterline_sd_m', 0, 5, 'm', file);
  if (waterline !== undefined) mounting.waterlineM = waterline;
  if (waterlineSd !== undefined) mounting.waterlineSdM = waterlineSd;
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
export function mountingToJson(mounting: Mounting): MountingJson {
  const sensors: MountingJson['sensors'] = {};
  for (const [name, s] of Object.entries(mounting.sensors))
    sensors[name] = {
      lever_arm_m: s.leverArmM,
      orientation_deg: s.orientationDeg,
      boresight_deg: s.boresightDeg,
      lever_arm_sd_m: s.leverArmSdM,
      boresight_sd_deg: s.boresightSdDeg,
      ...(s.rangeOffsetM ? { range_offset_m: s.rangeOffsetM } : {}),
      ...(s.camera
        ? {
            camera: {
              focal_length_mm: s.camera.focalLengthMm,
              sensor_mm: s.camera.sensorMm,
              ...(s.camera.pixels ? { pixels: s.camera.pixels } : {}),
              looks: s.camera.looks,
            },
          }
        : {}),
      ...(s.serial ? { serial: s.serial } : {}),
      ...(s.calibratedOn ? { calibrated_on: s.calibratedOn } : {}),
      ...(s.servicedOn ? { serviced_on: s.servicedOn } : {}),
      ...(s.latencyS === undefined ? {} : { latency_s: s.latencyS }),
      ...(s.latencySdS === undefined ? {} : { latency_sd_s: s.latencySdS }),
      ...(s.cableOutM === undefined ? {} : { cable_out_m: s.cableOutM }),
    };
  const { gnssLeverArmM, gnssLeverArmSdM, vehicle, waterlineM, waterlineSdM } = mounting;
  return {
    ...(waterlineM === undefined ? {} : { waterline_m: waterlineM }),
    ...(waterlineSdM === undefined ? {} : { waterline_sd_m: waterlineSdM }),
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
