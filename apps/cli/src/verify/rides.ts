import {
  inertialDefaults,
  inertialTrajectory,
  navigate,
  noiseFromData,
  type NoiseFromData,
  type InertialSettings,
  type InertialSolution,
} from '@longheron/core/inertial';
import { SOLUTIONS } from '@longheron/core/trajectory';
import { drawRide, type DrawnRide, type RideKind, type RideStrengths } from '@longheron/site/rides';

/** What a drawn ride's smoothed solution is like, against its truth: north, east, down, roll, pitch, heading. */
export interface RideFigures {
  kind: RideKind;
  seed: number;
  coarseness: number;
  rows: number;
  /** Rows called fixed that are off by more than 10 cm and five stated deviations. */
  wrong: number;
  /** Rows of any kind that are off by more than five stated deviations, and 5 cm. */
  beyond: number;
  /** Sums of squared errors, and of these over their variances. */
  squares: number[];
  shares: number[];
  /** Largest error of a row, metres. */
  worstM: number;
  ms: number;
}

/** Settings that anybody would have, with no knowledge of how the ride was drawn. */
export function settingsOf(ride: DrawnRide): InertialSettings {
  const { mover, leverSdM, wheelsM } = ride.strengths;
  return {
    ...inertialDefaults(mover),
    leverArmM: ride.leverArmM,
    leverArmSdM: leverSdM,
    vehicleOriginM: wheelsM,
  };
}

export function judgeRide(
  kind: RideKind,
  seed: number,
  change: Partial<RideStrengths> = {},
  settle: (s: InertialSettings) => InertialSettings = (s) => s,
): RideFigures & { solution: InertialSolution; told: NoiseFromData } {
  const ride = drawRide(kind, seed, change);
  const began = performance.now();
  const settings = settle(settingsOf(ride));
  const told = noiseFromData(ride.unit, ride.positions, settings);
  const solution = navigate(ride.unit, ride.positions, { ...settings, noise: told.noise });
  const ms = performance.now() - began;
  const every = Math.round(ride.unit.rateHz / 10);
  const t = inertialTrajectory(solution, ride.unit, ride.positions, every);
  const figures: RideFigures = {
    kind,
    seed,
    coarseness: ride.strengths.coarseness,
    rows: t.sow.length,
    wrong: 0,
    beyond: 0,
    worstM: 0,
    ms,
    squares: new Array<number>(6).fill(0),
    shares: new Array<number>(6).fill(0),
  };
  const fixed = SOLUTIONS.indexOf('fixed');
  for (let k = 0; k < t.sow.length; k++) {
    const truth = ride.truthAt(t.sow[k]);
    const state = solution.states.at(k * every);
    const { place, turn } = errorsOf(ride, state, truth);
    const sd = [t.sdNM, t.sdEM, t.sdDM, t.sdRollRad, t.sdPitchRad, t.sdHeadingRad].map((v) => v![k]);
    // turns about north and east as those about the forward and right axes
    const [c, s] = [Math.cos(t.headingRad![k]), Math.sin(t.headingRad![k])];
    const errors = [...place, c * turn[0] + s * turn[1], c * turn[1] - s * turn[0], turn[2]];
    for (let i = 0; i < 6; i++) {
      figures.squares[i] += errors[i] ** 2;
      figures.shares[i] += (errors[i] / sd[i]) ** 2;
    }
    const off = Math.hypot(...place);
    const stated = Math.hypot(sd[0], sd[1], sd[2]);
    figures.worstM = Math.max(figures.worstM, off);
    if (off > 5 * stated && off > 0.05) figures.beyond++;
    if (off > 5 * stated && off > 0.1 && t.solution![k] === fixed) figures.wrong++;
  }
  return { ...figures, solution, told };
}

/** Errors of a state: place and small turns about north, east and down. */
function errorsOf(ride: DrawnRide, state: Float64Array, truth: ReturnType<DrawnRide['truthAt']>) {
  const d = [0, 1, 2].map((k) => state[k] - truth.xyzM[k]);
  // estimated less true axes: skew part of estimated × true transposed
  const m = [0, 1, 2].flatMap((i) =>
    [0, 1, 2].map((j) => [0, 1, 2].reduce((sum, k) => sum + state[6 + 3 * i + k] * truth.toEarth[3 * j + k], 0)),
  );
  const w = [(m[7] - m[5]) / 2, (m[2] - m[6]) / 2, (m[3] - m[1]) / 2];
  const inNed = (v: number[]) =>
    [0, 1, 2].map((r) => ride.ned[3 * r] * v[0] + ride.ned[3 * r + 1] * v[1] + ride.ned[3 * r + 2] * v[2]);
  return { place: inNed(d), turn: inNed(w) };
}
