import { readFile } from 'node:fs/promises';
import { type Mark } from '@longheron/core/accuracy';
import { DEG, parseMounting } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { SOLUTIONS } from '@longheron/core/trajectory';
import { parseSystem } from '@longheron/formats/crs';
import { readPhotoList } from '@longheron/formats/photos';
import { positionEvents } from '@longheron/operations/events';
import { handOver } from '@longheron/operations/handover';
import { inspectFile } from '@longheron/operations/inspect';
import { joinSessions } from '@longheron/operations/join';
import { marksFromStops } from '@longheron/operations/stops';
import { trajectoryContent } from './intake';
import { objectPath, Shelf } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

/** What every one of these hands over: paths of the store, and what people called the files. */
interface Common {
  names: Record<string, string>;
  crs: string;
}

/** Several sessions as one trajectory. */
export async function join(r: TaskRequest): Promise<TaskResult> {
  const p = r.payload as unknown as Common & { parts: string[] };
  const shelf = new Shelf(r.storeFolder);
  let made!: Awaited<ReturnType<typeof joinSessions>>;
  const csv = await shelf.file(async (path) => {
    made = await joinSessions(p.parts, path, p.names);
  }, 'trajectory');
  const name = `${p.parts.length} sessions as one`;
  return {
    name,
    content: {
      ...(await trajectoryContent(shelf, r.storeFolder, csv.sha256, name, p.crs)),
      point: made.trajectory.point,
      joined: made.report.parts,
      overlaps: made.report.overlaps,
    },
    contentHash: csv.sha256,
    objects: shelf.objects,
    notices: made.report.notices.map((n) => ({ ...n, place: n.place ?? '' })),
    log: [`${made.trajectory.sow.length} epochs of ${p.parts.length} sessions.`],
  };
}

/** Marks from the stops of an antenna. */
export async function stops(r: TaskRequest): Promise<TaskResult> {
  const p = r.payload as unknown as Common & {
    trajectory: string;
    occupations?: string;
    known: Mark[];
    settings: { shortestS: number; antennaHeightM: number; centringSdM: number };
  };
  const shelf = new Shelf(r.storeFolder);
  let made!: Awaited<ReturnType<typeof marksFromStops>>;
  const csv = await shelf.file(async (path) => {
    made = await marksFromStops({
      ...{ trajectoryPath: p.trajectory, occupationsPath: p.occupations, crs: p.crs, known: p.known, names: p.names },
      settings: {
        shortestS: p.settings.shortestS,
        antennaHeightM: p.settings.antennaHeightM,
        centringSdM: p.settings.centringSdM,
      },
      outPath: path,
    });
  }, 'marks');
  const facts = await inspectFile(objectPath(r.storeFolder, csv.sha256), 'Occupied marks');
  return {
    content: {
      object: csv.sha256,
      facts: { ...facts, path: undefined, findings: undefined },
      marks: made.marks.map((m) => m.mark),
      crs: p.crs,
      stops: made.marks.map(({ stop, mark, near }) => ({ ...stop, name: mark.name, near: near ?? null })),
    },
    contentHash: csv.sha256,
    objects: shelf.objects,
    notices: made.report.notices.map((n) => ({ ...n, place: n.place ?? '' })),
    log: [`${made.marks.length} marks.`],
  };
}

