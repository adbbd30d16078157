import { writeFile } from 'node:fs/promises';
import declaration from '@longheron/contract/operations/register';
import { METRES_PER, type ReferenceSystem } from '@longheron/core/frames';
import { EARTH_RADIUS_M } from '@longheron/core/network';
import { type Vector3 } from '@longheron/core/numeric';
import { part, Problem } from '@longheron/core/shared';
import {
  FacesAt,
  nameTargets,
  registerScans,
  type Pose,
  type RegisterRequest,
  type ScanPatches,
  type FoundTarget,
  type SeenTarget,
} from '@longheron/core/terrestrial';
import { parseSystem } from '@longheron/formats/crs';
import { LasFile } from '@longheron/formats/las';
import { openAs } from '@longheron/formats/registry';
import { type OpenedCloud } from '../computation/types';
import { computation } from '../computation/types';
import { ReportBuilder } from '../shared/report';
import { storeCloud } from '../shared/stored';
import { registerChapter } from './chapter';
import { writeScans } from './cloud';
import { figuresOf, posesCsv } from './figures';
import { levelFrame, localFrame, type ScanFrame } from './frame';
import { noticesOf, whyUnplaced } from './notices';
import { controlOf, givenStations, stationsOf } from './request';
import { openScans, ownPoints, type OpenScan } from './scans';
import { Sections } from './sections';
import { targetsCsv, targetsIn } from './found';
import { FEWEST_PIECES, surfacesInPlace, surfacesOf } from './surfaces';

const DEG = Math.PI / 180;
const UNITS = { metre: 1, foot: METRES_PER.foot, usSurveyFoot: METRES_PER.usSurveyFoot, millimetre: 0.001 };
const ZERO: Vector3 = [0, 0, 0];
/** Targets in a scan by which it is placed and checked. */
const ENOUGH_TARGETS = 3;
/** Of clouds that are not level. */
const UNLEVELLED_DEG = 45;

