import { readFile, rm, writeFile } from 'node:fs/promises';
import declaration from '@longheron/contract/operations/register';
import { type RegisterFigures } from '@longheron/contract/kinds/parts/register';
import { type Mark } from '@longheron/core/accuracy';
import { METRES_PER } from '@longheron/core/frames';
import { EARTH_RADIUS_M } from '@longheron/core/network';
import { part, Problem, tick, type Watch } from '@longheron/core/shared';
import {
  registerScans,
  type LeftOut,
  type KnownStation,
  type Registered,
  type RegisterRequest,
} from '@longheron/core/terrestrial';
import { writeFileWhole } from '@longheron/formats/bytes';
import { parseSystem, wktOfSystem } from '@longheron/formats/crs';
import { csvCell } from '@longheron/formats/csv';
import { ADJUSTED_GPS_OFFSET_S, LasFile, LasWriter, writeColoured, writeFromPoints } from '@longheron/formats/las';
import { readTable } from '@longheron/formats/marks';
import { NO_FIELDS, type PointBatch } from '@longheron/formats/points';
import { openAs } from '@longheron/formats/registry';
import { computation, type OpenedMarks } from '../computation/types';
import { ReportBuilder } from '../shared/report';
import { storeCloud } from '../shared/stored';
import { attitudeOf, levelFrame, localFrame, quaternionOf, type ScanFrame, type ScanPlacer } from './frame';
import { PlacedBatch, scanBatches, type ScannerSd } from './points';

const DEG = Math.PI / 180;
/** Of known marks that state none, 1 SD, metres. */
const MARK_SD_M = 0.01;
const UNITS = { metre: 1, foot: METRES_PER.foot, usSurveyFoot: METRES_PER.usSurveyFoot, millimetre: 0.001 };
/** Of a scanner over its station: its height over the mark is in what is given. */
const STATION_SD_M = 0.01;

interface OpenScan {
  name: string;
  path: string;
  file: string;
}