/** Positions of events, and of the photographs that belong to them. */
export async function events(r: TaskRequest): Promise<TaskResult> {
  const p = r.payload as unknown as Common & {
    trajectory: string;
    events: string;
    photos?: string;
    mounting?: unknown;
    settings: {
      sensor?: string;
      leaveOutStrays: boolean;
      leftOut: Array<{ event: number; reason: string }>;
      groundM?: number;
      farthestM: number;
    };
  };
  const { settings } = p;
  if (settings.sensor && !p.mounting)
    throw new Problem(`The lever arm of ${settings.sensor} needs a mounting.`, {
      code: 'input',
      place: 'mounting',
      remedy: 'Choose it in the sheet.',
    });
  const shelf = new Shelf(r.storeFolder);
  const photos = p.photos && {
    list: readPhotoList(await readFile(p.photos), p.names[p.photos]),
    file: p.names[p.photos],
  };
  let made!: Awaited<ReturnType<typeof positionEvents>>;
  const csv = await shelf.file(async (path) => {
    made = await positionEvents({
      ...{ trajectoryPath: p.trajectory, eventsPath: p.events, names: p.names, outPath: path },
      sensor: settings.sensor || undefined,
      mounting: settings.sensor ? parseMounting(p.mounting) : undefined,
      leaveOutStrays: settings.leaveOutStrays,
      leftOut: settings.leftOut,
      photos: photos || undefined,
      ground:
        settings.groundM === undefined
          ? undefined
          : { system: parseSystem(p.crs), groundM: settings.groundM, farthestM: settings.farthestM },
    });
  }, 'positions');
  const system = parseSystem(p.crs);
  const xyz = new Float64Array(3);
  const [strays, kept] = [new Set(made.strays), new Set(made.kept)];
  const placeOf = new Map(made.kept.map((event, k) => [event, k]));
  const photoOf = new Map(made.photos?.rows.map((row) => [row.event, row]));
  const rows = made.poses.map((pose, event) => {
    const there = pose.reason === '';
    if (there) system.project(pose.latRad, pose.lonRad, pose.hEllM, xyz);
    const a = pose.attitude;
    const k = placeOf.get(event);
    const shown = k === undefined ? undefined : made.ground?.footprints[k];
    const share = (of: Float64Array | undefined) =>
      k === undefined || !of || Number.isNaN(of[k]) ? null : Number(of[k].toFixed(3));
    return {
      ...{ event, label: pose.event.label, gps: pose.event.week * 604800 + pose.event.sow, reason: pose.reason },
      ...{ kept: kept.has(event), stray: strays.has(event), photo: photoOf.get(event)?.photo ?? null },
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
  const { report } = made;
  return {
    content: {
      object: csv.sha256,
      point: made.point,
      crs: p.crs,
      figures: { ...report, inputs: undefined, notices: undefined },
      photosAlone: made.photos && photos ? made.photos.match.photosAlone.map((k) => photos.list[k].name) : [],
      table: await shelf.json(rows, 'positions'),
    },
    contentHash: csv.sha256,
    objects: shelf.objects,
    notices: report.notices.map((n) => ({ ...n, place: n.place ?? '' })),
    log: [`${made.kept.length} of ${made.poses.length} events.`],
  };
}

/** A trajectory as a file for somebody else. */
export async function handover(r: TaskRequest): Promise<TaskResult> {
  const p = r.payload as unknown as Common & {
    trajectory: string;
    geoid?: string;
    settings: { plan: 'grid' | 'geographic'; heights: 'ellipsoidal' | 'project' | 'geoid'; rateHz?: number };
  };
  const shelf = new Shelf(r.storeFolder);
  const { plan, heights, rateHz } = p.settings;
  let made!: Awaited<ReturnType<typeof handOver>>;
  const csv = await shelf.file(async (path) => {
    made = await handOver({
      ...{ trajectoryPath: p.trajectory, geoidPath: p.geoid, crs: p.crs, names: p.names, outPath: path },
      ...{ plan, heights, rateHz },
    });
  }, 'trajectory');
  return {
    content: {
      ...{ object: csv.sha256, rows: made.rows, heights: made.report.heights, undulationM: made.report.undulation_m },
      ...{ plan, kindOfHeight: heights, rateHz: rateHz ?? null, crs: p.crs },
    },
    contentHash: csv.sha256,
    objects: shelf.objects,
    notices: [],
    log: [`${made.rows} rows, heights ${String(made.report.heights)}.`],
  };
}
