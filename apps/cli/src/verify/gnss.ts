import { ecefToGeodetic, ecefToNed, geodeticToEcef, GRS80 } from '@longheron/core/frames';
import {
  BroadcastOrbits,
  findAntenna,
  KINEMATIC_DEFAULTS,
  kinematicPositions,
  type KinematicEpoch,
} from '@longheron/core/gnss';
import { parseSystem } from '@longheron/formats/crs';
import { readAntennas } from '@longheron/formats/antex';
import { readNavigation } from '@longheron/formats/navigation';
import { readObservations } from '@longheron/formats/rinex';
import { trueMounting, type TrueDrive } from '@longheron/site/drive';
import { siteDrive, SITE_DEFAULTS } from '@longheron/site/files';
import {
  BASE_ANTENNA_HEIGHT_M,
  type BASE_PLACE,
  sessionFiles,
  vehicleSession,
  type VehicleSession,
} from '@longheron/site/gnss';
import { SITE_SYSTEM } from '@longheron/site/terrain';

const SEEDS = 5;
const bytes = (text: string) => new TextEncoder().encode(text);

/** A session of a seed, by way of its RINEX texts; the vehicle's, or another's under an open sky. */
export function solveSession(
  seed: number,
  other?: TrueDrive,
  basePlace?: typeof BASE_PLACE,
): {
  session: VehicleSession;
  epochs: KinematicEpoch[];
  of: number;
  ms: number;
} {
  const session = vehicleSession(other ?? siteDrive(), parseSystem(SITE_SYSTEM), {
    openSky: other !== undefined,
    basePlace,
    seed,
    factor: 1,
    roverRateHz: 5,
    leverArmM: trueMounting(seed).gnssLeverArmM,
  });
  const text = sessionFiles(session);
  const rover = readObservations(bytes(text.rover), 'rover').observations;
  const base = readObservations(bytes(text.base), 'base').observations;
  const orbits = new BroadcastOrbits(readNavigation(bytes(text.navigation), 'navigation').records);
  const [lat, lon, h] = ecefToGeodetic(GRS80, session.baseMarkerM[0], session.baseMarkerM[1], session.baseMarkerM[2]);
  const baseM = geodeticToEcef(GRS80, lat, lon, h + BASE_ANTENNA_HEIGHT_M);
  const began = performance.now();
  const antennas = readAntennas(bytes(text.antennas), 'antennas');
  const epochs = kinematicPositions(rover, base, baseM, orbits, {
    ...KINEMATIC_DEFAULTS,
    rover: { antenna: findAntenna(antennas, rover.antenna)!.antenna },
    base: { antenna: findAntenna(antennas, base.antenna)!.antenna, pointsNorth: true },
  });
  return { session, epochs, of: rover.sow.length, ms: performance.now() - began };
}

/** Error of an epoch, north, east, down, metres, and what is stated of it, metres². */
function errorOf(session: VehicleSession, e: KinematicEpoch): { ned: number[]; variance: number[] } {
  const truth = new Float64Array(3);
  session.antennaAt(e.sow, truth);
  const geo = ecefToGeodetic(GRS80, truth[0], truth[1], truth[2]);
  const axes = ecefToNed(geo[0], geo[1]);
  const of = [0, 1, 2].map((a) => {
    let d = 0;
    let q = 0;
    for (let i = 0; i < 3; i++) {
      d += axes[3 * a + i] * (e.xyzM[i] - truth[i]);
      for (let j = 0; j < 3; j++) q += axes[3 * a + i] * e.covariance[3 * i + j] * axes[3 * a + j];
    }
    return [d, q];
  });
  return { ned: of.map(([d]) => d), variance: of.map(([, q]) => q) };
}

const sum = (v: number[]) => v.reduce((s, x) => s + x, 0);

/** An epoch called fixed that is off by more than 10 cm and five of its deviations has wrong integers. */
function isWrong({ ned, variance }: ReturnType<typeof errorOf>): boolean {
  const off = sum(ned.map((d) => d * d));
  return off > 0.01 && off > 25 * sum(variance);
}