/** Scans brought into one frame by what they share, and written as one cloud with deviations. */
export default computation(
  declaration,
  async ({ scans, targets, control, stations, inPlace }, settings, context, out, watch) => {
    const builder = new ReportBuilder('register', settings);
    const system = context.crs ? parseSystem(context.crs) : undefined;
    if ((control || stations || inPlace) && !system)
      throw new Problem('The system of marks, stations or the cloud in place is not said.', {
        code: 'register-crs',
        remedy: 'Set the reference line of the project.',
        command: 'Give it with --crs, e.g. EPSG:25832+5773.',
      });
    for (const list of [control, stations])
      if (list?.crs && system && parseSystem(list.crs).label !== system.label)
        throw new Problem(`The marks are in ${list.crs}; scans are placed in ${system.label}.`, {
          code: 'crs-differs',
          file: list.name,
          place: 'comment lines',
          remedy: 'Transform the list, or choose the marks of this system.',
        });
    const open = await openScans(scans, part(watch, 0, 0.05));
    const seen = targets ? await openAs('scan-targets', targets.path, targets.name) : [];
    const strange = [...new Set(seen.map((t) => t.scan))].filter((n) => !open.some((o) => o.name === n));
    if (strange.length)
      builder.notice({
        code: 'register-strange',
        severity: 'warning',
        file: targets?.name,
        place: strange.join(', '),
        text: `Targets are listed of scans that were not chosen: ${strange.join(', ')}.`,
        effect: 'They are not used.',
      });
    const wanted = { sphereM: settings.sphereRadiusM ?? 0, discM: settings.discRadiusM ?? 0 };
    const looks = settings.by !== 'surfaces' && wanted.sphereM + wanted.discM > 0;
    const marks = (control?.marks ?? []).filter(
      (m) => !m.leftOutReason && (looks || seen.some((t) => t.target === m.name)),
    );
    const places = stations ? await givenStations(stations, new Set(open.map((o) => o.name))) : [];
    const fixed = inPlace && (await lookInPlace(inPlace, system));
    const middle =
      fixed?.middle ??
      [...marks, ...places.map((p) => p.mark)].map((m): Vector3 => [m.eastingM, m.northingM, m.heightM])[0];
    const frame: ScanFrame = system && middle ? levelFrame(system, middle) : localFrame();
    const metresPer = UNITS[settings.unit];
    const free = settings.frames === 'any';
    const known = settings.by === 'surfaces' ? [] : controlOf(marks, frame);
    const listed = settings.by === 'surfaces' ? [] : seen.filter((t) => open.some((o) => o.name === t.scan));
    const there = new Map<string, FoundTarget[]>();
    if (looks)
      for (const [k, o] of open.entries())
        there.set(
          o.name,
          await targetsIn(o, metresPer, wanted, !free, listed, part(watch, 0.05 + (0.1 * k) / open.length, 0.15)),
        );
    const named = nameTargets(there, known);
    const own = [...listed, ...named];
    if (out.wanted('targets')) await out.file('targets', 'csv', (path) => writeFile(path, targetsCsv(named)));
    const bySurfaces = settings.by === 'auto' ? tooFew(open, own) || inPlace !== undefined : settings.by !== 'targets';
    const origins = await Promise.all(open.map((o) => (free ? originOf(o, metresPer) : ZERO)));
    // surfaces also tell how points were hit
    const surfaces = new Map<string, ScanPatches>();
    if (!free || bySurfaces)
      for (const [k, o] of open.entries())
        surfaces.set(
          o.name,
          await surfacesOf(o, metresPer, origins[k], !free, part(watch, 0.15 + (0.2 * k) / open.length, 0.35)),
        );
    const shown = [...surfaces.values()].filter((s) => s.count >= FEWEST_PIECES).length;
    const useful = bySurfaces && shown > (fixed ? 0 : 1);
    const request: RegisterRequest = {
      scans: open.map((o) => o.name),
      seen: own,
      control: known,
      stations: stationsOf(places, frame, settings.azimuthSdDeg, useful),
      levelSdRad: (free ? UNLEVELLED_DEG : settings.levelSdDeg) * DEG,
      ...(frame.system ? { radiusM: EARTH_RADIUS_M } : {}),
      ...(useful ? { surfaces } : {}),
      ...(useful && fixed
        ? {
            fixed: {
              name: inPlace.name,
              patches: await surfacesInPlace(fixed.scan, fixed.units, fixed.count, frame, part(watch, 0.35, 0.4)),
            },
          }
        : {}),
      ...startsOf(open, origins, frame, free),
    };
    const found = registerScans(request, part(watch, 0.4, 0.5));
    const least = fixed || frame.system ? 1 : Math.min(2, open.length);
    if (found.scans.length < least || (open.length > 1 && found.scans.length < 2 && !fixed))
      throw new Problem(found.unplaced.map((u) => whyUnplaced(u, u.weakest ? u.weakest.direction : null)).join(' '), {
        code: 'register-unplaced',
        place: found.unplaced.map((u) => u.name).join(', '),
        remedy: 'Targets, stations that are known, or scans that show more in common would place them.',
      });
    const written = found.scans.map((s) => {
      const k = open.findIndex((o) => o.name === s.name);
      const own = free ? undefined : surfaces.get(s.name);
      return {
        scan: open[k],
        originM: origins[k],
        found: s,
        placer: frame.placer(s),
        ...(own ? { faces: new FacesAt(own) } : {}),
      };
    });
    const sd = {
      rangeM: settings.rangeSdM,
      angleRad: settings.angleSdDeg * DEG,
      beamRad: settings.beamMrad * 1e-3,
      facing: !free,
    };
    const sections = out.keeps ? new Sections(found, frame) : undefined;
    let counts: number[] = [];
    const las = await out.file('cloud', 'las', async (path) => {
      counts = await writeScans(
        path,
        { scans: written, frame, sd, metresPer, sections },
        part(watch, 0.5, out.keeps ? 0.8 : 1),
      );
    });
    const figures = figuresOf(
      found,
      written.map((w) => w.placer),
      counts,
      frame,
    );
    const poses = await out.file('poses', 'csv', (path) => writeFile(path, posesCsv(figures, context.crs)));
    noticesOf(builder, figures);
    const stored = out.keeps ? await storeCloud(out.store, las.sha256, part(watch, 0.8, 1)) : undefined;
    return {
      content: {
        las: las.sha256,
        bytes: las.bytes,
        ...stored,
        crs: frame.system?.label ?? '',
        figures: { points: figures.points },
        registered: figures,
        poses: poses.sha256,
        ...(sections ? { sections: await out.store.json(sections.done(), 'sections') } : {}),
      },
      hash: las.sha256,
      report: builder.finish(frame.system?.label ?? null, { ...figures }),
      log: [
        ...(looks
          ? [
              `${sum([...there.values()].map((t) => t.length))} targets found, ${named.length} of them in two scans or known.`,
            ]
          : []),
        `${figures.points} points of ${figures.scans.length} scans${frame.system ? '' : ' in the frame of the first'}; sigma nought ${figures.sigma0 === null ? 'not known' : figures.sigma0.toFixed(2)}, ${figures.rejected.length} left out.`,
        ...figures.pairs
          .slice(0, 5)
          .map(
            (p) =>
              `${p.a} and ${p.b}: ${(1000 * p.rms_m).toFixed(1)} mm at ${p.points} ${p.points === p.pieces ? 'pieces of surfaces' : 'targets'}.`,
          ),
      ],
    };
  },
  { chapter: registerChapter },
);

