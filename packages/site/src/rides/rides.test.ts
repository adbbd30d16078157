import { describe, expect, it } from 'vitest';
import { inertialDefaults, navigate, noiseFromData, PROFILES } from '@longheron/core/inertial';
import { drawRide, drawRideStrengths, type DrawnRide, type RideKind, type UnitStrength } from '.';

const PERFECT: UnitStrength = {
  gyroNoise: 0,
  accelNoise: 0,
  gyroStart: 0,
  accelStart: 0,
  gyroWander: 0,
  accelWander: 0,
  wanderS: 100,
  scale: 0,
  skew: 0,
  shaking: 0,
};
const settingsOf = ({ strengths: s, leverArmM }: DrawnRide) => ({
  ...inertialDefaults(s.mover),
  leverArmM,
  leverArmSdM: s.leverSdM,
  vehicleOriginM: s.wheelsM,
});
/** A ride with a unit that is so many times as noisy as its grade's profile has it. */
function ofGrade(kind: RideKind, seed: number, unit: Partial<UnitStrength>) {
  const drawn = drawRideStrengths(kind, seed);
  return drawRide(kind, seed, { lengthS: 420, unit: { ...drawn.unit, ...unit } });
}
const HOUR = Math.PI / 180 / 3600;
const ROOT_HOUR = Math.PI / 180 / 60;

describe('a drawn ride', () => {
  it.each(['vehicle', 'aircraft', 'boat'] as const)(
    'of a %s with a perfect unit and perfect positions is found again to a millimetre',
    (kind) => {
      const drawn = drawRideStrengths(kind, 2);
      const antenna = { ...drawn.antenna, statedM: 0.005, truth: 0, rateHz: 5, gaps: 0, floats: 0 };
      const ride = drawRide(kind, 2, { lengthS: 240, unit: PERFECT, antenna, leverSdM: 0, askewRad: 0 });
      const solution = navigate(ride.unit, ride.positions, {
        ...settingsOf(ride),
        noise: PROFILES.navigation.noise,
        noSlip: false,
        standstill: false,
      });
      let worst = 0;
      let turn = 0;
      for (let k = 0; k < solution.count; k += 50) {
        const x = solution.states.at(k);
        const truth = ride.truthAt(ride.unit.sow[solution.first + k]);
        worst = Math.max(worst, Math.hypot(...[0, 1, 2].map((i) => x[i] - truth.xyzM[i])));
        for (let i = 0; i < 9; i++) turn = Math.max(turn, Math.abs(x[6 + i] - truth.toEarth[i]));
      }
      expect(worst).toBeLessThan(0.001);
      expect(turn).toBeLessThan(2e-5);
    },
  );

  it('is the same for the same seed, and another for another', () => {
    const of = (seed: number) => drawRide('vehicle', seed, { lengthS: 20 });
    const [a, b, c] = [of(3), of(3), of(4)];
    expect(b.unit.accelMps2).toEqual(a.unit.accelMps2);
    expect(c.unit.accelMps2[100]).not.toBe(a.unit.accelMps2[100]);
  });
});

describe("a unit's own data", () => {
  it('of the finest tell a grade with little drift', () => {
    const ride = ofGrade('vehicle', 4, {
      gyroNoise: 0.002 * ROOT_HOUR,
      gyroStart: 0.01 * HOUR,
      gyroWander: 0.003 * HOUR,
      accelNoise: 2e-4,
      accelStart: 4e-4,
      accelWander: 1e-4,
      scale: 1e-5,
      skew: 1e-5,
    });
    const { grade, noise } = noiseFromData(ride.unit, ride.positions, settingsOf(ride));
    expect(['navigation', 'intermediate']).toContain(grade);
    expect(noise.gyroWalkDegPerRootHour).toBeLessThan(0.02);
  });

  it('of the coarsest tell one, within half and twice of what was drawn', () => {
    const ride = ofGrade('vehicle', 4, {
      gyroNoise: 0.6 * ROOT_HOUR,
      gyroStart: 150 * HOUR,
      gyroWander: 15 * HOUR,
      accelNoise: 5e-3,
      accelStart: 0.08,
      accelWander: 5e-3,
      scale: 2e-3,
      skew: 6e-4,
    });
    const told = noiseFromData(ride.unit, ride.positions, settingsOf(ride));
    expect(['industrial', 'consumer']).toContain(told.grade);
    expect(told.noise.gyroWalkDegPerRootHour).toBeGreaterThan(0.3);
    expect(told.noise.gyroWalkDegPerRootHour).toBeLessThan(1.2);
    expect(told.noise.accelWalkMpsPerRootHour).toBeGreaterThan(0.15);
    expect(told.noise.accelWalkMpsPerRootHour).toBeLessThan(0.6);
    // the likeliest stands at nought, its neighbours below
    expect(Math.max(...told.grades.map((g) => g.logLikelihood))).toBe(0);
    expect(told.seconds).toBeGreaterThan(400);
  });

  it('without positions in their time say so', () => {
    const ride = drawRide('vehicle', 4, { lengthS: 60 });
    const later = ride.positions.map((p) => ({ ...p, sow: p.sow + 9000 }));
    expect(() => noiseFromData(ride.unit, later, settingsOf(ride))).toThrow(/do not overlap/);
  });
});
