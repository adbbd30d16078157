import { existsSync, mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { type Logger } from 'pino';
import { DEMO_NAME, SECOND_DEMO_NAME, type DatasetKind } from '@longheron/contract/api';
import { type Stage } from '@longheron/contract/stages';
import { HEADS } from '@longheron/site/drive';
import {
  FILE_NAMES,
  fileNames,
  JOURNEY_FILES,
  SITE_DEFAULTS,
  writeManifest,
  type SiteOptions,
} from '@longheron/site/files';
import { Dataset, Project, Run } from '../database/models';
import { takeOne, titlesOf } from '../features/files';
import { describeReference } from '../features/systems';
import { HttpError } from '../http/errors';
import { type Services } from '../services';
import { BOAT_FILES, runBoat } from './boat';
import { runFlight, runRoof } from './photographed';
import { createRoad, fillRoad } from './road';
import { runScans, runTotalStation, SCAN_FILES, STANDS } from './terrestrial';
import { byName, namedStep, surveyedBase, type Step } from './steps';

const { rover, base, navigation, antennas, orbits, inertial, olderRover, olderBase } = FILE_NAMES;
const { area, pole, occupations, measured, exposures, photos, geoid } = FILE_NAMES;
const GNSS_FILES = [
  rover,
  base,
  navigation,
  antennas,
  orbits,
  inertial,
  olderRover,
  olderBase,
  pole,
  occupations,
  measured,
  area,
  exposures,
  photos,
  geoid,
];

const createDemo = (): Promise<Project> =>
  Project.create({
    name: DEMO_NAME,
    toleranceM: 0.03,
    purpose:
      'Ground model of the Lines road and its banks for Brannholm Harbour & Lines, heights to 3 cm RMSE on hard ground.',
    reference: describeReference({ horizontal: 25832, vertical: 5773, unit: 'metre', time: 'gps', epoch: 2026.45 }),
    createdAt: new Date(),
  });

/** The demo projects: made at the first start, gone on with where they were cut off, made again when somebody asks. */
export class Demo {
  private filling: Promise<void> = Promise.resolve();

  constructor(
    private readonly services: Services,
    private readonly dataFolder: string,
    private readonly size: SiteOptions['size'],
    private readonly logger: Logger,
  ) {}

  /** At a start: one that was deleted stays away. */
  async start(): Promise<void> {
    const first = !existsSync(join(this.dataFolder, 'demo', 'manifest.json'));
    const of = async (name: string, create: () => Promise<Project>) =>
      (await Project.findOne({ where: { name } })) ?? (first ? await create() : null);
    await this.fill(await of(DEMO_NAME, createDemo), await of(SECOND_DEMO_NAME, createRoad));
  }

  /** Makes what is missing anew, and fills it in the background. @throws HttpError while both are there. */
  async again(): Promise<Project> {
    const there = (name: string) => Project.findOne({ where: { name } });
    const [reach, road] = [await there(DEMO_NAME), await there(SECOND_DEMO_NAME)];
    if (reach && road)
      throw new HttpError(409, `There are the projects “${DEMO_NAME}” and “${SECOND_DEMO_NAME}”.`, {
        code: 'demo-there',
        remedy: 'Rename or delete one of them, then make the demo again.',
      });
    const made = [reach ? null : await createDemo(), road ? null : await createRoad()] as const;
    void this.fill(...made);
    return (made[0] ?? made[1])!;
  }

  /** Settles when nothing is being filled; what a stop has cut off goes on at the next start. */
  settled(): Promise<void> {
    return this.filling;
  }

  private fill(reach: Project | null, road: Project | null): Promise<void> {
    const { services, dataFolder, size, logger } = this;
    return (this.filling = (async () => {
      if (reach) await fillDemo(services, reach, dataFolder, size, logger);
      if (!road) return;
      // its files are those of the first one
      await makeFiles(services, Number(road.id), join(dataFolder, 'demo'), { ...SITE_DEFAULTS, size });
      await fillRoad(services, road, join(dataFolder, 'demo'));
    })().catch((error: unknown) =>
      logger.warn(error, 'a demo project is not complete; the next start goes on with it'),
    ));
  }
}

/** Raw files of the site, as far as they are not there yet. */
async function makeFiles(services: Services, projectId: number, folder: string, options: SiteOptions): Promise<void> {
  mkdirSync(folder, { recursive: true });
  const { queue } = services;
  const done = async (job: Promise<{ run: Run }>) => queue.succeed((await job).run, []);
  const missing = fileNames(options.size).filter((n) => !existsSync(join(folder, n)));
  const { head1, head2 } = FILE_NAMES;
  const { flightReturns, flightTrajectory, flightPhotos, flightPhotoList, flightCameras } = JOURNEY_FILES;
  const { vehiclePhotos, vehicleCameras } = JOURNEY_FILES;
  const { flightPositions, flightNominal, flightPicks } = JOURNEY_FILES;
  const { chamberPhotos, chamberPicks, chamberCameras, chamberDistances } = JOURNEY_FILES;
  const chamber = [chamberPhotos, chamberPicks, chamberCameras, chamberDistances];
  const blockFiles = [flightPositions, flightNominal, flightPicks, ...chamber];
  const drawnFiles = [flightPhotos, flightPhotoList, flightCameras, vehiclePhotos, vehicleCameras, ...blockFiles];
  const cast: string[] = [head1, head2, flightReturns, flightTrajectory, ...drawnFiles, ...SCAN_FILES, ...BOAT_FILES];
  if (missing.some((n) => !cast.includes(n)))
    await done(
      queue.background(projectId, 'demo', 'Make the demo trajectory, mounting and marks', 'demo-files', {
        folder,
        options,
      }),
    );
  await Promise.all(
    HEADS.filter((h) => missing.includes(FILE_NAMES[h])).map((head) =>
      done(
        queue.background(projectId, 'demo', `Make the demo laser returns, ${head}`, 'demo-head', {
          folder,
          options,
          head,
        }),
      ),
    ),
  );
  const lacks = (...names: string[]) => names.some((n) => missing.includes(n));
  const drawn = (title: string, work: 'demo-flight' | 'demo-photos' | 'demo-roof' | 'demo-scans' | 'demo-boat') =>
    done(queue.background(projectId, 'demo', title, work, { folder, options }));
  await Promise.all([
    ...(lacks(flightReturns, flightTrajectory)
      ? [drawn('Make the demo laser returns of the flight', 'demo-flight')]
      : []),
    ...(lacks(...BOAT_FILES) ? [drawn('Make the demo sonar recordings', 'demo-boat')] : []),
    ...(lacks(...SCAN_FILES) ? [drawn('Make the demo scans', 'demo-scans')] : []),
    ...(lacks(vehiclePhotos, vehicleCameras) ? [drawn('Make the demo photographs from the vehicle', 'demo-roof')] : []),
    ...(lacks(flightPhotos, flightPhotoList, flightCameras, ...blockFiles)
      ? [drawn('Make the demo photographs of the flight', 'demo-photos')]
      : []),
  ]);
  if (missing.length || !existsSync(join(folder, 'manifest.json'))) await writeManifest(folder, options);
}

/** Files and chain of the demo, by ordinary jobs; what is there already is left as it is. */
async function fillDemo(
  services: Services,
  project: Project,
  dataFolder: string,
  size: SiteOptions['size'],
  logger: Logger,
): Promise<void> {
  const id = Number(project.id);
  const { oldCloud } = FILE_NAMES;
  // the last step; when it was done once, what is missing now was discarded by somebody
  if (await Run.count({ where: { projectId: id, title: titlesOf(oldCloud), status: 'done' } })) return;
  const options: SiteOptions = { ...SITE_DEFAULTS, size };
  const folder = join(dataFolder, 'demo');
  try {
    await makeFiles(services, id, folder, options);
    for (const name of [
      FILE_NAMES.trajectory,
      FILE_NAMES.mounting,
      FILE_NAMES.marks,
      FILE_NAMES.extraMarks,
      FILE_NAMES.head1,
      FILE_NAMES.head2,
    ]) {
      if (await Dataset.count({ where: { projectId: id, name } })) continue;
      await takeOne(services, id, join(folder, name), name, false);
    }
    // scans come last: other clouds are to be seen before them
    const stands: readonly string[] = STANDS;
    const journeys = size === 'full' ? Object.values(JOURNEY_FILES).filter((n) => !stands.includes(n)) : [];
    for (const name of [...GNSS_FILES, ...journeys])
      if (!(await Dataset.count({ where: { projectId: id, name } })))
        await takeOne(services, id, join(folder, name), name, false);
    await runChain(services, id);
    if (size === 'full') {
      for (const name of stands)
        if (!(await Dataset.count({ where: { projectId: id, name } })))
          await takeOne(services, id, join(folder, name), name, false);
      await runScans(id, stepsOf(services, id));
      await runBoat(id, namedStep(id, stepsOf(services, id)));
    }
    // last, so that the chain's own cloud is the first to be seen
    if (!(await Dataset.count({ where: { projectId: id, name: oldCloud } })))
      await takeOne(services, id, join(folder, oldCloud), oldCloud, false);
  } catch (error) {
    logger.warn(error, 'the demo project is not complete; the next start goes on with it');
  }
}

/** Runs an operation and waits for what it makes. */
function stepsOf({ operations }: Services, id: number): Step {
  return async (operation, inputs, settings = {}) => {
    const { run, done } = await operations.start(id, operation, inputs, settings);
    const dataset = await done;
    if (!dataset)
      throw new Error(`the demo's step ${operation} (job ${(await Run.findByPk(run.id))?.id}) did not end well`);
    return Number(dataset.id);
  };
}

async function runChain(services: Services, id: number): Promise<void> {
  const step = stepsOf(services, id);
  const existing = async (kind: DatasetKind, stage: Stage) =>
    (await Dataset.findOne({ where: { projectId: id, kind, stage } }))?.id;
  const mounting = await byName(id, FILE_NAMES.mounting);
  const trajectory = Number(
    (await existing('trajectory', 'position')) ??
      (await step(
        'position',
        {
          rover: await byName(id, FILE_NAMES.rover),
          base: await byName(id, FILE_NAMES.base),
          navigation: [await byName(id, FILE_NAMES.navigation)],
          calibrations: [await byName(id, FILE_NAMES.antennas)],
          inertial: await byName(id, FILE_NAMES.inertial),
          antenna: mounting,
        },
        surveyedBase(),
      )),
  );
  const cloud = Number(
    (await existing('point-cloud', 'place')) ??
      (await step('place', {
        trajectory,
        returns: [await byName(id, FILE_NAMES.head1), await byName(id, FILE_NAMES.head2)],
        mounting,
      })),
  );
  const classified = Number((await existing('point-cloud', 'clean')) ?? (await step('classify', { cloud })));
  if (!(await existing('residuals', 'prove')))
    await step('check', { cloud: classified, marks: [await byName(id, FILE_NAMES.marks)] });
  const check = Number((await existing('residuals', 'prove')) ?? 0);
  await runTotalStation(id, step);
  const proofs = await runProofs(id, step, existing, classified);
  const surface = Number((await existing('surface', 'deliver')) ?? (await step('surface', { cloud: classified })));
  if (!(await existing('report', 'deliver'))) await step('report', { surface, check, parts: proofs });
  await runField(id, step, existing, trajectory, mounting);
  const made = namedStep(id, step);
  await runRoof(id, made, classified, mounting);
  await runFlight(id, made);
}

/** Plan at the painted targets, with what was taped, the strips against each other, and how the ordered area is covered. */
async function runProofs(
  id: number,
  step: Step,
  existing: (kind: DatasetKind, stage: Stage) => Promise<number | undefined>,
  cloud: number,
): Promise<number[]> {
  const measured = (await Dataset.findOne({ where: { projectId: id, kind: 'measurements' } }))?.id;
  const plan =
    (await existing('plan-check', 'prove')) ??
    (await step('plan-check', {
      cloud,
      marks: [await byName(id, FILE_NAMES.marks)],
      ...(measured ? { measured: [Number(measured)] } : {}),
    }));
  const strips = (await existing('agreement', 'prove')) ?? (await step('agreement', { cloud }));
  const coverage =
    (await existing('coverage', 'prove')) ??
    (await step('coverage', { cloud, outlines: await byName(id, FILE_NAMES.area) }, { area: 'area of work' }));
  return [Number(plan), Number(strips), Number(coverage)];
}

/** What else was done that day: marks occupied with a pole, and photographs from the vehicle. */
async function runField(
  id: number,
  step: Step,
  existing: (kind: DatasetKind, stage: Stage) => Promise<number | undefined>,
  trajectory: number,
  mounting: number,
): Promise<void> {
  if (!(await existing('marks', 'position'))) {
    const pole = await step(
      'position',
      {
        rover: await byName(id, FILE_NAMES.pole),
        base: await byName(id, FILE_NAMES.base),
        navigation: [await byName(id, FILE_NAMES.navigation)],
        calibrations: [await byName(id, FILE_NAMES.antennas)],
      },
      surveyedBase(),
    );
    const occupations = await byName(id, FILE_NAMES.occupations);
    await step('stops', { trajectory: pole, occupations, known: [await byName(id, FILE_NAMES.marks)] });
  }
  if (!(await existing('positions', 'position')))
    await step(
      'events',
      {
        trajectory,
        mounting,
        events: await byName(id, FILE_NAMES.exposures),
        photos: await byName(id, FILE_NAMES.photos),
      },
      { sensor: 'camera' },
    );
}
