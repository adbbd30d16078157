import { type Mounting, type ReferenceSystem, type SensorMounting } from '@longheron/core/frames';
import { type LaserReturns } from '@longheron/core/laser';
import { gaussMarkov, Random } from '@longheron/core/numeric';
import { type Trajectory } from '@longheron/core/trajectory';
import {
  AIR_MOUNT,
  NOISE_FACTOR,
  recordReturns,
  scanDrive,
  trueTrajectory,
  type NoiseLevel,
  type TrueDrive,
  type TrueReturns,
} from '../drive';
import { SITE_LENGTH_M, SITE_WIDTH_M } from '../terrain';

export * from './pictures';
export { siteRelief, type Relief } from './relief';
export * from './truth';

/** The aircraft's scanner: what it is and how it errs, 1 SD at medium level. */
export const AIR_SCANNER = {
  name: 'scanner',
  serial: 'AS-0207',
  halfAngleDeg: 30,
  pulsesPerS: 40_000,
  linesPerS: 80,
  rangeM: 0.015,
  angleDeg: 0.004,
  beamRad: 0.0004,
  mostEchoes: 5,
  maxRangeM: 420,
} as const;

/** Turned a little in its frame since it was built in, which nobody has measured. */
export const PLANTED_BORESIGHT_DEG = { roll: 0.035, pitch: -0.06, heading: 0.09 } as const;
/** The given trajectory drifts in this line by its last moment, metres upwards. */
export const DRIFT = { line: 3, heightM: 0.03 } as const;

/** As designed: its azimuth 90° looks down through the floor, what it sweeps lies across the flight. */
const SCANNER: SensorMounting = {
  leverArmM: [0.18, -0.06, 0.31],
  orientationDeg: { roll: 90, pitch: 0, heading: 90 },
  boresightDeg: { roll: 0, pitch: 0, heading: 0 },
  leverArmSdM: 0.003,
  boresightSdDeg: 0.08,
  serial: AIR_SCANNER.serial,
};

/** Sensors of the aircraft as delivered. */
export const airSensors = (): Mounting['sensors'] => ({ [AIR_SCANNER.name]: { ...SCANNER }, camera: { ...AIR_MOUNT } });

/** The scanner as it truly hangs there. */
export const trueScanner = (): SensorMounting => ({ ...SCANNER, boresightDeg: { ...PLANTED_BORESIGHT_DEG } });

/** What the scanner sees along the lines, over the site alone. */
export function scanFlight(
  flight: TrueDrive,
  system: ReferenceSystem,
  seed: number,
  progress?: (fraction: number) => void,
): TrueReturns {
  const { halfAngleDeg, pulsesPerS, linesPerS, beamRad, mostEchoes, maxRangeM } = AIR_SCANNER;
  return scanDrive(
    flight,
    system,
    trueScanner(),
    {
      profilesPerS: linesPerS,
      beamsPerTurn: pulsesPerS / linesPerS,
      fromDeg: 90 - halfAngleDeg,
      toDeg: 90 + halfAngleDeg,
      maxRangeM,
      beamRad,
      mostEchoes,
      brightToM: 250,
      spans: flight.passes,
      strays: false,
      // pitched and turned a little, lines look out over the ends
      keep: (x, y) => x > -30 && x < SITE_WIDTH_M + 30 && y > -30 && y < SITE_LENGTH_M + 30,
    },
    seed,
    progress,
  );
}

/** What the instrument wrote of it. */
export const recordFlight = (truth: TrueReturns, seed: number, level: NoiseLevel): LaserReturns =>
  recordReturns(truth, seed, level, AIR_SCANNER);

const RATE_HZ = 100;
const GIVEN = { planM: 0.01, downM: 0.013, rollPitchDeg: 0.004, headingDeg: 0.01, positionTauS: 35, attitudeTauS: 60 };

/** The trajectory as somebody else computed it: errors of the deviations it states, and the drift of one line. */
export function givenTrajectory(
  flight: TrueDrive,
  system: ReferenceSystem,
  seed: number,
  level: NoiseLevel,
): Trajectory {
  const truth = trueTrajectory(flight, system, RATE_HZ);
  const n = truth.sow.length;
  const factor = NOISE_FACTOR[level];
  const rad = Math.PI / 180;
  const series = (name: string, sd: number, tau: number) =>
    gaussMarkov(new Random(seed, `given flight ${name}`), n, 1 / RATE_HZ, tau).map((v) => factor * sd * v);
  const position = (name: string, sd: number) => series(name, sd, GIVEN.positionTauS);
  const angle = (name: string, sdDeg: number) => series(name, sdDeg * rad, GIVEN.attitudeTauS);
  const [north, east, down] = [
    position('north', GIVEN.planM),
    position('east', GIVEN.planM),
    position('down', GIVEN.downM),
  ];
  const [roll, pitch] = [angle('roll', GIVEN.rollPitchDeg), angle('pitch', GIVEN.rollPitchDeg)];
  const heading = angle('heading', GIVEN.headingDeg);
  const line = flight.passes[DRIFT.line - 1];
  const all = (v: number) => new Float64Array(n).fill(factor * v);
  return {
    ...truth,
    latRad: truth.latRad.map((v, i) => v + north[i] / 6_367_000),
    lonRad: truth.lonRad.map((v, i) => v + east[i] / (6_388_000 * Math.cos(truth.latRad[i]))),
    hEllM: truth.hEllM.map((v, i) => v - down[i] + driftAt(truth.sow[i], line)),
    rollRad: truth.rollRad!.map((v, i) => v + roll[i]),
    pitchRad: truth.pitchRad!.map((v, i) => v + pitch[i]),
    headingRad: truth.headingRad!.map((v, i) => (v + heading[i] + 2 * Math.PI) % (2 * Math.PI)),
    sdNM: all(GIVEN.planM),
    sdEM: all(GIVEN.planM),
    sdDM: all(GIVEN.downM),
    sdRollRad: all(GIVEN.rollPitchDeg * rad),
    sdPitchRad: all(GIVEN.rollPitchDeg * rad),
    sdHeadingRad: all(GIVEN.headingDeg * rad),
  };
}

/** Slowly up along the part of the line over the site, and level before and after. */
function driftAt(sow: number, line: { startSow: number; endSow: number }): number {
  if (sow < line.startSow || sow > line.endSow) return 0;
  const u = (sow - line.startSow) / (line.endSow - line.startSow);
  return DRIFT.heightM * (0.5 - 0.5 * Math.cos(Math.PI * u));
}
export { evenGroundAt } from './evenGround';
