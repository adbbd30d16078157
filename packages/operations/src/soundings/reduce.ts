import { type SoundingFigures } from '@longheron/contract/kinds/parts/soundings';
import { type Mounting, type ReferenceSystem } from '@longheron/core/frames';
import { Problem, tick, type Notice, type Watch } from '@longheron/core/shared';
import {
  CAUSES,
  SoundingReducer,
  VesselPath,
  type Cast,
  type CastRule,
  type CauseSums,
  type Levels,
  type Soundings,
} from '@longheron/core/sonar';
import { stripRulesFor, type StripSettings, type Trajectory } from '@longheron/core/trajectory';
import { writeFileWhole } from '@longheron/formats/bytes';
import { wktOfSystem } from '@longheron/formats/crs';
import { LasWriter } from '@longheron/formats/las';
import { SonarFile } from '@longheron/formats/sonar';
import { inUnits, lasOffsets } from '../shared/placed';
import {
  differenceNotice,
  lineAt,
  linesOf,
  navigationDifference,
  navigationPath,
  orderedMotion,
  vesselOf,
  wayOf,
  type SonarLine,
} from '../shared/sonar';
import { Casts } from './casts';
import { type PlanSums } from './plan';

export interface SoundingRequest {
  sonar: ReadonlyArray<{ path: string; name: string }>;
  mounting: Mounting;
  mountingName: string;
  /** In the frame of the system's chain; undefined: real-time navigation. */
  trajectory?: Trajectory;
  casts: readonly Cast[];
  levels?: Levels;
  /** Name of the gauge's datum. */
  levelsAbove: string;
  castBy: CastRule;
  leastQuality: number;
  strips: { readonly [K in keyof StripSettings]?: StripSettings[K] };
  /** Of the result: without heights where they are relative. */
  system: ReferenceSystem;
  heights: SoundingFigures['heights'];
  outPath: string;
  /** Hears of all soundings, for a first look. */
  plan?: PlanSums;
}

/** What each point carries besides its deviations. */
const MORE = [
  { name: 'beam', description: 'beam of the ping, from 0', bytes: 2 },
  { name: 'ping', description: 'ping of the file, from 0', bytes: 4 },
] as const;
/** Intensities are kept as hundredths of a decibel above this. */
const LOWEST_DB = -150;

/** Reduces all files into one LAS file; figures of lines, casts and uncertainty. */
export async function reduceSoundings(
  request: SoundingRequest,
  notice: (n: Notice) => void,
  watch?: Watch,
): Promise<SoundingFigures> {
  const { mounting, system } = request;
  const vessel = vesselOf(mounting, request.mountingName, notice);
  const totals = new Totals();
  const casts = new Casts(request.casts, system);
  const lines: SoundingFigures['lines'] = [];
  let navigation: SoundingFigures['navigation'] = null;
  let binned = false;
  const files: SonarFile[] = [];
  await writeFileWhole(request.outPath, async (out) => {
    let writer: LasWriter | undefined;
    try {
      for (const { path, name } of request.sonar) files.push(await SonarFile.open(path, name));
      for (const f of files) refuseEmpty(f);
      const all = files.reduce((sum, f) => sum + f.info.pings, 0);
      for (const file of files) {
        binned ||= file.info.binned;
        const path = request.trajectory ?? navigationPath(file, mounting, request.levels);
        if (request.trajectory) {
          const d = navigationDifference(file, mounting, path);
          const differs = d && differenceNotice(d, file.name);
          if (differs) notice(differs);
          navigation ??= d;
        }
        const motion = file.motion();
        const reducer = new SoundingReducer(
          new VesselPath(path, system),
          vessel,
          request.casts,
          request.castBy,
          file.info,
          motion && orderedMotion(motion),
        );
        const own = linesOf(file, file.pingTimes(), path, stripRulesFor(path, request.strips), lines.length + 1);
        const lineFigures = own.map((l) => emptyLine(l, wayOf(path, l, system)));
        const grades = gradesOf(file);
        const least = grades > 1 ? request.leastQuality : 0;
        for (const pings of file.blocks()) {
          tick(watch, totals.pings / all, `Reducing ${file.name}`);
          const s = reducer.reduce(pings);
          const lineOfPing = Uint16Array.from(pings.sow, (t) => lineAt(own, t));
          for (const line of lineOfPing) if (line) lineFigures[line - own[0].id].pings++;
          totals.pings += pings.sow.length;
          if (!s.count) continue;
          const columns = columnsOf(s, pings.first, lineOfPing, least, system);
          writer ??= await LasWriter.create(
            out,
            wktOfSystem(system.definition),
            lasOffsets(columns.placed, system),
            new Date(),
            undefined,
            MORE,
          );
          await writer.append(columns.las);
          totals.add(s, columns.rejected);
          request.plan?.add(
            columns.placed.eastingM,
            columns.placed.northingM,
            columns.placed.heightM,
            columns.rejected,
          );
          for (let i = 0; i < s.count; i++) {
            const line = columns.las.strip[i];
            if (line && !columns.rejected[i]) extend(lineFigures[line - own[0].id], s.heightM[i]);
          }
          casts.use(s);
        }
        casts.hear(reducer);
        totals.hear(reducer);
        lines.push(...lineFigures);
      }
      if (!writer)
        throw new Problem('No sounding could be placed.', {
          code: 'soundings-none',
          file: files[0]?.name,
          remedy: request.trajectory
            ? 'Choose the trajectory of the same session, and see that beams detected the bottom.'
            : 'See that navigation, motion and water levels cover the pings.',
        });
      await writer.finish();
    } finally {
      for (const f of files) f.close();
    }
  });
  return {
    ...totals.figures(),
    binned,
    heights: request.heights,
    heights_above:
      request.heights === 'relative'
        ? request.levelsAbove || 'the water'
        : system.definition.verticalName || 'the ellipsoid',
    path: request.trajectory ? 'trajectory' : 'navigation',
    cast_by: request.castBy,
    latency_s: vessel.latencyS,
    waterline_m: mounting.waterlineM ?? null,
    lines,
    casts: casts.figures(),
    navigation,
  };
}

