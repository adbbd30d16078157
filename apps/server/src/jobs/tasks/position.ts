import { part, Problem, type Watch } from '@longheron/core/shared';
import { type System } from '@longheron/core/gnss';
import { type Mark } from '@longheron/core/accuracy';
import { DEG, parseMounting, type InternationalFrame } from '@longheron/core/frames';
import { parseSystem } from '@longheron/formats/crs';
import { type Platform } from '@longheron/core/inertial';
import {
  diagnosticsOf,
  fromLatLonHeight,
  positionRover,
  skyOf,
  type BasePosition,
  type InertialRequest,
  type PositionResult,
} from '@longheron/operations/position';
import { trajectoryContent } from './intake';
import { Shelf } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

interface Payload {
  rover: string[];
  base: string[];
  navigation: string[];
  orbits: string[];
  calibrations: string[];
  inertial?: string;
  /** The mark that the base stands on. */
  baseMark?: Mark;
  mounting?: unknown;
  names: Record<string, string>;
  crs: string;
  settings: {
    maskDeg: number;
    direction: 'both' | 'forward' | 'reverse';
    systems: string;
    frequencies?: 'both' | 'first';
    leftOut?: string[];
    startGps?: number;
    endGps?: number;
    baseFrame?: 'ETRS89' | InternationalFrame;
    baseEpoch?: number;
    baseMark?: string;
    baseLatDeg?: number;
    baseLonDeg?: number;
    baseHEllM?: number;
    baseHeightKind?: 'ellipsoidal' | 'project';
    baseMean?: boolean;
    antennaHeightM?: number;
    platform?: Platform;
    headingDeg?: number;
    leverArmSdM?: number;
    standstill?: boolean;
    noSlip?: boolean;
  };
}

/** Computes the trajectory of a rover's antenna or of its inertial unit; it is kept as the CSV that `longheron position` writes. */
export async function position(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const p = r.payload as unknown as Payload;
  const s = p.settings;
  const shelf = new Shelf(r.storeFolder);
  const given = [s.baseLatDeg, s.baseLonDeg, s.baseHEllM];
  let made!: PositionResult;
  const csv = await shelf.file(async (path) => {
    made = await positionRover(
      {
        roverPaths: p.rover,
        basePaths: p.base,
        navPaths: p.navigation,
        orbitPaths: p.orbits,
        antennaPaths: p.calibrations,
        names: p.names,
        base: p.baseMark
          ? markPosition(p.baseMark, p.crs)
          : given.every((v) => typeof v === 'number')
            ? typedPosition(given as [number, number, number], s.baseHeightKind, p.crs)
            : s.baseMean
              ? 'mean'
              : undefined,
        antennaHeightM: s.antennaHeightM,
        startGps: s.startGps,
        endGps: s.endGps,
        baseFrame: baseFrameOf(s),
        settings: {
          maskDeg: s.maskDeg,
          direction: s.direction,
          systems: [...s.systems] as System[],
          frequencies: s.frequencies,
          leftOut: s.leftOut ?? [],
        },
        inertial: p.inertial ? inertialOf(p.inertial, p.mounting, s) : undefined,
        outPath: path,
      },
      part(watch, 0, 0.95),
    );
  }, 'trajectory');
  const { report } = made;
  const name = `${made.inertial ? 'Trajectory' : 'Antenna trajectory'}${made.marker ? `, ${made.marker}` : ''}`;
  return {
    name,
    content: {
      ...(await trajectoryContent(shelf, r.storeFolder, csv.sha256, name, p.crs)),
      point: made.trajectory.point,
      sky: made.sky ? await shelf.json(skyOf(made.sky, made.trajectory, made.week), 'sky') : null,
      diagnostics: await shelf.json(diagnosticsOf(made.epochs, made.week, made.inertial), 'diagnostics'),
      figures: { ...report, inputs: undefined, notices: undefined },
    },
    contentHash: csv.sha256,
    objects: shelf.objects,
    notices: report.notices.map((n) => ({ ...n, place: n.place ?? '' })),
    log: [`${report.epochs} epochs in ${report.seconds} s.`],
  };
}

/** Marker of the base from a mark of the project. */
function markPosition(mark: Mark, crs: string): BasePosition {
  const system = parseSystem(crs);
  const geo = new Float64Array(3);
  system.unproject(mark.eastingM, mark.northingM, mark.heightM, geo);
  return fromLatLonHeight(geo[0] / DEG, geo[1] / DEG, geo[2]);
}

/** Marker of the base as typed; a height of the project's system is carried to the ellipsoid. */
function typedPosition(
  [lat, lon, height]: [number, number, number],
  kind: 'ellipsoidal' | 'project' | undefined,
  crs: string,
): BasePosition {
  if (kind !== 'project') return fromLatLonHeight(lat, lon, height);
  const { geoid } = parseSystem(crs);
  return fromLatLonHeight(lat, lon, height + geoid.undulation(lat * DEG, lon * DEG));
}

function baseFrameOf(s: Payload['settings']): { frame: InternationalFrame; epoch: number } | undefined {
  if (!s.baseFrame || s.baseFrame === 'ETRS89') return undefined;
  if (s.baseEpoch === undefined)
    throw new Problem(`Coordinates in ${s.baseFrame} need the epoch they belong to.`, {
      code: 'base-epoch',
      remedy: 'Type it as a year with decimals.',
    });
  return { frame: s.baseFrame, epoch: s.baseEpoch };
}

function inertialOf(path: string, mounting: unknown, s: Payload['settings']): InertialRequest {
  return {
    path,
    mounting: parseMounting(mounting),
    platform: s.platform ?? 'vehicle',
    headingDeg: s.headingDeg,
    leverArmSdM: s.leverArmSdM,
    standstill: s.standstill,
    noSlip: s.noSlip,
  };
}
