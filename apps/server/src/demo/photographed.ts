import { FILE_NAMES, JOURNEY_FILES } from '@longheron/site/files';
import { Dataset } from '../database/models';
import { byName, surveyedBase, type NamedStep } from './steps';

/** The vehicle's cloud in the colours of its camera; only with the full set. */
export async function runRoof(id: number, made: NamedStep, cloud: number, mounting: number): Promise<void> {
  const { vehiclePhotos, vehicleCameras } = JOURNEY_FILES;
  if (!(await Dataset.count({ where: { projectId: id, name: vehiclePhotos } }))) return;
  const positions = (await Dataset.findOne({ where: { projectId: id, kind: 'positions', stage: 'position' } }))!;
  const inputs = {
    cloud,
    photos: await byName(id, vehiclePhotos),
    positions: Number(positions.id),
    cameras: await byName(id, vehicleCameras),
    mounting,
  };
  await made('Classified cloud, coloured', 'colour', inputs, { farthestM: 40 });
}

/** The aircraft's trajectory, its strips adjusted, and the cloud made of what came out; only with the full set. */
export async function runFlight(id: number, made: NamedStep): Promise<void> {
  const { flightRover, flightInertial, flightMounting, flightReturns } = JOURNEY_FILES;
  if (!(await Dataset.count({ where: { projectId: id, name: flightReturns } }))) return;
  const mounting = await byName(id, flightMounting);
  const returns = [await byName(id, flightReturns)];
  const trajectory = await made(
    'Trajectory of the flight',
    'position',
    {
      rover: await byName(id, flightRover),
      base: await byName(id, FILE_NAMES.base),
      navigation: [await byName(id, FILE_NAMES.navigation)],
      calibrations: [await byName(id, FILE_NAMES.antennas)],
      inertial: await byName(id, flightInertial),
      antenna: mounting,
    },
    surveyedBase(),
  );
  const adjustment = await made('Strips of the flight', 'strips', { trajectory, returns, mounting });
  const calibrated = await made('Flight mounting, calibrated', 'adjusted-mounting', { adjustment });
  const corrected = await made('Trajectory of the flight, corrected', 'adjusted-trajectory', { adjustment });
  const cloud = await made(
    'Cloud of the flight',
    'place',
    { trajectory: corrected, returns, mounting: calibrated },
    { targetPerM2: 8 },
  );
  const { flightExposures, flightPhotoList, flightPhotos, flightCameras } = JOURNEY_FILES;
  const positions = await made(
    'Photographs of the flight',
    'events',
    {
      trajectory: corrected,
      mounting: calibrated,
      events: await byName(id, flightExposures),
      photos: await byName(id, flightPhotoList),
    },
    { sensor: 'camera' },
  );
  const photos = await byName(id, flightPhotos);
  const cameras = await byName(id, flightCameras);
  await made('Cloud of the flight, coloured', 'colour', { cloud, photos, positions, cameras, mounting: calibrated });
  await runBlocks(id, made, cloud, photos, calibrated);
}

/** The flight's photographs as a block and as an orthophoto, and the set-ups of the chamber. */
async function runBlocks(id: number, made: NamedStep, cloud: number, photos: number, mounting: number): Promise<void> {
  const f = JOURNEY_FILES;
  const block = await made('Block of the flight', 'block', {
    photos: [photos],
    picks: [await byName(id, f.flightPicks)],
    cameras: await byName(id, f.flightNominal),
    positions: [await byName(id, f.flightPositions)],
    mounting,
    marks: await byName(id, FILE_NAMES.marks),
  });
  const surface = await made('Surface of the flight', 'surface', { cloud }, { class: 0, contoursM: 0 });
  await made('Orthophoto of the flight', 'ortho', { photos: [photos], oriented: block, surface }, { cellM: 0.17 });
  const chamber = {
    photos: [await byName(id, f.chamberPhotos)],
    picks: [await byName(id, f.chamberPicks)],
    cameras: await byName(id, f.chamberCameras),
    distances: await byName(id, f.chamberDistances),
  };
  await made('Set-ups in the abutment chamber', 'block', chamber, { ties: false });
}
