import { readdir, realpath, rm, stat } from 'node:fs/promises';
import { basename, join, relative, resolve, sep } from 'node:path';
import { type Router } from 'express';
import { json } from 'express';
import { Server as TusServer } from '@tus/server';
import { FileStore } from '@tus/file-store';
import { type DatasetKind } from '@longheron/contract/api';
import { PointTextColumns, TakeServerFiles } from '@longheron/contract/requests';
import { Dataset, Project, Revision, Run } from '../../database/models';
import { bodyOf } from '../../http/body';
import { HttpError } from '../../http/errors';
import { addRevision, contentOf, objectOf, replaceNotices, systemText } from '../../trail';
import { type Services } from '../../services';
import { markContext } from '../marks';
import { datasetOf } from '../datasets/find';
import { projectOf } from '../projects';
import { judgeTogether } from './crossFindings';

/** Title of the job that takes a file in. */
export const takingIn = (name: string) => `Take in ${name}`;

/**
 * Takes one file into a project: hashed, inspected, stored once, catalogued.
 * @param move the file is an upload, ours to move; after a failure it is kept for another try.
 * @param judge whether it is compared with the other files at once; of many files the last says so for all.
 */
export async function takeFile(
  services: Services,
  projectId: number,
  path: string,
  name: string,
  move: boolean,
  judge = true,
): Promise<Dataset | undefined> {
  const { queue, store } = services;
  const project = await Project.findByPk(projectId);
  if (!project) throw new HttpError(404, 'There is no such project.', { code: 'not-found' });
  const { run, result } = await queue.background(
    projectId,
    'intake',
    takingIn(name),
    'inspect',
    {
      path,
      name,
      context: await markContext(projectId),
      crs: project.reference ? systemText(project) : null,
    },
    move ? { upload: basename(path) } : { path },
  );
  const { object, bytes, facts, kind, more } = result.content;
  await store.takeFile(path, object, bytes, kind, move);
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
  if (entered.twin) {
    const { twin } = entered;
    if (move) await forgetUpload(path);
    await run.update({ log: [...run.log, `The same content is there already as "${twin.name}".`] });
    await queue.succeed(run, [Number(twin.id)]);
    return twin;
  }
  const dataset = entered.made!;
  if (judge) await inTurn(() => judgeTogether(projectId));
  await queue.succeed(run, [Number(dataset.id)]);
  if (move) await forgetUpload(path);
  if (kind === 'point-cloud') await openCloud(services, projectId, Number(dataset.id));
  return dataset;
}

/** Files are looked at side by side, and entered one after the other: two of the same content must not both be new. */
let turn: Promise<unknown> = Promise.resolve();
function inTurn<T>(work: () => Promise<T>): Promise<T> {
  const mine = turn.then(work);
  turn = mine.catch(() => undefined);
  return mine;
}

/** As many files are taken in at once. */
const LANES = 2;
/** So many files on, those that are there are compared with each other. */
const JUDGE_EVERY = 50;

/** Takes many files in; one that fails does not hold the others up, and says so in its own job. */
async function takeMany(services: Services, projectId: number, paths: string[]): Promise<void> {
  let next = 0;
  const lane = async () => {
    while (next < paths.length) {
      const at = next++;
      const judge = at % JUDGE_EVERY === JUDGE_EVERY - 1;
      await takeFile(services, projectId, paths[at], basename(paths[at]), false, judge).catch(() => undefined);
    }
  };
  await Promise.all(Array.from({ length: LANES }, lane));
  await inTurn(() => judgeTogether(projectId)).catch(() => undefined);
}

const forgetUpload = (path: string) => Promise.all([path, `${path}.json`].map((p) => rm(p, { force: true })));

/** Builds the multi-resolution store of a cloud that was taken in, so that it can be looked at and worked on. */
async function openCloud({ queue }: Services, projectId: number, datasetId: number): Promise<void> {
  const dataset = await Dataset.findByPk(datasetId);
  const revision = dataset?.currentRevisionId ? await Revision.findByPk(dataset.currentRevisionId) : null;
  if (!dataset || !revision) return;
  const project = await Project.findByPk(projectId);
  const { run, result } = await queue.background(projectId, 'intake', `Prepare ${dataset.name}`, 'open-cloud', {
    object: objectOf(revision)!,
    name: dataset.name,
    crs: project?.reference ? systemText(project) : null,
  });
  await revision.update({ content: { ...contentOf('point-cloud', revision), ...result.content } });
  await queue.succeed(run, [datasetId]);
}

