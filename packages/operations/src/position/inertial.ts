import { type TrajectoryFigures } from '@longheron/contract/kinds/trajectory';
import { basename } from 'node:path';
import { extremes } from '@longheron/core/numeric';
import { DEG, rotationFromAngles, type Mounting } from '@longheron/core/frames';
import { type KinematicEpoch } from '@longheron/core/gnss';
import {
  inertialDefaults,
  inertialTrajectory,
  inspectInertialData,
  LONGEST_BRIDGED_S,
  navigate,
  noiseFromData,
  PROFILES,
  separationOf,
  type Separation,
  UNIT_WIDTH,
  type AidingPosition,
  type Grade,
  type InertialData,
  type InertialNoise,
  type NoiseFromData,
  type InertialSettings,
  type InertialSolution,
  type Platform,
} from '@longheron/core/inertial';
import { part, Problem, type Watch } from '@longheron/core/shared';
import { type Trajectory } from '@longheron/core/trajectory';
import { readInertial } from '@longheron/formats/inertial';
import { type ReportBuilder } from '../shared/report';

/** What a computation with inertial data is asked for besides the positions. */
export interface InertialRequest {
  path: string;
  mounting: Mounting;
  platform: Platform;
  /** True heading at the first epoch, degrees, when it is known. */
  headingDeg?: number;
  standstill?: boolean;
  noSlip?: boolean;
  leverArmSdM?: number;
  /** Grade of the unit; its own data tell without it. */
  grade?: Grade;
  /** Runs the filter from the end to the beginning as well, as a check; on without it. */
  reverse?: boolean;
  /** Rows a second in the result: a whole part of the unit's rate; the unit's own without it. */
  rateHz?: number;
}

/** SD of a lever arm whose mounting does not state one, metres. */
const USUAL_LEVER_SD_M = 0.01;
/** Shares of positions not believed from which on something is wrong. */
const MANY_REFUSED = 0.02;
/** Filters find their errors within this after they start, seconds. */
const SETTLING_S = 60;

export interface InertialResult {
  trajectory: Trajectory;
  solution: InertialSolution;
  /** GPS week and seconds of the unit's samples. */
  data: InertialData;
  figures: TrajectoryFigures;
  separation?: Separation;
}

/** Carries positions of the antenna to the inertial unit: smoothed position, velocity and attitude at its rate. */
export async function withInertial(
  request: InertialRequest,
  epochs: KinematicEpoch[],
  week: number,
  builder: ReportBuilder,
  name = basename(request.path),
  watch?: Watch,
): Promise<InertialResult> {
  const data = await readInertial(request.path, name);
  const shift = (week - data.week) * 604800;
  const aiding: AidingPosition[] = epochs.map((e) => ({ ...e, sow: e.sow + shift }));
  checkData(data, aiding, name, builder);
  const settings = settingsOf(request);
  const reverse = request.reverse ?? true;
  const told = request.grade ? undefined : noiseFromData(data, aiding, settings, part(watch, 0, 0.25));
  const grade = request.grade ?? told!.grade;
  settings.noise = told?.noise ?? PROFILES[grade].noise;
  const solution = navigate(data, aiding, settings, part(watch, told ? 0.25 : 0, reverse ? 0.7 : 1));
  const separation = reverse ? checked(solution, data, aiding, settings, builder, part(watch, 0.7, 1)) : undefined;
  const every = Math.max(1, Math.round(data.rateHz / (request.rateHz ?? data.rateHz)));
  const trajectory = inertialTrajectory(solution, data, aiding, every, true);
  const refused = solution.innovations.filter((i) => !i.used);
  const share = refused.length / Math.max(1, solution.innovations.length);
  if (share > MANY_REFUSED)
    builder.notice({
      code: 'inertial-refused',
      severity: 'warning',
      file: name,
      place: `first at second of week ${refused[0].sow.toFixed(2)}`,
      text: `${(100 * share).toFixed(1)} % of the positions contradict the inertial unit.`,
      effect: 'They were left out.',
      remedy: 'Check lever arm, axes, and the precision stated for the unit.',
    });
  if (solution.bridged.length)
    builder.notice({
      code: 'inertial-bridged',
      severity: 'warning',
      file: name,
      place: `first at second of week ${solution.bridged[0].sow.toFixed(3)}`,
      text: `${solution.bridged.length} gaps of the inertial data were bridged, the longest ${extremes(solution.bridged.map((g) => g.lengthS))[1].toFixed(3)} s.`,
      effect: 'Deviations are larger there.',
    });
  const figures = {
    ...figuresOf(solution, settings, trajectory, share),
    unit_noise: noiseFigures(grade, settings.noise, told),
    ...separationFigures(separation),
  };
  noticeLeverArm(figures, builder);
  if (request.grade) noticeGrade(request.grade, figures.innovation_normalised, name, builder);
  return { trajectory, solution, data, figures, separation };
}

