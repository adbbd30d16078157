import { readdir, realpath, stat } from 'node:fs/promises';
import { basename, join, relative, resolve, sep } from 'node:path';
import { type Router } from 'express';
import { json } from 'express';
import { Server as TusServer } from '@tus/server';
import { FileStore } from '@tus/file-store';
import { PointTextColumns, TakeServerFiles } from '@longheron/contract/requests';
import { type Dataset, Project, type Revision, type Run } from '../../database/models';
import { bodyOf } from '../../http/body';
import { HttpError } from '../../http/errors';
import { addRevision, contentOf, objectOf, replaceNotices, systemText } from '../../trail';
import { type Services } from '../../services';
import { fullDisk, isFullDisk, roomMb } from '../../storage/fullDisk';
import { datasetOf } from '../datasets/find';
import { projectOf } from '../projects';
import { nameOf } from './adopt';
import { judgeTogether } from './crossFindings';
import { enterIntake, inTurn, takeFile, type Taken } from './intake';

export { adopt } from './adopt';
export { enterIntake, enterPreparing, prepare, nameInTitle, takeFile, takingIn, titlesOf } from './intake';

/** A refusal of an upload, as JSON like every other. */
const tusProblem = (status: number, title: string, remedy: string) => ({
  status_code: status,
  body: JSON.stringify({ type: 'about:blank', title, status, code: 'upload', remedy }),
});

/** Room that an upload leaves for the database and for what is running. */
const LEFT_FREE_MB = 64;

/** Refuses an upload that the disk has no room for, before a byte of it is sent. */
async function roomFor(bytes: number, folder: string): Promise<void> {
  const left = await roomMb(folder);
  const neededMb = bytes / 1e6 + LEFT_FREE_MB;
  if (left === undefined || left >= neededMb) return;
  throw tusProblem(
    507,
    `The disk is full: ${left.toFixed(0)} MB are left, ${Math.ceil(neededMb)} MB are needed for this file.`,
    `Make room in ${folder}, then drop the file again.`,
  );
}

/** As many files are taken in at once. */
const LANES = 2;
/** So many files on, those that are there are compared with each other. */
const JUDGE_EVERY = 50;

/** Takes many files in; one that fails does not hold the others up, and says so in its own job. */
async function takeMany(
  services: Services,
  projectId: number,
  entered: Array<{ run: Run; file: Taken }>,
): Promise<void> {
  let next = 0;
  const lane = async () => {
    while (next < entered.length) {
      const at = next++;
      const judge = at % JUDGE_EVERY === JUDGE_EVERY - 1;
      await takeFile(services, entered[at].run, entered[at].file, judge).catch(() => undefined);
    }
  };
  await Promise.all(Array.from({ length: LANES }, lane));
  await inTurn(() => judgeTogether(projectId)).catch(() => undefined);
}

/**
 * Takes one file in as a job of its own.
 * @param upload it lies among the uploads, and is removed once the project has it.
 */
export async function takeOne(
  services: Services,
  projectId: number,
  path: string,
  name: string,
  upload: boolean,
): Promise<Dataset | undefined> {
  const file = { path, name, upload };
  return takeFile(services, await enterIntake(services, projectId, file), file);
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

/** Takes scans and pictures out of a packed job, each as a file of its own. @returns their names. */
async function takeOut(services: Services, projectId: number, dataset: Dataset, revision: Revision): Promise<string[]> {
  const { queue, storeFolder } = services;
  const { run, result } = await queue.background(projectId, 'intake', `Take files out of ${dataset.name}`, 'take-out', {
    object: objectOf(revision)!,
    name: dataset.name,
    folder: join(storeFolder, 'uploads'),
  });
  const { files } = result.content;
  const entered: Array<{ run: Run; file: Taken }> = [];
  for (const f of files) {
    const file = { ...f, upload: true };
    entered.push({ run: await enterIntake(services, projectId, file), file });
  }
  await run.update({ log: [...run.log, `${files.length} files: ${files.map((f) => f.name).join(', ')}.`] });
  await queue.succeed(run, []);
  void takeMany(services, projectId, entered);
  return files.map((f) => f.name);
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
  api.post('/projects/:projectId/datasets/:id/take-out', async (request, response) => {
    const project = await projectOf(request);
    const { dataset, revision } = await datasetOf(request, Number(project.id));
    if (dataset.kind !== 'terrestrial-job')
      throw new HttpError(409, 'Scans and pictures are taken out of a job alone.', { code: 'kind' });
    response.json({ files: await takeOut(services, Number(project.id), dataset, revision) });
  });
  const tus = new TusServer({
    path: '/api/uploads',
    relativeLocation: true,
    datastore: new FileStore({ directory: join(storeFolder, 'uploads'), expirationPeriodInMilliseconds: 7 * 86400000 }),
    async onUploadCreate(_request, upload) {
      const project = Number(upload.metadata?.project);
      const known = await Project.findByPk(Number.isSafeInteger(project) ? project : 0).catch(() => {
        throw tusProblem(503, 'The database does not answer.', 'Try again in a moment.');
      });
      if (!known) throw tusProblem(404, 'There is no such project.', 'Open a project, and drop the file there.');
      await roomFor(upload.size ?? 0, storeFolder);
      return { metadata: upload.metadata };
    },
    // what the library cannot write it says in its own words
    async onResponseError(_request, error) {
      // our own are in words already
      if ('body' in error && error.body.startsWith('{')) return undefined;
      const full = isFullDisk(error) || ((await roomMb(storeFolder)) ?? Infinity) < 1;
      if (!full) return undefined;
      const { message, remedy } = await fullDisk(storeFolder, 'drop the file again');
      return tusProblem(507, message, remedy);
    },
    // what is answered here as accepted has a job; a database that is away leaves the upload for the next look at them
    async onUploadFinish(_request, upload) {
      const path = upload.storage?.path;
      if (!path) throw tusProblem(500, 'The upload has no file.', 'Drop it again.');
      const file = { path, name: nameOf(upload.metadata?.filename), upload: true };
      const run = await enterIntake(services, Number(upload.metadata?.project), file).catch(async (error: Error) => {
        const { message } = isFullDisk(error) ? await fullDisk(storeFolder, 'wait') : error;
        throw tusProblem(503, message, 'The file is kept and imported as soon as that is possible.');
      });
      void takeFile(services, run, file).catch(() => undefined);
      return { headers: { 'Run-Id': String(run.id) } };
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
    for (const path of real)
      if (!(await stat(path)).isFile())
        throw new HttpError(422, `"${path}" is no file.`, {
          code: 'no-file',
          remedy: 'Pipes, devices and folders cannot be imported; choose files.',
        });
    const entered: Array<{ run: Run; file: Taken }> = [];
    for (const path of real) {
      const file = { path, name: basename(path), upload: false };
      entered.push({ file, run: await enterIntake(services, Number(project.id), file) });
    }
    const files = real.map((p) => relative(roots[0] ?? '/', p));
    response.status(202).json({ files, runs: entered.map((e) => Number(e.run.id)) });
    await takeMany(services, Number(project.id), entered);
  });
}
