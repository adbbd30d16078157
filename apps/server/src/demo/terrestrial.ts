import { FILE_NAMES, JOURNEY_FILES } from '@longheron/site/files';
import { Dataset, Run } from '../database/models';
import { byName, type Step } from './steps';

/** Scans of the stands and what is listed beside them. */
export const STANDS = [
  JOURNEY_FILES.stand1,
  JOURNEY_FILES.stand2,
  JOURNEY_FILES.stand3,
  JOURNEY_FILES.stand4,
  JOURNEY_FILES.stand5,
  JOURNEY_FILES.stand6,
];
export const SCAN_FILES = [...STANDS, JOURNEY_FILES.scanTargets, JOURNEY_FILES.scanSpheres, JOURNEY_FILES.scanStations];

/** The scans placed, where the set has them. */
export async function runScans(id: number, step: Step): Promise<void> {
  if (!(await Dataset.count({ where: { projectId: id, name: JOURNEY_FILES.scanTargets } }))) return;
  if (await Run.count({ where: { projectId: id, operation: 'register', status: 'done' } })) return;
  const scans: number[] = [];
  for (const name of STANDS) scans.push(await byName(id, name));
  await step(
    'register',
    {
      scans,
      targets: await byName(id, JOURNEY_FILES.scanTargets),
      control: await byName(id, JOURNEY_FILES.scanSpheres),
      stations: await byName(id, JOURNEY_FILES.scanStations),
    },
    { by: 'both' },
  );
}

/** The total-station run, where the set has it. */
export async function runTotalStation(id: number, step: Step): Promise<void> {
  const job = await Dataset.findOne({ where: { projectId: id, name: JOURNEY_FILES.totalStation } });
  if (!job || (await Run.count({ where: { projectId: id, operation: 'traverse', status: 'done' } }))) return;
  await step('traverse', { job: Number(job.id), known: [await byName(id, FILE_NAMES.marks)] });
}