/** Scans brought into one frame by what they share, and written as one cloud with deviations. */
export default computation(
  declaration,
  async ({ scans, targets, control, stations }, settings, context, out, watch) => {
    const builder = new ReportBuilder('register', settings);
    const system = context.crs ? parseSystem(context.crs) : undefined;
    if ((control || stations) && !system)
      throw new Problem('The system of marks and stations is not said.', {
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
    const open: OpenScan[] = [];
    for (const s of scans) {
      const name = s.name.replace(/\.[^.]+$/, '');
      if (open.some((o) => o.name === name))
        throw new Problem(`Two scans are called ${name}.`, {
          code: 'register-name',
          file: s.name,
          remedy: 'Rename one; targets and stations name them.',
        });
      open.push({ name, file: s.name, path: await s.las(part(watch, 0, 0.1)) });
    }
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
    const marks = (control?.marks ?? []).filter((m) => !m.leftOutReason && seen.some((t) => t.target === m.name));
    const places = (stations?.marks ?? []).filter((m) => open.some((o) => o.name === m.name));
    const middle = [...marks, ...places][0];
    const frame: ScanFrame =
      system && middle ? levelFrame(system, [middle.eastingM, middle.northingM, middle.heightM]) : localFrame();
    const local = !frame.system;
    const sdOf = (m: Mark, otherwise: number) =>
      [m.sdEM, m.sdNM, m.sdHM].map((v) => v ?? otherwise) as [number, number, number];
    const azimuths = stations ? await azimuthsOf(stations) : new Map<string, number>();
    const request: RegisterRequest = {
      scans: open.map((o) => o.name),
      seen: seen.filter((t) => open.some((o) => o.name === t.scan)),
      control: marks.map((m) => ({
        name: m.name,
        atM: frame.fromGrid(m.eastingM, m.northingM, m.heightM),
        sdM: sdOf(m, MARK_SD_M),
      })),
      stations: places.map((m): KnownStation => {
        const atM = frame.fromGrid(m.eastingM, m.northingM, m.heightM);
        const azimuth = azimuths.get(m.name);
        return {
          name: m.name,
          atM,
          sdM: sdOf(m, STATION_SD_M),
          ...(azimuth === undefined
            ? {}
            : { bearingRad: azimuth + frame.bearingShift(atM), sdBearingRad: settings.azimuthSdDeg * DEG }),
        };
      }),
      levelSdRad: settings.levelSdDeg * DEG,
      ...(local ? {} : { radiusM: EARTH_RADIUS_M }),
    };
    const found = registerScans(request, part(watch, 0.1, 0.2));
    const placers = found.scans.map((s) => frame.placer(s));
    const sd: ScannerSd = { rangeM: settings.rangeSdM, angleRad: settings.angleSdDeg * DEG };
    const metresPer = UNITS[settings.unit];
    let counts: number[] = [];
    const las = await out.file('cloud', 'las', async (path) => {
      counts = await writeScans(
        path,
        { open, found, placers, frame, sd, metresPer },
        part(watch, 0.2, out.keeps ? 0.8 : 1),
      );
    });
    const figures = figuresOf(found, placers, counts, frame);
    const poses = await out.file('poses', 'csv', (path) => writeFile(path, posesCsv(figures, context.crs)));
    noticesOf(builder, figures);
    const stored = out.keeps ? await storeCloud(out.store, las.sha256, part(watch, 0.8, 1)) : undefined;
    return {
      content: {
        las: las.sha256,
        bytes: las.bytes,
        ...stored,
        crs: local ? '' : frame.system!.label,
        figures: { points: figures.points },
        registered: figures,
        poses: poses.sha256,
      },
      hash: las.sha256,
      report: builder.finish(local ? null : frame.system!.label, { ...figures }),
      log: [
        `${figures.points} points of ${figures.scans.length} scans${local ? ' in the frame of the first' : ''}; sigma nought ${figures.sigma0 === null ? 'not known' : figures.sigma0.toFixed(2)}, ${figures.rejected.length} left out.`,
        ...figures.pairs
          .slice(0, 5)
          .map((p) => `${p.a} and ${p.b}: ${(1000 * p.rms_m).toFixed(1)} mm at ${p.points} targets.`),
      ],
    };
  },
);

/** Column `azimuth_deg` of a list of stations, by name, radians. */
async function azimuthsOf({ path, name }: OpenedMarks): Promise<Map<string, number>> {
  const { header, rows } = readTable(await readFile(path), name);
  const find = (wanted: string) => header.findIndex((h) => h.trim().toLowerCase() === wanted);
  const [at, named] = [find('azimuth_deg'), Math.max(0, find('name'))];
  const out = new Map<string, number>();
  if (at < 0) return out;
  for (const row of rows) {
    const value = (row[at] ?? '').trim();
    if (value === '') continue;
    if (!Number.isFinite(Number(value)))
      throw new Problem(`azimuth_deg is "${value}", which is no number.`, {
        code: 'register-azimuth',
        file: name,
        place: row[named],
        remedy: 'Correct the line, or leave it empty.',
      });
    out.set(row[named], Number(value) * DEG);
  }
  return out;
}

interface Writing {
  open: OpenScan[];
  found: Registered;
  placers: ScanPlacer[];
  frame: ScanFrame;
  sd: ScannerSd;
  metresPer: number;
}

/** Writes all scans as one cloud, each under its number. @returns points of each. */
async function writeScans(path: string, w: Writing, watch?: Watch): Promise<number[]> {
  const counts = w.open.map(() => 0);
  const each = async function* (): AsyncGenerator<{ k: number; batch: PointBatch; placed: PlacedBatch }> {
    for (const [k, { path: from, file, name }] of w.open.entries()) {
      const own = part(watch, k / w.open.length, (k + 0.7) / w.open.length);
      tick(own, 0, `Placing ${name}`);
      for await (const batch of scanBatches(from, file, own)) {
        const placed = new PlacedBatch(batch, w.metresPer, w.found.scans[k], w.placers[k], w.sd);
        counts[k] += batch.count;
        yield { k, batch, placed };
      }
    }
  };
  const { system } = w.frame;
  if (!system) {
    const fields = { ...NO_FIELDS, intensity: true, source: true };
    const source = {
      name: path,
      fields,
      lost: [],
      details: [],
      batches: placedBatches,
      close: () => Promise.resolve(),
    };
    async function* placedBatches(): AsyncGenerator<PointBatch> {
      for await (const { k, batch, placed } of each())
        yield {
          count: batch.count,
          x: placed.easting,
          y: placed.northing,
          z: placed.height,
          intensity: batch.intensity ?? new Uint16Array(batch.count),
          source: new Uint16Array(batch.count).fill(k + 1),
        };
    }
    await writeFromPoints(source, placedBatches(), path, undefined, new Date());
    return counts;
  }
  const { definition } = system;
  const first = w.placers[0].atM;
  const offset = first.map((v, k) =>
    Math.round(v / (k === 2 ? definition.verticalMetresPerUnit : definition.metresPerUnit)),
  ) as [number, number, number];
  const colours: Uint8Array[] = [];
  let coloured = false;
  const plain = `${path}.plain`;
  try {
    await writeFileWhole(plain, async (file) => {
      const writer = await LasWriter.create(file, wktOfSystem(definition), offset, new Date());
      for await (const { k, batch, placed } of each()) {
        const n = batch.count;
        const scaled = (v: Float64Array, per: number) => (per === 1 ? v : v.map((m) => m / per));
        await writer.append({
          easting: scaled(placed.easting, definition.metresPerUnit),
          northing: scaled(placed.northing, definition.metresPerUnit),
          height: scaled(placed.height, definition.verticalMetresPerUnit),
          intensity: batch.intensity ?? new Uint16Array(n),
          returnNumber: batch.returnNumber ?? new Uint8Array(n).fill(1),
          returnCount: batch.returnCount ?? new Uint8Array(n).fill(1),
          scannerChannel: 0,
          strip: new Uint16Array(n).fill(k + 1),
          gpsS: new Float64Array(n).fill(ADJUSTED_GPS_OFFSET_S),
          sdE: placed.sdE,
          sdN: placed.sdN,
          sdH: placed.sdH,
        });
        const rgb = new Uint8Array(3 * n);
        if (batch.colour) {
          coloured = true;
          batch.colour.forEach((c, j) => {
            for (let i = 0; i < n; i++) rgb[3 * i + j] = c[i] >> 8;
          });
        }
        colours.push(rgb);
      }
      await writer.finish();
    });
    const file = await LasFile.openPath(plain);
    try {
      const all = new Uint8Array(colours.reduce((s, c) => s + c.length, 0));
      let at = 0;
      for (const c of colours) {
        all.set(c, at);
        at += c.length;
      }
      await writeColoured(file, path, definition, new Date(), all, () => coloured);
    } finally {
      await file.close();
    }
  } finally {
    await rm(plain, { force: true });
  }
  return counts;
}

function figuresOf(
  found: Registered,
  placers: readonly ScanPlacer[],
  counts: readonly number[],
  frame: ScanFrame,
): RegisterFigures {
  const finite = (v: number) => (Number.isFinite(v) ? v : null);
  return {
    points: counts.reduce((s, v) => s + v, 0),
    sigma0: finite(found.sigma0),
    redundancy: found.redundancy,
    local: found.loose,
    scans: found.scans.map((s, k) => {
      const { atM, rotation, gridFactor, convergenceRad } = placers[k];
      const { bearingRad, tiltRad } = attitudeOf(rotation);
      const sd = (at: number) => Math.sqrt(Math.max(0, s.covariance[7 * at]));
      return {
        name: s.name,
        number: k + 1,
        points: counts[k],
        x_m: atM[0],
        y_m: atM[1],
        z_m: atM[2],
        quaternion: quaternionOf(rotation),
        bearing_deg: (((bearingRad / DEG) % 360) + 360) % 360,
        tilt_deg: tiltRad / DEG,
        sd_x_m: sd(0),
        sd_y_m: sd(1),
        sd_z_m: sd(2),
        sd_rot_deg: s.weakest.sdTurnRad / DEG,
        targets: s.targets,
        weakest: s.weakest.direction,
        weakest_sd_m: s.weakest.sdM,
        grid_factor: gridFactor,
        convergence_deg: convergenceRad === null ? null : convergenceRad / DEG,
      };
    }),
    pairs: found.pairs.map((p) => ({ a: p.a, b: p.b, rms_m: p.rmsM, points: p.targets })),
    targets: found.targets.map((t) => {
      const [x_m, y_m, z_m] = frame.toGrid(t.atM);
      return { name: t.name, control: t.control, scans: t.scans, x_m, y_m, z_m, sd_m: t.sdM };
    }),
    residuals: found.residuals
      .map((r) => ({
        scan: r.scan,
        target: r.target,
        de_m: r.offM[0],
        dn_m: r.offM[1],
        dh_m: r.offM[2],
        test: finite(r.test),
      }))
      .sort((a, b) => (b.test ?? -1) - (a.test ?? -1)),
    rejected: found.rejected.map((r) => ({
      what: r.what,
      scan: r.scan ?? null,
      target: r.target ?? null,
      off_m: finite(r.offM),
      test: r.test,
      says: saidOf(r),
    })),
  };
}

function posesCsv({ scans }: RegisterFigures, crs: string | undefined): string {
  const lines = [...(crs ? [`# crs: ${crs}`] : []), 'scan,x_m,y_m,z_m,qw,qx,qy,qz,sd_x_m,sd_y_m,sd_z_m,sd_rot_deg'];
  for (const s of scans)
    lines.push(
      [
        csvCell(s.name),
        ...[s.x_m, s.y_m, s.z_m].map((v) => v.toFixed(4)),
        ...s.quaternion.map((v) => v.toFixed(9)),
        ...[s.sd_x_m, s.sd_y_m, s.sd_z_m].map((v) => v.toFixed(5)),
        s.sd_rot_deg.toFixed(6),
      ].join(','),
    );
  return `${lines.join('\n')}\n`;
}

function noticesOf(builder: ReportBuilder, f: RegisterFigures): void {
  for (const r of f.rejected)
    builder.notice({
      code: 'register-rejected',
      severity: 'warning',
      place: [r.scan, r.target].filter(Boolean).join(', '),
      text: r.says,
      effect: 'It is left out; the others fit without it.',
      remedy: {
        sighting: 'Look whether it bears the name of another target, or was moved between scans.',
        control: 'Look at the mark.',
        station: 'Look whether scans or stations were named wrongly.',
      }[r.what],
    });
  if (f.local)
    builder.notice({
      code: 'register-local',
      severity: 'warning',
      text: 'Nothing says where the scans lie: the cloud is in the frame of the first scan.',
      effect: 'Its coordinates are no places on the Earth.',
      remedy: 'Choose known targets, or stations.',
    });
}

function saidOf(r: LeftOut): string {
  const off = Number.isFinite(r.offM)
    ? r.offM < 1
      ? `${(1000 * r.offM).toFixed(0)} mm`
      : `${r.offM.toFixed(2)} m`
    : '';
  if (r.what === 'control') return `The given place of ${r.target} is ${off || 'far'} off.`;
  if (r.what === 'sighting') return `${r.target} as seen in ${r.scan} is ${off || 'far'} off where the others see it.`;
  const other = r.standsAt ? ` It is where ${r.standsAt} stands.` : '';
  return `The station given for ${r.scan} is ${off} from where its targets place it.${other}`;
}