/** The pass from the end to the beginning; that it cannot be made says nothing against the result. */
function checked(
  solution: InertialSolution,
  data: InertialData,
  aiding: AidingPosition[],
  settings: InertialSettings,
  builder: ReportBuilder,
  watch?: Watch,
): Separation | undefined {
  try {
    return separationOf(solution, data, aiding, settings, watch);
  } catch (error) {
    if (!(error instanceof Problem)) throw error;
    builder.notice({
      code: 'inertial-reverse',
      severity: 'info',
      text: `The data could not be run from the end to the beginning as a check: ${error.message}`,
    });
    return undefined;
  }
}

/** RMS of the separation of both passes, settling times at the ends left off. */
function separationFigures(s: Separation | undefined): Record<string, number[] | null> {
  if (!s) return { passes_ned_m: null, passes_attitude_deg: null };
  const n = s.sow.length;
  const [first, last] = [s.sow[0] + SETTLING_S, s.sow[n - 1] - SETTLING_S];
  const rows = Array.from({ length: n }, (_, k) => k).filter((k) => s.sow[k] > first && s.sow[k] < last);
  const rms = (of: Float64Array, c: number) =>
    Math.sqrt(rows.reduce((sum, k) => sum + of[3 * k + c] ** 2, 0) / Math.max(1, rows.length));
  return {
    passes_ned_m: [0, 1, 2].map((c) => rms(s.nedM, c)),
    passes_attitude_deg: [0, 1, 2].map((c) => rms(s.attitudeRad, c) / DEG),
  };
}

function settingsOf(r: InertialRequest): InertialSettings {
  const { mounting } = r;
  const defaults = inertialDefaults(r.platform);
  if (!mounting.gnssLeverArmM)
    throw new Problem('The mounting does not say where the antenna is.', {
      code: 'mounting-antenna',
      place: 'gnss.lever_arm_m',
      remedy: 'Add the vector from the inertial reference point to the antenna, forward, right, down, in metres.',
    });
  const v = mounting.vehicle;
  return {
    ...defaults,
    leverArmM: mounting.gnssLeverArmM,
    leverArmSdM: r.leverArmSdM ?? mounting.gnssLeverArmSdM ?? USUAL_LEVER_SD_M,
    standstill: r.standstill ?? defaults.standstill,
    noSlip: r.noSlip ?? defaults.noSlip,
    ...(r.headingDeg === undefined ? {} : { headingRad: r.headingDeg * DEG }),
    ...(v
      ? {
          vehicleOriginM: v.originM,
          vehicleRotation: rotationFromAngles(
            v.rotationDeg.roll * DEG,
            v.rotationDeg.pitch * DEG,
            v.rotationDeg.heading * DEG,
          ),
        }
      : {}),
  };
}

/** Wrong units end the computation, and so do long gaps among the positions. */
function checkData(data: InertialData, aiding: AidingPosition[], name: string, builder: ReportBuilder): void {
  const { findings, gaps } = inspectInertialData(data, name);
  const error = findings.find((f) => f.severity === 'error');
  if (error)
    throw new Problem(`${error.text} ${error.effect}`, {
      code: error.code,
      file: name,
      place: error.place,
      remedy: error.remedy,
    });
  for (const f of findings) if (f.code !== 'inertial-gap') builder.notice(f);
  const [first, last] = [aiding[0]?.sow ?? 0, aiding[aiding.length - 1]?.sow ?? 0];
  const long = gaps.find((g) => g.lengthS > LONGEST_BRIDGED_S && g.endSow > first && g.startSow < last);
  if (long)
    throw new Problem(`Inertial data are missing for ${long.lengthS.toFixed(1)} s in the middle.`, {
      code: 'inertial-gap',
      file: name,
      place: `second of week ${long.startSow.toFixed(3)} to ${long.endSow.toFixed(3)}`,
      remedy: 'Choose a span on one side of the gap, or compute both sides apart.',
    });
}