/** Reads a text of points anew with other meanings of its columns. What was done to the cloud before stays in the earlier revision. */
async function readColumns(
  { queue }: Services,
  project: Project,
  dataset: Dataset,
  revision: Revision,
  columns: PointTextColumns,
): Promise<void> {
  const { run, result } = await queue.background(
    Number(project.id),
    'intake',
    `Read columns of ${dataset.name}`,
    'open-cloud',
    {
      object: objectOf(revision)!,
      name: dataset.name,
      crs: project.reference ? systemText(project) : null,
      columns: { ...columns },
    },
  );
  const { edits: _edits, rejected: _rejected, ...content } = contentOf('point-cloud', revision);
  await addRevision(dataset, {
    contentHash: result.hash,
    runId: run.id,
    madeBy: 'edit',
    content: { ...content, ...result.content },
  });
  await replaceNotices(Number(project.id), Number(dataset.id), result.notices);
  await judgeTogether(Number(project.id));
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

/** A path inside one of the allowed roots, links resolved; 403 otherwise. */
export async function insideRoots(roots: string[], path: string): Promise<string> {
  const real = await realpath(resolve(path)).catch(() => {
    throw new HttpError(404, `There is no "${path}" on the server.`, { code: 'not-found' });
  });
  for (const root of roots) {
    const base = await realpath(root).catch(() => undefined);
    if (base && (real === base || real.startsWith(base + sep))) return real;
  }
  throw new HttpError(403, `"${path}" lies outside the folders that may be read.`, {
    code: 'outside',
    remedy: 'Start with --files FOLDER to allow it.',
  });
}

export function fileRoutes(api: Router, services: Services): void {
  const { storeFolder, roots } = services;

  api.post('/projects/:projectId/datasets/:id/point-columns', json(), async (request, response) => {
    const project = await projectOf(request);
    const { dataset, revision } = await datasetOf(request, Number(project.id));
    const columns = bodyOf(request, PointTextColumns);
    if (!contentOf('point-cloud', revision).pointText)
      throw new HttpError(409, 'This dataset is no text of points.', { code: 'kind' });
    await readColumns(services, project, dataset, revision, columns);
    response.json({ datasetId: Number(dataset.id) });
  });
  const tus = new TusServer({
    path: '/api/uploads',
    relativeLocation: true,
    datastore: new FileStore({ directory: join(storeFolder, 'uploads'), expirationPeriodInMilliseconds: 7 * 86400000 }),
    async onUploadFinish(_request, upload) {
      const projectId = Number(upload.metadata?.project);
      const name = basename(String(upload.metadata?.filename ?? 'file')).slice(0, 200) || 'file';
      const path = upload.storage?.path;
      if (path && Number.isSafeInteger(projectId)) {
        void takeFile(services, projectId, path, name, true).catch(() => undefined);
      }
      return {};
    },
  });
  api.all(['/uploads', '/uploads/{*rest}'], (request, response) => {
    request.url = request.originalUrl;
    return tus.handle(request, response);
  });

  api.get('/files', async (request, response) => {
    const wanted = request.query.path ? String(request.query.path) : undefined;
    if (!wanted) {
      response.json({ path: null, entries: roots.map((r) => ({ name: r, path: r, folder: true, bytes: 0 })) });
      return;
    }
    const folder = await insideRoots(roots, wanted);
    const entries = await Promise.all(
      (await readdir(folder, { withFileTypes: true }))
        .filter((e) => !e.name.startsWith('.'))
        .slice(0, 5000)
        .map(async (e) => ({
          name: e.name,
          path: join(folder, e.name),
          folder: e.isDirectory(),
          bytes: e.isFile() ? (await stat(join(folder, e.name))).size : 0,
        })),
    );
    response.json({
      path: folder,
      entries: entries.sort((a, b) => Number(b.folder) - Number(a.folder) || a.name.localeCompare(b.name)),
    });
  });

  api.post('/projects/:projectId/take', json(), async (request, response) => {
    const project = await projectOf(request);
    const { paths } = bodyOf(request, TakeServerFiles);
    const real = await Promise.all(paths.map((p) => insideRoots(roots, p)));
    response.status(202).json({ files: real.map((p) => relative(roots[0] ?? '/', p)) });
    await takeMany(services, Number(project.id), real);
  });
}
