import declaration from '@longheron/contract/operations/events';
import { type EventRow } from '@longheron/contract/kinds/positions';
import { DEG, type ReferenceSystem } from '@longheron/core/frames';
import { SOLUTIONS } from '@longheron/core/trajectory';
import { parseSystem } from '@longheron/formats/crs';
import { computation, placed } from '../computation/types';
import { namesOf, systemFrom } from '../shared/words';
import { positionEvents, writeFootprints, type EventsResult } from './events';

export { positionEvents, writeFootprints } from './events';

/** Positions of events, and of the photographs that belong to them. */
export default computation(declaration, async (inputs, settings, context, out, watch) => {
  const { trajectory, events, photos, mounting } = inputs;
  const { sensor, groundM, farthestM, leaveOutStrays, leftOut, trajectoryCrs } = settings;
  const ground = groundM === undefined ? undefined : { system: systemFrom(context), groundM, farthestM };
  let made!: EventsResult;
  const csv = await out.file('positions', 'positions', async (outPath) => {
    made = await positionEvents(
      {
        trajectoryPath: trajectory.path,
        eventsPath: events.path,
        names: namesOf([trajectory, events]),
        outPath,
        sensor: sensor || undefined,
        leaveOutStrays,
        leftOut,
        trajectoryCrs,
        ground,
        ...(sensor ? { mounting: mounting?.mounting, mountingName: mounting?.name } : {}),
        photos: photos && { list: photos.photos, file: photos.name },
      },
      watch,
    );
  });
  if (ground && made.ground && out.wanted('footprints'))
    await out.file('footprints', 'geojson', (path) => writeFootprints(path, made.written, made.ground!, ground.system));
  const { report, figures } = made;
  const rows = context.crs ? rowsOf(made, parseSystem(context.crs)) : [];
  const arm = figures.lever_arm_applied ? 'its lever arm applied' : 'no lever arm applied';
  return {
    content: {
      object: csv.sha256,
      point: made.point,
      crs: context.crs ?? '',
      figures: { ...report, ...figures, inputs: undefined, notices: undefined },
      photosAlone: made.photos && photos ? made.photos.match.photosAlone.map((k) => photos.photos[k].name) : [],
      table: await out.store.json(rows, 'positions'),
    },
    hash: csv.sha256,
    report: { ...report, notices: placed(report.notices) },
    log: [`${made.kept.length} of ${made.poses.length} events.`],
    lines: [
      `${made.kept.length} of ${made.poses.length} events, at ${made.point}, ${arm}.`,
      ...(made.photos
        ? [
            `${made.photos.rows.length} of ${photos!.photos.length} photographs paired with an event, by their ${made.photos.match.by}.`,
          ]
        : []),
      ...(made.ground ? [overlapWords(made.ground.figures)] : []),
    ],
  };
});

/** Every event of the list with what was found of it, for table and map. */
function rowsOf(made: EventsResult, system: ReferenceSystem): EventRow[] {
  const xyz = new Float64Array(3);
  const [strays, kept] = [new Set(made.strays), new Set(made.kept)];
  const placeOf = new Map(made.kept.map((event, k) => [event, k]));
  const photoOf = new Map(made.photos?.rows.map((row) => [row.event, row]));
  return made.poses.map((pose, event) => {
    const there = pose.reason === '';
    if (there) system.project(pose.latRad, pose.lonRad, pose.hEllM, xyz);
    const a = pose.attitude;
    const k = placeOf.get(event);
    const shown = k === undefined ? undefined : made.ground?.footprints[k];
    const share = (of: Float64Array | undefined) =>
      k === undefined || !of || Number.isNaN(of[k]) ? null : Number(of[k].toFixed(3));
    return {
      event,
      label: pose.event.label,
      gps: pose.event.week * 604800 + pose.event.sow,
      reason: pose.reason,
      kept: kept.has(event),
      stray: strays.has(event),
      photo: photoOf.get(event)?.photo ?? null,
      offS: photoOf.get(event)?.offS ?? null,
      xyz: there ? Array.from(xyz, (v) => Number(v.toFixed(4))) : null,
      attitudeDeg: a ? [a.rollRad, a.pitchRad, a.headingRad].map((v) => Number((v / DEG).toFixed(4))) : null,
      sdM: pose.sdM ? pose.sdM.map((v) => Number(v.toFixed(4))) : null,
      solution: SOLUTIONS[pose.solution],
      footprint: shown ? shown.corners.map((c) => c.map((v) => Number(v.toFixed(2)))) : null,
      cut: shown?.open ?? false,
      overlap: share(made.ground?.next),
      side: share(made.ground?.side),
    };
  });
}

function overlapWords(f: NonNullable<EventsResult['ground']>['figures']): string {
  const percent = (v: number | null) => (v === null ? 'none' : `${(100 * v).toFixed(0)} %`);
  const pixel = f.ground_sample_m === null ? '' : `, a pixel is ${(100 * f.ground_sample_m).toFixed(1)} cm`;
  return `${f.footprints} footprints on ground at ${f.ground_m} m: ${percent(f.overlap_next_median)} shared with the next, ${percent(f.overlap_side_median)} with another line${pixel}.`;
}
