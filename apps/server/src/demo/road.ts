import { join } from 'node:path';
import { SECOND_DEMO_NAME, type DatasetKind } from '@longheron/contract/api';
import { type Stage } from '@longheron/contract/stages';
import { FILE_NAMES } from '@longheron/site/files';
import { Dataset, Project, Run } from '../database/models';
import { takeOne } from '../features/files';
import { carryList } from '../features/projects/change';
import { referenceAsked } from '../features/projects';
import { judgeTogether } from '../features/files/crossFindings';
import { type Services } from '../services';
import { referenceOf, systemText } from '../trail';

const { geoid, trajectory, marks, oldCloud } = FILE_NAMES;

/** The second demo project: an older delivery, brought into the heights of the made-up national geoid. */
export const createRoad = (): Promise<Project> =>
  Project.create({
    name: SECOND_DEMO_NAME,
    surfaceToleranceM: 0.05,
    toleranceM: 0.03,
    purpose:
      'The delivery of 2025 for Brannholm Harbour & Lines in national heights, checked against the marks of 2026.',
    createdAt: new Date(),
  });

/** Files and chain of the second project; what is there already is left as it is. */
export async function fillRoad(services: Services, project: Project, folder: string): Promise<void> {
  const id = Number(project.id);
  const { operations } = services;
  const named = (name: string) => Dataset.findOne({ where: { projectId: id, name } });
  const take = async (name: string): Promise<number> => {
    if (!(await named(name))) await takeOne(services, id, join(folder, name), name, false);
    return Number((await named(name))!.id);
  };
  const made = async (
    kind: DatasetKind,
    stage: Stage,
    operation: string,
    inputs: Record<string, number | number[]>,
  ): Promise<number> => {
    // what was made once and is gone was discarded by somebody
    const before = await Run.findOne({ where: { projectId: id, operation, status: 'done' } });
    const there = await Dataset.findOne({ where: { projectId: id, kind, stage } });
    if (there) return Number(there.id);
    if (before) throw new Error(`${operation} was done before, and its result is gone`);
    const { done } = await operations.start(id, operation, inputs, {});
    const dataset = await done;
    if (!dataset) throw new Error(`the demo's step ${operation} did not end well`);
    return Number(dataset.id);
  };
  const grid = await take(geoid);
  if (!project.reference) {
    const line = { horizontal: 25832, vertical: 0, geoid: grid, unit: 'metre', time: 'gps', epoch: 2026.45 } as const;
    await project.update({ reference: await referenceAsked(id, line) });
    await referenceOf(project);
  }
  await take(trajectory);
  const list = await take(marks);
  // the list is in EGM96 heights, and says so
  if (await carryList(list, systemText(project), systemText(project))) await judgeTogether(id);
  const delivered = await take(oldCloud);
  const cloud = await made('point-cloud', 'clean', 'reproject', { cloud: delivered });
  await judgeTogether(id);
  const classified = await classifiedOf(id, () => operations.start(id, 'classify', { cloud }, {}));
  const check = await made('residuals', 'prove', 'check', { cloud: classified, marks: [list] });
  const surface = await made('surface', 'deliver', 'surface', { cloud: classified });
  await made('report', 'deliver', 'report', { surface, check });
}

/** The classified cloud: of two clouds in Clean the one that the operation made. */
async function classifiedOf(
  projectId: number,
  start: () => Promise<{ done: Promise<Dataset | undefined> }>,
): Promise<number> {
  const run = await Run.findOne({ where: { projectId, operation: 'classify', status: 'done' } });
  const before = run?.outputs[0] === undefined ? null : await Dataset.findByPk(run.outputs[0]);
  if (before) return Number(before.id);
  const dataset = await (await start()).done;
  if (!dataset) throw new Error("the demo's step classify did not end well");
  return Number(dataset.id);
}
