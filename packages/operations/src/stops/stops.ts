import { basename } from 'node:path';
import { type Mark } from '@longheron/core/accuracy';
import { type ReferenceSystem } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { findStops, STOP_DEFAULTS, type Stop, type StopSettings } from '@longheron/core/trajectory';
import { parseSystem } from '@longheron/formats/crs';
import { marksCsv } from '@longheron/formats/marks';
import { writeFileWhole } from '@longheron/formats/bytes';
import { openAs } from '@longheron/formats/registry';
import { ReportBuilder, type Report } from '../shared/report';

export interface StopsRequest {
  trajectoryPath: string;
  /** When which mark was occupied; without it stops are found by themselves. */
  occupationsPath?: string;
  crs: string;
  settings?: Partial<StopSettings>;
  /** Marks that are known already, to compare with. */
  known?: Mark[];
  outPath?: string;
  names?: Record<string, string>;
}

/** A stop as a mark of the project, and how it agrees with one that is known. */
export interface StopMark {
  stop: Stop;
  mark: Mark;
  /** Known mark within reach, and found less given, east, north, height, metres. */
  near?: { name: string; differenceM: [number, number, number] };
}

/** A known mark this near is taken to be the one that was occupied, metres. */
const SAME_MARK_M = 0.3;
/** Deviation of a differing mark from which on it is said. */
const MANY_SD = 3.5;

/** Marks from the stops of an antenna's trajectory, in the system of the project; written as CSV when asked for. */
export async function marksFromStops(r: StopsRequest): Promise<{ report: Report; marks: StopMark[] }> {
  const name = (path: string) => r.names?.[path] ?? basename(path);
  const builder = new ReportBuilder('stops', {});
  const t = await openAs('trajectory', r.trajectoryPath, name(r.trajectoryPath));
  const list =
    r.occupationsPath === undefined
      ? undefined
      : await openAs('occupations', r.occupationsPath, name(r.occupationsPath));
  const settings = { ...STOP_DEFAULTS, ...r.settings };
  const stops = findStops(t, settings, list);
  if (stops.length === 0)
    throw new Problem(`The antenna never stands still for ${settings.shortestS} s.`, {
      code: 'stops-none',
      file: name(r.trajectoryPath),
      remedy: 'Lower the shortest stop, or give a list of occupations.',
    });
  const system = parseSystem(r.crs);
  const marks = stops.map((s) => toMark(s, system, r.known ?? []));
  notices(builder, marks);
  if (r.outPath)
    await writeFileWhole(r.outPath, (out) =>
      out.write(
        marksCsv(
          marks.map((m) => m.mark),
          r.crs,
        ),
      ),
    );
  const report = builder.finish(r.crs, {
    settings: { ...settings, list: list !== undefined },
    marks: marks.map(({ stop, mark, near }) => ({
      name: mark.name,
      easting_m: mark.eastingM,
      northing_m: mark.northingM,
      height_m: mark.heightM,
      sd_e_m: mark.sdEM,
      sd_n_m: mark.sdNM,
      sd_h_m: mark.sdHM,
      solution: stop.solution,
      start_sow: stop.startSow,
      end_sow: stop.endSow,
      epochs: stop.epochs,
      used: stop.used,
      antenna_height_m: stop.antennaHeightM,
      fixed_share: stop.fixedShare,
      near: near?.name ?? null,
    })),
  });
  return { report, marks };
}

function toMark(stop: Stop, system: ReferenceSystem, known: Mark[]): StopMark {
  const p = new Float64Array(3);
  system.project(stop.latRad, stop.lonRad, stop.hEllM, p);
  const seconds = (stop.endSow - stop.startSow).toFixed(0);
  const mark: Mark = {
    name: stop.name,
    role: 'unused',
    eastingM: p[0],
    northingM: p[1],
    heightM: p[2],
    // the convergence of the grid is a degree at most here: north and east of both frames count as one
    sdEM: stop.sdM[1],
    sdNM: stop.sdM[0],
    sdHM: stop.sdM[2],
    note: `GNSS ${stop.solution}, ${seconds} s`,
  };
  const gap = (m: Mark) => Math.hypot(m.eastingM - p[0], m.northingM - p[1]);
  const best = known.reduce<Mark | undefined>((a, m) => (gap(m) < (a ? gap(a) : SAME_MARK_M) ? m : a), undefined);
  if (!best) return { stop, mark };
  const differenceM: [number, number, number] = [p[0] - best.eastingM, p[1] - best.northingM, p[2] - best.heightM];
  return { stop, mark, near: { name: best.name, differenceM } };
}

function notices(builder: ReportBuilder, marks: StopMark[]): void {
  const loose = marks.filter((m) => m.stop.solution !== 'fixed');
  if (loose.length)
    builder.notice({
      code: 'stops-float',
      severity: 'warning',
      place: loose.map((m) => m.mark.name).join(', '),
      text: `${loose.length} of ${marks.length} marks come from positions that are not fixed.`,
      effect: 'They are good to decimetres at best; their deviations say so.',
      remedy: 'Occupy them longer, or leave them out.',
    });
  for (const { mark, near } of marks) {
    if (!near) continue;
    const sd = [mark.sdEM!, mark.sdNM!, mark.sdHM!];
    const k = [0, 1, 2].find((i) => Math.abs(near.differenceM[i]) > Math.max(0.03, MANY_SD * sd[i]));
    if (k !== undefined)
      builder.notice({
        code: 'stops-differs',
        severity: 'warning',
        place: mark.name,
        text: `${mark.name} lies ${(100 * near.differenceM[k]).toFixed(1)} cm off ${near.name} in ${['easting', 'northing', 'height'][k]}.`,
        effect: 'One of the two is wrong, or they are different points.',
        remedy: 'Check the antenna height, and which mark was occupied.',
      });
  }
}