/** Fixed epochs of a session, and how many of them have wrong integers. */
export function wrongFixes({ session, epochs }: ReturnType<typeof solveSession>): { fixed: number; wrong: number } {
  const fixed = epochs.filter((e) => e.solution === 'fixed');
  return { fixed: fixed.length, wrong: fixed.filter((e) => isWrong(errorOf(session, e))).length };
}

type Line = (what: string, value: string, target: string, good: boolean) => void;

/** What fixed epochs have to meet; shares as fractions, RMS in metres. */
interface Targets {
  fixed: number;
  planM: number;
  heightM: number;
}

/** Fixed epochs of the drive against the truth, over several seeds, to the site's base or another. */
export function gnssOverSeeds(
  line: Line,
  where = 'under 1 km',
  basePlace?: typeof BASE_PLACE,
  targets: Targets = { fixed: 0.97, planM: 0.008, heightM: 0.015 },
): Array<ReturnType<typeof solveSession> & { seed: number }> {
  console.log(`Positioning the vehicle, base ${where}, ${SEEDS} seeds …`);
  let all = 0;
  let fixed = 0;
  let near = 0;
  let wrong = 0;
  const squares = [0, 0, 0];
  const shares = [0, 0, 0];
  const seeds: string[] = [];
  const solved: ReturnType<typeof gnssOverSeeds> = [];
  for (let k = 0; k < SEEDS; k++) {
    const seed = SITE_DEFAULTS.seed + 17 * k;
    const one = solveSession(seed, undefined, basePlace);
    const { session, epochs } = one;
    solved.push({ ...one, seed });
    let plan = 0;
    let count = 0;
    for (const e of epochs) {
      all++;
      if (e.solution !== 'fixed') continue;
      fixed++;
      count++;
      const error = errorOf(session, e);
      const { ned, variance } = error;
      ned.forEach((d, a) => {
        squares[a] += d * d;
        shares[a] += (d * d) / variance[a];
      });
      plan += ned[0] ** 2 + ned[1] ** 2;
      if (Math.hypot(...ned) <= 0.04) near++;
      if (isWrong(error)) wrong++;
    }
    seeds.push((1000 * Math.sqrt(plan / count)).toFixed(1));
  }
  const percent = (v: number) => `${(100 * v).toFixed(2)} %`;
  const plan = Math.sqrt((squares[0] + squares[1]) / fixed);
  const height = Math.sqrt(squares[2] / fixed);
  const normalised = shares.map((v) => Math.sqrt(v / fixed));
  const mm = (m: number) => `${(1000 * m).toFixed(1)} mm`;
  line(
    `GNSS, base ${where}: epochs with satellites that are fixed`,
    percent(fixed / all),
    `>= ${percent(targets.fixed)}`,
    fixed / all >= targets.fixed,
  );
  line('GNSS: fixed epochs within 4 cm of the truth', percent(near / fixed), '>= 99.8 %', near / fixed >= 0.998);
  line('GNSS: wrong integers', `${wrong} of ${fixed} epochs`, 'none', wrong === 0);
  line('GNSS: plan RMS', `${mm(plan)} (by seed ${seeds.join(', ')})`, `<= ${mm(targets.planM)}`, plan <= targets.planM);
  line('GNSS: height RMS', mm(height), `<= ${mm(targets.heightM)}`, height <= targets.heightM);
  // three axes of five sessions together: one axis of a few sessions with one sky says little by itself
  const pooled = Math.sqrt(sum(normalised.map((v) => v * v)) / 3);
  line(
    'GNSS: error over stated deviation, all axes (N, E, D)',
    `${pooled.toFixed(2)} (${normalised.map((v) => v.toFixed(2)).join(', ')})`,
    '0.7 to 1.4',
    pooled >= 0.7 && pooled <= 1.4,
  );
  return solved;
}
