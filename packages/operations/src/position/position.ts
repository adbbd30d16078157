import { basename } from 'node:path';
import { type InternationalFrame, type Plate, DEG, geodeticToEcef, GRS80 } from '@longheron/core/frames';
import {
  KINEMATIC_DEFAULTS,
  joinObservations,
  kinematicPositions,
  overMarker,
  pointPosition,
  SkyRecorder,
  type SkyRecord,
  type KinematicEpoch,
  type KinematicSettings,
  type Observations,
} from '@longheron/core/gnss';
import { extremes, mean } from '@longheron/core/numeric';
import { part, Problem, type Watch } from '@longheron/core/shared';
import { dayOfYear, formatGps, unixFromGps } from '@longheron/core/time';
import { type Trajectory } from '@longheron/core/trajectory';
import { writeFileWhole } from '@longheron/formats/bytes';
import { trajectoryCsv } from '@longheron/formats/trajectory';
import { openAs } from '@longheron/formats/registry';
import { ReportBuilder, type Report } from '../shared/report';
import { antennaTrajectory, yearOf } from './antennaTrajectory';
import { baseMarker, inFrame, type BasePosition } from './base';
import { checkMotion, checkOrbits, checkOverlap } from './checks';
import { correctionsOf, LONG_BASELINE_M, readCompanions } from './corrections';
import { missingBandNotice } from './missingBands';
import { noiseFigures, sessionNotices } from './sessionNotices';
import { withInertial, type InertialRequest, type InertialResult } from './inertial';

export { type BasePosition } from './base';
export { diagnosticsOf, type DiagnosticSeries } from './diagnostics';
export { skyOf, type SkyView } from './sky';
export { type InertialRequest, type InertialResult } from './inertial';

export interface PositionRequest {
  /** Observations; several are following files of one receiver. */
  roverPaths: string[];
  basePaths: string[];
  navPaths: string[];
  /** Precise orbits (SP3), used instead of the broadcast ones; and antenna calibrations (ANTEX). */
  orbitPaths?: string[];
  antennaPaths?: string[];
  /** Marker of the base, or `mean` for that of its own codes; the header's position without it. */
  base?: BasePosition | 'mean';
  /** Vertical, marker to antenna reference point, metres; replaces the header's. */
  antennaHeightM?: number;
  /** Frame of the result; the base's coordinates are in it unless `baseFrame` says otherwise. */
  frame?: string;
  /** International frame of the base's coordinates, and their epoch: they are brought to the frame of the result. */
  baseFrame?: { frame: InternationalFrame; epoch: number };
  /** Plate that the base stands on, where the frame of the result does not go with one. */
  plate?: Plate;
  /** Seconds of the rover file's GPS week. */
  startSow?: number;
  endSow?: number;
  /** The same as GPS seconds. */
  startGps?: number;
  endGps?: number;
  settings?: Partial<KinematicSettings>;
  /** Inertial data of the rover: the result is then smoothed, with attitude, at the inertial reference point. */
  inertial?: InertialRequest;
  outPath: string;
  /** Names for messages, when paths are those of a store. */
  names?: Record<string, string>;
}

export interface PositionResult {
  report: Report;
  trajectory: Trajectory;
  epochs: KinematicEpoch[];
  inertial?: InertialResult;
  /** GPS week of the seconds in `epochs` and `sky`. */
  week: number;
  sky?: SkyRecord;
  /** Name of the rover's marker as its header has it. */
  marker: string;
}

/**
 * Computes a trajectory from RINEX files, of the rover's antenna or, with inertial data, of the inertial reference
 * point, and writes it as CSV.
 */
