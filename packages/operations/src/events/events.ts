import { basename } from 'node:path';
import { type EventFigures } from '@longheron/contract/kinds/positions';
import { Problem, type Watch } from '@longheron/core/shared';
import { type CameraModel, type Mounting, type SensorMounting } from '@longheron/core/frames';
import { posesAtEvents, strayEvents, type EventPose, type Photo } from '@longheron/core/trajectory';
import { writeFileWhole } from '@longheron/formats/bytes';
import { eventPositionsCsv } from '@longheron/formats/events';
import { openAs } from '@longheron/formats/registry';
import { ReportBuilder, type Report } from '../shared/report';
import { footprintTable, type FootprintRequest, type FootprintTable } from './footprints';
import { pairPhotos, type PhotoTable } from './photos';

export { type PhotoTable } from './photos';
export { writeFootprints, type FootprintRequest, type FootprintTable } from './footprints';

export interface EventsRequest {
  trajectoryPath: string;
  eventsPath: string;
  mounting?: Mounting;
  /** What people call the mounting. */
  mountingName?: string;
  /** Whose lever arm is applied; the trajectory's own point without it. */
  sensor?: string;
  leaveOutStrays: boolean;
  /** Events that a person leaves out, by place in the list from 0, with the reason. */
  leftOut?: Array<{ event: number; reason: string }>;
  /** Photographs to pair with the events, and the file they are from. */
  photos?: { list: Photo[]; file: string };
  names?: Record<string, string>;
  /** What the photographs of the sensor's camera show of level ground. */
  ground?: FootprintRequest;
  /** Frame of a trajectory that names none. */
  trajectoryCrs?: string;
  outPath: string;
}

export interface EventsResult {
  report: Report;
  figures: EventFigures;
  /** Of every event of the list, in its order. */
  poses: EventPose[];
  /** Those that were written, under the names of their photographs. */
  written: EventPose[];
  /** Places in the list of those. */
  kept: number[];
  strays: number[];
  point: string;
  photos?: PhotoTable;
  /** Of those kept, when asked for. */
  ground?: FootprintTable;
}

/** Positions and attitude at events, written as CSV; with photographs those that have one, under their names. */
export async function positionEvents(r: EventsRequest, watch?: Watch): Promise<EventsResult> {
  const name = (path: string) => r.names?.[path] ?? basename(path);
  const builder = new ReportBuilder('events', {});
  const t = await openAs('trajectory', r.trajectoryPath, name(r.trajectoryPath));
  const events = await openAs('events', r.eventsPath, name(r.eventsPath));
  const crs = t.crs ?? r.trajectoryCrs;
  if (!crs)
    throw new Problem('The trajectory does not say in which frame its coordinates are.', {
      code: 'trajectory-crs',
      file: name(r.trajectoryPath),
      place: 'comment lines',
      remedy: 'Import it again with a line “# crs: EPSG:4937” among its comments.',
      command: 'Give --trajectory-crs, for example EPSG:4937.',
    });
  watch?.progress?.(0.5, 'Interpolating');
  const sensor = r.sensor === undefined ? undefined : sensorOf(r);
  const all = posesAtEvents(t, events, sensor);
  const strays = new Set(strayEvents(all));
  const without = all.filter((p) => p.reason !== '');
  const excluded = new Set(r.leftOut?.map((l) => l.event));
  const usable = all
    .map((_, i) => i)
    .filter((i) => all[i].reason === '' && !excluded.has(i) && !(r.leaveOutStrays && strays.has(i)));
  notices(builder, name(r.eventsPath), r.leaveOutStrays, all, new Set([...strays].filter((i) => !excluded.has(i))));
  const photos =
    r.photos &&
    pairPhotos(
      usable.map((i) => all[i]),
      r.photos.list,
      r.photos.file,
      builder,
    );
  if (photos) for (const row of photos.rows) row.event = usable[row.event];
  const kept = photos ? photos.rows.map((p) => p.event) : usable;
  const written = kept.map((i, k): EventPose => {
    const label = photos?.rows[k].photo;
    return label === undefined ? all[i] : { ...all[i], event: { ...all[i].event, label } };
  });
  await writeFileWhole(r.outPath, (out) =>
    out.write(eventPositionsCsv(written, r.sensor ?? t.point ?? 'imu', crs, t.epoch)),
  );
  const ground = r.ground && footprintTable(written, cameraOf(sensor, r.sensor), r.ground, builder);
  const figures: EventFigures = {
    settings: { sensor: r.sensor ?? null, leave_out_strays: r.leaveOutStrays },
    point: r.sensor ?? t.point ?? 'imu',
    lever_arm_applied: sensor !== undefined,
    events: all.length,
    positions: kept.length,
    events_outside: without.length,
    events_stray: strays.size,
    events_left_out: excluded.size,
    ...ground?.figures,
    ...(photos
      ? {
          photos: r.photos!.list.length,
          photos_paired: photos.rows.length,
          photos_paired_by: photos.match.by,
          photos_alone: photos.match.photosAlone.map((k) => r.photos!.list[k].name),
          events_alone: photos.match.eventsAlone.length,
          camera_clock_s: Number.isNaN(photos.match.clockS) ? null : photos.match.clockS,
        }
      : {}),
  };
  return {
    report: builder.finish(crs, { ...figures }),
    figures,
    poses: all,
    written,
    kept,
    strays: [...strays],
    point: r.sensor ?? t.point ?? 'imu',
    photos,
    ground,
  };
}

function cameraOf(sensor: SensorMounting | undefined, name: string | undefined): CameraModel {
  if (sensor?.camera) return sensor.camera;
  throw new Problem(
    name
      ? `The mounting says nothing of the camera of ${name}.`
      : 'Footprints need the sensor whose camera took the photographs.',
    {
      code: 'events-camera',
      place: `sensors.${name ?? ''}.camera`,
      remedy: 'Give focal length and sensor size in the mounting; see docs/formats/mounting.md.',
    },
  );
}

function sensorOf(r: EventsRequest): SensorMounting {
  if (!r.mounting)
    throw new Problem(`The lever arm of ${r.sensor} needs a mounting.`, {
      code: 'input',
      place: 'mounting',
      remedy: 'Choose it in the sheet.',
      command: 'Give it with --mount.',
    });
  const sensor = r.mounting.sensors[r.sensor!];
  if (!sensor)
    throw new Problem(`The mounting has no sensor "${r.sensor}".`, {
      code: 'mounting-sensor',
      file: r.mountingName,
      place: 'sensors',
      remedy: `It has ${Object.keys(r.mounting.sensors).join(', ') || 'none'}.`,
    });
  return sensor;
}

function notices(
  builder: ReportBuilder,
  file: string,
  leaveOutStrays: boolean,
  all: EventPose[],
  strays: Set<number>,
): void {
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
      effect: leaveOutStrays ? 'Left out.' : 'With it, events and photographs may not go together one by one.',
      remedy: leaveOutStrays ? undefined : 'Leave it out in its row, or switch on “Leave out stray events”.',
      command: leaveOutStrays ? undefined : 'Leave it out with --leave-out-strays.',
    });
}
