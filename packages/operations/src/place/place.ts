import { basename } from 'node:path';
import {
  calibrationFindings,
  mountingToJson,
  type Mounting,
  type ReferenceSystem,
  type SensorMounting,
} from '@longheron/core/frames';
import {
  LIMIT_DEFAULTS,
  noLimits,
  Placer,
  ReturnJudge,
  type LimitCounts,
  type PlacedPoints,
  type ReturnLimits,
} from '@longheron/core/laser';
import { Problem, tick, type Notice, type Watch } from '@longheron/core/shared';
import { unixFromGps } from '@longheron/core/time';
import { findStrips, stripRulesFor, type Strip, type StripSettings, type Trajectory } from '@longheron/core/trajectory';
import { writeFileWhole } from '@longheron/formats/bytes';
import { wktOfSystem } from '@longheron/formats/crs';
import { LaserFile } from '@longheron/formats/laser';
import { LasWriter } from '@longheron/formats/las';
import { openAs } from '@longheron/formats/registry';
import { inUnits, lasOffsets } from '../shared/placed';
import { ReportBuilder, type Report } from '../shared/report';
import { frameNotices } from '../shared/words';
import { type PlaceFigures } from '@longheron/contract/kinds/point-cloud';

export interface PlaceRequest {
  trajectoryPath: string;
  returnsPaths: string[];
  system: ReferenceSystem;
  outPath: string;
  /** Frame of a trajectory that does not name its own. */
  trajectoryCrs?: string;
  /** Rules for strips; those not given follow the kind of platform. */
  strips?: Partial<StripSettings>;
  /** Returns outside them are written as withheld. */
  limits?: ReturnLimits;
  mounting: Mounting;
  /** Names for messages, when paths are those of a store. */
  names?: Record<string, string>;
}

export interface PlacedStrip extends Strip {
  points: number;
}

export interface PlaceResult {
  report: Report;
  figures: PlaceFigures;
  strips: PlacedStrip[];
  leftOut: Strip[];
}

/** Which sensor of the mounting a laser file belongs to. */
export function sensorFor(mounting: Mounting, sensor: string, fileName: string): SensorMounting {
  const names = Object.keys(mounting.sensors);
  const found = mounting.sensors[sensor] ?? (names.length === 1 ? mounting.sensors[names[0]] : undefined);
  if (!found)
    throw new Problem(`The mounting has no sensor "${sensor}"; it has ${names.join(', ')}.`, {
      code: 'mounting-sensor',
      file: fileName,
      place: '/laser, attribute sensor',
      remedy: 'Add the sensor to the mounting, or choose the mounting of this platform.',
    });
  return found;
}

const GEOCENTRIC_FRAMES = new Set([
  'EPSG:4937',
  'EPSG:4258',
  'EPSG:4979',
  'EPSG:4326',
  'EPSG:7912',
  'EPSG:9989',
  'EPSG:9990',
  'EPSG:6319',
  'EPSG:7843',
]);

/** The frame of a trajectory: its own, or the one given; refused when neither is there. */
export function trajectoryFrame(trajectory: Trajectory, given: string | undefined, file: string): string {
  const frame = trajectory.crs ?? given;
  if (!frame)
    throw new Problem('The trajectory does not say in which frame its coordinates are.', {
      code: 'trajectory-crs',
      file,
      place: 'comment lines',
      remedy: 'Import it again with a line “# crs: EPSG:4937” among its comments.',
      command: 'Add "# crs: EPSG:4937", or give --trajectory-crs.',
    });
  const normal = frame.toUpperCase().startsWith('EPSG:') ? frame.toUpperCase() : `EPSG:${frame}`;
  if (!GEOCENTRIC_FRAMES.has(normal))
    throw new Problem(`The trajectory's frame ${frame} is not a geographic system that can be used.`, {
      code: 'trajectory-crs',
      file,
      place: 'comment lines',
      remedy: 'Use ETRS89 (EPSG:4937) or WGS 84 (EPSG:4979).',
    });
  return normal;
}

/** Returns read at once. */
const BLOCK = 1 << 17;
/** Returns placed and written at once: their columns stay in the processor's cache. */
const STEP = 1 << 13;

