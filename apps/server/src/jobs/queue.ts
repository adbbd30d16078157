import { EventEmitter } from 'node:events';
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { Op } from 'sequelize';
import { type Given } from '@longheron/contract/declare';
import { Problem } from '@longheron/core/shared';
import { Run, StoredObject } from '../database/models';
import { isFullDisk } from '../storage/fullDisk';
import { failureOf } from './failure';
import { WorkFailure, WorkPool } from './pool';
import { type AnswerOf, type AskName, type Asked, type Outcome, type ProgressMessage } from './work';

const MAX_LOG_LINES = 200;
/** How a job ended is written again after so long where the disk had no room, ms. */
const TRY_AGAIN_MS = 3000;

type JobEnd = Pick<Run, 'status' | 'endedAt' | 'error'>;

/** A change that listeners hear of: a job, or the datasets of a project. */
export interface Change {
  projectId: number;
  what: 'run' | 'datasets' | 'notices' | 'project';
  id: number;
}

/** Runs jobs on worker threads, one after the other from the table of runs; tells listeners what changes. */
export class JobQueue {
  readonly events = new EventEmitter().setMaxListeners(0);
  /** Changes told of so far. */
  told = 0;
  private readonly pool: WorkPool;
  private readonly aborts = new Map<number, AbortController>();
  private readonly live = new Map<number, { progress: number; doing: string; started: number }>();
  private readonly ends = new Map<number, JobEnd>();
  private stopping = false;

  constructor(
    private readonly storeFolder: string,
    threads = 2,
  ) {
    this.pool = new WorkPool(storeFolder, threads);
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

  /** Asks a question as a job with progress: intake, compare, acts. It is no operation of the trail. */
  async background<N extends AskName>(
    projectId: number,
    operation: string,
    title: string,
    question: N,
    asked: Asked<N>,
    settings: Given = {},
  ): Promise<{ run: Run; result: Outcome<AnswerOf<N>> }> {
    const run = await this.enter(projectId, operation, 1, title, settings, {});
    return { run, result: await this.answer(run, question, asked) };
  }

  /** The same for a job that stands in the table already. */
  answer<N extends AskName>(run: Run, question: N, asked: Asked<N>): Promise<Outcome<AnswerOf<N>>> {
    return this.perform(run, (signal, hear, pool) => pool.ask(question, asked, signal, hear));
  }

  /** Writes a job into the table. */
  enter(
    projectId: number,
    operation: string,
    operationVersion: number,
    title: string,
    settings: Given,
    inputs: Run['inputs'],
  ): Promise<Run> {
    return Run.create({
      projectId,
      operation,
      operationVersion,
      title,
      settings,
      inputs,
      status: 'queued',
      createdAt: new Date(),
    });
  }

  private readonly asking = new Map<string, AbortController>();

  /**
   * Asks a worker thread for an answer that changes nothing: no job is kept of it.
   * @param about a later question about the same puts an end to an earlier one.
   */
  async ask<N extends AskName>(question: N, asked: Asked<N>, about: string): Promise<Outcome<AnswerOf<N>>> {
    this.asking.get(about)?.abort();
    const abort = new AbortController();
    this.asking.set(about, abort);
    try {
      return await this.pool.ask(question, asked, abort.signal);
    } catch (error) {
      if (!abort.signal.aborted) throw error;
      throw new Problem('A later question took the place of this one.', { code: 'superseded' });
    } finally {
      if (this.asking.get(about) === abort) this.asking.delete(about);
    }
  }

  /** Does the work of a job: what it puts into the store is catalogued, how far it is can be asked for. */
  async perform<C>(
    run: Run,
    work: (signal: AbortSignal, hear: (m: ProgressMessage) => void, pool: WorkPool) => Promise<Outcome<C>>,
  ): Promise<Outcome<C>> {
    const abort = new AbortController();
    this.aborts.set(run.id, abort);
    this.tell(run.projectId, 'run', run.id);
    // written before the end is, or a job that ends at once could stand as running for ever
    let started: Promise<unknown> = Promise.resolve();
    const hear = (m: ProgressMessage) => {
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
    };
    try {
      const outcome = await work(abort.signal, hear, this.pool).finally(() => started);
      for (const o of outcome.objects)
        await StoredObject.upsert({
          sha256: Buffer.from(o.sha256, 'hex'),
          bytes: o.bytes,
          kind: o.kind,
          createdAt: new Date(),
        });
      await this.log(run, outcome.log);
      return outcome;
    } catch (error) {
      if (this.stopping) throw error;
      if (error instanceof WorkFailure && error.log) await this.log(run, [error.log]).catch(() => undefined);
      await this.fail(run, error, abort.signal.aborted);
      throw error;
    } finally {
      this.aborts.delete(run.id);
      this.live.delete(run.id);
    }
  }

  private log(run: Run, lines: string[]): Promise<unknown> {
    return run.update({ log: [...run.log, ...lines].slice(-MAX_LOG_LINES) });
  }

  /** Ends a job as failed; also one whose result could not be kept. */
  async fail(run: Run, error: unknown, cancelled = false): Promise<void> {
    const details = cancelled ? null : await failureOf(error, this.storeFolder);
    const end = { status: cancelled ? 'cancelled' : 'failed', endedAt: new Date(), error: details } as const;
    this.ends.set(Number(run.id), end);
    this.tell(run.projectId, 'run', run.id);
    // a database without room takes it later
    while (!this.stopping)
      try {
        await run.update(end);
        break;
      } catch (failure) {
        if (!isFullDisk(failure)) throw failure;
        await new Promise((resolve) => setTimeout(resolve, TRY_AGAIN_MS).unref());
      }
    this.ends.delete(Number(run.id));
    this.tell(run.projectId, 'run', run.id);
  }

  /** How a job ended that the table still has as running, since it could not be written. */
  endOf(runId: number): JobEnd | undefined {
    return this.ends.get(runId);
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
  }

  cancel(runId: number): boolean {
    const abort = this.aborts.get(runId);
    abort?.abort();
    return !!abort;
  }

  tell(projectId: number, what: Change['what'], id: number): void {
    this.told++;
    this.events.emit('change', { projectId, what, id } satisfies Change);
  }

  /** Two jobs never write one dataset. */
  async refuseWhenBusy(projectId: number, datasetId: number): Promise<void> {
    const busy = await Run.findAll({ where: { projectId, status: { [Op.in]: ['queued', 'running'] } } });
    if (busy.some((r) => r.settings.outputDataset === datasetId))
      throw new Problem('A job is already writing this dataset.', {
        code: 'busy',
        remedy: 'Wait for it, or cancel it.',
      });
  }

  /** Stops taking work and ends the worker threads. */
  async stop(): Promise<void> {
    this.stopping = true;
    for (const abort of [...this.aborts.values(), ...this.asking.values()]) abort.abort();
    await this.pool.stop();
    await this.recover();
  }
}
