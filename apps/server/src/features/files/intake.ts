import { rm, stat } from 'node:fs/promises';
import { basename } from 'node:path';
import { type DatasetKind } from '@longheron/contract/api';
import { type Given } from '@longheron/contract/declare';
import { Problem } from '@longheron/core/shared';
import { Dataset, Project, Revision, Run } from '../../database/models';
import { HttpError } from '../../http/errors';
import { type Services } from '../../services';
import { addRevision, contentOf, objectOf, replaceNotices, systemText } from '../../trail';
import { markContext } from '../marks';
import { judgeTogether } from './crossFindings';

/** Title of the job that takes a file in. */
export const takingIn = (name: string) => `Import ${name}`;
/** Titles of such jobs, those of earlier versions among them. */
export const titlesOf = (name: string) => [takingIn(name), `Take in ${name}`];
/** Name of the file in the title of its job. */
export const nameInTitle = (title: string) => title.replace(/^(Import|Take in) /, '');
const preparing = (name: string) => `Prepare ${name}`;

/** A file that is to be taken in. */
export interface Taken {
  path: string;
  name: string;
  /** An upload: nobody else has it. It is kept until what it holds is in the project. */
  upload: boolean;
}

/** What a job of intake is of, as its settings keep it. */
export const settingsOf = ({ path, upload }: Taken): Given => (upload ? { upload: basename(path) } : { path });

/** Writes the job that takes a file in into the table: from then on it has a way on, whatever happens. */
export async function enterIntake({ queue }: Services, projectId: number, file: Taken): Promise<Run> {
  if (!(await Project.findByPk(projectId)))
    throw new HttpError(404, 'There is no such project.', { code: 'not-found' });
  return queue.enter(projectId, 'intake', 1, takingIn(file.name), settingsOf(file), {});
}

/**
 * Takes one file into a project: hashed, inspected, stored once, catalogued. A failure stands in the job.
 * @param judge whether it is compared with the other files at once; of many files the last says so for all.
 */
export async function takeFile(
  services: Services,
  run: Run,
  { path, name, upload }: Taken,
  judge = true,
): Promise<Dataset | undefined> {
  const { queue, store } = services;
  const projectId = Number(run.projectId);
  const project = await Project.findByPk(projectId);
  if (!project) throw new HttpError(404, 'There is no such project.', { code: 'not-found' });
  const seen = await stateOf(run, queue, path, name);
  const result = await queue.answer(run, 'inspect', {
    path,
    name,
    context: await markContext(projectId),
    crs: project.reference ? systemText(project) : null,
  });
  const { object, bytes, facts, kind, more } = result.content;
  try {
    await store.takeFile(path, object, bytes, kind, upload, async () => {
      if ((await stateOf(run, queue, path, name)) !== seen)
        throw new Problem('The file was changed while it was imported.', {
          code: 'file-changed',
          file: name,
          remedy: 'Wait until it is written, then import it again.',
        });
    });
    const enter = () =>
      Run.sequelize!.transaction(async (transaction) => {
        const made = await Dataset.create(
          { projectId, kind, name, stage: 'gather', createdAt: new Date() },
          { transaction },
        );
        await addRevision(
          made,
          { contentHash: object, runId: run.id, madeBy: 'intake', content: { object, bytes, facts, ...more } },
          transaction,
        );
        await replaceNotices(projectId, Number(made.id), result.notices, transaction);
        return made;
      });
    const entered = await inTurn(async () => {
      const twin = await findTwin(projectId, object, kind);
      return twin ? { twin } : { made: await enter() };
    });
    if (entered.twin)
      await run.update({ log: [...run.log, `The same content is there already as "${entered.twin.name}".`] });
    const dataset = entered.twin ?? entered.made!;
    if (judge && !entered.twin) await inTurn(() => judgeTogether(projectId));
    // entered before this job ends: between the two a stop would leave a cloud that no job prepares
    const next =
      kind === 'point-cloud' && isUnprepared(await current(dataset))
        ? await enterPreparing(services, dataset)
        : undefined;
    await queue.succeed(run, [Number(dataset.id)]);
    // only now that the project has it
    if (upload) await forgetUpload(path);
    if (next) await prepare(services, next, dataset);
    return dataset;
  } catch (error) {
    if (run.status !== 'done' && run.status !== 'failed') await queue.fail(run, error);
    throw error;
  }
}

/** Size and time of a file, to see whether it changes. @throws Problem for what is no file, as the end of the job. */
async function stateOf(run: Run, queue: Services['queue'], path: string, name: string): Promise<string> {
  const s = await stat(path).catch(() => undefined);
  if (s?.isFile()) return `${s.size} ${s.mtimeMs} ${s.ino}`;
  const problem = new Problem(s ? 'This is no file.' : 'The file is there no longer.', {
    code: 'no-file',
    file: name,
    remedy: s ? 'Pipes, devices and folders cannot be imported; choose a file.' : 'Choose it again.',
  });
  await queue.fail(run, problem);
  throw problem;
}

const current = (dataset: Dataset) =>
  dataset.currentRevisionId ? Revision.findByPk(dataset.currentRevisionId) : Promise.resolve(null);
const isUnprepared = (revision: Revision | null) => !!revision && !contentOf('point-cloud', revision).index;

/** Files are looked at side by side, and entered one after the other: two of the same content must not both be new. */
let turn: Promise<unknown> = Promise.resolve();
export function inTurn<T>(work: () => Promise<T>): Promise<T> {
  const mine = turn.then(work);
  turn = mine.catch(() => undefined);
  return mine;
}

export const forgetUpload = (path: string) => Promise.all([path, `${path}.json`].map((p) => rm(p, { force: true })));

/** Writes the job that builds the store of a cloud that was taken in. */
export const enterPreparing = ({ queue }: Services, dataset: Dataset) =>
  queue.enter(Number(dataset.projectId), 'intake', 1, preparing(dataset.name), { prepare: Number(dataset.id) }, {});

/** Builds the multi-resolution store of a cloud that was taken in, so that it can be looked at and worked on. */
export async function prepare({ queue }: Services, run: Run, dataset: Dataset): Promise<void> {
  const revision = await current(dataset);
  // taken up after a stop, it may have been done by another
  if (!revision || !isUnprepared(revision)) return queue.succeed(run, [Number(dataset.id)]);
  const project = await Project.findByPk(Number(dataset.projectId));
  const result = await queue.answer(run, 'open-cloud', {
    object: objectOf(revision)!,
    name: dataset.name,
    crs: project?.reference ? systemText(project) : null,
  });
  await revision.update({ content: { ...contentOf('point-cloud', revision), ...result.content } });
  await queue.succeed(run, [Number(dataset.id)]);
}

/** A dataset of the same kind with the same content: a file that was written here may come back as a cloud. */
async function findTwin(projectId: number, contentHash: string, kind: DatasetKind): Promise<Dataset | undefined> {
  const rows = await Revision.findAll({ where: { contentHash: Buffer.from(contentHash, 'hex') } });
  for (const row of rows) {
    const d = await Dataset.findByPk(row.datasetId);
    if (d && Number(d.projectId) === projectId && d.kind === kind) return d;
  }
  return undefined;
}
