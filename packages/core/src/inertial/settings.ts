import { type Matrix3, type Vector3 } from '../numeric/matrix3';

/** Deviations of an inertial unit, 1 SD; defaults are those of a tactical unit. */
export interface InertialNoise {
  /** Random walk of the angle, °/√h. */
  gyroWalkDegPerRootHour: number;
  gyroBiasDegPerHour: number;
  /** Wander of the gyro bias about its turn-on value, °/h, over `driftTauS`. */
  gyroDriftDegPerHour: number;
  /** Random walk of the velocity, m/s/√h. */
  accelWalkMpsPerRootHour: number;
  accelBiasMg: number;
  accelDriftMg: number;
  driftTauS: number;
  scalePpm: number;
}

export const TACTICAL_UNIT: InertialNoise = {
  gyroWalkDegPerRootHour: 0.05,
  gyroBiasDegPerHour: 0.5,
  gyroDriftDegPerHour: 0.1,
  accelWalkMpsPerRootHour: 0.03,
  accelBiasMg: 0.3,
  accelDriftMg: 0.03,
  driftTauS: 600,
  scalePpm: 100,
};

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
  /** Uses that a vehicle at rest has no velocity, and that wheels do not slip sideways. */
  standstill: boolean;
  noSlip: boolean;
}

/** What suits a platform: only wheels cannot slip; only what can stand still is held still. */
export function inertialDefaults(platform: Platform): InertialSettings {
  return {
    platform,
    noise: TACTICAL_UNIT,
    leverArmM: [0, 0, 0],
    leverArmSdM: 0.005,
    vehicleOriginM: [0, 0, 0],
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
