import { statfs } from 'node:fs/promises';

const FULL = /ENOSPC|no space left|EDQUOT|errno: 28|no: 1114|got error 28/i;

/** Whether an error, or what a worker thread noted of it, comes of a disk without room; the database has a number for it. */
export function isFullDisk(error: unknown): boolean {
  const { message, log, code } = (error ?? {}) as { message?: unknown; log?: unknown; code?: unknown };
  return code === 'ENOSPC' || code === 'EDQUOT' || [message, log].some((t) => typeof t === 'string' && FULL.test(t));
}

/** Megabytes that are left on the disk of a folder; undefined where that cannot be told. */
export async function roomMb(folder: string): Promise<number | undefined> {
  const room = await statfs(folder).catch(() => undefined);
  return room && (room.bavail * room.bsize) / 1e6;
}

/** A full disk in words. @param again what is to be done once there is room. */
export async function fullDisk(
  folder: string,
  again: string,
): Promise<{ message: string; place: string; remedy: string }> {
  const left = await roomMb(folder);
  return {
    message: `The disk is full${left === undefined ? '' : `, ${left.toFixed(0)} MB are left`}.`,
    place: folder,
    remedy: `Make room there, then ${again}. Nothing that was accepted is lost.`,
  };
}