export async function positionRover(request: PositionRequest, watch?: Watch): Promise<PositionResult> {
  const name = (path: string) => request.names?.[path] ?? basename(path);
  const builder = new ReportBuilder('position', {});
  const read = async (path: string) => {
    const { observations, notices } = await openAs('gnss-observations', path, name(path));
    for (const n of notices) if (n.severity !== 'info') builder.notice(n);
    return observations;
  };
  const joined = async (paths: string[], atRest: boolean) =>
    joinObservations(await Promise.all(paths.map(read)), paths.map(name), atRest);
  const rover = await joined(request.roverPaths, false);
  const base = await joined(request.basePaths, true);
  const roverName = request.roverPaths.map(name).join(', ');
  const baseName = request.basePaths.map(name).join(', ');
  const [from, to] = span(rover, request);
  const gps = rover.week * 604800 + rover.sow[from];
  const orbitPaths = request.orbitPaths ?? [];
  const { orbits, antennas } = await readCompanions(
    request.navPaths,
    orbitPaths,
    request.antennaPaths ?? [],
    name,
    gps,
  );
  checkOverlap(rover, base, from, to, roverName, baseName);
  checkOrbits(rover, orbits, from, to, (orbitPaths.length ? orbitPaths : request.navPaths).map(name).join(', '));
  const frame = request.frame ?? 'EPSG:4937';
  checkMotion(base, orbits, baseName, roverName);
  const stated = baseMarker(base, orbits, request.base, baseName, builder);
  const marker = inFrame(stated, request, yearOf(rover.week * 604800 + rover.sow[from]), builder);
  const heightM = request.antennaHeightM ?? base.antennaDeltaM[0];
  const [, eastM, northM] = base.antennaDeltaM;
  const baseM = overMarker(marker, [heightM, eastM, northM]);
  const about = pointPosition(rover, (from + to) >> 1, orbits)?.xyzM ?? baseM;
  const corrections = correctionsOf(rover, base, antennas, distance(about, baseM), builder);
  const recorder = new SkyRecorder();
  const settings: KinematicSettings = {
    ...KINEMATIC_DEFAULTS,
    ...request.settings,
    dayOfYear: dayOfYear(new Date(unixFromGps(gps) * 1000)),
    ...corrections,
    record: recorder,
  };
  const epochs = kinematicPositions(
    rover,
    base,
    baseM,
    orbits,
    settings,
    part(watch, 0, request.inertial ? 0.7 : 1),
    from,
    to,
  );
  if (epochs.length === 0)
    throw new Problem('No epoch has four satellites that rover and base both see.', {
      code: 'position-satellites',
      file: roverName,
      remedy: 'Lower the elevation mask, or choose the base of the same session.',
    });
  const inertial =
    request.inertial &&
    (await withInertial(
      request.inertial,
      epochs,
      rover.week,
      builder,
      name(request.inertial.path),
      part(watch, 0.7, 1),
    ));
  const trajectory = inertial
    ? { ...inertial.trajectory, crs: frame, epoch: yearOf(gps), source: 'Long Heron 0.1, GNSS and inertial, smoothed' }
    : antennaTrajectory(epochs, rover.week, frame, gps);
  await writeFileWhole(request.outPath, async (out) => {
    for (const text of trajectoryCsv(trajectory)) await out.write(text);
  });
  const share = (kind: string) => epochs.filter((e) => e.solution === kind).length / epochs.length;
  const rms = (of: Float64Array) => Math.sqrt(mean(of.map((v) => v * v)));
  const baselineM = epochs.reduce((most, e) => Math.max(most, distance(e.xyzM, baseM)), 0);
  if (baselineM > LONG_BASELINE_M)
    builder.notice({
      code: 'position-baseline',
      severity: 'warning',
      text: `The base is ${(baselineM / 1000).toFixed(1)} km away.`,
      effect:
        'Ionosphere and troposphere between both ends are estimated as even over the session; what changes within it stays in the positions.',
      remedy: 'Use a nearer base, or a virtual station in the area.',
    });
  if (share('fixed') < 0.9)
    builder.notice({
      code: 'position-float',
      severity: 'warning',
      text: `Only ${(100 * share('fixed')).toFixed(1)} % of the epochs are fixed.`,
      effect: 'The rest is good to decimetres at best; each epoch states how good.',
      remedy: 'See where on the map; a longer span or another base may help.',
    });
  for (const n of sessionNotices(epochs, recorder.result, rover.week)) builder.notice(n);
  if (settings.frequencies !== 'first')
    for (const [obs, who] of [
      [rover, 'rover'],
      [base, 'base'],
    ] as const) {
      const missing = missingBandNotice(obs, who, (sow) => formatGps(obs.week * 604800 + sow, 'gps', 0).slice(11));
      if (missing) builder.notice(missing);
    }
  const separations = epochs.map((e) => e.separationM).filter(Number.isFinite);
  const report = builder.finish(frame, {
    settings: {
      systems: settings.systems.join(''),
      mask_deg: settings.maskDeg,
      direction: settings.direction,
      left_out: settings.leftOut,
      frequencies: settings.frequencies ?? 'both',
      ratio: settings.fix.ratio,
      success_rate: settings.fix.successRate,
      base_xyz_m: Array.from(marker),
      base_shift_m: distance(stated, marker),
      antenna_height_m: heightM,
      orbits: orbitPaths.length ? 'precise' : 'broadcast',
      phase_centres: corrections.rover.antenna !== undefined,
      solid_tide: corrections.rover.tide !== undefined,
      frame,
    },
    epochs: epochs.length,
    epochs_without_position: to - from - epochs.length,
    fixed_share: share('fixed'),
    float_share: share('float'),
    code_share: share('code'),
    sd_n_m: rms(trajectory.sdNM!),
    sd_e_m: rms(trajectory.sdEM!),
    sd_d_m: rms(trajectory.sdDM!),
    baseline_m: baselineM,
    cycle_slips: recorder.result?.slips.length ?? 0,
    session_noise: noiseFigures(recorder.result?.noise, baselineM),
    satellites_mean: mean(epochs.map((e) => e.satellites)),
    separation_rms_m: separations.length ? Math.sqrt(mean(separations.map((v) => v * v))) : null,
    separation_max_m: separations.length ? extremes(separations)[1] : null,
    ...inertial?.figures,
  });
  return { report, trajectory, epochs, inertial, week: rover.week, sky: recorder.result, marker: rover.marker.trim() };
}

function span(rover: Observations, request: PositionRequest): [number, number] {
  const { sow } = rover;
  let from = 0;
  let to = sow.length;
  const ofWeek = (gps: number | undefined) => (gps === undefined ? undefined : gps - rover.week * 604800);
  const start = ofWeek(request.startGps) ?? request.startSow ?? -Infinity;
  const end = ofWeek(request.endGps) ?? request.endSow ?? Infinity;
  while (from < to && sow[from] < start) from++;
  while (to > from && sow[to - 1] > end) to--;
  if (from === to)
    throw new Problem(`No epoch of the rover lies in the span; it runs from ${sow[0]} to ${sow[sow.length - 1]} s.`, {
      code: 'position-span',
      remedy: 'Choose a span within it.',
      command: 'Choose a span within it: --start and --end are seconds of the GPS week.',
    });
  return [from, to];
}

function distance(a: ArrayLike<number>, b: ArrayLike<number>): number {
  return Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
}

/** A base position typed as latitude, longitude in degrees and ellipsoidal height. */
export const fromLatLonHeight = (latDeg: number, lonDeg: number, hM: number): BasePosition => ({
  xyzM: Array.from(geodeticToEcef(GRS80, latDeg * DEG, lonDeg * DEG, hM)) as [number, number, number],
  source: 'given',
});