/** Georeferences laser returns from files into a LAS 1.4 file. */
export async function placeReturns(request: PlaceRequest, watch?: Watch): Promise<PlaceResult> {
  const { system } = request;
  const name = (path: string) => request.names?.[path] ?? basename(path);
  const builder = new ReportBuilder('place', {});
  tick(watch, 0, 'Reading the trajectory');
  const trajectory = await openAs('trajectory', request.trajectoryPath, name(request.trajectoryPath));
  const { mounting } = request;
  const frame = trajectoryFrame(trajectory, request.trajectoryCrs, name(request.trajectoryPath));
  builder.notices.push(...frameNotices(frame, system, name(request.trajectoryPath)));
  if (!trajectory.sdNM)
    builder.notice({
      code: 'trajectory-sd',
      severity: 'warning',
      file: name(request.trajectoryPath),
      text: 'The trajectory states no standard deviations.',
      effect: 'The precision of the points leaves the trajectory out.',
    });
  const strips = stripRulesFor(trajectory, request.strips);
  const plan = findStrips(trajectory, strips);
  const counts = new Float64Array(plan.strips.length + 1);
  const sums = new SdSums();
  const limits = request.limits ?? LIMIT_DEFAULTS;
  const judge = noLimits(limits) ? undefined : new ReturnJudge(limits);
  let pointsIn = 0,
    outside = 0,
    pointsOut = 0;
  await writeFileWhole(request.outPath, async (out) => {
    let writer: LasWriter | undefined;
    const files: LaserFile[] = [];
    try {
      for (const path of request.returnsPaths) files.push(await LaserFile.open(path, name(path)));
      const total = files.reduce((sum, f) => sum + f.info.count, 0);
      for (const [channel, file] of files.entries()) {
        if (channel > 3)
          throw new Problem('More than four laser files do not fit one cloud.', {
            code: 'place-channels',
            remedy: 'Place them in two runs.',
          });
        const sensor = sensorFor(mounting, file.info.sensor, name(request.returnsPaths[channel]));
        const { week, serial } = file.info;
        const first = file.info.count ? file.read(0, 1).sow[0] : 0;
        const recorded = unixFromGps(week * 604800 + first);
        for (const n of calibrationFindings(file.info.sensor || 'the sensor', sensor, serial, recorded))
          builder.notice({ ...n, file: name(request.returnsPaths[channel]) });
        const placer = new Placer(trajectory, system, sensor, file.info);
        checkOverlap(trajectory, file, name(request.returnsPaths[channel]));
        let placed: PlacedPoints | undefined;
        const strip = new Uint16Array(STEP);
        const gpsS = new Float64Array(STEP);
        const rejected = judge && new Uint8Array(STEP);
        for (const { returns } of file.blocks(BLOCK)) {
          tick(watch, pointsIn / total, 'Placing returns');
          for (let from = 0; from < returns.sow.length; from += STEP) {
            const to = Math.min(from + STEP, returns.sow.length);
            placed = placer.place(returns, from, to, placed);
            for (let i = from; i < to; i++) {
              const k = placed.interval[i - from];
              const id = k >= 0 ? plan.idOfInterval[k] : 0;
              strip[i - from] = id;
              if (k >= 0) counts[id]++;
              gpsS[i - from] = returns.week * 604800 + returns.sow[i];
            }
            refuseAbsurd(placed, returns.rangeM, from, name(request.returnsPaths[channel]), pointsIn);
            writer ??= await LasWriter.create(
              out,
              wktOfSystem(system.definition),
              lasOffsets(placed, system),
              new Date(),
            );
            if (judge && rejected) judge.judge(returns, from, to, rejected);
            sums.add(placed);
            await writer.append({
              ...inUnits(placed, system),
              intensity: returns.intensity.subarray(from, to),
              returnNumber: returns.returnNumber.subarray(from, to),
              returnCount: returns.returnCount.subarray(from, to),
              rejected,
              scannerChannel: channel,
              strip,
              gpsS,
              sdE: placed.sdEM,
              sdN: placed.sdNM,
              sdH: placed.sdHM,
            });
            pointsIn += to - from;
            outside += placed.outside;
          }
        }
      }
      if (!writer) writer = await LasWriter.create(out, wktOfSystem(system.definition), [0, 0, 0], new Date());
      pointsOut = writer.count;
      if (pointsOut === 0)
        throw new Problem('No return lies within the time of the trajectory.', {
          code: 'place-no-overlap',
          file: name(request.trajectoryPath),
          remedy: 'Choose the trajectory of the same session.',
        });
      await writer.finish();
    } finally {
      for (const file of files) file.close();
    }
  });
  if (outside > 0)
    builder.notice({
      code: 'outside-trajectory',
      severity: outside > pointsIn / 100 ? 'warning' : 'info',
      text: `${outside} of ${pointsIn} returns lie outside the trajectory or in a gap of it.`,
      effect: 'They are not in the cloud.',
      remedy: 'Check the time spans on the lanes.',
    });
  if (judge) builder.notice(limitNotice(judge.counts, pointsIn));
  const placedStrips = plan.strips.map((s) => ({ ...s, points: counts[s.id] }));
  const figures: PlaceFigures = {
    settings: { strips, trajectory_crs: frame, mounting: mountingToJson(mounting), ...(judge ? { limits } : {}) },
    points_in: pointsIn,
    points_out: pointsOut,
    points_outside_trajectory: outside,
    strips: placedStrips.map((s) => ({
      id: s.id,
      start_sow: s.startSow,
      end_sow: s.endSow,
      length_m: s.lengthM,
      points: s.points,
    })),
    left_out: plan.leftOut.map((s) => ({
      start_sow: s.startSow,
      end_sow: s.endSow,
      length_m: s.lengthM,
      reason: s.leftOut ?? '',
    })),
    points_outside_strips: counts[0],
    ...(judge ? rejectedFigures(judge.counts) : {}),
    ...sums.means(),
  };
  return { report: builder.finish(system.label, { ...figures }), figures, strips: placedStrips, leftOut: plan.leftOut };
}

