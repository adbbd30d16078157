import { type Matrix3, type Vector3 } from '../numeric/matrix3';
import { type InertialNoise, PROFILES } from './profiles';

export const PLATFORMS = ['vehicle', 'aircraft', 'boat', 'tripod'] as const;
export type Platform = (typeof PLATFORMS)[number];

export interface InertialSettings {
  platform: Platform;
  noise: InertialNoise;
  /** Inertial reference point to antenna reference point, body axes, metres. */
  leverArmM: Vector3;
  /** SD of each of its components; it is estimated within this. */
  leverArmSdM: number;
  /** Heading at the first epoch when it is known; found from the motion, or from the Earth's turn, without it. */
  headingRad?: number;
  /** Vehicle axes (x along the wheels) to body axes, and the point that cannot slip sideways, body axes, metres. */
  vehicleRotation?: Matrix3;
  vehicleOriginM: Vector3;
  /** How well the vehicle's axes are known, rad, 1 SD: they are found within this. */
  wheelsSdRad: number;
  /** Uses that a vehicle at rest has no velocity, and that wheels do not slip sideways. */
  standstill: boolean;
  noSlip: boolean;
}

/** A unit is bolted to a vehicle by eye: half a degree. */
const WHEELS_SD_RAD = (0.5 * Math.PI) / 180;

/** What suits a platform: only wheels cannot slip; only what can stand still is held still. */
export function inertialDefaults(platform: Platform): InertialSettings {
  return {
    platform,
    noise: PROFILES.tactical.noise,
    leverArmM: [0, 0, 0],
    leverArmSdM: 0.005,
    vehicleOriginM: [0, 0, 0],
    wheelsSdRad: WHEELS_SD_RAD,
    standstill: platform !== 'boat',
    noSlip: platform === 'vehicle',
  };
}

/** A position of the antenna that aids the inertial unit. */
export interface AidingPosition {
  sow: number;
  /** Antenna reference point, Earth-centred metres. */
  xyzM: Float64Array;
  /** 3 × 3, metres². */
  covariance: Float64Array;
  solution: 'fixed' | 'float' | 'code';
  satellites: number;
}
