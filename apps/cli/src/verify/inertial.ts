import { DEG, ecefToNed, geodeticToEcef, GRS80 } from '@longheron/core/frames';
import {
  inertialDefaults,
  inertialTrajectory,
  navigate,
  noiseFromData,
  separationOf,
  type AidingPosition,
  type InertialData,
  type Platform,
} from '@longheron/core/inertial';
import { type Trajectory } from '@longheron/core/trajectory';
import { parseSystem } from '@longheron/formats/crs';
import { deliveredMounting, DRIVE_START_SOW, outages, trueTrajectory, type TrueDrive } from '@longheron/site/drive';
import { siteDrive } from '@longheron/site/files';
import { INERTIAL_RATE_HZ, measureDrive } from '@longheron/site/inertial';
import { trueFlight, trueVoyage } from '@longheron/site/journeys';
import { SITE_SYSTEM } from '@longheron/site/terrain';
import { solveSession, wrongFixes } from './gnss';

type Line = (what: string, value: string, target: string, good: boolean) => void;
type Solved = ReturnType<typeof solveSession> & { seed: number };

const SLOWEST_MPS = 1;

/** The inertial unit of a seed. */
export const unitOf = (seed: number, drive = siteDrive()): InertialData =>
  measureDrive(drive, parseSystem(SITE_SYSTEM), { seed, factor: 1 });

/** Its smoothed trajectory. @param check whether the data are run from the end to the beginning as well. */
export function smoothed(
  imu: InertialData,
  epochs: AidingPosition[],
  platform: Platform = 'vehicle',
  check = false,
): Trajectory {
  const settings = {
    ...inertialDefaults(platform),
    leverArmM: deliveredMounting().gnssLeverArmM!,
    leverArmSdM: 0.003,
  };
  settings.noise = noiseFromData(imu, epochs, settings).noise;
  const solution = navigate(imu, epochs, settings);
  if (check) separationOf(solution, imu, epochs, settings);
  return inertialTrajectory(solution, imu, epochs);
}

/** Errors of a trajectory at one of its epochs: metres and degrees, with their stated deviations. */
function compare(t: Trajectory, i: number, truth: Trajectory, j: number): { error: number[]; sd: number[] } {
  const axes = ecefToNed(truth.latRad[j], truth.lonRad[j]);
  const p = geodeticToEcef(GRS80, t.latRad[i], t.lonRad[i], t.hEllM[i]);
  const q = geodeticToEcef(GRS80, truth.latRad[j], truth.lonRad[j], truth.hEllM[j]);
  const along = (k: number) => [0, 1, 2].reduce((s, c) => s + axes[3 * k + c] * (p[c] - q[c]), 0);
  const turn = (a: number, b: number) => Math.atan2(Math.sin(a - b), Math.cos(a - b)) / DEG;
  return {
    error: [
      along(0),
      along(1),
      along(2),
      turn(t.rollRad![i], truth.rollRad![j]),
      turn(t.pitchRad![i], truth.pitchRad![j]),
      turn(t.headingRad![i], truth.headingRad![j]),
    ],
    sd: [
      t.sdNM![i],
      t.sdEM![i],
      t.sdDM![i],
      ...[t.sdRollRad![i], t.sdPitchRad![i], t.sdHeadingRad![i]].map((v) => v / DEG),
    ],
  };
}

/** What a platform has to meet, besides deviations that hold. */
interface Targets {
  levelDeg: number;
  headingDeg: number;
}

