import { randomBytes } from 'node:crypto';
import { linkSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

interface Holder {
  pid: number;
  /** When the process began, in the kernel's ticks: numbers of processes are given again. */
  began: string;
}

/** When a process began; undefined when there is none of this number. */
function beginningOf(pid: number): string | undefined {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'latin1');
    // the name may hold blanks and brackets
    return stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19];
  } catch {
    return undefined;
  }
}

function holderOf(path: string): Holder | undefined {
  try {
    return JSON.parse(readFileSync(path, 'utf8')) as Holder;
  } catch {
    return undefined;
  }
}

/**
 * Takes a data folder for this process alone; a lock whose process is gone is taken over.
 * @returns what gives it back. @throws Error when another process works on it.
 */
export function lockFolder(folder: string): () => void {
  mkdirSync(folder, { recursive: true });
  const path = join(folder, 'lock');
  const own = `${path}-${process.pid}-${randomBytes(4).toString('hex')}`;
  writeFileSync(own, JSON.stringify({ pid: process.pid, began: beginningOf(process.pid) ?? '' }));
  try {
    for (let round = 0; round < 20; round++) {
      try {
        // a link is made by one of two at the same moment, never by both
        linkSync(own, path);
        return () => {
          if (holderOf(path)?.pid === process.pid) rmSync(path, { force: true });
        };
      } catch (error) {
        if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
      }
      const holder = holderOf(path);
      if (holder && beginningOf(holder.pid) === holder.began)
        throw new Error(
          `Another Long Heron works on ${folder} (process ${holder.pid}). Stop it first, or choose another folder with --data.`,
        );
      try {
        renameSync(path, `${own}-left`);
        rmSync(`${own}-left`, { force: true });
      } catch {
        // another start was quicker
      }
    }
    throw new Error(`${path} cannot be taken. Remove it if no Long Heron is running.`);
  } finally {
    rmSync(own, { force: true });
  }
}
