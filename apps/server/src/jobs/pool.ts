import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { MessageChannel } from 'node:worker_threads';
import { Piscina } from 'piscina';
import { Problem } from '@longheron/core/shared';
import {
  type AnswerOf,
  type AskName,
  type Asked,
  type LastAnswer,
  type OperationOutcome,
  type OperationWork,
  type Outcome,
  type ProgressMessage,
  type QuestionWork,
  type WorkAnswer,
  type WorkProblem,
} from './work';

const ROOT = process.env.LONGHERON_ROOT ?? join(dirname(fileURLToPath(import.meta.url)), '../../../..');

/** A failure of a worker thread, with the log of an unexpected one. */
export class WorkFailure extends Problem {
  readonly log?: string;
  constructor({ message, stack, ...details }: WorkProblem) {
    super(message, details);
    this.log = stack;
  }
}

/** Worker threads: each does one piece of work at a time, and says how far it is. */
export class WorkPool {
  private readonly pool: Piscina;

  constructor(
    private readonly storeFolder: string,
    threads: number,
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

  /** @throws WorkFailure when the work fails; whatever the pool throws when it is cancelled. */
  async compute(
    work: OperationWork,
    signal: AbortSignal,
    hear?: (message: ProgressMessage) => void,
  ): Promise<OperationOutcome> {
    // the worker makes what the operation declares
    return (await this.run(work, signal, hear)) as OperationOutcome;
  }

  async ask<N extends AskName>(
    question: N,
    asked: Asked<N>,
    signal: AbortSignal,
    hear?: (message: ProgressMessage) => void,
  ): Promise<Outcome<AnswerOf<N>>> {
    // the worker answers by the question's own function
    return (await this.run({ question, asked } as QuestionWork, signal, hear)) as Outcome<AnswerOf<N>>;
  }

  private async run(
    work: OperationWork | QuestionWork,
    signal: AbortSignal,
    hear?: (message: ProgressMessage) => void,
  ): Promise<Outcome<unknown>> {
    const { port1, port2 } = new MessageChannel();
    const taken = new AbortController();
    const last = new Promise<{ answer: WorkAnswer; spent: boolean }>((resolve) => {
      port1.on('message', (message: ProgressMessage | LastAnswer) => {
        if ('last' in message) resolve({ answer: message.last, spent: true });
        else hear?.(message);
      });
    });
    try {
      const whole = { ...work, storeFolder: this.storeFolder, port: port2 };
      const either = AbortSignal.any([signal, taken.signal]);
      const done = this.pool.run(whole, { transferList: [port2], signal: either }) as Promise<WorkAnswer>;
      const { answer, spent } = await Promise.race([done.then((a) => ({ answer: a, spent: false })), last]);
      // the pool takes the thread out, and another takes its place
      if (spent) taken.abort();
      if ('problem' in answer) throw new WorkFailure(answer.problem);
      return answer.outcome;
    } finally {
      port1.close();
    }
  }

  stop(): Promise<void> {
    return this.pool.destroy();
  }
}