/** Attitude and positions of the smoothed solution against the truth, over the seeds whose positions are given. */
export function inertialOverSeeds(
  line: Line,
  solved: Solved[],
  platform: Platform = 'vehicle',
  drive: TrueDrive = siteDrive(),
  targets: Targets = { levelDeg: 0.008, headingDeg: 0.02 },
): void {
  console.log(`Inertial navigation of the ${platform}, ${solved.length} seeds …`);
  const truth = trueTrajectory(drive, parseSystem(SITE_SYSTEM), INERTIAL_RATE_HZ);
  const gaps = platform === 'vehicle' ? outages(drive) : [];
  const squares = [0, 0, 0, 0, 0, 0];
  const shares = [0, 0, 0, 0, 0, 0];
  const heading: string[] = [];
  let moving = 0;
  let worst = 0;
  for (const s of solved) {
    const t = smoothed(unitOf(s.seed, drive), s.epochs, platform);
    let own = 0;
    let count = 0;
    for (let i = 0; i < t.sow.length; i++) {
      const j = Math.round((t.sow[i] - truth.sow[0]) * INERTIAL_RATE_HZ);
      const { error, sd } = compare(t, i, truth, j);
      if (gaps.some((g) => t.sow[i] >= g.startSow && t.sow[i] <= g.endSow))
        worst = Math.max(worst, Math.hypot(error[0], error[1], error[2]));
      if (Math.hypot(truth.vnMps![j], truth.veMps![j]) < SLOWEST_MPS) continue;
      moving++;
      count++;
      own += error[5] ** 2;
      for (let k = 0; k < 6; k++) {
        squares[k] += error[k] ** 2;
        shares[k] += (error[k] / sd[k]) ** 2;
      }
    }
    heading.push(Math.sqrt(own / count).toFixed(4));
  }
  const rms = squares.map((v) => Math.sqrt(v / moving));
  const normalised = shares.map((v) => Math.sqrt(v / moving));
  const name = platform[0].toUpperCase() + platform.slice(1);
  line(
    `${name}: roll, pitch RMS while moving`,
    `${rms[3].toFixed(4)}, ${rms[4].toFixed(4)} deg`,
    `<= ${targets.levelDeg} deg`,
    Math.max(rms[3], rms[4]) <= targets.levelDeg,
  );
  line(
    `${name}: heading RMS while moving`,
    `${rms[5].toFixed(4)} deg (by seed ${heading.join(', ')})`,
    `<= ${targets.headingDeg} deg`,
    rms[5] <= targets.headingDeg,
  );
  line(
    `${name}: plan and height RMS while moving`,
    `${(1000 * Math.hypot(rms[0], rms[1])).toFixed(1)} and ${(1000 * rms[2]).toFixed(1)} mm`,
    '<= 8 and 15 mm',
    Math.hypot(rms[0], rms[1]) <= 0.008 && rms[2] <= 0.015,
  );
  if (gaps.length)
    line(`${name}: largest error in a 9 s outage`, `${(1000 * worst).toFixed(0)} mm`, '<= 50 mm', worst <= 0.05);
  line(
    `${name}: error over deviation, N, E, D, roll, pitch, heading`,
    normalised.map((v) => v.toFixed(2)).join(', '),
    '0.7 to 1.4',
    normalised.every((v) => v >= 0.7 && v <= 1.4),
  );
}

/** The flight and the voyage, by their own observations, over several seeds. */
export function otherJourneys(line: Line, seeds: number[]): void {
  for (const [platform, drive, targets] of [
    ['aircraft', trueFlight(DRIVE_START_SOW + 7200), { levelDeg: 0.008, headingDeg: 0.02 }],
    ['boat', trueVoyage(DRIVE_START_SOW + 14400), { levelDeg: 0.008, headingDeg: 0.04 }],
  ] as const) {
    console.log(`Positioning the ${platform}, ${seeds.length} seeds …`);
    const solved = seeds.map((seed) => ({ ...solveSession(seed, drive), seed }));
    const all = solved.reduce((n, s) => n + s.of, 0);
    const counts = solved.map(wrongFixes);
    const fixed = counts.reduce((n, c) => n + c.fixed, 0);
    const wrong = counts.reduce((n, c) => n + c.wrong, 0);
    const share = fixed / all;
    line(`GNSS, ${platform}: fixed`, `${(100 * share).toFixed(2)} %`, '>= 97 %', share >= 0.97);
    line(`GNSS, ${platform}: wrong integers`, `${wrong} of ${fixed} epochs`, 'none', wrong === 0);
    inertialOverSeeds(line, solved, platform, drive, targets);
  }
}
