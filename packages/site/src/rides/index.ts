import { type AidingPosition, type InertialData } from '@longheron/core/inertial';
import { Random } from '@longheron/core/numeric';
import { antennaPositions } from './antenna';
import { drawRideStrengths, type RideKind, type RideStrengths } from './strengths';
import { measure, type Motion, onEarth } from './unit';
import { drawWay, STEPS_HZ } from './way';

export { RIDE_KINDS, drawRideStrengths, type RideKind, type RideStrengths, type UnitStrength } from './strengths';

/**
 * A ride with an inertial unit, drawn at random: what moves and how, a unit from the finest to the coarsest, and positions
 * of its antenna; with the truth.
 */
export interface DrawnRide {
  strengths: RideStrengths;
  unit: InertialData;
  positions: AidingPosition[];
  /** The arm as it was measured: off by what it is said to be good for. */
  leverArmM: [number, number, number];
  /** Place of the unit at a time, Earth-centred metres, and its axes in Earth axes. */
  truthAt(sow: number): { xyzM: [number, number, number]; toEarth: Float64Array; speedMps: number };
  /** Rows north, east, down of where it began. */
  ned: Motion['ned'];
}

/** @param change what shall be otherwise than drawn. */
export function drawRide(kind: RideKind, seed: number, change: Partial<RideStrengths> = {}): DrawnRide {
  const s = { ...drawRideStrengths(kind, seed), ...change };
  const random = new Random(seed, `way of the ${s.mover}`);
  const way = drawWay(s.mover, s.lengthS, random);
  const motion = onEarth(way, s);
  const startSow = 200000 + Math.floor(random.between(0, 200000));
  const leverArmM = s.leverM.map((v) => v + s.leverSdM * random.normal()) as [number, number, number];
  return {
    strengths: s,
    leverArmM,
    ned: motion.ned,
    unit: measure(motion, way, s, seed, startSow),
    positions: antennaPositions(motion, s, seed, startSow, s.lengthS),
    truthAt: (sow) => {
      const step = Math.round((sow - startSow) * STEPS_HZ);
      const at = motion.unitAt(step);
      return {
        xyzM: [0, 1, 2].map((k) => motion.originM[k] + at[k]) as [number, number, number],
        toEarth: motion.toEarth(step),
        speedMps: way.speed[step],
      };
    },
  };
}