/** Whether some scan has too few targets to be placed by them and checked. */
const tooFew = (open: readonly OpenScan[], seen: readonly SeenTarget[]): boolean =>
  open.some((o) => seen.filter((t) => t.scan === o.name).length < ENOUGH_TARGETS);

/** A whole number of metres near a cloud's first point: what it is counted from. */
async function originOf(scan: OpenScan, metresPer: number): Promise<Vector3> {
  for await (const { x, y, z } of ownPoints(scan))
    return [x[0], y[0], z[0]].map((v) => Math.round(v * metresPer)) as Vector3;
  return ZERO;
}

/** Poses to begin with: of clouds that lie about where they should, and those that a file gives to its scans. */
function startsOf(
  open: readonly OpenScan[],
  origins: readonly Vector3[],
  frame: ScanFrame,
  free: boolean,
): Pick<RegisterRequest, 'starts'> {
  const starts = new Map<string, Pose>();
  open.forEach((o, k) => {
    if (free) {
      const atM = frame.system ? frame.fromGrid(...origins[k]) : origins[k];
      const turn = frame.system ? frame.bearingShift(atM) : 0;
      const [sin, cos] = [Math.sin(turn), Math.cos(turn)];
      starts.set(o.name, { atM, rotation: Float64Array.of(cos, sin, 0, -sin, cos, 0, 0, 0, 1) });
    } else if (o.stand) starts.set(o.name, { atM: [...o.stand.atM], rotation: Float64Array.from(o.stand.rotation) });
  });
  return starts.size ? { starts } : {};
}

/** What is to be known of a cloud in place before it is read. @throws Problem for one in another system. */
async function lookInPlace(cloud: OpenedCloud, system: ReferenceSystem | undefined) {
  if (!cloud.crs)
    throw new Problem(`"${cloud.name}" is in no system: nothing can be brought to it.`, {
      code: 'register-in-place',
      file: cloud.name,
      remedy: 'Place it by marks first.',
      command: 'Give its system with --crs.',
    });
  if (system && parseSystem(cloud.crs).label !== system.label)
    throw new Problem(`"${cloud.name}" is in ${cloud.crs}; scans are placed in ${system.label}.`, {
      code: 'crs-differs',
      file: cloud.name,
      remedy: 'Carry it over to this system first.',
    });
  const path = await cloud.las();
  const file = await LasFile.openPath(path, cloud.name);
  const { header } = file;
  await file.close();
  const { metresPerUnit: plan, verticalMetresPerUnit: height } = system!.definition;
  const middle = [0, 1, 2].map((k) => ((header.min[k] + header.max[k]) / 2) * (k === 2 ? height : plan)) as Vector3;
  return {
    middle,
    units: { plan, height },
    count: header.pointCount,
    scan: { name: cloud.name, file: cloud.name, path, coloured: false },
  };
}

const sum = (values: readonly number[]): number => values.reduce((s, v) => s + v, 0);
