import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { MessageChannel } from 'node:worker_threads';
import { EventEmitter } from 'node:events';
import { rmSync, mkdirSync } from 'node:fs';
import { Op } from 'sequelize';
import { Piscina } from 'piscina';
import { Problem, type Notice } from '@longheron/core/shared';
import { Dataset, NoticeRow, Project, Revision, Run, StoredObject, type RevisionInput } from '../database/models';
import { type ObjectStore } from '../storage';
import { check as validate, SETTINGS, type Operation } from '@longheron/contract/requests';
import { hashFor, SENSOR_ROLE } from '../features/datasets/trail';
import { referenceOf } from '../features/projects/referenceLine';
import { current, payloadOf, type Current } from './operations';
import { PLANS } from './plans';
import { type ProgressMessage, type TaskRequest, type TaskResult } from './tasks/types';

const ROOT = process.env.LONGHERON_ROOT ?? join(dirname(fileURLToPath(import.meta.url)), '../../../..');
const MOST_LOG_LINES = 200;

/** Runs jobs on worker threads, one after the other from the table of runs; tells listeners what changes. */
export class JobQueue {
  readonly events = new EventEmitter().setMaxListeners(200);
  private readonly pool: Piscina;
  private readonly aborts = new Map<number, AbortController>();
  private readonly live = new Map<number, { progress: number; doing: string; started: number }>();
  private stopping = false;
  private readonly waiting = new Map<number, () => void>();

  constructor(
    private readonly store: ObjectStore,
    private readonly storeFolder: string,
    threads = 2,
  ) {
    process.env.LONGHERON_ROOT = ROOT;
    this.pool = new Piscina({
      filename: join(ROOT, 'apps/server/src/jobs/worker.mjs'),
      minThreads: 0,
      maxThreads: threads,
      idleTimeout: 20000,
      concurrentTasksPerWorker: 1,
    });
  }

  /** What was running when the server last stopped is shown as interrupted; half-written files are swept. */
  async recover(): Promise<number> {
    rmSync(join(this.storeFolder, 'incoming'), { recursive: true, force: true });
    mkdirSync(join(this.storeFolder, 'incoming'), { recursive: true });
    const [count] = await Run.update(
      { status: 'interrupted', endedAt: new Date(), doing: 'The server stopped during this job.' },
      { where: { status: { [Op.in]: ['queued', 'running'] } } },
    );
    return count;
  }

  state(runId: number): { progress: number; doing: string; secondsLeft: number | null } | undefined {
    const l = this.live.get(runId);
    if (!l) return undefined;
    const spent = (Date.now() - l.started) / 1000;
    return {
      progress: l.progress,
      doing: l.doing,
      secondsLeft: l.progress > 0.03 && spent > 1 ? (spent * (1 - l.progress)) / l.progress : null,
    };
  }

  /** Runs a task that is no operation of the trail, such as intake, as a job with progress. */
  async background(
    projectId: number,
    operation: string,
    title: string,
    task: TaskRequest['task'],
    payload: Record<string, unknown>,
    settings: Record<string, unknown> = {},
  ): Promise<{ run: Run; result: TaskResult }> {
    const run = await Run.create({
      projectId,
      operation,
      operationVersion: 1,
      title,
      status: 'queued',
      settings,
      inputs: {},
      createdAt: new Date(),
    });
    return { run, result: await this.perform(run, task, payload) };
  }

  private readonly asking = new Map<string, AbortController>();

