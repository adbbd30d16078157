import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { type ReferenceSystem } from '@longheron/core/frames';
import {
  AIR_CAMERAS,
  AIR_SCANNER,
  airPhotos,
  drawAirPhoto,
  givenTrajectory,
  recordFlight,
  scanFlight,
} from '../airborne';
import { photoText } from '../occupations';
import { camerasText } from './cameras';
import { GPS_WEEK, NOISE_FACTOR } from '../drive';
import { siteFlight } from './journeys';
import { JOURNEY_FILES, type SiteOptions } from './names';
import { type SiteWriters } from './writers';

/** Makes the returns of the aircraft's scanner, and the trajectory of the flight as somebody else computed it. */
export async function makeFlightFiles(
  folder: string,
  system: ReferenceSystem,
  writers: SiteWriters,
  { seed, level }: SiteOptions,
  progress?: (f: number) => void,
): Promise<void> {
  const flight = siteFlight(system);
  const given = givenTrajectory(flight, system, seed, level);
  await writeFile(join(folder, JOURNEY_FILES.flightTrajectory), writers.trajectory(given));
  const truth = scanFlight(flight, system, seed + 40, (f) => progress?.(0.05 + 0.85 * f));
  const { name, serial, rangeM, angleDeg } = AIR_SCANNER;
  const factor = NOISE_FACTOR[level];
  await writers.laser(
    join(folder, JOURNEY_FILES.flightReturns),
    { week: GPS_WEEK, sensor: name, serial, rangeSdM: factor * rangeM, angleSdDeg: factor * angleDeg },
    recordFlight(truth, seed + 50, level),
  );
  progress?.(1);
}

/** Draws the photographs of the flight into one archive, with their list and their cameras. */
export async function makeFlightPhotos(
  folder: string,
  system: ReferenceSystem,
  writers: SiteWriters,
  { seed }: SiteOptions,
  progress?: (f: number) => void,
): Promise<void> {
  const flight = siteFlight(system);
  const photos = airPhotos(flight);
  await writeFile(join(folder, JOURNEY_FILES.flightPhotoList), photoText(photos));
  const taken = AIR_CAMERAS.map((c) => ({
    camera: c,
    photos: photos.filter((p) => p.camera === c).map((p) => p.name),
  }));
  await writeFile(join(folder, JOURNEY_FILES.flightCameras), camerasText(seed, taken));
  const files: { [name: string]: Uint8Array } = {};
  for (const [k, p] of photos.entries()) {
    files[p.name] = await writers.photo(drawAirPhoto(flight, system, p, seed), p.camera, p.takenS);
    progress?.((k + 1) / photos.length);
  }
  await writeFile(join(folder, JOURNEY_FILES.flightPhotos), writers.archive(files));
}
