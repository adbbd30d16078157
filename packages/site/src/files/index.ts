import { createHash } from 'node:crypto';
import { mkdir, readFile, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { type Mounting, type ReferenceSystem } from '@longheron/core/frames';
import { type Mark } from '@longheron/core/accuracy';
import {
  deliveredMounting,
  HEAD_SERIALS,
  HEADS,
  outages,
  processedTrajectory,
  recordReturns,
  scanDrive,
  trueMounting,
  trueTrajectory,
  GPS_WEEK,
  NOISE,
  NOISE_FACTOR,
  type Head,
  type ScanPlan,
  type TrueDrive,
  type TrueReturns,
} from '../drive';
import { BASE_PLACE, observationText, ROVER_ANTENNA, sessionFiles, vehicleSession, type SiteEpoch } from '../gnss';
import { measureDrive } from '../inertial';
import {
  exposuresOf,
  exposureText,
  fieldBookText,
  observePole,
  photoText,
  poleWalk,
  type PoleWalk,
} from '../occupations';
import { airEvents, airSensors } from '../airborne';
import { EXCHANGED_MARK, FEET_MARK, measuredOnSite, surveyedMarks } from '../marks';
import { SITE_SYSTEM } from '../terrain';
import { measurementsCsv } from '@longheron/formats/measurements';
import { localGeoidGrid } from '../geoid';
import { WRONG_STATION } from '../scans';
import { WRONG_TARGET } from '../totalStation';
import { LOST_PICTURE, makeTotalStationFile } from './totalStation';
import { areaText } from './area';
import { DELIVERED_HEAD, TRUE_HEAD, WATERLINE_M } from '../boat';
import { oldCloud } from './oldCloud';
import { driveSpan, journeysAfter, siteDrive, WALK_AFTER_S } from './journeys';
import { FILE_NAMES, fileNames, JOURNEY_FILES, type SiteOptions, type SiteSize } from './names';
import { type SiteWriters } from './writers';

export * from './oldCloud';
export * from './writers';
export { makeTotalStationFile } from './totalStation';
export * from './names';
export { siteDrive, siteFlight } from './journeys';
export { makeBlockFiles, POSITION_FAULTS } from './block';
export { makeChamberFiles } from './chamber';
export { makeFlightFiles, makeFlightPhotos } from './flight';
export { makeRoofPhotos } from './roof';
export { makeScanFiles } from './scans';
export { makeBoatFiles } from './boat';

/** The rate of the rover's receiver. */
const GNSS_RATE_HZ = 5;

/** Rows a second of the trajectory that comes with the demo. */
export const TRAJECTORY_RATE_HZ = 200;

/** Part of the road that the small set covers, site y in metres. */
const SMALL_FROM_Y = 284;
const SMALL_TO_Y = 378;

/** What is recorded when: the whole passes, or for the small set the part near the bridge on the first two. */
export function scanPlan(drive: TrueDrive, size: SiteSize): ScanPlan {
  if (size === 'full') return { profilesPerS: 50, beamsPerTurn: 400, maxRangeM: 45, spans: drive.passes, strays: true };
  return {
    profilesPerS: 25,
    beamsPerTurn: 160,
    maxRangeM: 30,
    spans: drive.passes.slice(0, 2),
    strays: true,
    keep: (_x, y) => y > SMALL_FROM_Y && y < SMALL_TO_Y,
  };
}

/** True returns of one head: where each echo really was and what it hit. */
export function siteReturns(
  head: Head,
  system: ReferenceSystem,
  options: SiteOptions,
  progress?: (f: number) => void,
): TrueReturns {
  const drive = siteDrive();
  const mounting = trueMounting(options.seed, options.level).sensors[head];
  return scanDrive(
    drive,
    system,
    mounting,
    scanPlan(drive, options.size),
    options.seed + HEADS.indexOf(head),
    progress,
  );
}

function trajectorySpan(options: SiteOptions): [number, number] {
  if (options.size === 'full') return [-Infinity, Infinity];
  const [first, second] = siteDrive().passes;
  return [first.startSow + 20, second.endSow];
}

/** Makes the laser file of one head. */
export async function makeHeadFile(
  folder: string,
  head: Head,
  system: ReferenceSystem,
  writers: SiteWriters,
  options: SiteOptions,
  progress?: (f: number) => void,
): Promise<void> {
  const truth = siteReturns(head, system, options, (f) => progress?.(0.9 * f));
  const returns = recordReturns(truth, options.seed + 10 * HEADS.indexOf(head), options.level);
  const factor = NOISE_FACTOR[options.level];
  await writers.laser(
    join(folder, FILE_NAMES[head]),
    {
      week: GPS_WEEK,
      sensor: head,
      serial: HEAD_SERIALS[head],
      rangeSdM: factor * NOISE.rangeM,
      angleSdDeg: factor * NOISE.angleDeg,
    },
    returns,
  );
  progress?.(1);
}

/** Makes trajectory, mounting, marks and the earlier cloud. */
export async function makeSmallFiles(
  folder: string,
  system: ReferenceSystem,
  writers: SiteWriters,
  options: SiteOptions,
): Promise<void> {
  await mkdir(folder, { recursive: true });
  const [from, to] = trajectorySpan(options);
  const drive = siteDrive();
  const truth = trueTrajectory(drive, system, TRAJECTORY_RATE_HZ, from, to);
  const processed = processedTrajectory(truth, outages(drive), options.seed, options.level);
  await writeFile(join(folder, FILE_NAMES.trajectory), writers.trajectory(processed));
  await writeFile(join(folder, FILE_NAMES.geoid), localGeoidGrid());
  await writeFile(join(folder, FILE_NAMES.mounting), writers.mounting(deliveredMounting(options.level)));
  const marks = surveyedMarks(options.seed, options.level);
  const exchanged = marks.find((m) => m.name === EXCHANGED_MARK)!;
  const feet = marks.find((m) => m.name === FEET_MARK)!;
  await writeFile(
    join(folder, FILE_NAMES.marks),
    writers.marks(
      marks.filter((m) => m !== exchanged),
      SITE_SYSTEM,
    ),
  );
  const planted: Mark[] = [
    { ...exchanged, eastingM: exchanged.northingM, northingM: exchanged.eastingM },
    { ...feet, heightM: feet.heightM / 0.3048, note: 'second list' },
  ];
  await writeFile(join(folder, FILE_NAMES.extraMarks), writers.marks(planted, SITE_SYSTEM));
  const [fromY, toY] = options.size === 'full' ? [40, 600] : [SMALL_FROM_Y, SMALL_TO_Y];
  await writeFile(join(folder, FILE_NAMES.oldCloud), oldCloud(options.seed, fromY, toY));
  await writeFile(join(folder, FILE_NAMES.area), areaText(fromY, toY, system));
  if (options.size === 'full') {
    await makeTotalStationFile(folder, system, writers, options);
  }
}

/** Makes the GNSS observations of vehicle and base, the navigation file and the inertial data of the vehicle. */
export async function makeGnssFiles(
  folder: string,
  system: ReferenceSystem,
  writers: SiteWriters,
  options: SiteOptions,
): Promise<void> {
  await mkdir(folder, { recursive: true });
  const [fromSow, toSow] = trajectorySpan(options);
  const factor = NOISE_FACTOR[options.level];
  const span = Number.isFinite(fromSow) ? { fromSow, toSow } : {};
  const [first, last] = Number.isFinite(fromSow) ? [fromSow, toSow] : driveSpan();
  const walk = poleWalk(system, Math.ceil(last) + WALK_AFTER_S);
  const journeys = options.size === 'full' ? journeysAfter(walk.endSow) : [];
  const session = vehicleSession(siteDrive(), system, {
    baseToSow: (journeys.at(-1)?.endSow ?? walk.endSow) + 10,
    seed: options.seed,
    factor,
    roverRateHz: GNSS_RATE_HZ,
    leverArmM: trueMounting(options.seed, options.level).gnssLeverArmM,
    ...span,
  });
  const texts = sessionFiles(session);
  await writeFile(join(folder, FILE_NAMES.rover), texts.rover);
  await writeFile(join(folder, FILE_NAMES.base), texts.base);
  await writeFile(join(folder, FILE_NAMES.navigation), texts.navigation);
  await writeFile(join(folder, FILE_NAMES.antennas), texts.antennas);
  await writeFile(join(folder, FILE_NAMES.orbits), texts.orbits);
  await writeFile(join(folder, FILE_NAMES.olderRover), texts.olderRover);
  await writeFile(join(folder, FILE_NAMES.olderBase), texts.olderBase);
  for (const j of journeys) {
    const { leverArmM, files } = j;
    const { rover } = vehicleSession(j.drive, system, {
      seed: options.seed,
      factor,
      roverRateHz: GNSS_RATE_HZ,
      openSky: true,
      sky: session.sky,
      leverArmM,
    });
    await writeFile(join(folder, files.rover), roverText(rover, j.marker, session.baseMarkerM));
    await writers.inertial(join(folder, files.inertial), measureDrive(j.drive, system, { seed: options.seed, factor }));
    const { gnssLeverArmSdM } = deliveredMounting(options.level);
    const mounting: Mounting = {
      gnssLeverArmM: leverArmM,
      gnssLeverArmSdM,
      ...(j.camera
        ? { sensors: airSensors() }
        : { sensors: { sonar: DELIVERED_HEAD }, waterlineM: WATERLINE_M, waterlineSdM: 0.01 }),
    };
    if (j.camera) await writeFile(join(folder, j.camera), exposureText(airEvents(j.drive)));
    await writeFile(join(folder, files.mounting), writers.mounting(mounting));
  }
  const pole = observePole(walk, session.sky, session.air);
  await writeFile(join(folder, FILE_NAMES.pole), poleText(pole, walk));
  // the field book names all but the last, which nobody wrote down
  const noted = walk.occupations.slice(0, -1);
  await writeFile(join(folder, FILE_NAMES.occupations), fieldBookText(noted));
  const measured = measuredOnSite(options.seed, system, BASE_PLACE);
  await writeFile(join(folder, FILE_NAMES.measured), measurementsCsv(measured));
  const { eventsSow, photos } = exposuresOf(siteDrive(), first, last);
  await writeFile(join(folder, FILE_NAMES.exposures), exposureText(eventsSow));
  await writeFile(join(folder, FILE_NAMES.photos), photoText(photos));
  const unit = measureDrive(siteDrive(), system, { seed: options.seed, factor, ...span });
  await writers.inertial(join(folder, FILE_NAMES.inertial), unit);
}

/** Observations of a receiver on the move, whose header knows its place to some hundred metres. */
function roverText(epochs: SiteEpoch[], marker: string, nearM: ArrayLike<number>): string {
  const xyzM = Float64Array.from(nearM, (v) => Math.round(v / 100) * 100);
  return observationText(
    {
      marker,
      antenna: ROVER_ANTENNA.type,
      receiver: 'DEMO',
      week: GPS_WEEK,
      xyzM,
      antennaHeightM: 0,
      intervalS: 1 / GNSS_RATE_HZ,
    },
    epochs,
  );
}

function poleText(epochs: SiteEpoch[], walk: PoleWalk): string {
  const at = new Float64Array(3);
  walk.antennaAt(walk.startSow, at);
  return observationText(
    {
      marker: 'POLE',
      antenna: ROVER_ANTENNA.type,
      receiver: 'DEMO',
      week: GPS_WEEK,
      xyzM: at.map((v) => Math.round(v) + 1),
      antennaHeightM: 0,
      intervalS: 1,
    },
    epochs,
  );
}

/** Writes manifest.json: names, sizes, hashes, planted faults. */
export async function writeManifest(folder: string, options: SiteOptions): Promise<void> {
  const files: Array<{ name: string; bytes: number; sha256: string }> = [];
  for (const name of fileNames(options.size)) {
    const path = join(folder, name);
    const there = await stat(path).catch(() => undefined);
    if (!there) continue;
    files.push({
      name,
      bytes: there.size,
      sha256: createHash('sha256')
        .update(await readFile(path))
        .digest('hex'),
    });
  }
  const faults = [
    'One control mark has been disturbed by 0.11 m in height.',
    `${FILE_NAMES.extraMarks}: one mark has easting and northing exchanged, one its height in feet under height_m.`,
    'About 0.3 % of the laser returns are strays far above and below.',
    `${FILE_NAMES.oldCloud}: 0.3 % of the points are strays, 5 to 60 m above and 1 to 15 m below the ground.`,
    `${FILE_NAMES.exposures}: its first event was set off when the camera was switched on.`,
    `${FILE_NAMES.photos}: one photograph is missing; the camera's clock is 37.4 s ahead.`,
    `${FILE_NAMES.occupations}: the last mark occupied is not in it.`,
    `${FILE_NAMES.olderRover}: its name carries the day before.`,
    `${FILE_NAMES.olderBase}: it misses the last two minutes of the drive.`,
    'No GNSS for 9 s from the rail bridge on, on each pass.',
    ...(options.size === 'full'
      ? [
          `${JOURNEY_FILES.flightMounting}: the scanner’s boresight is not in it: roll 0.035°, pitch −0.060°, heading 0.090°.`,
          `${JOURNEY_FILES.flightExposures}: its first event was set off when the cameras were switched on.`,
          `${JOURNEY_FILES.flightTrajectory}: rises slowly by 3 cm in its third line.`,
          `${JOURNEY_FILES.boatMounting}: the sonar’s boresight and latency are not in it: roll ${TRUE_HEAD.boresightDeg.roll}°, pitch ${TRUE_HEAD.boresightDeg.pitch}°, heading ${TRUE_HEAD.boresightDeg.heading}°, 0.06 s.`,
          `${JOURNEY_FILES.boatCasts}: the water changes after the first line; the next cast was taken only before the last.`,
          `${JOURNEY_FILES.totalStation}: the target over ${WRONG_TARGET.target} is noted ${WRONG_TARGET.offM} m too high from ${WRONG_TARGET.setUp}; ${LOST_PICTURE} is named in it and not packed.`,
          `${JOURNEY_FILES.scanStations}: ${WRONG_STATION.scan} is listed at the place of ${WRONG_STATION.at}.`,
        ]
      : []),
  ];
  await writeFile(
    join(folder, 'manifest.json'),
    `${JSON.stringify({ site: 'Brannholm Reach (made up)', ...options, files, faults }, null, 2)}\n`,
  );
}