  /**
   * Asks a worker thread for an answer that changes nothing: no job is kept of it.
   * @param about a later question about the same puts an end to an earlier one.
   */
  async ask(task: TaskRequest['task'], payload: Record<string, unknown>, about: string): Promise<TaskResult> {
    this.asking.get(about)?.abort();
    const abort = new AbortController();
    this.asking.set(about, abort);
    const { port1, port2 } = new MessageChannel();
    const request: TaskRequest = { task, storeFolder: this.storeFolder, payload, port: port2 };
    try {
      const answer = (await this.pool.run(request, { transferList: [port2], signal: abort.signal })) as
        { result: TaskResult } | { problem: Record<string, string> };
      if ('result' in answer) return answer.result;
      const { message, ...details } = answer.problem;
      throw new Problem(message, details as never);
    } catch (error) {
      if (!abort.signal.aborted) throw error;
      throw new Problem('A later question took the place of this one.', { code: 'superseded' });
    } finally {
      if (this.asking.get(about) === abort) this.asking.delete(about);
      port1.close();
    }
  }

  private async perform(run: Run, task: TaskRequest['task'], payload: Record<string, unknown>): Promise<TaskResult> {
    const { port1, port2 } = new MessageChannel();
    const abort = new AbortController();
    this.aborts.set(run.id, abort);
    this.tell(run.projectId, 'run', run.id);
    // written before the end is, or a job that ends at once could stand as running for ever
    let started: Promise<unknown> = Promise.resolve();
    port1.on('message', (m: ProgressMessage) => {
      const l = this.live.get(run.id);
      if (l) Object.assign(l, { progress: m.fraction, doing: m.doing || l.doing });
      else {
        // the first word from the worker thread: the job has left the queue
        this.live.set(run.id, { progress: 0, doing: m.doing, started: Date.now() });
        started = run
          .update({ status: 'running', startedAt: new Date() })
          .then(() => this.tell(run.projectId, 'run', run.id))
          .catch(() => undefined);
      }
      this.tell(run.projectId, 'run', run.id);
    });
    try {
      const ended = this.pool.run({ task, storeFolder: this.storeFolder, payload, port: port2 } satisfies TaskRequest, {
        transferList: [port2],
        signal: abort.signal,
      }) as Promise<{ result: TaskResult } | { problem: Record<string, string> }>;
      const answer = await ended.finally(() => {
        port1.close();
        return started;
      });
      if ('problem' in answer) {
        const p = answer.problem;
        if (p.stack) await run.update({ log: [...run.log, p.stack].slice(-MOST_LOG_LINES) });
        throw new Problem(p.message, { code: p.code, file: p.file, place: p.place, remedy: p.remedy });
      }
      for (const o of answer.result.objects)
        await StoredObject.upsert({
          sha256: Buffer.from(o.sha256, 'hex'),
          bytes: o.bytes,
          kind: o.kind,
          createdAt: new Date(),
        });
      await run.update({ log: [...run.log, ...answer.result.log].slice(-MOST_LOG_LINES) });
      return answer.result;
    } catch (error) {
      if (this.stopping) throw error;
      await this.fail(run, error, abort.signal.aborted);
      throw error;
    } finally {
      this.aborts.delete(run.id);
      this.live.delete(run.id);
    }
  }

  /** Ends a job as failed; also one whose result could not be kept. */
  async fail(run: Run, error: unknown, cancelled = false): Promise<void> {
    const details =
      error instanceof Problem
        ? { message: error.message, file: error.file, place: error.place, remedy: error.remedy }
        : { message: cancelled ? 'Cancelled.' : String((error as Error).message) };
    await run.update({
      status: cancelled ? 'cancelled' : 'failed',
      endedAt: new Date(),
      error: cancelled ? null : details,
    });
    this.tell(run.projectId, 'run', run.id);
  }

  async succeed(run: Run, outputs: number[]): Promise<void> {
    await run.update({
      status: 'done',
      progress: 1,
      outputs,
      startedAt: run.startedAt ?? run.createdAt,
      endedAt: new Date(),
      doing: '',
    });
    this.tell(run.projectId, 'datasets', run.id);
    this.tell(run.projectId, 'run', run.id);
    this.waiting.get(run.id)?.();
  }

  cancel(runId: number): boolean {
    const abort = this.aborts.get(runId);
    abort?.abort();
    return !!abort;
  }

