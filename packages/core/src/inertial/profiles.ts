/** Deviations of an inertial unit, 1 SD. */
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
  /** How far the axes of the accelerometers lie askew to those of the gyros, ppm of a radian. */
  skewPpm: number;
}

/** Grades of inertial instruments in the trade, from the finest on. */
export const GRADES = ['navigation', 'intermediate', 'tactical', 'industrial', 'consumer'] as const;
export type Grade = (typeof GRADES)[number];

export interface Profile {
  noise: InertialNoise;
  /** Where its figures come from. */
  source: string;
}

const WANDER = 'What a bias wanders by in a session is taken as a seventh to a third of it.';

/**
 * What units of a grade are like after their maker's calibration: from the middle of what textbooks state of it. Biases:
 * Groves 2013, table 4.1; noise: section 4.4.3 there, in micro-g by √Hz times 0.000589 for m/s/√h; scale and axes:
 * section 4.4.2.
 */
export const PROFILES: Record<Grade, Profile> = {
  navigation: {
    noise: noise([0.003, 0.01, 0.003], [0.012, 0.05, 0.01], 10, 8),
    source: `Ring-laser gyros of aircraft: 0.002 °/√h and 0.01 °/h; accelerometers 20 µg/√Hz and 0.03 to 0.1 mg. ${WANDER}`,
  },
  intermediate: {
    noise: noise([0.02, 0.1, 0.03], [0.03, 0.3, 0.05], 60, 35),
    source: `Small ring-laser and fibre gyros: 0.1 °/h; accelerometers 0.1 to 1 mg, 50 µg/√Hz. ${WANDER}`,
  },
  tactical: {
    noise: noise([0.06, 2, 0.4], [0.06, 1, 0.15], 250, 140),
    source: `Fibre and the best silicon gyros: 0.03 to 0.1 °/√h, 1 to 10 °/h; accelerometers 100 µg/√Hz, 1 mg and more. ${WANDER}`,
  },
  industrial: {
    noise: noise([0.25, 25, 5], [0.15, 4, 0.6], 800, 400),
    source: `Calibrated silicon units: 0.2 to 0.5 °/√h, 10 to 100 °/h; accelerometers 250 µg/√Hz, 3 to 10 mg. ${WANDER}`,
  },
  consumer: {
    noise: noise([1, 200, 40], [0.6, 20, 3], 4000, 1500),
    source: `Silicon units without calibration of their own: 1 °/√h, more than 100 °/h; accelerometers 1000 µg/√Hz, more than 10 mg. ${WANDER}`,
  },
};

/** Walk, bias and drift of gyros (°/√h, °/h) and of accelerometers (m/s/√h, mg), scale and axes (ppm). */
function noise(gyro: number[], accel: number[], scalePpm: number, skewPpm: number): InertialNoise {
  return {
    gyroWalkDegPerRootHour: gyro[0],
    gyroBiasDegPerHour: gyro[1],
    gyroDriftDegPerHour: gyro[2],
    accelWalkMpsPerRootHour: accel[0],
    accelBiasMg: accel[1],
    accelDriftMg: accel[2],
    driftTauS: 600,
    scalePpm,
    skewPpm,
  };
}
