import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type DatasetDto, type RunDto } from '@longheron/contract/api';
import { Random } from '@longheron/core/numeric';
import { cloudFile, marksFile } from './files';
import { Program, sleep, until } from './program';

/** What became of files that the server said it had. */
export interface IntakeKills {
  kills: number;
  accepted: number;
  /** In the project after the next start. */
  taken: number;
  /** Not in it, but with a job that can be run again. */
  waiting: number;
  /** Names of those with neither. */
  lost: string[];
}

const FILES = 5;
/** A kill comes at latest so long after the first file, ms. */
const LATEST_MS = 1200;

/** Kills the program at random moments while files come in, and looks for each accepted file after the next start. */
export async function intakeKills(kills: number, seed: number, say = (_text: string) => {}): Promise<IntakeKills> {
  const folder = await mkdtemp(join(tmpdir(), 'longheron-kills-'));
  const random = new Random(seed, 'kills during intake');
  const program = new Program(folder);
  const out: IntakeKills = { kills, accepted: 0, taken: 0, waiting: 0, lost: [] };
  try {
    await program.start();
    const { id } = (await (await program.post('/projects', { name: 'Kills' })).json()) as { id: number };
    for (let k = 0; k < kills; k++) {
      const accepted: string[] = [];
      const send = async (f: number) => {
        await sleep(random.between(0, 400));
        const cloud = f % 3 === 2;
        const name = `k${k}_${f}.${cloud ? 'xyz' : 'csv'}`;
        const bytes = cloud ? cloudFile(random) : marksFile(random, `M${k}_${f}_`);
        if (await program.upload(id, name, bytes).catch(() => false)) accepted.push(name);
      };
      const sending = Array.from({ length: FILES }, (_, f) => send(f));
      await sleep(random.between(30, LATEST_MS));
      await program.kill();
      await Promise.all(sending);
      await program.start();
      // what goes on by itself is given time to end
      const quiet = async () =>
        (await program.get<RunDto[]>(`/projects/${id}/runs`)).every((r) => !['queued', 'running'].includes(r.status));
      // one job may enter the next as it ends
      await until(async () => (await quiet()) && (await sleep(300), quiet()), 120, 'jobs to end');
      for (const name of accepted) {
        out.accepted++;
        const found = await fateOf(program, id, name);
        if (found === 'taken') out.taken++;
        else if (found && (await program.post(`/projects/${id}/runs/${found}/again`)).status === 202) out.waiting++;
        else out.lost.push(name);
      }
      say(`kill ${k + 1} of ${kills}: ${accepted.length} accepted, ${out.lost.length} lost so far`);
    }
    return out;
  } finally {
    await program.stop();
    await rm(folder, { recursive: true, force: true });
  }
}

/** A busy machine may take so long from the end of one job to the beginning of the next, ms. */
const [PATIENCE_MS, STEP_MS] = [20_000, 300];

/** What became of an accepted file: taken in, a job that can be run again, or, after a patient look, neither. */
async function fateOf(program: Program, id: number, name: string): Promise<'taken' | number | undefined> {
  for (let waited = 0; ; waited += STEP_MS) {
    const dataset = (await program.get<DatasetDto[]>(`/projects/${id}/datasets`)).find((d) => d.name === name);
    if (dataset && (dataset.kind !== 'point-cloud' || dataset.revision.content.index)) return 'taken';
    const runs = (await program.get<RunDto[]>(`/projects/${id}/runs`)).filter((r) => r.title.endsWith(name));
    const job = runs.find((r) => ['failed', 'interrupted'].includes(r.status));
    if (job) return job.id;
    if (waited >= PATIENCE_MS) return undefined;
    await sleep(STEP_MS);
  }
}

/** What became of starts that were cut off. */
export interface StartKills {
  kills: number;
  /** What the next start said where it did not come up. */
  failed: string[];
}

/** A first start is killed at latest so long after it began, ms. */
const LATEST_START_MS = 9000;

/** Kills first starts at random moments; the next start on the same folder must come up by itself. */
export async function startKills(kills: number, seed: number, say = (_text: string) => {}): Promise<StartKills> {
  const random = new Random(seed, 'kills during start');
  const out: StartKills = { kills, failed: [] };
  for (let k = 0; k < kills; k++) {
    const folder = await mkdtemp(join(tmpdir(), 'longheron-starts-'));
    const program = new Program(folder);
    const afterMs = random.between(200, LATEST_START_MS);
    try {
      await program.launch();
      await sleep(afterMs);
      await program.kill();
      await program.start();
    } catch (error) {
      out.failed.push(`killed after ${afterMs.toFixed(0)} ms: ${(error as Error).message}`);
    } finally {
      await program.stop();
      await rm(folder, { recursive: true, force: true });
    }
    say(
      `start ${k + 1} of ${kills}, cut off after ${(afterMs / 1000).toFixed(1)} s: ${out.failed.length} failed so far`,
    );
  }
  return out;
}