  tell(projectId: number, what: string, id: number): void {
    this.events.emit('change', { projectId, what, id });
  }

  /** Starts an operation; returns at once with the run. `done` settles when it ended. */
  async start(
    projectId: number,
    operation: string,
    inputIds: Record<string, number | number[]>,
    settings: Record<string, unknown>,
    outputDataset?: number,
  ): Promise<{ run: Run; done: Promise<Dataset | undefined> }> {
    const plan = PLANS[operation];
    const project = await Project.findByPk(projectId);
    if (!plan || !project)
      throw new Problem('There is no such operation or project.', { code: 'operation', remedy: 'Reload the page.' });
    const checked = validate(SETTINGS[operation as Operation], settings);
    if ('message' in checked)
      throw new Problem(checked.message, {
        code: 'setting',
        place: checked.field,
        remedy: 'Choose a value within the range.',
      });
    const inputs = await this.inputsOf(plan.roles, inputIds, projectId);
    const payload = await payloadOf(operation, project, inputs, settings, this.store, outputDataset);
    if (operation === 'events') {
      // of the mounting only the sensor named counts, or none of it
      const { sensor } = settings as { sensor?: string };
      if (sensor) inputs[`${SENSOR_ROLE}${sensor}`] = inputs.mounting;
      delete inputs.mounting;
    }
    // the reference line is an input of everything that is made in its system; trajectories are geographic
    const line = operation === 'position' ? undefined : await referenceOf(project);
    if (line) inputs[/report$/.test(operation) ? 'reference-line' : 'reference'] = [line];
    if (outputDataset) await this.refuseWhenBusy(projectId, outputDataset);
    const run = await Run.create({
      projectId,
      operation,
      operationVersion: plan.version,
      title: plan.title,
      status: 'queued',
      settings: { ...plan.defaults, ...settings, outputDataset },
      inputs: inputIds,
      createdAt: new Date(),
    });
    const done = this.perform(run, plan.task, payload).then(
      (result) => this.commit(run, plan, inputs, result, outputDataset),
      () => undefined,
    );
    return { run, done };
  }

  /** Two jobs never write one dataset. */
  async refuseWhenBusy(projectId: number, datasetId: number): Promise<void> {
    const busy = await Run.findAll({ where: { projectId, status: { [Op.in]: ['queued', 'running'] } } });
    if (busy.some((r) => (r.settings as { outputDataset?: number }).outputDataset === datasetId))
      throw new Problem('A job is already writing this dataset.', {
        code: 'busy',
        remedy: 'Wait for it, or cancel it.',
      });
  }

  private async inputsOf(
    roles: (typeof PLANS)[string]['roles'],
    ids: Record<string, number | number[]>,
    projectId: number,
  ): Promise<Record<string, Current[]>> {
    const out: Record<string, Current[]> = {};
    for (const [role, want] of Object.entries(roles)) {
      const list = ([] as number[]).concat(ids[role] ?? []);
      if (list.length === 0 && want.optional) {
        out[role] = [];
        continue;
      }
      if (list.length === 0)
        throw new Problem(`Nothing was chosen as ${role}.`, {
          code: 'input',
          place: role,
          remedy: 'Choose it in the sheet.',
        });
      out[role] = await Promise.all(list.map((id) => current(Number(id))));
      for (const c of out[role])
        if (c.dataset.projectId !== projectId || !want.kinds.includes(c.dataset.kind as never))
          throw new Problem(`"${c.dataset.name}" cannot serve as ${role}.`, {
            code: 'input',
            place: role,
            remedy: `Choose one of kind ${want.kinds.join(' or ')}.`,
          });
    }
    return out;
  }