function figuresOf(s: InertialSolution, settings: InertialSettings, t: Trajectory, refused: number) {
  const rms = (v: Float64Array) => {
    let sum = 0;
    for (const x of v) sum += x * x;
    return Math.sqrt(sum / v.length);
  };
  const middle = s.unitNodes.length >> 1;
  const at = (k: number) => Array.from(s.unit.subarray(middle * UNIT_WIDTH + k, middle * UNIT_WIDTH + k + 3));
  const sdAt = (k: number) => Array.from(s.unitSd.subarray(middle * UNIT_WIDTH + k, middle * UNIT_WIDTH + k + 3));
  const perHour = (v: number) => (v / DEG) * 3600;
  const mg = (v: number) => v / 9.80665e-3;
  const squared = s.innovations.filter((i) => i.used).map((i) => i.squared);
  return {
    platform: settings.platform,
    alignment: {
      by: s.alignment.by,
      seconds: s.alignment.seconds,
      heading_sd_deg: s.alignment.headingSdRad / DEG,
    },
    rows: t.sow.length,
    inertial_share: t.solution!.reduce((n, v) => n + (v === 4 ? 1 : 0), 0) / t.sow.length,
    sd_roll_deg: rms(t.sdRollRad!) / DEG,
    sd_pitch_deg: rms(t.sdPitchRad!) / DEG,
    sd_heading_deg: rms(t.sdHeadingRad!) / DEG,
    positions_refused_share: refused,
    innovation_normalised: Math.sqrt(squared.reduce((a, b) => a + b, 0) / (3 * Math.max(1, squared.length))),
    gyro_bias_deg_h: at(0).map(perHour),
    gyro_bias_sd_deg_h: sdAt(0).map(perHour),
    accel_bias_mg: at(3).map(mg),
    accel_bias_sd_mg: sdAt(3).map(mg),
    lever_arm_m: at(15),
    lever_arm_sd_m: sdAt(15),
    lever_arm_entered_m: Array.from(settings.leverArmM),
    lever_arm_entered_sd_m: settings.leverArmSdM,
  };
}

/** The unit's noise that was taken, in the units of data sheets. */
function noiseFigures(grade: Grade, noise: InertialNoise, told: NoiseFromData | undefined) {
  return {
    from: told ? 'data' : 'settings',
    grade,
    seconds: told?.seconds,
    gyro_walk_deg_root_h: noise.gyroWalkDegPerRootHour,
    gyro_bias_deg_h: noise.gyroBiasDegPerHour,
    gyro_drift_deg_h: noise.gyroDriftDegPerHour,
    accel_walk_mps_root_h: noise.accelWalkMpsPerRootHour,
    accel_bias_mg: noise.accelBiasMg,
    accel_drift_mg: noise.accelDriftMg,
    scale_ppm: noise.scalePpm,
    axes_ppm: noise.skewPpm,
    source: PROFILES[grade].source,
    ...(told ? { log_likelihood: Object.fromEntries(told.grades.map((g) => [g.grade, g.logLikelihood])) } : {}),
  };
}

/** Positions that scatter about what a unit predicts by much more than its grade allows. */
const MAX_SCATTER = 1.5;

function noticeGrade(grade: Grade, scatter: number, file: string, builder: ReportBuilder): void {
  if (scatter < MAX_SCATTER) return;
  builder.notice({
    code: 'inertial-grade',
    severity: 'warning',
    file,
    text: `Positions lie ${scatter.toFixed(1)} times as far from what the unit predicts as a unit of ${grade} grade would put them.`,
    effect: 'The unit is noisier than that, or its lever arm or axes are wrong; stated deviations are too small.',
    remedy: 'Have its own data tell the grade, and compare.',
  });
}

/** A lever arm that the data move by much more than it was said to be good for is wrong, or its sign is. */
function noticeLeverArm(f: ReturnType<typeof figuresOf>, builder: ReportBuilder): void {
  const moved = f.lever_arm_m.map((v, k) => v - f.lever_arm_entered_m[k]);
  const worst = moved.reduce((a, b) => (Math.abs(b) > Math.abs(a) ? b : a), 0);
  if (Math.abs(worst) < Math.max(0.005, 2.5 * f.lever_arm_entered_sd_m)) return;
  builder.notice({
    code: 'inertial-lever-arm',
    severity: 'warning',
    text: `The data put the antenna ${moved.map((v) => (1000 * v).toFixed(0)).join(', ')} mm (forward, right, down) from where the mounting has it.`,
    effect: `That is more than the ${(1000 * f.lever_arm_entered_sd_m).toFixed(0)} mm it is said to be good for.`,
    remedy: 'Measure the lever arm again; check the signs and which point of the antenna it reaches.',
  });
}
