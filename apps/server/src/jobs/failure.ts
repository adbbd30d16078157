import { statfs } from 'node:fs/promises';
import { Problem } from '@longheron/core/shared';

/** What ended a job, as it is kept and shown. */
export interface Failure {
  message: string;
  file?: string;
  place?: string;
  remedy?: string;
}

const FULL = /ENOSPC|no space left|EDQUOT|errno: 28/i;

/**
 * An error in words for a person: a full disk by name and with what is left, problems as they were said, the rest by its
 * message.
 * @param folder where results are kept.
 */
export async function failureOf(error: unknown, folder: string): Promise<Failure> {
  const message = String((error as Error).message);
  if (FULL.test(message) || (error as { code?: string }).code === 'ENOSPC') {
    const room = await statfs(folder).catch(() => undefined);
    const left = room ? `, ${((room.bavail * room.bsize) / 1e6).toFixed(0)} MB are left` : '';
    return {
      message: `The disk is full${left}.`,
      place: folder,
      remedy: 'Make room there, then run this job again. Nothing that was accepted is lost.',
    };
  }
  if (error instanceof Problem) return { message, file: error.file, place: error.place, remedy: error.remedy };
  return { message };
}