  private async commit(
    run: Run,
    plan: (typeof PLANS)[string],
    inputs: Record<string, Current[]>,
    result: TaskResult,
    outputDataset?: number,
  ): Promise<Dataset> {
    const used: RevisionInput[] = Object.entries(inputs).flatMap(([role, list]) =>
      list.map((c) => ({
        role,
        datasetId: Number(c.dataset.id),
        revisionId: Number(c.revision.id),
        contentHash: hashFor(role, c.revision),
      })),
    );
    const dataset = await Run.sequelize!.transaction(async (transaction) => {
      const target =
        (outputDataset && (await Dataset.findByPk(outputDataset, { transaction }))) ||
        (await Dataset.create(
          {
            projectId: run.projectId,
            kind: plan.output.kind,
            stage: plan.output.stage,
            name: await freeName(run.projectId, result.name ?? plan.output.name),
            createdAt: new Date(),
          },
          { transaction },
        ));
      await addRevision(
        target,
        {
          contentHash: result.contentHash,
          runId: run.id,
          madeBy: run.operation,
          version: plan.version,
          inputs: used,
          content: result.content,
        },
        transaction,
      );
      await replaceNotices(run.projectId, Number(target.id), result.notices, transaction);
      return target;
    });
    await this.succeed(run, [Number(dataset.id)]);
    return dataset;
  }

  /** Stops taking work and ends the worker threads. */
  async stop(): Promise<void> {
    this.stopping = true;
    for (const abort of [...this.aborts.values(), ...this.asking.values()]) abort.abort();
    await this.pool.destroy();
    await this.recover();
  }
}

/** The name, or the name with the first number that is free. */
async function freeName(projectId: number, name: string): Promise<string> {
  const taken = new Set((await Dataset.findAll({ where: { projectId }, attributes: ['name'] })).map((d) => d.name));
  for (let n = 1; ; n++) {
    const wanted = n === 1 ? name : `${name} ${n}`;
    if (!taken.has(wanted)) return wanted;
  }
}

type Transaction = NonNullable<Parameters<typeof Dataset.create>[1]>['transaction'];

/** Appends a revision and makes it current. */
export async function addRevision(
  dataset: Dataset,
  made: {
    contentHash: string;
    runId?: number;
    madeBy: string;
    version?: number;
    inputs?: RevisionInput[];
    content: Record<string, unknown>;
  },
  transaction?: Transaction,
): Promise<Revision> {
  const last =
    ((await Revision.max('number', { where: { datasetId: dataset.id }, transaction })) as number | null) ?? 0;
  const revision = await Revision.create(
    {
      datasetId: dataset.id,
      number: last + 1,
      contentHash: Buffer.from(made.contentHash, 'hex'),
      runId: made.runId ?? null,
      parentId: dataset.currentRevisionId,
      madeBy: made.madeBy,
      operationVersion: made.version ?? 0,
      inputs: made.inputs ?? [],
      content: made.content,
      createdAt: new Date(),
    },
    { transaction },
  );
  await dataset.update({ currentRevisionId: revision.id }, { transaction });
  return revision;
}

/** The findings of a dataset's current revision; answers already given to the same finding are kept. */
export async function replaceNotices(
  projectId: number,
  datasetId: number,
  notices: Notice[],
  transaction?: Transaction,
): Promise<void> {
  const before = await NoticeRow.findAll({ where: { datasetId }, transaction });
  const answer = new Map(before.filter((n) => n.state === 'accepted').map((n) => [`${n.code} ${n.text}`, n.reason]));
  await NoticeRow.destroy({ where: { datasetId }, transaction });
  for (const n of notices)
    await NoticeRow.create(
      {
        projectId,
        datasetId,
        code: n.code,
        severity: n.severity,
        text: n.text,
        detail: { effect: n.effect, remedy: n.remedy, file: n.file, place: n.place },
        state: answer.has(`${n.code} ${n.text}`) ? 'accepted' : 'open',
        reason: answer.get(`${n.code} ${n.text}`) ?? null,
        createdAt: new Date(),
      },
      { transaction },
    );
}