const rejectedFigures = (c: LimitCounts) => ({
  points_rejected: c.rejected,
  rejected_by_range: c.range,
  rejected_by_intensity: c.intensity,
  rejected_by_azimuth: c.azimuth,
  rejected_of_several_echoes: c.ofSeveral,
});

/** What limits took out, and what may have gone with it. */
function limitNotice(c: LimitCounts, all: number): Notice {
  const percent = (n: number, of: number) => `${((100 * n) / Math.max(1, of)).toFixed(1)} %`;
  return {
    code: 'return-limits',
    severity: c.rejected > 0.1 * all ? 'warning' : 'info',
    text: `${c.rejected} of ${all} returns (${percent(c.rejected, all)}) are rejected by the limits: ${c.range} by range, ${c.intensity} by intensity, ${c.azimuth} by direction; ${percent(c.ofSeveral, c.rejected)} of them are one of several echoes.`,
    effect: 'Thin and dark things go first: wires, poles, wet asphalt. What is rejected does not measure clearances.',
    remedy: 'Look at them with rejected points alone; take back what is real.',
  };
}

class SdSums {
  private e = 0;
  private n = 0;
  private h = 0;
  private count = 0;

  add(p: PlacedPoints): void {
    for (let i = 0; i < p.sdEM.length; i++) {
      if (p.interval[i] < 0) continue;
      this.e += p.sdEM[i] ** 2;
      this.n += p.sdNM[i] ** 2;
      this.h += p.sdHM[i] ** 2;
      this.count++;
    }
  }

  /** Root mean squares of the stated deviations, metres. */
  means(): { sd_e_m: number; sd_n_m: number; sd_h_m: number } {
    const rms = (sum: number) => Math.sqrt(sum / Math.max(1, this.count));
    return { sd_e_m: rms(this.e), sd_n_m: rms(this.n), sd_h_m: rms(this.h) };
  }
}

function checkOverlap(trajectory: Trajectory, file: LaserFile, name: string): void {
  if (file.info.count === 0)
    throw new Problem('The file has no returns.', {
      code: 'laser-empty',
      file: name,
      remedy: 'Copy the file again from its origin.',
    });
  if (Math.abs(file.info.week - trajectory.week) > 1)
    throw new Problem(`The returns are of GPS week ${file.info.week}, the trajectory of week ${trajectory.week}.`, {
      code: 'place-week',
      file: name,
      place: '/laser, attribute gps_week',
      remedy: 'Choose the trajectory of the same session, or correct the week.',
    });
}

function refuseAbsurd(placed: PlacedPoints, rangeM: Float32Array, from: number, file: string, first: number): void {
  for (let i = 0; i < placed.interval.length; i++) {
    if (placed.interval[i] < 0) continue;
    const range = rangeM[from + i];
    if (!(range >= 0 && range < 20000))
      throw new Problem(`Return ${first + i + 1} has a range of ${range} m.`, {
        code: 'laser-range',
        file,
        place: `/laser/range, row ${first + i}`,
        remedy: 'Ranges are metres from 0 to 20 000: export the returns again.',
      });
    if (!Number.isFinite(placed.eastingM[i]))
      throw new Problem(`Return ${first + i + 1} has an angle that is not a number.`, {
        code: 'laser-angle',
        file,
        place: `/laser/azimuth, row ${first + i}`,
        remedy: 'Export the returns again.',
      });
  }
}
