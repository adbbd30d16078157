import { existsSync } from 'node:fs';
import { basename, join } from 'node:path';
import { type Router } from 'express';
import { type RunDto } from '@longheron/contract/api';
import { StartRun } from '@longheron/contract/requests';
import { Dataset, Run } from '../../database/models';
import { bodyOf, idOf } from '../../http/body';
import { HttpError } from '../../http/errors';
import { type Services } from '../../services';
import { enterIntake, enterPreparing, insideRoots, nameInTitle, prepare, takeFile } from '../files';
import { projectOf } from '../projects';
import { judgeTogether } from '../files/crossFindings';
import { datasetsOf } from '../../trail';

/** Pages that may listen for changes at once. */
const MAX_LISTENERS = 500;

function dto(run: Run, queue: Services['queue']): RunDto {
  const live = queue.state(Number(run.id));
  const { status, endedAt, error } = queue.endOf(Number(run.id)) ?? run;
  return {
    id: Number(run.id),
    projectId: Number(run.projectId),
    operation: run.operation,
    title: run.title,
    status,
    progress: live?.progress ?? run.progress,
    doing: live?.doing ?? run.doing,
    settings: run.settings,
    startedAt: run.startedAt?.toISOString() ?? null,
    endedAt: endedAt?.toISOString() ?? null,
    secondsLeft: live?.secondsLeft ?? null,
    error,
    log: run.log,
    outputs: run.outputs,
  };
}

export function runRoutes(api: Router, services: Services): void {
  const { queue, operations, lists } = services;
  api.get('/projects/:projectId/runs', (request, response) =>
    lists.send(
      request,
      response,
      async () => {
        const project = await projectOf(request);
        const rows = await Run.findAll({ where: { projectId: project.id }, order: [['id', 'DESC']], limit: 100 });
        return rows.map((r) => dto(r, queue));
      },
      queue.told,
    ),
  );

  api.post('/projects/:projectId/runs', async (request, response) => {
    const project = await projectOf(request);
    const body = bodyOf(request, StartRun);
    const { run, done } = await operations.start(
      Number(project.id),
      body.operation,
      body.inputs,
      body.settings ?? {},
      body.outputDataset,
    );
    // a cloud that was brought in is no longer of another system
    if (body.operation === 'reproject') void done.then(() => judgeTogether(Number(project.id))).catch(() => undefined);
    response.status(202).json(dto(run, queue));
  });

  api.post('/projects/:projectId/runs/:id/cancel', async (request, response) => {
    await projectOf(request);
    if (!queue.cancel(idOf(request))) throw new HttpError(409, 'This job is not running.', { code: 'not-running' });
    response.status(204).end();
  });

  /** Runs a job again that failed or was cut off, with the same inputs and settings. */
  api.post('/projects/:projectId/runs/:id/again', async (request, response) => {
    const project = await projectOf(request);
    const old = await Run.findOne({ where: { id: idOf(request), projectId: project.id } });
    if (!old || !['failed', 'cancelled', 'interrupted', 'done'].includes(old.status))
      throw new HttpError(409, 'This job cannot be run again now.', { code: 'not-ended' });
    if (old.operation === 'intake') {
      const { path, upload, prepare: cloud } = old.settings as { path?: string; upload?: string; prepare?: number };
      if (cloud !== undefined) {
        const dataset = await Dataset.findOne({ where: { id: cloud, projectId: project.id } });
        if (!dataset) throw new HttpError(409, 'The cloud is not there any more.', { code: 'not-found' });
        const run = await enterPreparing(services, dataset);
        response.status(202).json(dto(run, queue));
        await prepare(services, run, dataset).catch(() => undefined);
        return;
      }
      const kept = upload ? join(services.storeFolder, 'uploads', basename(upload)) : undefined;
      if (kept ? !existsSync(kept) : !path)
        throw new HttpError(409, 'The file came by upload and is kept no longer.', {
          code: 'upload-gone',
          remedy: 'Drop it again.',
        });
      const real = kept ?? (await insideRoots(services.roots, path!));
      const name = kept ? nameInTitle(old.title) : basename(real);
      const file = { path: real, name, upload: !!kept };
      const run = await enterIntake(services, Number(project.id), file);
      response.status(202).json(dto(run, queue));
      await takeFile(services, run, file).catch(() => undefined);
      return;
    }
    const { outputDataset, ...settings } = old.settings;
    const { run } = await operations.start(
      Number(project.id),
      old.operation,
      old.inputs,
      settings,
      slotOf(outputDataset),
    );
    response.status(202).json(dto(run, queue));
  });

  /** Runs what is needed, in order, until nothing is out of date. */
  api.post('/projects/:projectId/bring-up-to-date', async (request, response) => {
    const project = await projectOf(request);
    const id = Number(project.id);
    const stale = (await datasetsOf(id)).filter((d) => d.outOfDate);
    response.status(202).json({ datasets: stale.length });
    // what it could not start stays out of date; the server goes on
    bringUpToDate(operations, id).catch((error: unknown) =>
      request.log.error(error, 'not everything was brought up to date'),
    );
  });

  api.get('/projects/:projectId/events', async (request, response) => {
    const project = await projectOf(request);
    const id = Number(project.id);
    if (queue.events.listenerCount('change') >= MAX_LISTENERS)
      throw new HttpError(503, 'Too many pages listen for changes.', {
        code: 'listeners',
        remedy: 'Close pages that nobody looks at.',
      });
    response.writeHead(200, {
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-store',
      Connection: 'keep-alive',
      'X-Accel-Buffering': 'no',
    });
    response.write(': ready\n\n');
    const send = (change: { projectId: number; what: string; id: number }) => {
      if (Number(change.projectId) !== id) return;
      const live = change.what === 'run' ? queue.state(Number(change.id)) : undefined;
      response.write(`data: ${JSON.stringify({ what: change.what, id: Number(change.id), ...live })}\n\n`);
    };
    queue.events.on('change', send);
    const beat = setInterval(() => response.write(': beat\n\n'), 15000);
    request.on('close', () => {
      clearInterval(beat);
      queue.events.off('change', send);
    });
  });
}

/** The dataset that a job writes, as its settings keep it. */
const slotOf = (kept: unknown) => (typeof kept === 'number' ? kept : undefined);

/** Reruns each out-of-date dataset with the settings of its last run, inputs before what depends on them. */
export async function bringUpToDate(operations: Services['operations'], projectId: number): Promise<number> {
  let count = 0;
  for (let guard = 0; guard < 50; guard++) {
    const all = await datasetsOf(projectId);
    const stale = new Set(all.filter((d) => d.outOfDate).map((d) => d.id));
    const next = all.find(
      (d) => d.outOfDate && d.revision.runId && d.revision.inputs.every((i) => !stale.has(i.datasetId)),
    );
    if (!next) break;
    const run = await Run.findByPk(next.revision.runId!);
    if (!run) break;
    const { outputDataset: _old, ...settings } = run.settings;
    const started = await operations.start(projectId, run.operation, run.inputs, settings, next.id);
    if (!(await started.done)) break;
    count++;
  }
  return count;
}
