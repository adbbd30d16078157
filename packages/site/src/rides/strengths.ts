import { Random } from '@longheron/core/numeric';

/** What moves, or what goes wrong on the way. */
export const RIDE_KINDS = ['vehicle', 'aircraft', 'boat', 'outages', 'floats'] as const;
export type RideKind = (typeof RIDE_KINDS)[number];
export type Mover = 'vehicle' | 'aircraft' | 'boat';

/** Errors of an inertial unit, 1 SD, in SI units. */
export interface UnitStrength {
  /** Noise of gyros, rad/√s, and of accelerometers, m/s²·√s. */
  gyroNoise: number;
  accelNoise: number;
  /** What a bias is when it is switched on, rad/s and m/s², and how far it wanders from there. */
  gyroStart: number;
  accelStart: number;
  gyroWander: number;
  accelWander: number;
  /** How long a bias stays alike, seconds. */
  wanderS: number;
  /** Scale, and axes that are not square to each other, as shares. */
  scale: number;
  skew: number;
  /** Shaking of the mount at full speed, m/s². */
  shaking: number;
}

/** Errors of the antenna's positions. */
export interface AntennaStrength {
  /** Stated deviation in plan of a fixed position, metres; the height's is larger by so much. */
  statedM: number;
  heightTimes: number;
  /** True deviation over the stated one. */
  truth: number;
  /** Share of the variance that lasts, and how long, seconds. */
  lasting: number;
  lastingS: number;
  rateHz: number;
  /** Spans without positions, and spans of float ones: how many, and how long at most, seconds. */
  gaps: number;
  longestGapS: number;
  floats: number;
  longestFloatS: number;
}

export interface RideStrengths {
  kind: RideKind;
  mover: Mover;
  latRad: number;
  lonRad: number;
  heightM: number;
  lengthS: number;
  rateHz: number;
  /** How fine the unit is: 0 for an aircraft's, 1 for a telephone's. */
  coarseness: number;
  unit: UnitStrength;
  antenna: AntennaStrength;
  /** Inertial reference point to antenna, and to the point between the fixed wheels, forward, right, down, metres. */
  leverM: [number, number, number];
  wheelsM: [number, number, number];
  /** The arm is known to this, 1 SD, metres. */
  leverSdM: number;
  /** The unit sits this much askew on the mover, radians. */
  askewRad: number;
}

const RAD = Math.PI / 180;
const MG = 9.8e-3;

/** Draws a ride: where, what moves, how fine its unit is, how good its positions are. */
export function drawRideStrengths(kind: RideKind, seed: number): RideStrengths {
  const r = new Random(seed, `ride ${kind}`);
  const mover: Mover = kind === 'aircraft' || kind === 'boat' ? kind : 'vehicle';
  const coarseness = r.uniform();
  /** From the finest to the coarsest evenly by their ratio, each half or twice as much. */
  const graded = (fine: number, coarse: number) =>
    fine * Math.pow(coarse / fine, coarseness) * Math.pow(2, r.between(-1, 1));
  const perRootHour = RAD / 60;
  const perHour = RAD / 3600;
  const antenna: AntennaStrength = {
    statedM: r.between(0.005, 0.015),
    heightTimes: r.between(1.4, 2.2),
    truth: r.between(0.75, 1.3),
    lasting: r.between(0.3, 0.9),
    lastingS: Math.exp(r.between(Math.log(15), Math.log(150))),
    rateHz: [1, 2, 5][Math.floor(3 * r.uniform())],
    gaps: 1,
    longestGapS: 8,
    floats: 1,
    longestFloatS: 20,
  };
  if (kind === 'outages') Object.assign(antenna, { gaps: 8, longestGapS: 45 });
  if (kind === 'floats') Object.assign(antenna, { gaps: 4, longestGapS: 20, floats: 5, longestFloatS: 90 });
  return {
    kind,
    mover,
    coarseness,
    antenna,
    latRad: r.between(-60, 68) * RAD,
    lonRad: r.between(-180, 180) * RAD,
    heightM: r.between(0, 1500),
    lengthS: 900,
    rateHz: [100, 200, 250][Math.floor(3 * r.uniform())],
    unit: {
      gyroNoise: graded(0.004, 0.5) * perRootHour,
      accelNoise: graded(20, 400) * 1e-3 * MG,
      gyroStart: graded(0.02, 120) * perHour,
      gyroWander: graded(0.006, 12) * perHour,
      accelStart: graded(0.05, 8) * MG,
      accelWander: graded(0.01, 0.5) * MG,
      wanderS: Math.exp(r.between(Math.log(80), Math.log(1500))),
      scale: graded(1e-5, 1.5e-3),
      skew: graded(1e-5, 6e-4),
      shaking: mover === 'boat' ? r.between(0.005, 0.05) : r.between(0.03, 0.4),
    },
    leverM: [r.between(-1, 0.6), r.between(-0.5, 0.5), r.between(-1.6, -0.2)],
    wheelsM: [r.between(-1.5, 0.2), r.between(-0.3, 0.3), r.between(0.8, 2)],
    leverSdM: r.between(0.002, 0.01),
    askewRad: r.between(0, 0.15) * RAD,
  };
}
