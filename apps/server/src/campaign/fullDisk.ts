import { execFileSync } from 'node:child_process';
import { mkdtemp, rm, statfs, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type DatasetDto, type RunDto } from '@longheron/contract/api';
import { Random } from '@longheron/core/numeric';
import { cloudFile, marksFile } from './files';
import { Program, sleep, until } from './program';

/** What became of a program whose disk was full. */
export interface FullDisk {
  /** False where this machine lets nobody mount a disk of memory. */
  possible: boolean;
  rounds: number;
  /** Files that it said it had, and of them those in the project at the end, by themselves or run again. */
  accepted: number;
  taken: number;
  /** Refusals and failed jobs, and of them those that name the full disk. */
  failures: number;
  inWords: number;
  /** What went against the promise, in words. */
  faults: string[];
}

/** The database alone takes 150 MB of it. */
const DISK_MB = 320;
/** So much is left when the disk is called full, MB: from nothing to a file or two. */
const MAX_LEFT_MB = 6;
/** It is full at latest so long after the first file, ms. */
const LATEST_FULL_MS = 1500;
const FILES = 8;
const LONGEST_STOP_MS = 10_000;
const FULL = /disk is full/i;

/** A disk of memory at a folder; undefined where that is not allowed. */
function mountDisk(folder: string): (() => void) | undefined {
  try {
    execFileSync('mount', ['-t', 'tmpfs', '-o', `size=${DISK_MB}m`, 'tmpfs', folder], { stdio: 'ignore' });
    return () => execFileSync('umount', ['-l', folder], { stdio: 'ignore' });
  } catch {
    return undefined;
  }
}

/** Leaves so many megabytes of the disk. */
async function fill(folder: string, leftMb: number): Promise<string> {
  const path = join(folder, 'filler');
  const { bavail, bsize } = await statfs(folder);
  await writeFile(path, Buffer.alloc(Math.max(0, bavail * bsize - leftMb * 1e6)));
  return path;
}

/** Fills the disk under the running program again and again; what it has said to have must be there afterwards. */
export async function fullDisk(rounds: number, seed: number, say = (_text: string) => {}): Promise<FullDisk> {
  const folder = await mkdtemp(join(tmpdir(), 'longheron-disk-'));
  const out: FullDisk = { possible: true, rounds, accepted: 0, taken: 0, failures: 0, inWords: 0, faults: [] };
  const unmount = mountDisk(folder);
  if (!unmount) {
    await rm(folder, { recursive: true, force: true });
    return { ...out, possible: false, rounds: 0 };
  }
  const random = new Random(seed, 'full disk');
  const program = new Program(folder);
  const failed = (text: string) => {
    out.failures++;
    if (FULL.test(text)) out.inWords++;
    else out.faults.push(`not in words: ${text.slice(0, 200)}`);
  };
  try {
    await program.start();
    const { id } = (await (await program.post('/projects', { name: 'Full' })).json()) as { id: number };
    const runs = () => program.get<RunDto[]>(`/projects/${id}/runs`);
    const quiet = async () => (await runs()).every((r) => !['queued', 'running'].includes(r.status));
    const ended = () => until(async () => (await quiet()) && (await sleep(300), quiet()), 120, 'jobs to end');
    const told = new Set<number>();
    for (let k = 0; k < rounds; k++) {
      // full before the first file, or while files come in and jobs run
      const left = random.between(0, MAX_LEFT_MB);
      const later = random.uniform() < 0.7 ? random.between(0, LATEST_FULL_MS) : 0;
      const filling = sleep(later).then(() => fill(folder, left));
      if (later === 0) await filling;
      const accepted: string[] = [];
      for (let f = 0; f < FILES; f++) {
        await sleep(random.between(0, 2 * (LATEST_FULL_MS / FILES)));
        const cloud = f % 3 === 2;
        const name = `d${k}_${f}.${cloud ? 'xyz' : 'csv'}`;
        const bytes = cloud ? cloudFile(random, 20_000) : marksFile(random, `D${k}_${f}_`);
        const { ok, text } = await program.send(id, name, bytes);
        if (ok) accepted.push(name);
        else failed(text);
      }
      const filler = await filling;
      await ended().catch((error: Error) => out.faults.push(`round ${k + 1}: ${error.message}`));
      for (const r of await runs().catch(() => []))
        if (r.status === 'failed' && !told.has(r.id)) {
          told.add(r.id);
          failed(r.error?.message ?? 'no reason');
        }
      const began = Date.now();
      await program.stop();
      if (Date.now() - began > LONGEST_STOP_MS) out.faults.push(`round ${k + 1}: ended after ${Date.now() - began} ms`);
      // on a full disk it comes up, or says why not
      await program.start().catch((error: Error) => {
        if (!FULL.test(error.message)) out.faults.push(`round ${k + 1}, start on the full disk: ${error.message}`);
      });
      await program.stop();
      await rm(filler, { force: true });
      try {
        await program.start();
      } catch (error) {
        out.faults.push(`round ${k + 1}, start with room again: ${(error as Error).message}`);
        break;
      }
      await ended();
      for (const r of await runs())
        if (['failed', 'interrupted'].includes(r.status)) await program.post(`/projects/${id}/runs/${r.id}/again`);
      await ended();
      const datasets = await program.get<DatasetDto[]>(`/projects/${id}/datasets`);
      for (const name of accepted) {
        out.accepted++;
        const d = datasets.find((x) => x.name === name);
        if (d && (d.kind !== 'point-cloud' || d.revision.content.index)) out.taken++;
        else out.faults.push(`lost: ${name}`);
      }
      say(`full disk ${k + 1} of ${rounds}: ${accepted.length} accepted, ${out.faults.length} faults so far`);
    }
    return out;
  } finally {
    await program.stop();
    await sleep(200);
    unmount();
    await rm(folder, { recursive: true, force: true });
  }
}
