import { readFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { Problem, type Watch } from '@longheron/core/shared';
import { posesAtEvents, strayEvents, type EventPose } from '@longheron/core/trajectory';
import { writeFileWhole } from '@longheron/formats/bytes';
import { eventPositionsCsv, readEvents } from '@longheron/formats/events';
import { readMounting } from '@longheron/formats/mounting';
import { readTrajectory } from '@longheron/formats/trajectory';
import { ReportBuilder, type Report } from '../shared';

export interface EventsRequest {
  trajectoryPath: string;
  eventsPath: string;
  mountingPath?: string;
  /** Whose lever arm is applied; the trajectory's own point without it. */
  sensor?: string;
  leaveOutStrays: boolean;
  /** Frame of a trajectory that names none. */
  trajectoryCrs?: string;
  outPath: string;
}

/** Positions and attitude at events, written as CSV. */
export async function positionEvents(r: EventsRequest, watch?: Watch): Promise<{ report: Report; poses: EventPose[] }> {
  const builder = new ReportBuilder('events', {});
  for (const path of [r.trajectoryPath, r.eventsPath, r.mountingPath]) if (path) await builder.input(path);
  const t = readTrajectory(await readFile(r.trajectoryPath), basename(r.trajectoryPath));
  const events = readEvents(await readFile(r.eventsPath), basename(r.eventsPath));
  const crs = t.crs ?? r.trajectoryCrs;
  if (!crs)
    throw new Problem('The trajectory does not say in which frame its coordinates are.', {
      code: 'trajectory-crs',
      file: basename(r.trajectoryPath),
      place: 'comment lines',
      remedy: 'Give --trajectory-crs, for example EPSG:4937.',
    });
  watch?.progress?.(0.5, 'Interpolating');
  const sensor = r.sensor === undefined ? undefined : await sensorOf(r);
  const all = posesAtEvents(t, events, sensor);
  const strays = new Set(strayEvents(all));
  const without = all.filter((p) => p.reason !== '');
  const kept = all.filter((p, i) => p.reason === '' && !(r.leaveOutStrays && strays.has(i)));
  notices(builder, r, all, strays);
  await writeFileWhole(r.outPath, (out) =>
    out.write(eventPositionsCsv(kept, r.sensor ?? t.point ?? 'imu', crs, t.epoch)),
  );
  const report = builder.finish(crs, {
    settings: { sensor: r.sensor ?? null, leave_out_strays: r.leaveOutStrays },
    point: r.sensor ?? t.point ?? 'imu',
    lever_arm_applied: sensor !== undefined,
    events: all.length,
    positions: kept.length,
    events_outside: without.length,
    events_stray: strays.size,
  });
  return { report, poses: kept };
}

async function sensorOf(r: EventsRequest) {
  if (!r.mountingPath)
    throw new Problem('A sensor is named but no mounting.', { code: 'option', remedy: 'Give --mount.' });
  const mounting = readMounting(await readFile(r.mountingPath), basename(r.mountingPath));
  const sensor = mounting.sensors[r.sensor!];
  if (!sensor)
    throw new Problem(`The mounting has no sensor "${r.sensor}".`, {
      code: 'mounting-sensor',
      file: basename(r.mountingPath),
      place: 'sensors',
      remedy: `It has ${Object.keys(mounting.sensors).join(', ') || 'none'}.`,
    });
  return sensor;
}

function notices(builder: ReportBuilder, r: EventsRequest, all: EventPose[], strays: Set<number>): void {
  const file = basename(r.eventsPath);
  const describe = (p: EventPose) => `${p.event.label || 'unnamed'} at ${p.event.sow.toFixed(2)} s`;
  const without = all.filter((p) => p.reason !== '');
  if (without.length === all.length)
    throw new Problem('No event lies within the trajectory.', {
      code: 'events-outside',
      file,
      place: all.length ? `first ${describe(all[0])} of week ${all[0].event.week}` : 'after the header line',
      remedy: 'Choose the trajectory of the same session; check the time system of the events.',
    });
  if (without.length)
    builder.notice({
      code: 'events-outside',
      severity: 'warning',
      file,
      text: `${without.length} of ${all.length} events lie outside the trajectory or in a gap of it, the first ${describe(without[0])}.`,
      effect: 'They have no position and are not written.',
      remedy: 'Compute the trajectory over the whole session.',
    });
  if (strays.size)
    builder.notice({
      code: 'events-stray',
      severity: 'warning',
      file,
      text: `${strays.size} ${strays.size === 1 ? 'event seems' : 'events seem'} to be none of the series: ${[...strays].map((i) => describe(all[i])).join(', ')}.`,
      effect: r.leaveOutStrays ? 'Left out.' : 'With it, events and photographs may not go together one by one.',
      remedy: r.leaveOutStrays ? undefined : 'Leave it out with --leave-out-strays.',
    });
}
