import { readFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { DEG, ecefToGeodetic, geodeticToEcef, GRS80 } from '@longheron/core/frames';
import {
  BroadcastOrbits,
  KINEMATIC_DEFAULTS,
  kinematicPositions,
  type KinematicEpoch,
  type KinematicSettings,
  type Observations,
} from '@longheron/core/gnss';
import { mean } from '@longheron/core/numeric';
import { part, Problem, type Watch } from '@longheron/core/shared';
import { dayOfYear, unixFromGps } from '@longheron/core/time';
import { type Trajectory } from '@longheron/core/trajectory';
import { writeFileWhole } from '@longheron/formats/bytes';
import { readNavigation, readObservations } from '@longheron/formats/rinex';
import { trajectoryCsv } from '@longheron/formats/trajectory';
import { ReportBuilder, type Report } from '../shared';
import { antennaTrajectory, yearOf } from './antennaTrajectory';
import { baseMarker, type BasePosition } from './base';
import { checkMotion, checkOrbits, checkOverlap, noticeAntennas } from './checks';
import { withInertial, type InertialRequest, type InertialResult } from './inertial';

export { type BasePosition } from './base';
export { diagnosticsOf, type DiagnosticSeries } from './diagnostics';
export { type InertialRequest, type InertialResult } from './inertial';

export interface PositionRequest {
  roverPath: string;
  basePath: string;
  navPaths: string[];
  /** Marker of the base, or `mean` for that of its own codes; the header's position without it. */
  base?: BasePosition | 'mean';
  /** Vertical, marker to antenna reference point, metres; replaces the header's. */
  antennaHeightM?: number;
  /** Frame of the base's coordinates and so of the result. */
  frame?: string;
  /** Seconds of the rover file's GPS week. */
  startSow?: number;
  endSow?: number;
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
  /** GPS week of the seconds in `epochs`. */
  week: number;
}

/** From this length on ionosphere and troposphere of both ends differ enough to matter, metres. */
const LONG_BASELINE_M = 10_000;

/**
 * Computes a trajectory from RINEX files, of the rover's antenna or, with inertial data, of the inertial reference
 * point, and writes it as CSV.
 */
export async function positionRover(request: PositionRequest, watch?: Watch): Promise<PositionResult> {
  const name = (path: string) => request.names?.[path] ?? basename(path);
  const builder = new ReportBuilder('position', {});
  for (const path of [
    request.roverPath,
    request.basePath,
    ...request.navPaths,
    ...(request.inertial ? [request.inertial.path] : []),
  ])
    await builder.input(path);
  const read = async (path: string) => {
    const { observations, notices } = readObservations(await readFile(path), name(path));
    for (const n of notices) if (n.severity !== 'info') builder.notice(n);
    return observations;
  };
  const rover = await read(request.roverPath);
  const base = await read(request.basePath);
  const orbits = new BroadcastOrbits(
    (await Promise.all(request.navPaths.map(async (p) => readNavigation(await readFile(p), name(p)).records))).flat(),
  );
  const [from, to] = span(rover, request);
  checkOverlap(rover, base, from, to, name(request.roverPath), name(request.basePath));
  checkOrbits(rover, orbits, from, to, request.navPaths.map(name).join(', '));
  const frame = request.frame ?? 'EPSG:4937';
  checkMotion(base, orbits, name(request.basePath), name(request.roverPath));
  const marker = baseMarker(base, orbits, request.base, name(request.basePath), builder);
  const heightM = request.antennaHeightM ?? base.antennaDeltaM[0];
  const baseM = raised(marker, heightM);
  noticeAntennas(rover, base, builder);
  const gps = rover.week * 604800 + rover.sow[from];
  const settings: KinematicSettings = {
    ...KINEMATIC_DEFAULTS,
    ...request.settings,
    dayOfYear: dayOfYear(new Date(unixFromGps(gps) * 1000)),
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
      file: name(request.roverPath),
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
  const baselineM = Math.max(...epochs.map((e) => Math.hypot(...[0, 1, 2].map((k) => e.xyzM[k] - baseM[k]))));
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
  const separations = epochs.map((e) => e.separationM).filter(Number.isFinite);
  const report = builder.finish(frame, {
    settings: {
      systems: settings.systems.join(''),
      mask_deg: settings.maskDeg,
      direction: settings.direction,
      left_out: settings.leftOut,
      ratio: settings.fix.ratio,
      success_rate: settings.fix.successRate,
      base_xyz_m: Array.from(marker),
      antenna_height_m: heightM,
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
    satellites_mean: mean(epochs.map((e) => e.satellites)),
    separation_rms_m: separations.length ? Math.sqrt(mean(separations.map((v) => v * v))) : null,
    separation_max_m: separations.length ? Math.max(...separations) : null,
    ...inertial?.figures,
  });
  return { report, trajectory, epochs, inertial, week: rover.week };
}

function span(rover: Observations, request: PositionRequest): [number, number] {
  const { sow } = rover;
  let from = 0;
  let to = sow.length;
  while (from < to && sow[from] < (request.startSow ?? -Infinity)) from++;
  while (to > from && sow[to - 1] > (request.endSow ?? Infinity)) to--;
  if (from === to)
    throw new Problem(`No epoch of the rover lies in the span; it runs from ${sow[0]} to ${sow[sow.length - 1]} s.`, {
      code: 'position-span',
      remedy: 'Give --start and --end in seconds of the GPS week.',
    });
  return [from, to];
}

function raised(marker: ArrayLike<number>, heightM: number): Float64Array {
  const geo = ecefToGeodetic(GRS80, marker[0], marker[1], marker[2]);
  return geodeticToEcef(GRS80, geo[0], geo[1], geo[2] + heightM);
}

/** A base position typed as latitude, longitude in degrees and ellipsoidal height. */
export const fromLatLonHeight = (latDeg: number, lonDeg: number, hM: number): BasePosition => ({
  xyzM: Array.from(geodeticToEcef(GRS80, latDeg * DEG, lonDeg * DEG, hM)) as [number, number, number],
  source: 'given',
});
