import { complete } from '@longheron/contract/declare';
import { lookForGridsIn } from '@longheron/formats/crs';
import { Problem, type Watch } from '@longheron/core/shared';
import { decoderFailures } from '@longheron/formats/bytes';
import {
  loadComputation,
  loadQuestion,
  openHanded,
  type Output,
  type Question,
} from '@longheron/operations/computation';
import { jsonHash } from '@longheron/operations/shared/store';
import { DEMONSTRATIONS } from './demo';
import { Shelf } from './shelf';
import { type AskName, type OperationWork, type Outcome, type QuestionWork, type Work, type WorkAnswer } from './work';

const MIN_STEP_MS = 200;

/**
 * Does one piece of work on a worker thread. Every failure arrives as plain data, so that it can cross to the main
 * thread. When a decoder failed on the way, the answer goes through the port, and the thread waits to be ended.
 */
export async function perform(work: Work): Promise<WorkAnswer> {
  const answer = await performed(work);
  if (decoderFailures() === 0) return answer;
  work.port.postMessage({ last: answer });
  return new Promise(() => {});
}

async function performed(work: Work): Promise<WorkAnswer> {
  let last = 0;
  const watch: Watch = {
    progress(fraction, doing) {
      const now = Date.now();
      if (now - last < MIN_STEP_MS && fraction < 1) return;
      last = now;
      work.port.postMessage({ fraction, doing: doing ?? '' });
    },
  };
  work.port.postMessage({ fraction: 0, doing: 'Starting' });
  lookForGridsIn(work.storeFolder);
  const shelf = new Shelf(work.storeFolder);
  try {
    return { outcome: 'operation' in work ? await compute(work, shelf, watch) : await answer(work, shelf, watch) };
  } catch (error) {
    if (error instanceof Problem) {
      const { message, code, file, place, remedy } = error;
      return { problem: { message, code, file, place, remedy } };
    }
    return {
      problem: {
        message: 'An unexpected fault stopped the job.',
        code: 'fault',
        remedy: 'Run it again; if it fails again, send the log.',
        stack: String((error as Error)?.stack ?? error),
      },
    };
  }
}

/** Everything is wanted of an operation: files, stores, pictures. */
async function compute(work: OperationWork, shelf: Shelf, watch: Watch): Promise<Outcome<unknown>> {
  const { declaration, run } = await loadComputation(work.operation);
  const inputs = await openHanded(declaration, work.inputs, shelf);
  // what a command writes beside its result is written here when somebody exports it
  const files = Object.values(declaration.command?.files ?? {});
  const aside = new Set(files.filter((f) => f.aside).map((f) => f.file));
  const output: Output = {
    store: shelf,
    keeps: true,
    wanted: (file) => !aside.has(file),
    file: (_name, kind, write) => shelf.file(write, kind),
  };
  const { content, hash, report, name, log } = await run(
    inputs,
    complete(declaration.settings, work.settings),
    work.context,
    output,
    watch,
  );
  return { content, hash, objects: shelf.objects, notices: report.notices, log, name };
}

async function answer(work: QuestionWork, shelf: Shelf, watch: Watch): Promise<Outcome<unknown>> {
  const ask = await questionOf(work.question);
  const { content, hash, notices, log } = await ask(work.asked, shelf, watch);
  return {
    content,
    hash: hash ?? jsonHash(content ?? null),
    objects: shelf.objects,
    notices: notices ?? [],
    log: log ?? [],
  };
}

/** What is asked was typed where it was asked; across threads it is plain data. */
async function questionOf(name: AskName): Promise<Question<unknown, unknown>> {
  const asks: { [name: string]: unknown } = { ...DEMONSTRATIONS };
  return (asks[name] ?? (await loadQuestion(name as Parameters<typeof loadQuestion>[0]))) as Question<unknown, unknown>;
}
