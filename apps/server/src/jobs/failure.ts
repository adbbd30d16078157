import { Problem } from '@longheron/core/shared';
import { fullDisk, isFullDisk } from '../storage/fullDisk';

/** What ended a job, as it is kept and shown. */
export interface Failure {
  message: string;
  file?: string;
  place?: string;
  remedy?: string;
}

/**
 * An error in words for a person: a full disk by name and with what is left, problems as they were said, the rest by its
 * message.
 * @param folder where results are kept.
 */
export async function failureOf(error: unknown, folder: string): Promise<Failure> {
  if (isFullDisk(error)) return fullDisk(folder, 'run this job again');
  const { message } = error as Error;
  if (error instanceof Problem) return { message, file: error.file, place: error.place, remedy: error.remedy };
  return { message: String(message) };
}