function refuseEmpty(file: SonarFile): void {
  if (file.info.pings > 0) return;
  throw new Problem('The file holds side-scan and no soundings.', {
    code: 'sonar-no-bathy',
    file: file.name,
    place: '/bathy',
    remedy: 'Choose the file with the soundings; this one serves for the side-scan picture.',
  });
}

/** How many grades the instrument gives at all: one alone says nothing. */
function gradesOf(file: SonarFile): number {
  const seen = new Set<number>();
  for (const { quality } of file.blocks()) {
    for (const q of quality) if (q > 0) seen.add(q);
    if (seen.size > 1) break;
  }
  return seen.size;
}

function columnsOf(s: Soundings, first: number, lineOfPing: Uint16Array, least: number, system: ReferenceSystem) {
  const { count } = s;
  const cut = <A extends { subarray(from: number, to: number): A }>(a: A) => a.subarray(0, count);
  const placed = { eastingM: cut(s.eastingM), northingM: cut(s.northingM), heightM: cut(s.heightM) };
  const rejected = Uint8Array.from(cut(s.quality), (q) => (q < least ? 1 : 0));
  const ones = new Uint8Array(count).fill(1);
  return {
    placed,
    rejected,
    las: {
      ...inUnits(placed, system),
      intensity: Uint16Array.from(cut(s.intensityDb), (v) =>
        v === 0 ? 0 : Math.max(1, Math.min(65535, Math.round(100 * (v - LOWEST_DB)))),
      ),
      returnNumber: ones,
      returnCount: ones,
      rejected,
      scannerChannel: 0,
      strip: Uint16Array.from(cut(s.ping), (p) => lineOfPing[p - first]),
      gpsS: cut(s.gpsS),
      sdE: cut(s.sdEM),
      sdN: cut(s.sdNM),
      sdH: cut(s.sdHM),
      scanAngleDeg: cut(s.angleDeg),
      more: [cut(s.beam), cut(s.ping)],
    },
  };
}

const emptyLine = (l: SonarLine, path: number[]): SoundingFigures['lines'][number] => ({
  id: l.id,
  file: l.file,
  start_sow: l.startSow,
  end_sow: l.endSow,
  length_m: l.lengthM,
  heading_deg: (l.headingRad * 180) / Math.PI,
  speed_mps: l.lengthM / Math.max(1e-9, l.endSow - l.startSow),
  pings: 0,
  soundings: 0,
  path,
  lowest_m: Infinity,
  highest_m: -Infinity,
});

function extend(line: SoundingFigures['lines'][number], heightM: number): void {
  line.soundings++;
  if (heightM < line.lowest_m) line.lowest_m = heightM;
  if (heightM > line.highest_m) line.highest_m = heightM;
}

/** Sums over files. */
class Totals {
  pings = 0;
  private soundings = 0;
  private doubtful = 0;
  private readonly sums = { h: 0, plan: 0 };
  private readonly counts = { outside: 0, without_level: 0, without_bottom: 0, without_surface_speed: 0 };
  private readonly causes: CauseSums[] = [];

  add(s: Soundings, rejected: Uint8Array): void {
    this.soundings += s.count;
    for (let i = 0; i < s.count; i++) {
      this.doubtful += rejected[i];
      this.sums.h += s.sdHM[i] ** 2;
      this.sums.plan += (s.sdEM[i] ** 2 + s.sdNM[i] ** 2) / 2;
    }
  }

  hear(r: SoundingReducer): void {
    this.counts.outside += r.outsidePings;
    this.counts.without_level += r.noHeightPings;
    this.counts.without_bottom += r.turned;
    this.counts.without_surface_speed += r.noSurfacePings;
    this.causes.push(r.causes);
  }

  figures() {
    const all = this.causes.reduce((sum, c) => sum.add(c));
    const rms = (v: number) => Math.sqrt(v / Math.max(1, this.soundings));
    return {
      pings: this.pings,
      soundings: this.soundings,
      sd_h_m: rms(this.sums.h),
      sd_plan_m: rms(this.sums.plan),
      ...this.counts,
      doubtful: this.doubtful,
      causes: CAUSES.map((cause) => ({ cause, height_m: all.rms('height', cause), plan_m: all.rms('plan', cause) })),
      by_angle: all.byAngle().map((b) => ({
        from_deg: b.fromDeg,
        to_deg: b.toDeg,
        soundings: b.count,
        sd_h_m: b.heightM,
        sd_plan_m: b.planM,
      })),
    };
  }
}
