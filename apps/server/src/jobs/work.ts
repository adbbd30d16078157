import { type MessagePort } from 'node:worker_threads';
import { type Contents, type DatasetKind } from '@longheron/contract/kinds';
import { type Given } from '@longheron/contract/declare';
import { type Notice, type ProblemDetails } from '@longheron/core/shared';
import { type Answer, type Context, type Handed, type Questions } from '@longheron/operations/computation';
import { type KeptObject } from './shelf';
import { type Demonstrations } from './demo';

/** What can be asked of a worker thread: the questions of the operations, and what belongs to the simulated site. */
export type Asks = Questions & Demonstrations;
export type AskName = keyof Asks & string;
export type Asked<N extends AskName> = Parameters<Asks[N]>[0];
export type AnswerOf<N extends AskName> = Awaited<ReturnType<Asks[N]>> extends Answer<infer A> ? A : never;

/** An operation of the trail, as a worker does it. */
export interface OperationWork {
  operation: string;
  inputs: { readonly [role: string]: readonly Handed[] };
  settings: Given;
  context: Context;
}

/** A question, as a worker answers it. */
export interface QuestionWork<N extends AskName = AskName> {
  question: N;
  asked: Asked<N>;
}

export type Work = (OperationWork | QuestionWork) & { storeFolder: string; port: MessagePort };

/** What every piece of work comes back with. */
export interface Outcome<C> {
  content: C;
  hash: string;
  objects: KeptObject[];
  notices: Notice[];
  log: string[];
  /** Name of a new dataset, where the declaration's would not tell enough. */
  name?: string;
}

export type OperationOutcome = Outcome<Contents[DatasetKind]>;

/** A failure as plain data, so that it can cross to the main thread. */
export interface WorkProblem extends ProblemDetails {
  message: string;
  stack?: string;
}

export type WorkAnswer = { outcome: Outcome<unknown> } | { problem: WorkProblem };

export interface ProgressMessage {
  fraction: number;
  doing: string;
}

/** The answer of a thread that cannot go on: it is to be ended. */
export interface LastAnswer {
  last: WorkAnswer;
}
