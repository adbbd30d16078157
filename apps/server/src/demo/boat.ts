import { FILE_NAMES, JOURNEY_FILES } from '@longheron/site/files';
import { Dataset } from '../database/models';
import { byName, surveyedBase, type NamedStep } from './steps';

const { boatLine1, boatLine2, boatLine3, boatLine4, boatLine5, boatCasts, gauge } = JOURNEY_FILES;
const LINES = [boatLine1, boatLine2, boatLine3, boatLine4, boatLine5];
/** Recordings of the boat, and what is known of the water. */
export const BOAT_FILES: readonly string[] = [...LINES, boatCasts, gauge];

/** The boat's trajectory, its mounting tested, its soundings and their grid; only with the full set. */
export async function runBoat(id: number, made: NamedStep): Promise<void> {
  if (!(await Dataset.count({ where: { projectId: id, name: boatLine1 } }))) return;
  const mounting = await byName(id, JOURNEY_FILES.boatMounting);
  const sonar: number[] = [];
  for (const name of LINES) sonar.push(await byName(id, name));
  const trajectory = await made(
    'Trajectory of the boat',
    'position',
    {
      rover: await byName(id, JOURNEY_FILES.boatRover),
      base: await byName(id, FILE_NAMES.base),
      navigation: [await byName(id, FILE_NAMES.navigation)],
      calibrations: [await byName(id, FILE_NAMES.antennas)],
      inertial: await byName(id, JOURNEY_FILES.boatInertial),
      antenna: mounting,
    },
    { ...surveyedBase(), platform: 'boat' },
  );
  const casts = await byName(id, boatCasts);
  const patch = await made('Mounting test of the boat', 'patch', { sonar, mounting, trajectory, casts });
  const tested = await made('Boat mounting, tested', 'tested-mounting', { patch });
  const cloud = await made('Soundings of the reach', 'soundings', { sonar, mounting: tested, trajectory, casts });
  await made('Lines of the reach', 'line-check', { cloud });
  const bed = await made('Depth grid of the reach', 'depths', { cloud }, { fillM: 1 });
  await made('Side-scan of the reach', 'sidescan', { sonar, mounting: tested, trajectory, casts, bed });
}
